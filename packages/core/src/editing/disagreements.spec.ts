import { analyse } from '../engine';
import { Sheet } from '../tests/topologies';
import { type PortConfig, type Topology, applyBatch } from '../topology';
import { disagreements } from './disagreements';
import { mendsOf } from './mends';

const routers = (a: object, b: object, protocol: 'ospf' | 'ospf6' = 'ospf'): Topology => {
  const drawing = new Sheet()
    .device('A', 'border-router', { g0: '10.84.1.1/30' })
    .device('B', 'border-router', { g0: '10.84.1.2/30' })
    .cable('A g0', 'B g0', 'crossover').topology;
  for (const [id, ospf] of [
    ['A', a],
    ['B', b],
  ] as const)
    drawing.devices[id]!.interfaces!.g0 = { ...drawing.devices[id]!.interfaces!.g0!, [protocol]: ospf };
  return drawing;
};
const switches = (a: PortConfig, b: PortConfig): Topology =>
  new Sheet()
    .device('A', 'access-switch-12', {}, { ports: { p1: a } })
    .device('B', 'access-switch-12', {}, { ports: { p1: b } })
    .cable('A p1', 'B p1', 'crossover').topology;
const access = (accessVlan: number): PortConfig => ({ role: { kind: 'switched', mode: 'access', accessVlan } });
const trunk: PortConfig = { role: { kind: 'switched', mode: 'trunk' } };

test.each<[string, Topology, string]>([
  [
    'areas',
    routers({ area: 0 }, { area: 1 }),
    'A g0 is in area 0 of OSPF, B g0 is in area 1 of OSPF: they do not agree.',
  ],
  [
    'intervals, one of which is the usual one',
    routers({ area: 0 }, { area: 0, hello: 20 }),
    'A g0 has a hello interval of 10 s, B g0 has a hello interval of 20 s: they do not agree.',
  ],
  [
    'intervals over IPv6',
    routers({ area: 0, dead: 9 }, { area: 0 }, 'ospf6'),
    'A g0 has a dead interval of 9 s, B g0 has a dead interval of 40 s: they do not agree.',
  ],
  ['VLANs', switches(access(10), access(20)), 'A p1 is in VLAN 10, B p1 is in VLAN 20: they do not agree.'],
  ['trunk and VLAN', switches(trunk, access(20)), 'A p1 is a trunk, B p1 is in VLAN 20: they do not agree.'],
  [
    'speeds',
    switches({ speed: 10 }, { speed: 100 }),
    'A p1 is set to 10 Mb/s, B p1 is set to 100 Mb/s: they do not agree.',
  ],
])('%s: both ends are pointed at, and each may be made as the other', (_what, drawing, text) => {
  const found = disagreements(analyse(drawing));
  expect(found.map((each) => each.text)).toEqual([text, text]);
  for (const { places, commands } of found) {
    expect(places.map(({ device }) => device)).toEqual(['A', 'B']);
    const done = applyBatch(drawing, 'repair', [...commands]);
    if (!done.ok) throw new Error(done.error);
    expect(disagreements(analyse(done.value.document))).toEqual([]);
  }
  const ways = found.map(({ repair }) => repair.join());
  expect(ways).toEqual([expect.stringMatching(/^A \w+ as B/), expect.stringMatching(/^B \w+ as A/)]);
});

test('who becomes a trunk lets more through: that is said', () => {
  const [first, second] = disagreements(analyse(switches(trunk, access(20))));
  expect([first!.opens, second!.opens]).toEqual([undefined, true]);
});

test.each<[string, Topology]>([
  ['ends that agree', routers({ area: 0 }, { area: 0 })],
  ['one that speaks no OSPF', routers({ area: 0 }, {})],
  [
    'trunks that carry different VLANs, which the list of problems tells',
    switches(trunk, { role: { kind: 'switched', mode: 'trunk', allowed: [10] } }),
  ],
  ['speeds of which one is found by itself', switches({ speed: 10 }, { speed: 'auto' })],
  [
    'a host at a switch',
    new Sheet()
      .device('S', 'access-switch-12', {}, { ports: { p1: access(20) } })
      .host('PC', '10.84.1.1/24')
      .cable('PC e0', 'S p1').topology,
  ],
])('nothing is said of %s', (_what, drawing) => {
  expect(disagreements(analyse(drawing))).toEqual([]);
});

test('what would help a packet that is not answered is that either end is as the other', () => {
  const drawing = new Sheet()
    .device('A', 'access-switch-12', {}, { ports: { p1: access(20), p2: access(10) } })
    .device('B', 'access-switch-12', {}, { ports: { p1: access(10), p2: access(10) } })
    .host('ONE', '10.84.1.1/24')
    .host('TWO', '10.84.1.2/24')
    .cable('A p1', 'B p1', 'crossover')
    .cable('ONE e0', 'A p2')
    .cable('TWO e0', 'B p2').topology;
  const answered = (model: ReturnType<typeof analyse>): boolean => {
    const target = model.reach.targets().find(({ device }) => device === 'TWO');
    return target !== undefined && model.reach.answer('ONE', target).answer === 'yes';
  };
  const { list } = mendsOf(analyse(drawing), answered);
  expect(list).toEqual([
    expect.objectContaining({
      text: 'A p1 is in VLAN 20, B p1 is in VLAN 10: they do not agree.',
      repair: 'A p1 as B p1',
    }),
  ]);
});

test('two links whose ends do not agree are put right together, each in one of its two ways', () => {
  const drawing = new Sheet()
    .device('A', 'access-switch-12', {}, { ports: { p1: access(20), p2: access(10) } })
    .device('B', 'access-switch-12', {}, { ports: { p1: access(10), p2: access(10) } })
    .device('C', 'access-switch-12', {}, { ports: { p1: access(30), p2: access(10) } })
    .host('ONE', '10.84.1.1/24')
    .host('TWO', '10.84.1.2/24')
    .cable('A p1', 'B p1', 'crossover')
    .cable('C p1', 'B p2', 'crossover')
    .cable('ONE e0', 'A p2')
    .cable('TWO e0', 'C p2').topology;
  const { list, together } = mendsOf(analyse(drawing), (model) => {
    const target = model.reach.targets().find(({ device }) => device === 'TWO');
    return target !== undefined && model.reach.answer('ONE', target).answer === 'yes';
  });
  expect(together).toBe(true);
  expect(list.map(({ repair }) => repair).sort()).toEqual(['A p1 as B p1', 'C p1 as B p2']);
});
