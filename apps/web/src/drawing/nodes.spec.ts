import { SceneKeeper } from '@sobrin/core/drawing';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { LEGEND_ID, type NodeOptions, NodeFactory } from './nodes';
import { afterPick } from './selection';

const host = (name: string, x: number, address: string) => ({
  name,
  model: 'desktop',
  at: { x, y: 200 },
  site: 'v',
  interfaces: { e0: { on: { kind: 'port' as const, port: 'e0' }, v4: { addresses: [address] } } },
});
const topology: Topology = {
  ...emptyTopology(),
  sites: { v: { name: 'Valley' } },
  devices: {
    s: { name: 'SW-1', model: 'access-switch-12', at: { x: 0, y: 0 } },
    a: host('A', 0, '10.84.1.11/26'),
    b: host('B', 80, '10.84.1. 12/26'),
  },
};
const options: NodeOptions = {
  editable: true,
  selected: new Set(),
  selectedSites: new Set(),
  marks: new Map(),
  siteMarks: new Map(),
  seconds: new Map(),
  dimOthers: false,
  subnetsShown: true,
  far: false,
};
const keeper = new SceneKeeper();
const nodesOf = (factory: NodeFactory, change: Partial<NodeOptions> = {}, on = topology) =>
  new Map(factory.nodes(on, keeper.scene(on), { ...options, ...change }).map((node) => [node.id, node]));
const second = (nodes: ReturnType<typeof nodesOf>, id: string): unknown =>
  (nodes.get(id)!.data as { second: string }).second;

test('sites and tiles become nodes at their places, in the order in which one reads; a site below its tiles', () => {
  const nodes = nodesOf(new NodeFactory());
  expect([...nodes.keys()]).toEqual(['s', 'site v', 'a', 'b']);
  expect(nodes.get('site v')!.zIndex!).toBeLessThan(nodes.get('a')!.zIndex!);
  expect(nodes.get('a')).toMatchObject({
    position: { x: 0, y: 200 },
    width: 40,
    height: 40,
    ariaLabel: 'A, desktop, .11, Valley, 0 links',
  });
});
test('an address is short where its subnet is written, whole where it is not, and a mistake is told', () => {
  expect(second(nodesOf(new NodeFactory()), 'a')).toBe('.11');
  expect(second(nodesOf(new NodeFactory(), { subnetsShown: false }), 'a')).toBe('10.84.1.11/26');
  const nodes = nodesOf(new NodeFactory());
  expect(nodes.get('b')!.data).toMatchObject({ second: '10.84.1. 12/26', wrong: true });
});
test('seen from far, what stands under hosts is left out; in a network device it stays', () => {
  const seconds = new Map([
    ['b', 'is DESK-2'],
    ['s', 'is SW-V1'],
  ]);
  const far = nodesOf(new NodeFactory(), { far: true, seconds });
  expect([second(far, 'a'), second(far, 'b'), second(far, 's')]).toEqual(['', '', 'is SW-V1']);
  expect(second(nodesOf(new NodeFactory(), { seconds }), 'b')).toBe('is DESK-2');
});
test('only what changed becomes a new node', () => {
  const factory = new NodeFactory();
  const before = nodesOf(factory);
  const after = nodesOf(factory, { selected: new Set(['a']) });
  expect([...after].filter(([id, node]) => before.get(id) !== node).map(([id]) => id)).toEqual(['a']);
  const moved = { ...topology, devices: { ...topology.devices, s: { ...topology.devices.s!, at: { x: 300, y: 0 } } } };
  const next = nodesOf(factory, { selected: new Set(['a']) }, moved);
  expect([...next].filter(([id, node]) => after.get(id) !== node).map(([id]) => id)).toEqual(['s']);
});
test('what is moved past another keeps its turn until it rests', () => {
  const factory = new NodeFactory();
  const order = (change: Partial<NodeOptions>, on: Topology): string[] =>
    [...nodesOf(factory, change, on).keys()].filter((id) => id.length === 1);
  const past = { ...topology, devices: { ...topology.devices, a: { ...topology.devices.a!, at: { x: 300, y: 200 } } } };
  expect(order({}, topology)).toEqual(['s', 'a', 'b']);
  expect(order({ moving: true }, past)).toEqual(['s', 'a', 'b']);
  expect(order({}, past)).toEqual(['s', 'b', 'a']);
});
test('what is not pointed at is dimmed while something is', () => {
  const nodes = nodesOf(new NodeFactory(), { dimOthers: true, marks: new Map([['a', 'lost']]) });
  expect([nodes.get('a')!.data, nodes.get('s')!.data]).toMatchObject([
    { mark: 'lost', dimmed: false },
    { mark: null, dimmed: true },
  ]);
});
test('where one only looks, nothing can be dragged', () => {
  for (const node of nodesOf(new NodeFactory(), { editable: false }).values()) expect(node.draggable).toBe(false);
});
test('the legend stands below the tiles and cannot be taken hold of', () => {
  const nodes = nodesOf(new NodeFactory(), {}, { ...topology, legend: 'Office · VLAN 20' });
  const legend = nodes.get(LEGEND_ID)!;
  expect(legend).toMatchObject({ type: 'legend', draggable: false, selectable: false });
  expect(legend.position.y).toBeGreaterThan(nodes.get('a')!.position.y + 40);
});
test('a tile is heard with whether it is chosen, and with its mark and why it has it', () => {
  const marks = new Map([['s', 'lost'] as const]);
  const markReasons = new Map([['s', 'SW-1 cannot reach SHOP.']]);
  const nodes = nodesOf(new NodeFactory(), { selected: new Set(['s']), marks, markReasons });
  expect(nodes.get('s')!.ariaLabel).toBe('SW-1, chosen, lost: SW-1 cannot reach SHOP, access switch 12 + 4, 0 links');
});
test('a tile is heard with model, site, links and problems', () => {
  const nodes = nodesOf(new NodeFactory(), { problems: new Map([['s', 1]]) });
  expect(nodes.get('s')!.ariaLabel).toBe('SW-1, access switch 12 + 4, 0 links, 1 problem');
  const linked: Topology = {
    ...topology,
    devices: { ...topology.devices, s: { ...topology.devices.s!, site: 'v' } },
    links: { l: { a: { device: 's', port: 'p1' }, b: { device: 'a', port: 'e0' }, medium: 'straight' } },
  };
  expect(nodesOf(new NodeFactory(), {}, linked).get('s')!.ariaLabel).toBe('SW-1, access switch 12 + 4, Valley, 1 link');
});
test('one more that is chosen leaves the others chosen, whatever the library takes out', () => {
  const chosen = { devices: ['a'], links: [], sites: [] };
  const picked = [
    { id: 'a', selected: false },
    { id: 'b', selected: true },
  ];
  expect(afterPick(chosen, picked, true).devices).toEqual(['a', 'b']);
  expect(afterPick(chosen, picked, false).devices).toEqual(['b']);
  expect(afterPick({ ...chosen, devices: ['a', 'b'] }, [{ id: 'b', selected: false }], true).devices).toEqual(['a']);
});
