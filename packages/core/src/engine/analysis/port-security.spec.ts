import { parseAddress } from '../../address';
import { Sheet } from '../../tests/topologies';
import { type PortConfig } from '../../topology';
import { AnalysisSession, analyse, problemsOf, tablesOf, trace } from '..';

type Security = NonNullable<PortConfig['security']>;
const ADMITTED = '02:00:00:00:00:0a';

/** PC at p1, and GUEST beside it at a hub; FAR at p2. */
function sheet(security: Security | undefined, { hub = false, mac = ADMITTED } = {}) {
  const made = new Sheet()
    .device('SW', 'access-switch-12', {}, { ...(security && { ports: { p1: { security } } }) })
    .device('PC', 'desktop', { e0: '10.0.0.1/24' }, { ports: { e0: { mac } } })
    .host('FAR', '10.0.0.9/24')
    .cable('SW p2', 'FAR e0');
  if (!hub) return made.cable('SW p1', 'PC e0');
  return made
    .device('HUB', 'hub')
    .host('GUEST', '10.0.0.2/24')
    .cable('SW p1', 'HUB p1', 'crossover')
    .cable('HUB p2', 'PC e0')
    .cable('HUB p3', 'GUEST e0');
}
const reaches = (made: Sheet, from: string, address: string, to: string) => {
  const read = parseAddress(address);
  return read.ok && trace(analyse(made.topology), from, to, read.value, { protocol: 'icmp' }).answer;
};
const told = (made: Sheet) =>
  problemsOf(analyse(made.topology)).flatMap(({ code, text }) => (code === 'PORT_SECURITY' ? [text] : []));

test('a port lets in whoever is listed, whatever the case of the letters, and one where nobody is', () => {
  for (const security of [{}, { allowed: [ADMITTED] }, { maxMacs: 2, allowed: [ADMITTED] }]) {
    expect(reaches(sheet(security), 'PC', '10.0.0.9', 'FAR')).toBe('yes');
    expect(told(sheet(security))).toEqual([]);
  }
});
test('it is shut when somebody else is heard, and nobody passes either way', () => {
  const made = sheet({ allowed: ['02:00:00:00:00:0b'] });
  expect(told(made)).toEqual(['SW p1 is shut: it lets in 1 address that is listed, and heard PC.']);
  expect([reaches(made, 'PC', '10.0.0.9', 'FAR'), reaches(made, 'FAR', '10.0.0.1', 'PC')]).toEqual(['no', 'no']);
  expect(tablesOf(analyse(made.topology), 'SW').macTable.map(({ device }) => device)).toEqual(['FAR']);
});
test('a second host behind a port for one shuts it; a port for two lets both in', () => {
  expect(told(sheet({}, { hub: true }))).toEqual(['SW p1 is shut: it lets in 1 address, and heard GUEST and PC.']);
  expect(reaches(sheet({}, { hub: true }), 'PC', '10.0.0.9', 'FAR')).toBe('no');
  const both = sheet({ maxMacs: 2 }, { hub: true });
  expect([told(both), reaches(both, 'GUEST', '10.0.0.9', 'FAR')]).toEqual([[], 'yes']);
});
test.each(['protect', 'restrict'] as const)(
  'one that goes on (%s) takes nothing from a stranger, and stays up',
  (onViolation) => {
    const made = sheet({ allowed: ['02:00:00:00:00:0b'], onViolation });
    expect(told(made)).toEqual(['SW p1 takes nothing from PC: it lets in 1 address that is listed.']);
    expect([reaches(made, 'PC', '10.0.0.9', 'FAR'), reaches(made, 'FAR', '10.0.0.1', 'PC')]).toEqual(['no', 'no']);
    expect(analyse(made.topology).layer1.links.get('SW-p1-PC-e0')!.up).toBe(true);
  },
);
test('where only some are let in, that is told with who', () => {
  expect(told(sheet({ allowed: [ADMITTED], onViolation: 'protect' }, { hub: true }))).toEqual([
    'SW p1 takes nothing from GUEST, only from who is listed: it lets in 1 address that is listed.',
  ]);
});
test('a port that lets nobody in', () =>
  expect(told(sheet({ maxMacs: 0 }))).toEqual(['SW p1 is shut: it lets in no address, and heard PC.']));
test('edits say what the whole says, also when a port comes to mind and ceases to', () => {
  const session = AnalysisSession.open(sheet(undefined).topology);
  for (const set of [
    { security: { allowed: ['02:00:00:00:00:0b'] } },
    { security: null },
    { security: { maxMacs: 0 } },
  ]) {
    expect(session.apply({ kind: 'changePort', device: 'SW', port: 'p1', set })).toMatchObject({ ok: true });
    const anew = analyse(structuredClone(session.topology));
    expect(problemsOf(session.model)).toEqual(problemsOf(anew));
    expect(session.model.reach.tally()).toEqual(anew.reach.tally());
    expect([...session.model.layer1.links]).toEqual([...anew.layer1.links]);
    session.apply({ kind: 'move', to: { PC: { x: 1, y: 1 } } });
    expect(problemsOf(session.model)).toEqual(problemsOf(anew));
  }
});
