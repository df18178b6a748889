import { Sheet } from '../../tests/topologies';
import { type Device, type Medium, type PortConfig, type Settings, type Topology } from '../../topology';
import { type NetworkModel, type ReasonCode, analyse, problemsOf } from '..';

type Given = Partial<Device>;
const tree = (priority: number, more: object = {}): Given => ({ settings: { spanningTree: { priority, ...more } } });

/** Switches with the given settings and links between them, as "S1 u1 – S2 u1". */
function switches(given: Record<string, Given>, ...links: [string, string, Medium?][]): Topology {
  const sheet = new Sheet();
  for (const [id, more] of Object.entries(given)) sheet.device(id, 'access-switch-12', {}, more);
  for (const [a, b, medium] of links) sheet.cable(a, b, medium ?? 'crossover');
  return sheet.topology;
}
const roles = (model: NetworkModel, vlan = 1): Record<string, string> =>
  Object.fromEntries([...model.layer2.tree.treeOf(vlan).ports].map(([port, { role }]) => [port, role]));
const problemTexts = (topology: Topology, code: ReasonCode): string[] =>
  problemsOf(analyse(topology)).flatMap((problem) => (problem.code === code ? problem.text : []));

const TRIANGLE: [string, string][] = [
  ['S1 u1', 'S2 u1'],
  ['S1 u2', 'S3 u1'],
  ['S2 u2', 'S3 u2'],
];

describe('which ports forward (IEEE 802.1Q-2018 §13)', () => {
  test('in a triangle the worse of the two lower bridges blocks its way to the other', () => {
    const model = analyse(switches({ S1: tree(4096), S2: tree(8192), S3: tree(12288) }, ...TRIANGLE));
    expect(roles(model)).toEqual({
      'S1 u1': 'designated',
      'S1 u2': 'designated',
      'S2 u1': 'root',
      'S2 u2': 'designated',
      'S3 u1': 'root',
      'S3 u2': 'alternate',
    });
    expect(model.layer2.tree.trees[0]!.bridges.get('S3')).toMatchObject({ root: 'S1', rootCost: 4, rootPort: 'u1' });
  });
  test('a way of two fast links is better than one slow link (costs of IEEE 802.1D-1998 table 8-5)', () => {
    const slow = switches(
      { S1: tree(4096), S2: tree(8192), S3: tree(12288) },
      ['S1 u1', 'S2 u1'],
      ['S1 p1', 'S3 p1'],
      ['S2 u2', 'S3 u2'],
    );
    const model = analyse(slow);
    expect(model.layer2.tree.trees[0]!.bridges.get('S3')).toMatchObject({ rootCost: 8, rootPort: 'u2' });
    expect(roles(model)['S3 p1']).toBe('alternate');
  });
  test('the long costs of 802.1Q table 13-4 and a cost that is set', () => {
    const long = tree(8192, { longCosts: true });
    const bridge = (more: Given) =>
      analyse(switches({ S1: tree(4096), S2: more }, ['S1 u1', 'S2 u1'])).layer2.tree.trees[0]!.bridges.get('S2');
    expect(bridge(long)).toMatchObject({ rootCost: 20_000 });
    expect(bridge({ ports: { u1: { stp: { cost: 7 } } } })).toMatchObject({ rootCost: 7 });
  });
  test('of two links to the same bridge the lower port of the sender wins, or the one with the lower port priority', () => {
    const pair: [string, string][] = [
      ['S1 u1', 'S2 u2'],
      ['S1 u2', 'S2 u1'],
    ];
    const plain = analyse(switches({ S1: tree(4096), S2: {} }, ...pair));
    expect(roles(plain)).toMatchObject({ 'S2 u2': 'root', 'S2 u1': 'alternate' });
    const preferred = { ...tree(4096), ports: { u2: { stp: { priority: 16 } } } };
    expect(roles(analyse(switches({ S1: preferred, S2: {} }, ...pair)))).toMatchObject({ 'S2 u1': 'root' });
  });
  test('two ports of one switch on a hub: the second is a backup', () => {
    const sheet = new Sheet().device('S', 'access-switch-12').device('H', 'hub');
    sheet.cable('S p1', 'H p1', 'crossover').cable('S p2', 'H p2', 'crossover');
    expect(roles(analyse(sheet.topology))).toEqual({ 'S p1': 'designated', 'S p2': 'backup' });
  });
  test('a switch without spanning tree passes the messages on, as a hub does', () => {
    const off = { settings: { spanningTree: { on: false } } };
    const model = analyse(switches({ S1: tree(4096), S2: off, S3: tree(12288) }, ...TRIANGLE));
    expect(roles(model)).toEqual({
      'S1 u1': 'designated',
      'S1 u2': 'designated',
      'S3 u1': 'alternate',
      'S3 u2': 'root',
    });
    expect(problemTexts(model.topology, 'STORM')).toEqual([]);
  });
  test('a loop that lies beside the tree is not broken by it', () => {
    const off = { settings: { spanningTree: { on: false } } };
    const beside = switches(
      { S1: tree(4096), S2: off, S3: off },
      ['S1 u1', 'S2 u1'],
      ['S2 u2', 'S3 u2'],
      ['S2 u3', 'S3 u3'],
    );
    expect(problemTexts(beside, 'STORM')).toHaveLength(1);
  });
  test('VLANs with priorities of their own follow a tree of their own', () => {
    const forTwenty = { instances: [{ vlans: [20], priority: 0 }] };
    const model = analyse(switches({ S1: tree(4096), S2: tree(8192, forTwenty), S3: tree(12288) }, ...TRIANGLE));
    expect(model.layer2.tree.trees.map(({ vlans }) => vlans)).toEqual([[], [20]]);
    expect(model.layer2.tree.treeOf(20).bridges.get('S3')).toMatchObject({ root: 'S2' });
    expect(roles(model, 20)['S3 u1']).toBe('alternate');
    expect(roles(model, 10)['S3 u2']).toBe('alternate');
  });
  test('an access point takes part only when told to', () => {
    const sheet = new Sheet().device('S', 'access-switch-12').device('W', 'access-point').cable('S p1', 'W e0');
    expect([...analyse(sheet.topology).layer2.tree.trees[0]!.bridges.keys()]).toEqual(['S']);
  });
});

describe('guards', () => {
  const guarded = (stp: NonNullable<PortConfig['stp']>, settings: Settings = {}): Topology =>
    switches({ S1: { ports: { u1: { stp } }, settings }, S2: tree(4096) }, ['S1 u1', 'S2 u1']);
  test('a port that must not hear another bridge is shut when it does', () => {
    const topology = guarded({ bpduGuard: true });
    expect(problemTexts(topology, 'PORT_GUARDED')).toEqual([
      'S1 u1 is shut by its guard: another switch takes part in the spanning tree there.',
    ]);
    expect(analyse(topology).layer2.tree.forwards('S1', 'u1', 1)).toBe(false);
  });
  test('a root behind a port that guards against it is not taken', () => {
    const topology = guarded({ rootGuard: true });
    expect(problemTexts(topology, 'PORT_GUARDED')).toEqual([
      'S1 u1 passes nothing on: its guard forbids that the root of the spanning tree lies behind it.',
    ]);
    const better = guarded({ rootGuard: true }, { spanningTree: { priority: 0 } });
    expect(problemTexts(better, 'PORT_GUARDED')).toEqual([]);
  });
});

describe('the root', () => {
  const hosts = (topology: Topology): Topology => {
    for (const id of ['S2', 'S3']) {
      topology.devices[`H${id}`] = { name: `H${id}`, model: 'desktop', at: { x: 0, y: 0 } };
      topology.links[`h${id}`] = {
        a: { device: id, port: 'p9' },
        b: { device: `H${id}`, port: 'e0' },
        medium: 'straight',
      };
    }
    return topology;
  };
  test('one that hardware addresses decide is told, with the switch that should be it', () => {
    expect(problemTexts(hosts(switches({ S1: {}, S2: {}, S3: {} }, ...TRIANGLE)), 'ROOT_BY_CHANCE')).toEqual([
      expect.stringMatching(
        /^S1, S2 and S3 have the same spanning-tree priority, so their hardware addresses made S\d the root: give S1 a lower priority\.$/,
      ),
    ]);
  });
  test('a switch at the edge that won by its priority is told', () => {
    expect(problemTexts(hosts(switches({ S1: {}, S2: tree(4096), S3: {} }, ...TRIANGLE)), 'ROOT_AT_EDGE')).toEqual([
      'S2, where hosts are connected, is the root of the spanning tree: give S1 a lower priority.',
    ]);
  });
  test('a root in the middle, and switches without a loop, are in order', () => {
    for (const fine of [
      hosts(switches({ S1: tree(4096), S2: {}, S3: {} }, ...TRIANGLE)),
      hosts(switches({ S1: {}, S2: {}, S3: {} }, ...TRIANGLE.slice(0, 2))),
    ])
      expect([...problemTexts(fine, 'ROOT_BY_CHANCE'), ...problemTexts(fine, 'ROOT_AT_EDGE')]).toEqual([]);
  });
  test('two identical drawings elect the same root, whatever the order in the file', () => {
    const rootOf = (topology: Topology) => [...analyse(topology).layer2.tree.trees[0]!.bridges.values()][0]!.root;
    const whole = switches({ S1: {}, S2: {}, S3: {} }, ...TRIANGLE);
    const other = switches({ S3: {}, S1: {}, S2: {} }, ...TRIANGLE.toReversed());
    expect(rootOf(other)).toBe(rootOf(whole));
  });
});

test('a VLAN that is allowed on the blocked link only is cut, and told', () => {
  const trunk = (allowed: number[]): PortConfig => ({ role: { kind: 'switched', mode: 'trunk', allowed } });
  const both = { u1: trunk([1]), u2: trunk([1, 20]) };
  const topology = switches(
    { S1: { ...tree(4096), ports: both }, S2: { ports: both } },
    ['S1 u1', 'S2 u1'],
    ['S1 u2', 'S2 u2'],
  );
  expect(problemTexts(topology, 'VLAN_CUT')).toEqual([
    'VLAN 20 is cut in two: the spanning tree blocks the link between S1 u2 and S2 u2, and the other ways do not carry it.',
  ]);
  topology.devices.S1!.ports = topology.devices.S2!.ports = { u1: trunk([1, 20]), u2: trunk([1, 20]) };
  expect(problemTexts(topology, 'VLAN_CUT')).toEqual([]);
});

describe('bundles (IEEE 802.1AX)', () => {
  type Protocol = 'active' | 'passive' | 'static';
  const bundled = (here: Protocol, there: Protocol, ports: Device['ports'] = {}): Topology => {
    const end = (protocol: Protocol, priority: number): Given => ({
      settings: { bundles: { b1: { members: ['u1', 'u2'], protocol } }, spanningTree: { priority } },
    });
    return switches(
      { S1: { ...end(here, 4096), ports }, S2: end(there, 8192) },
      ['S1 u1', 'S2 u1'],
      ['S1 u2', 'S2 u2'],
    );
  };
  test('spanning tree sees one port, with the speed of all links', () => {
    const model = analyse(bundled('active', 'passive'));
    expect(roles(model)).toEqual({ 'S1 u1': 'designated', 'S2 u1': 'root' });
    expect(model.layer2.bundles.formed('S1', 'b1')).toMatchObject({ speedMbps: 2000 });
    expect(problemTexts(model.topology, 'BUNDLE_NOT_FORMED')).toEqual([]);
  });
  test.each<[Protocol, Protocol]>([
    ['static', 'active'],
    ['passive', 'static'],
  ])('one end %s and the other %s is in no standard: what crosses it is not certain, and what does not is', (a, b) => {
    const sheet = new Sheet();
    Object.assign(sheet.topology, bundled(a, b));
    const { topology } = sheet
      .host('A', '10.84.0.1/24')
      .host('B', '10.84.0.2/24')
      .host('C', '10.84.0.3/24')
      .cable('S1 p1', 'A e0')
      .cable('S1 p2', 'B e0')
      .cable('S2 p1', 'C e0');
    const { reach } = analyse(topology);
    const ask = (from: string, to: string) =>
      reach.ask(
        from,
        reach.targets().find(({ device }) => device === to)!,
      );
    const across = ask('A', 'C');
    expect([across.answer, across.reason?.code]).toEqual(['uncertain', 'BUNDLE_NOT_FORMED']);
    expect(across.reason!.text).toMatch(/S1 and S2 is static at one end and negotiates at the other/);
    expect([ask('A', 'B').answer, ask('C', 'A').answer]).toEqual(['yes', 'uncertain']);
    for (const from of ['A', 'B', 'C'])
      for (const to of reach.targets())
        if (to.device !== from) expect(reach.answer(from, to).answer).toBe(reach.ask(from, to).answer);
    expect(problemTexts(topology, 'BUNDLE_NOT_FORMED')).toHaveLength(1);
  });
  test('so it is where the static end is a router: its interface is up, and nobody knows for whom', () => {
    const router: Given = {
      settings: { bundles: { b1: { members: ['g0', 'g1'], protocol: 'static' } } },
      interfaces: { b1: { on: { kind: 'bundle', bundle: 'b1' }, v4: { addresses: ['10.84.0.1/24'] } } },
    };
    const { topology } = new Sheet()
      .device('R', 'border-router', {}, router)
      .device(
        'S',
        'access-switch-12',
        {},
        { settings: { bundles: { b1: { members: ['u1', 'u2'], protocol: 'active' } } } },
      )
      .host('A', '10.84.0.9/24')
      .cable('R g0', 'S u1')
      .cable('R g1', 'S u2')
      .cable('S p1', 'A e0');
    const { reach } = analyse(topology);
    const answers = reach.targets().map((to) => reach.ask(to.device === 'A' ? 'R' : 'A', to).answer);
    expect(answers).toEqual(['uncertain', 'uncertain']);
  });
  test('two that are passive do not form: the links work singly', () => {
    const model = analyse(bundled('passive', 'passive'));
    expect(roles(model)).toMatchObject({ 'S2 u1': 'root', 'S2 u2': 'alternate' });
    expect(problemTexts(model.topology, 'BUNDLE_NOT_FORMED')).toHaveLength(1);
  });
  test('a link of another speed or with other VLANs is left out, and told', () => {
    const slow = analyse(bundled('active', 'active', { u2: { speed: 100 } }));
    expect(slow.layer2.bundles.formed('S1', 'b1')).toMatchObject({ speedMbps: 1000 });
    expect(problemTexts(slow.topology, 'BUNDLE_NOT_FORMED')).toEqual([
      'S1 u2 is left out of its bundle: it runs at 100 Mb/s, u1 at 1000 Mb/s.',
    ]);
    const other = bundled('active', 'active', { u2: { role: { kind: 'switched', mode: 'trunk', allowed: [20] } } });
    expect(problemTexts(other, 'BUNDLE_NOT_FORMED')).toEqual([
      'S1 u2 is left out of its bundle: the VLANs of S1 u2 are not those of u1.',
    ]);
  });
  test('two bundled links are no loop, even where no switch takes part in the spanning tree', () => {
    const topology = bundled('static', 'static');
    for (const id of ['S1', 'S2']) topology.devices[id]!.settings!.spanningTree = { on: false };
    expect(problemTexts(topology, 'STORM')).toEqual([]);
    delete topology.devices.S2!.settings!.bundles;
    expect(problemTexts(topology, 'STORM')).toHaveLength(1);
  });
  test('addresses live on the bundle of routed ports, and last until its last link fails', () => {
    const router = (address: string): Given => ({
      settings: { bundles: { b1: { members: ['g0', 'g1'], protocol: 'active' } } },
      interfaces: { b1: { on: { kind: 'bundle', bundle: 'b1' }, v4: { addresses: [address] } } },
    });
    const sheet = new Sheet()
      .device('R1', 'border-router', {}, router('10.84.0.1/30'))
      .device('R2', 'border-router', {}, router('10.84.0.2/30'))
      .cable('R1 g0', 'R2 g0')
      .cable('R1 g1', 'R2 g1');
    const reached = () => {
      const model = analyse(sheet.topology);
      const [target] = model.reach.targets().filter(({ device }) => device === 'R2');
      return target && model.reach.ask('R1', target).answer;
    };
    expect(reached()).toBe('yes');
    sheet.topology.links['R1-g0-R2-g0']!.broken = true;
    expect(reached()).toBe('yes');
    sheet.topology.links['R1-g1-R2-g1']!.broken = true;
    expect(reached()).not.toBe('yes');
  });
});
