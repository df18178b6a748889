import { analyse } from '../engine';
import { Sheet } from '../tests/topologies';
import { type PortConfig, type Topology, applyBatch } from '../topology';
import { disagreements } from './disagreements';
import { mendsOf } from './mends';

type Protocol = 'ospf' | 'ospf6';
/** Routers that speak OSPF, each with what its interface g0 has of it. */
function speaking(drawing: Topology, protocol: Protocol, at: Readonly<Record<string, object>>): Topology {
  for (const [id, ospf] of Object.entries(at)) {
    const device = drawing.devices[id]!;
    device.interfaces!.g0 = { ...device.interfaces!.g0!, [protocol]: ospf };
    device.settings = { ...device.settings, [protocol]: { routerId: `1.1.1.${id.charCodeAt(0)}` } };
  }
  return drawing;
}
const routers = (a: object, b: object, protocol: Protocol = 'ospf'): Topology => {
  const drawing = new Sheet()
    .device('A', 'border-router', { g0: '10.84.1.1/30' })
    .device('B', 'border-router', { g0: '10.84.1.2/30' })
    .cable('A g0', 'B g0', 'crossover').topology;
  for (const id of ['A', 'B']) drawing.devices[id]!.interfaces!.g0!.v6 = { enabled: true };
  return speaking(drawing, protocol, { A: a, B: b });
};
/** Routers that say by networks what takes part. */
const byLines = (lines: Readonly<Record<string, readonly (readonly [prefix: string, area: number])[]>>): Topology => {
  const drawing = routers({}, {});
  for (const [id, networks] of Object.entries(lines))
    drawing.devices[id]!.settings!.ospf!.networks = networks.map(([prefix, area]) => ({ prefix, area }));
  return drawing;
};
function overSwitch(): Topology {
  const drawing = new Sheet()
    .device('A', 'border-router', { g0: '10.84.1.1/29' })
    .device('B', 'border-router', { g0: '10.84.1.2/29' })
    .device('S', 'access-switch-12')
    .cable('A g0', 'S p1')
    .cable('B g0', 'S p2').topology;
  speaking(drawing, 'ospf', { A: {}, B: { area: 1 } });
  drawing.devices.A!.settings!.ospf!.networks = [{ prefix: '10.84.1.0/29', area: 0 }];
  return drawing;
}
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
  [
    'areas over IPv6',
    routers({ area: 0 }, { area: 2 }, 'ospf6'),
    'A g0 is in area 0 of OSPFv3, B g0 is in area 2 of OSPFv3: they do not agree.',
  ],
  [
    'areas that lines of networks give',
    byLines({
      A: [['10.84.0.0/16', 0]],
      B: [
        ['10.84.0.0/16', 0],
        ['10.84.1.0/24', 5],
      ],
    }),
    'A g0 is in area 0 of OSPF, B g0 is in area 5 of OSPF: they do not agree.',
  ],
  [
    'an area of a line and one of the interface, over a switch',
    overSwitch(),
    'A g0 is in area 0 of OSPF, B g0 is in area 1 of OSPF: they do not agree.',
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
  ['one that is told to be silent', routers({ area: 0 }, { area: 1, passive: true })],
  ['lines that put both into one area', byLines({ A: [['10.84.1.0/30', 3]], B: [['10.0.0.0/8', 3]] })],
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

test('at tiles of several devices each member is made as what it is linked to, where its value stands', () => {
  const drawing = new Sheet()
    .device('A', 'access-switch-12', {}, { ports: { p1: access(10), p2: access(20) } })
    .device('T', 'access-switch-12', {}, { ports: { p1: access(10) } }).topology;
  drawing.devices.T!.members = { m1: {}, m2: { ports: { p1: access(30) } } };
  for (const member of [1, 2])
    drawing.links[`l${member}`] = {
      a: { device: 'A', port: `p${member}` },
      b: { device: 'T', member: `m${member}`, port: 'p1' },
      medium: 'crossover',
    };
  const found = disagreements(analyse(drawing));
  expect(found.map(({ repair }) => repair.join())).toEqual(['A p2 as T-2 p1', 'T-2 p1 as A p2']);
  for (const { commands } of found) {
    const done = applyBatch(drawing, 'repair', [...commands]);
    if (!done.ok) throw new Error(done.error);
    expect(disagreements(analyse(done.value.document))).toEqual([]);
    // The other member stays as it is.
    expect(analyse(done.value.document).instances.size).toBe(3);
  }
});

test('of what would help, what lets more through comes last', () => {
  const drawing = new Sheet()
    .device('A', 'access-switch-12', {}, { ports: { p1: trunk, p2: access(20) } })
    .device('B', 'access-switch-12', {}, { ports: { p1: access(20), p2: access(20) } })
    .host('ONE', '10.84.1.1/24')
    .host('TWO', '10.84.1.2/24')
    .cable('B p1', 'A p1', 'crossover')
    .cable('ONE e0', 'A p2')
    .cable('TWO e0', 'B p2').topology;
  const { list } = mendsOf(analyse(drawing), (model) => {
    const target = model.reach.targets().find(({ device }) => device === 'TWO');
    return target !== undefined && model.reach.answer('ONE', target).answer === 'yes';
  });
  expect(list.map(({ repair }) => repair).filter((repair) => / as /.test(repair))).toEqual([
    'A p1 as B p1',
    'B p1 as A p1',
  ]);
});
