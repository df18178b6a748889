import { filesIn, readJson } from '../tests/topologies';
import { parseAddress } from '../address';
import { analyse, optionsOf, trace } from '../engine';
import {
  type ItemResult,
  type LabFile,
  type Rule,
  type SubmissionFile,
  asJudged,
  checkSubmission,
  judge,
  prepareLab,
  judgedBy,
  specHash,
} from '.';

const LABS = ['valley-lan', 'three-stations', 'season-opening', 'winch-isolation', 'summit-dual-stack'];
const lab = (slug: string): LabFile => readJson('demo', slug, 'lab.json') as LabFile;

test.each(LABS)('%s judges as it does without what is only drawn, written or said', (slug) => {
  const whole = lab(slug);
  const kept = judgedBy(whole);
  expect(specHash(kept)).toBe(specHash(whole));
  for (const name of filesIn('demo', slug, 'submissions').slice(0, 4)) {
    const { topology, plan } = readJson('demo', slug, 'submissions', name) as SubmissionFile;
    if (topology) expect(checkSubmission(kept, topology, plan)).toEqual(checkSubmission(whole, topology, plan));
  }
});

test('one after the other, in whatever order, each is judged as if it were the only one', () => {
  const prepared = prepareLab(three);
  const all = filesIn('demo', 'three-stations', 'submissions').map(
    (name) => (readJson('demo', 'three-stations', 'submissions', name) as SubmissionFile).topology!,
  );
  const alone = all.map((topology) => checkSubmission(three, topology));
  expect(all.map((drawing) => judge(prepared, { drawing }))).toEqual(alone);
  expect([...all].reverse().map((drawing) => judge(prepared, { drawing }))).toEqual([...alone].reverse());
});

const three = lab('three-stations');
const [device] = Object.keys(three.reference.devices);
const [link] = Object.keys(three.reference.links);
const changed = (change: (copy: LabFile) => void): string => {
  const copy = structuredClone(three);
  change(copy);
  return specHash(copy);
};

test.each<[string, (copy: LabFile) => void]>([
  ['a tile is moved by a pixel', ({ reference }) => void (reference.devices[device!]!.at.x += 1)],
  ['a cable is bent', ({ reference }) => void (reference.links[link!]!.bends = [{ x: 1, y: 2 }])],
  ['a label is moved', ({ reference }) => void (reference.links[link!]!.labelOffsets = { middle: { x: 4, y: 0 } })],
  ['the reference is given a title', ({ reference }) => void (reference.title = 'Another')],
  [
    'somebody says something',
    ({ reference }) =>
      void (reference.comments = { c: { entries: [{ by: 'Maren', at: '2026-11-29T10:00:00Z', text: 'Why?' }] } }),
  ],
  ['answers may be tried', ({ policy }) => void (policy.tries = 2)],
  ['hints cost', ({ policy }) => void (policy.hintCost = 1)],
  ['more attempts are given', ({ policy }) => void (policy.attempts = 9)],
  ['the scenario is put in other words', ({ brief }) => void (brief.scenario = 'Two cableways.')],
])('it judges alike when %s', (_what, change) => {
  expect(changed(change)).toBe(specHash(three));
});

test.each<[string, (copy: LabFile) => void]>([
  ['a device gets another name', ({ reference }) => void (reference.devices[device!]!.name = 'OTHER')],
  ['a cable is another one', ({ reference }) => void (reference.links[link!]!.medium = 'serial')],
  ['points change', ({ spec }) => void (spec.sections[0]!.requirements[0]!.points += 1)],
  ['points are rounded otherwise', ({ policy }) => void (policy.rounding = 0.25)],
  ['devices are known by their names', ({ policy }) => void (policy.names = 'exact')],
  ['equipment works otherwise', ({ policy }) => void (policy.autoPairing = false)],
  ['routers believe otherwise', ({ policy }) => void (policy.distances = { static: 200 })],
  ['routers join areas otherwise', ({ policy }) => void (policy.borderRouters = 'rfc2328')],
])('it judges otherwise when %s', (_what, change) => {
  expect(changed(change)).not.toBe(specHash(three));
});

test('the numbers of a brief count where plans are judged by them', () => {
  const opening = lab('season-opening');
  const more = structuredClone(opening);
  more.brief.groups![0]!.now += 1;
  expect(specHash(more)).not.toBe(specHash(opening));
});

test('what is not met says what it read: its places, the devices of its roles, and all that a packet came by', () => {
  const drawing = structuredClone(three.reference);
  drawing.devices.RTM!.settings!.routes = [];
  const { requirements } = checkSubmission(three, drawing);
  const { items } = requirements.find(({ id }) => id === '4.2')!;
  const item = items.find(({ met }) => met === false)!;
  const read = item.dependsOn!.map(({ device, link }) => device ?? link);
  // The till, its switch and router, the fibre, and the router that does not know the way; not the office's switch.
  expect(read).toEqual(expect.arrayContaining(['TILL-1', 'SHOP', 'RTS', 'RTM', 'SWS1']));
  expect(read).not.toContain('SWM2');
  expect(read.some((id) => Object.hasOwn(drawing.links, id!))).toBe(true);
  expect(requirements.flatMap((each) => each.items).filter(({ met, dependsOn }) => met === true && dependsOn)).toEqual(
    [],
  );
});

test('the packet that shows why something is not reached, is reached, or goes another way can be followed in the drawing', () => {
  const drawing = structuredClone(three.reference);
  drawing.devices.RTM!.settings!.routes = [];
  const result = checkSubmission(three, drawing);
  const lost = result.requirements.find(({ id }) => id === '4.2')!.items.find(({ met }) => met === false)!;
  expect(lost.packet).toMatchObject({ from: 'TILL-1', to: 'SHOP' });
  const model = analyse(asJudged(three.reference, drawing, result.matching));
  const follow = ({ from, to, address }: NonNullable<ItemResult['packet']>) => {
    const parsed = parseAddress(address);
    return parsed.ok ? trace(model, from, to, parsed.value).answer : address;
  };
  const packets = result.requirements
    .flatMap(({ items }) => items)
    .flatMap(({ met, packet }) => (packet ? [{ met, packet }] : []));
  expect(packets.length).toBeGreaterThan(3);
  expect(packets.filter(({ met }) => met === true)).toEqual([]);
  expect(follow(lost.packet!)).toBe('no');
  const asks = (rule: Rule) =>
    checkSubmission(
      {
        ...three,
        spec: { groups: {}, sections: [{ id: 's', title: 'S', requirements: [{ id: 'r', points: 1, rule }] }] },
      },
      three.reference,
    ).requirements[0]!.items.find(({ met }) => met === false)!.packet!;
  const avoided = asks({ kind: 'pathThrough', from: 'TILL-1', to: 'SHOP', via: 'RTS', way: 'avoid' });
  const apart = asks({ kind: 'apart', from: 'TILL-1', to: 'SHOP' });
  const far = asks({ kind: 'hops', from: 'TILL-1', to: 'SHOP', n: 0 });
  for (const packet of [avoided, apart, far]) expect(packet).toMatchObject({ from: 'TILL-1', to: 'SHOP' });
});

test('a packet of either family that is followed ends as its finding says', () => {
  const dual = lab('summit-dual-stack');
  const families = new Set<number>();
  for (const name of filesIn('demo', 'summit-dual-stack', 'submissions').slice(0, 6)) {
    const { topology } = readJson('demo', 'summit-dual-stack', 'submissions', name) as SubmissionFile;
    if (!topology) continue;
    const { requirements, matching } = checkSubmission(dual, topology);
    const model = analyse(asJudged(dual.reference, topology, matching), optionsOf(dual.policy));
    for (const { text, packet } of requirements.flatMap(({ items }) => items)) {
      const address = packet && parseAddress(packet.address);
      if (!packet || !address?.ok) continue;
      families.add(address.value.family);
      const { answer } = trace(model, packet.from, packet.to, address.value, packet.probe);
      if (/ fails/.test(text)) expect([name, text, answer]).toEqual([name, text, 'no']);
      if (/works, but/.test(text)) expect([name, text, answer]).toEqual([name, text, 'yes']);
    }
  }
  expect([...families].sort()).toEqual([4, 6]);
});

test('what is compared says what was found and what is wanted, as values', () => {
  const drawing = structuredClone(three.reference);
  for (const link of Object.values(drawing.links)) if (link.medium === 'sm-fibre') link.medium = 'mm-fibre';
  const { requirements } = checkSubmission(three, drawing);
  const of = (id: string) => requirements.find((each) => each.id === id)!.items[0]!.values;
  expect(of('2.2')).toEqual({ found: 'mm-fibre', wanted: 'sm-fibre' });
  expect(of('1.2')).toEqual({ found: 3, wanted: 3 });
});
