import fc from 'fast-check';
import { analyse } from '../../engine';
import { Sheet, demoLab } from '../../tests/topologies';
import { runs } from '../../tests/runs';
import { type Topology } from '../../topology';
import { checkSubmission } from '../judge';
import { type RoleMatch, matchRoles } from './match';
import { neighbourhood, neighboursOf } from './similarity';

/** The same network as somebody else draws it: other ids in another order, other names, other places. */
function redrawn(topology: Topology, order: readonly number[]): Topology {
  const ids = Object.keys(topology.devices);
  const fresh = new Map(ids.map((id, at) => [id, `n${order[at]!}`]));
  const entries = ids.map((id): [string, Topology['devices'][string]] => {
    const device = topology.devices[id]!;
    const name = `thing ${order[ids.indexOf(id)]!}`;
    return [
      fresh.get(id)!,
      {
        ...device,
        name,
        at: { x: device.at.y * 2, y: -device.at.x },
        ...(device.settings?.hostname && { settings: { ...device.settings, hostname: name } }),
      },
    ];
  });
  const link = (link: Topology['links'][string]) => ({
    ...link,
    a: { ...link.a, device: fresh.get(link.a.device)! },
    b: { ...link.b, device: fresh.get(link.b.device)! },
  });
  return {
    ...topology,
    devices: Object.fromEntries(entries.sort(([a], [b]) => (a < b ? 1 : -1))),
    links: Object.fromEntries(Object.entries(topology.links).map(([id, cable]) => [`x-${id}`, link(cable)])),
  };
}
const match = (reference: Topology, drawing: Topology): RoleMatch[] =>
  matchRoles(analyse(reference), analyse(drawing)).roles;

describe.each(['valley-lan', 'three-stations'])('%s', (slug) => {
  const lab = demoLab(slug);
  const ids = Object.keys(lab.reference.devices);
  const orders = fc.shuffledSubarray(
    ids.map((_id, at) => at),
    { minLength: ids.length, maxLength: ids.length },
  );

  test('earns full marks whoever draws it, under whatever names and in whatever order', () => {
    fc.assert(
      fc.property(orders, (order) => {
        const result = checkSubmission(lab, redrawn(lab.reference, order));
        expect(
          result.requirements
            .filter((requirement) => requirement.verdict !== 'met')
            .map((requirement) => [requirement.id, requirement.items.find((item) => !item.met)?.text]),
        ).toEqual([]);
      }),
      { numRuns: runs(4) },
    );
  });
  test('finds each device in the role that its addresses and links give it', () => {
    fc.assert(
      fc.property(orders, (order) => {
        for (const { role, device } of match(lab.reference, redrawn(lab.reference, order)))
          expect(device).toBe(`n${order[ids.indexOf(role)]!}`);
      }),
      { numRuns: runs(4) },
    );
  });
  test('matches each device at most once, and the same way every time', () => {
    const { b: _gone, ...links } = lab.reference.links;
    const drawing = redrawn(
      { ...lab.reference, links },
      ids.map((_id, at) => at),
    );
    const first = match(lab.reference, drawing);
    const taken = first.flatMap((match) => (match.device === null ? [] : [match.device]));
    expect(new Set(taken).size).toBe(taken.length);
    expect(match(lab.reference, drawing)).toEqual(first);
  });
});

test('an empty drawing plays no role', () => {
  const { reference } = demoLab('valley-lan');
  expect(
    match(reference, { ...reference, devices: {}, links: {}, sites: {} }).every((match) => match.device === null),
  ).toBe(true);
});

test('a device of another sort stands in for a role only where nothing better is there', () => {
  const reference = new Sheet()
    .device('R', 'border-router', { g0: '10.0.0.1/24' })
    .device('S', 'access-switch-12')
    .host('A', '10.0.0.2/24')
    .cable('R g0', 'S u1')
    .cable('S p1', 'A e0').topology;
  const hub = new Sheet()
    .device('X', 'border-router', { g0: '10.0.0.1/24' })
    .device('Y', 'hub')
    .host('Z', '10.0.0.2/24')
    .cable('X g0', 'Y p1')
    .cable('Y p2', 'Z e0').topology;
  const found = new Map(match(reference, hub).map((match) => [match.role, match]));
  expect([found.get('R')!.device, found.get('S')!.device, found.get('A')!.device]).toEqual(['X', 'Y', 'Z']);
});

test('a tile of like hosts plays the parts of as many single ones', () => {
  const reference = new Sheet()
    .device('S', 'access-switch-12')
    .host('A', '10.0.0.2/24')
    .host('B', '10.0.0.3/24')
    .cable('S p1', 'A e0')
    .cable('S p2', 'B e0').topology;
  const drawing = new Sheet()
    .device('S', 'access-switch-12')
    .device('T', 'desktop', {}, { members: { m1: {}, m2: {} } }).topology;
  for (const [at, member] of ['m1', 'm2'].entries())
    drawing.links[member] = {
      a: { device: 'S', port: `p${at + 1}` },
      b: { device: 'T', member, port: 'e0' },
      medium: 'straight',
    };
  expect(
    match(reference, drawing)
      .map((match) => match.device)
      .sort(),
  ).toEqual(['S', 'T/m1', 'T/m2']);
});

test('neighbours are paired best first, the first of equals, as if all pairs were put in order', () => {
  /** Word by word: every pair, from the best one down, whose two are both left. */
  const inOrder = (mine: readonly number[], others: readonly number[], values: Float64Array, width: number): number => {
    const pairs = mine.flatMap((i, x) => others.map((j, y) => ({ value: values[i * width + j]!, x, y })));
    pairs.sort((p, q) => q.value - p.value || p.x - q.x || p.y - q.y);
    const [usedX, usedY] = [new Set<number>(), new Set<number>()];
    let sum = 0;
    for (const { value, x, y } of pairs) {
      if (usedX.has(x) || usedY.has(y)) continue;
      usedX.add(x);
      usedY.add(y);
      sum += value;
    }
    return sum / Math.max(mine.length, others.length);
  };
  const counted = (list: readonly number[]): [number, number][] =>
    [...new Set(list)].map((each) => [each, list.filter((other) => other === each).length]);
  const together = (list: readonly number[]): number[] =>
    counted(list).flatMap(([each, n]) => Array<number>(n).fill(each));
  const devices = fc.array(fc.nat(5), { minLength: 1, maxLength: 7 });
  // Few values, so that many are equal.
  const values = fc.array(fc.constantFrom(0, 0.25, 0.3, 0.6, 1), { minLength: 36, maxLength: 36 });
  fc.assert(
    fc.property(devices, devices, values, (mine, others, list) => {
      const table = Float64Array.from(list);
      expect(neighbourhood(neighboursOf(counted(mine)), neighboursOf(counted(others)), table, 6)).toBeCloseTo(
        inOrder(together(mine), together(others), table, 6),
        9,
      );
    }),
    { numRuns: runs(300) },
  );
});

test('a host that is plugged in at another switch is still itself, beside one more at its place that nobody set up', () => {
  const { reference } = demoLab('three-stations');
  const drawing = structuredClone(reference);
  const [id, cable] = Object.entries(drawing.links).find(
    ([, { a, b }]) => a.device === 'DESK-1' || b.device === 'DESK-1',
  )!;
  const end = cable.a.device === 'DESK-1' ? 'b' : 'a';
  drawing.devices.EXTRA = { name: 'EXTRA', model: 'desktop', at: { x: 0, y: 0 } };
  drawing.links.extra = { ...cable, [end]: cable[end], [end === 'a' ? 'b' : 'a']: { device: 'EXTRA', port: 'e0' } };
  drawing.links[id] = { ...cable, [end]: { device: 'SWM2', port: 'p11' } };
  const found = match(reference, drawing);
  expect(found.find(({ role }) => role === 'DESK-1')!.device).toBe('DESK-1');
  expect(found.some(({ device }) => device === 'EXTRA')).toBe(false);
});
