import { Sheet, twoLans } from '../tests/topologies';
import { type Settings, type Topology } from '../topology';
import { type NetworkModel, analyse, problemsOf, tablesOf } from '.';

/** Two routers side by side, the first with a host; both send what they do not know to each other. */
function pair(settings: Settings): Topology {
  return new Sheet()
    .device('R1', 'border-router', { g0: '10.0.0.1/24', g1: '10.1.0.1/24' }, { settings })
    .device(
      'R2',
      'border-router',
      { g0: '10.0.0.2/24' },
      { settings: { routes: [{ prefix: '0.0.0.0/0', via: '10.0.0.1' }] } },
    )
    .host('A', '10.1.0.9/24', '10.1.0.1')
    .cable('R1 g0', 'R2 g0', 'crossover')
    .cable('R1 g1', 'A e0', 'crossover').topology;
}
const octets = (number: number): string => `${number >> 8}.${number & 255}`;
/** Everything that can be asked is asked. */
function askedAll(topology: Topology): NetworkModel {
  const model = analyse(topology);
  problemsOf(model);
  for (const id of model.instances.keys()) tablesOf(model, id);
  for (const to of model.reach.targets()) for (const from of model.instances.keys()) model.reach.answer(from, to);
  return model;
}
const prefixesOf = (model: NetworkModel, id: string): string[] =>
  tablesOf(model, id).routes.map((route) => route.prefix);

test('10,000 routes, each by way of the next one', () => {
  const routes = Array.from({ length: 10_000 }, (_one, at) => ({
    prefix: `20.${octets(at)}.0/24`,
    via: `20.${octets(at + 1)}.1`,
  }));
  expect(prefixesOf(askedAll(pair({ routes })), 'R1')).toHaveLength(2);
  // With the last one there all of them are found, in whatever order they stand.
  const whole = askedAll(pair({ routes: [...routes, { prefix: `20.${octets(10_000)}.0/24`, via: '10.0.0.2' }] }));
  expect(prefixesOf(whole, 'R1')).toHaveLength(2 + 10_001);
});

test('next hops that resolve through themselves or the default are none, and it is told', () => {
  const model = askedAll(
    pair({
      routes: [
        { prefix: '30.0.0.0/8', via: '30.1.1.1' },
        { prefix: '0.0.0.0/0', via: '0.0.0.1' },
      ],
    }),
  );
  expect(prefixesOf(model, 'R1')).toEqual(['10.0.0.0/24', '10.1.0.0/24']);
  expect(
    problemsOf(model)
      .map((problem) => problem.text)
      .join(' '),
  ).toMatch(/30\.0\.0\.0\/8 is not used: its next hop 30\.1\.1\.1/);
});

test('routes that send packets in a circle', () => {
  const drawing = pair({ routes: [{ prefix: '0.0.0.0/0', via: '10.0.0.2' }] });
  const lost = {
    ...drawing.devices.A!,
    name: 'Z',
    interfaces: { e0: { on: { kind: 'port' as const, port: 'e0' }, v4: { addresses: ['172.16.0.1/24'] } } },
  };
  const model = askedAll({ ...drawing, devices: { ...drawing.devices, Z: lost } });
  const target = model.reach.targets().find((target) => target.device === 'Z')!;
  expect(model.reach.ask('A', target).reason?.code).toBe('ROUTE_LOOP');
});

test('filters of 5,000 lines decide by the first that matches', () => {
  const deny = (at: number) => ({
    action: 'deny' as const,
    proto: 'ip' as const,
    src: { kind: 'prefix' as const, prefix: `20.${octets(at)}.0/24` },
    dst: { kind: 'any' as const },
  });
  const any = { kind: 'any' as const };
  const rules = [
    ...Array.from({ length: 4999 }, (_one, at) => deny(at)),
    { action: 'permit' as const, proto: 'ip' as const, src: any, dst: any },
  ];
  const drawing = pair({ filters: { LONG: { family: 4, rules } } });
  drawing.devices.R1!.interfaces!.g1!.filterIn4 = 'LONG';
  const model = askedAll(drawing);
  const target = model.reach.targets().find((target) => target.device === 'R2')!;
  expect(model.reach.ask('A', target)).toMatchObject({ answer: 'yes' });
  expect(model.reach.ask('A', target).request.hops[1]!.decided).toContain('line 5000 permits');
});

test('4,094 VLANs over trunks', () => {
  const trunk = { role: { kind: 'switched', mode: 'trunk' } } as const;
  const vlans = Object.fromEntries(Array.from({ length: 4094 }, (_one, at) => [at + 1, `V${at + 1}`]));
  const sheet = new Sheet();
  for (let at = 0; at < 4; at++)
    sheet.device(`S${at}`, 'access-switch-12', {}, { ports: { u1: trunk, u2: trunk }, settings: { vlans } });
  for (let at = 0; at < 3; at++) sheet.cable(`S${at} u1`, `S${at + 1} u2`, 'crossover');
  const model = askedAll(sheet.topology);
  expect(model.layer2.vlansAt('S1', 'u1')).toHaveLength(4094);
});

test.each([
  ['a prefix of length 0', { addresses: ['10.0.0.1/0'] }, {}],
  ['an MTU of 0', { addresses: ['10.0.0.1/24'] }, { mtu: 0 }],
  ['an address that is the broadcast address', { addresses: ['10.0.0.255/24'] }, {}],
  ['the same address twice', { addresses: ['10.0.0.1/24', '10.0.0.1/24'] }, {}],
  ['no address that can be read', { addresses: ['10.0.0.999/24', '', 'x'] }, {}],
])('%s on an interface', (_what, v4, more) => {
  const drawing = twoLans();
  drawing.devices.R!.interfaces!.g0 = { on: { kind: 'port', port: 'g0' }, v4, ...more };
  const model = askedAll(drawing);
  for (const target of model.reach.targets())
    expect(['yes', 'no', 'uncertain']).toContain(model.reach.answer('A', target).answer);
});
