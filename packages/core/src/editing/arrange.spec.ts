import ELK from 'elkjs/lib/elk.bundled.js';
import { createRequire } from 'node:module';
import path from 'node:path';
import { readLabText } from '../formats';
import { overlap, sceneOf, tilesOf, tilesUnder } from '../drawing';
import { Sheet, readJson, repository } from '../tests/topologies';
import { type Topology, applyBatch } from '../topology';
import { type Layout, type LayoutTask, arrange, layeredGraph, layoutOf } from '.';

/** The simplest layered layout: tiers as rows, boxes of a tier side by side. */
const rows = (task: LayoutTask): Layout => {
  const x = new Map<number, number>();
  const tiers = [...new Set(task.boxes.map((box) => box.tier))].sort((a, b) => a - b);
  const heights = tiers.map((tier) => Math.max(...task.boxes.map((box) => (box.tier === tier ? box.height : 0))));
  return new Map(
    task.boxes.map(({ id, width, tier }) => {
      const left = x.get(tier) ?? 0;
      x.set(tier, left + width + 34);
      const y = heights.slice(0, tiers.indexOf(tier)).reduce((sum, height) => sum + height + 60, 0);
      return [id, { x: left, y }];
    }),
  );
};
function arranged(topology: Topology, ids?: string[]): Topology {
  const { tasks, finish } = arrange(topology, ids);
  const done = applyBatch(topology, 'arrange', finish(new Map(tasks.map((task) => [task.id, rows(task)]))));
  if (!done.ok) throw new Error(done.error);
  return done.value.document;
}
const threeStations = (): Topology => {
  const read = readLabText(JSON.stringify(readJson('demo', 'three-stations', 'lab.json')));
  if (!read.ok) throw new Error(read.error[0]!.text);
  return read.value.reference;
};
const idOf = (topology: Topology, name: string): string =>
  Object.entries(topology.devices).find(([, device]) => device.name === name)![0];
const placeOf = (topology: Topology, name: string) => topology.devices[idOf(topology, name)]!.at;

test('no two tiles lie on each other, and names under hosts have their room', () => {
  const tiles = [...tilesOf(arranged(threeStations())).values()];
  for (const [at, tile] of tiles.entries())
    for (const other of tiles.slice(at + 1)) {
      const apart =
        tile.x + tile.width <= other.x ||
        other.x + other.width <= tile.x ||
        tile.y + tile.height + (tile.shape === 'standing' ? 30 : 0) <= other.y ||
        other.y + other.height + (other.shape === 'standing' ? 30 : 0) <= tile.y;
      expect({ name: tile.name, other: other.name, apart }).toMatchObject({ apart: true });
    }
});
test('routers stand above switches, hosts hang under their switch in order of their addresses', () => {
  const topology = arranged(threeStations());
  expect(placeOf(topology, 'RT-V').y).toBeLessThan(placeOf(topology, 'SW-V1').y);
  expect(placeOf(topology, 'SW-V1').y).toBeLessThan(placeOf(topology, 'DESK-1').y);
  const row = ['DESK-1', 'DESK-2', 'DESK-3', 'DESK-4', 'TURN-1'].map((name) => placeOf(topology, name));
  expect(new Set(row.map((spot) => spot.y)).size).toBe(1);
  expect(row.map((spot) => spot.x)).toEqual([...row.map((spot) => spot.x)].sort((a, b) => a - b));
});
test('sites stand side by side in the order they had', () => {
  const topology = arranged(threeStations());
  const spans = ['Valley Station', 'Middle Station', 'Summit Station'].map((site) => {
    const id = Object.entries(topology.sites).find(([, candidate]) => candidate.name === site)![0];
    const xs = [...tilesOf(topology).values()].filter((tile) => topology.devices[tile.id]!.site === id);
    return [Math.min(...xs.map((tile) => tile.x)), Math.max(...xs.map((tile) => tile.x + tile.width))] as const;
  });
  expect(spans[0]![1]).toBeLessThan(spans[1]![0]);
  expect(spans[1]![1]).toBeLessThan(spans[2]![0]);
});
test('what is pinned and what is not asked for stays', () => {
  const topology = threeStations();
  topology.devices[idOf(topology, 'RT-V')]!.pinned = true;
  const before = structuredClone(topology);
  const after = arranged(topology, [idOf(topology, 'RT-V'), idOf(topology, 'SW-V1'), idOf(topology, 'DESK-1')]);
  const moved = Object.keys(after.devices).filter(
    (id) => JSON.stringify(after.devices[id]!.at) !== JSON.stringify(before.devices[id]!.at),
  );
  for (const id of moved) expect(['SW-V1', 'DESK-1']).toContain(after.devices[id]!.name);
});
test('stored bends and areas of what moved are given up, as they belong to the old places', () => {
  const { topology } = new Sheet()
    .device('R', 'border-router', {}, { site: 's' })
    .device('S', 'access-switch-12', {}, { at: { x: 0, y: 9 }, site: 's' })
    .cable('R g0', 'S u1', 'straight', { bends: [{ x: 5, y: 5 }] });
  const drawn = { ...topology, sites: { s: { name: 'Valley', area: { x: 0, y: 0, width: 9000, height: 9 } } } };
  const after = arranged(drawn);
  expect(Object.values(after.links)[0]).not.toHaveProperty('bends');
  expect(after.sites.s).toEqual({ name: 'Valley' });
});
test('many hosts hang in rows of up to eight, no row much shorter than another', () => {
  const sheet = new Sheet().device('S', 'access-switch-20');
  for (let at = 1; at <= 20; at++) sheet.host(`H${at}`, `10.84.1.${at}/24`).cable(`H${at} e0`, `S p${at}`);
  const after = arranged(sheet.topology);
  const ys = Array.from({ length: 20 }, (_, at) => placeOf(after, `H${at + 1}`).y);
  expect([...new Set(ys)].map((y) => ys.filter((value) => value === y).length)).toEqual([7, 7, 6]);
});
test('an empty sheet has nothing to arrange', () => {
  expect(arrange(new Sheet().topology).tasks).toEqual([]);
});

test('a computer behind a telephone hangs below it, an access point below its switch, and what it serves below that', () => {
  const radio = { ports: { w0: { radio: { ssid: 'hut', security: 'open' as const } } } };
  const { topology } = new Sheet()
    .device('SW', 'access-switch-12')
    .device('PHONE', 'phone')
    .host('PC', '10.0.0.2/24')
    .host('DESK', '10.0.0.1/24')
    .device('AP-1', 'access-point')
    .device('AP-2', 'access-point')
    .device('TABLET', 'tablet', {}, radio)
    .cable('SW p1', 'PHONE e0')
    .cable('PHONE pc', 'PC e0')
    .cable('SW p2', 'DESK e0')
    .cable('SW p3', 'AP-1 e0')
    .cable('SW p4', 'AP-2 e0')
    .cable('AP-2 w0', 'TABLET w0', 'wireless');
  const after = arranged(topology);
  const [sw, phone, pc, desk, ap1, ap2, tablet] = ['SW', 'PHONE', 'PC', 'DESK', 'AP-1', 'AP-2', 'TABLET'].map((name) =>
    placeOf(after, name),
  );
  expect(phone!.y).toBeGreaterThan(sw!.y);
  expect([desk!.y, ap1!.y, ap2!.y]).toEqual([phone!.y, phone!.y, phone!.y]);
  expect(pc!.y).toBeGreaterThan(phone!.y);
  expect(pc!.x).toBe(phone!.x);
  expect(tablet!.y).toBeGreaterThan(ap2!.y);
});

test('routers and a firewall that are joined as a line stand in its order', () => {
  const { topology } = new Sheet()
    .device('C', 'border-router')
    .device('A', 'border-router')
    .device('B', 'firewall')
    .cable('A g0', 'B g0')
    .cable('B g1', 'C g0');
  const [a, b, c] = ['A', 'B', 'C'].map((name) => placeOf(arranged(topology), name));
  expect([a!.y, c!.y]).toEqual([b!.y, b!.y]);
  expect(Math.sign(b!.x - a!.x)).toBe(Math.sign(c!.x - b!.x));
});

test('the routers round one in the middle stand below it', () => {
  const sheet = new Sheet().device('Z', 'border-router');
  for (let at = 0; at < 4; at++) sheet.device(`R${at}`, 'border-router').cable(`R${at} g0`, `Z g${at}`);
  const { edges } = arrange(sheet.topology).tasks[0]!;
  expect(edges.map(({ from }) => from)).toEqual(['Z', 'Z', 'Z', 'Z']);
});

/** Ten of the labs that `npm run bench -- arrange` looks at, laid out as on the Bench. */
const { seededLab } = createRequire(__filename)(path.join(repository, 'benchmarks', 'seeded-labs.cjs')) as {
  seededLab: (seed: number) => Topology;
};
test.each([1, 8, 27, 36, 45, 59, 63, 72, 97, 119])(
  'in lab %s no tile lies on another and no link runs through one',
  async (seed) => {
    const lab = seededLab(seed);
    const { tasks, finish } = arrange(lab);
    const layouts = new Map<string, Layout>();
    for (const task of tasks) layouts.set(task.id, layoutOf(await new ELK().layout(layeredGraph(task))));
    const done = applyBatch(lab, 'arrange', finish(layouts));
    if (!done.ok) throw new Error(done.error);
    const scene = sceneOf(done.value.document);
    const tiles = [...scene.tiles.values()];
    expect(tiles.length).toBeGreaterThanOrEqual(5);
    const meeting = tiles.flatMap((tile, at) => tiles.slice(at + 1).filter((other) => overlap(tile, other)));
    expect(meeting).toEqual([]);
    const through = [...scene.lines.values()].filter((line) => tilesUnder(line, tiles).length > 0);
    expect(through.map(({ id }) => id)).toEqual([]);
  },
);
