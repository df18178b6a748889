import fc from 'fast-check';
import { runs } from '../tests/runs';
import { Sheet } from '../tests/topologies';
import { type Topology } from '../topology';
import { SceneKeeper, sceneOf, tilesUnder } from '.';

const at = (x: number, y: number) => ({ at: { x, y } });
/** Three routers in a row, the outer two joined past the one between. */
const past = (more: object = {}): Topology =>
  new Sheet()
    .device('A', 'border-router', {}, at(0, 0))
    .device('M', 'border-router', {}, at(300, 0))
    .device('B', 'border-router', {}, at(600, 0))
    .cable('A g0', 'B g0', 'straight', more).topology;
const lineOf = (topology: Topology) => [...sceneOf(topology).lines.values()][0]!;
const under = (topology: Topology): string[] => {
  const { lines, tiles } = sceneOf(topology);
  return [...lines.values()].flatMap((line) => tilesUnder(line, tiles.values()).map(({ id }) => id));
};

test('a link is led round a tile that stands between, and stays straight where none does', () => {
  const line = lineOf(past());
  expect(line.points.length).toBe(4);
  expect(under(past())).toEqual([]);
  const moved = past();
  moved.devices.M!.at = { x: 300, y: 200 };
  expect(lineOf(moved).points.length).toBe(2);
});

test('what a person bent stays as it is, and the tiles that it runs through are told', () => {
  const bent = past({ bends: [{ x: 350, y: 20 }] });
  expect(lineOf(bent).points.slice(1, -1)).toEqual([{ x: 350, y: 20 }]);
  expect(under(bent)).toEqual(['M']);
});

test('wireless has no line, and goes round nothing', () => {
  const { topology } = new Sheet()
    .device('A', 'access-point', {}, at(0, 0))
    .device('M', 'border-router', {}, at(300, 0))
    .device('T', 'tablet', {}, at(600, 0))
    .cable('A w0', 'T w0', 'wireless');
  expect(lineOf(topology).points.length).toBe(2);
  expect(under(topology)).toEqual([]);
});

test('links that turn at one corner lie beside each other', () => {
  const sheet = new Sheet().device('A', 'l3-switch', {}, at(0, 0)).device('M', 'l3-switch', {}, at(300, -10));
  sheet.device('B', 'l3-switch', {}, at(600, 0));
  for (const port of ['p1', 'p2']) sheet.cable(`A ${port}`, `B ${port}`);
  const corners = [...sceneOf(sheet.topology).lines.values()].flatMap(({ points }) => points.slice(1, -1));
  expect(corners.length).toBeGreaterThan(2);
  for (const [index, corner] of corners.entries())
    for (const other of corners.slice(index + 1))
      expect(Math.hypot(corner.x - other.x, corner.y - other.y)).toBeGreaterThanOrEqual(3);
});

test('while a device is dragged its links are straight, all others stay on their ways; they are led when it rests', () => {
  const sheet = new Sheet()
    .device('A', 'border-router', {}, at(0, 0))
    .device('M', 'border-router', {}, at(300, 0))
    .device('B', 'border-router', {}, at(600, 0))
    .device('C', 'border-router', {}, at(0, 300))
    .device('D', 'border-router', {}, at(600, 300))
    .cable('A g0', 'B g0')
    .cable('C g0', 'D g0');
  const keeper = new SceneKeeper();
  const points = (places?: ReadonlyMap<string, { x: number; y: number }>): number[] =>
    [...keeper.scene(sheet.topology, { at: places }).lines.values()].map((line) => line.points.length);
  expect(points()).toEqual([4, 2]);
  expect(points(new Map([['M', { x: 300, y: 295 }]]))).toEqual([4, 2]);
  expect(points(new Map([['A', { x: 0, y: 8 }]]))).toEqual([2, 2]);
  const dropped = { ...sheet.topology, devices: { ...sheet.topology.devices } };
  dropped.devices.M = { ...dropped.devices.M!, at: { x: 300, y: 295 } };
  const lines = keeper.scene(dropped).lines;
  expect([...lines.values()].map((line) => line.points.length)).toEqual([2, 4]);
});

/** Drawings of tiles that do not overlap, on a grid with some places left empty. */
const onGrid = fc.record({
  places: fc.uniqueArray(fc.integer({ min: 0, max: 35 }), { minLength: 4, maxLength: 24 }),
  links: fc.array(fc.tuple(fc.nat(23), fc.nat(23)), { minLength: 1, maxLength: 20 }),
});
const drawn = (places: readonly number[], links: readonly (readonly [number, number])[]): Topology => {
  const sheet = new Sheet();
  for (const [index, place] of places.entries())
    sheet.device(
      `D${index}`,
      index % 3 ? 'desktop' : 'l3-switch',
      {},
      at((place % 6) * 240 + (place % 5), Math.floor(place / 6) * 100),
    );
  for (const [index, [a, b]] of links.entries()) {
    const [from, to] = [a % places.length, b % places.length];
    if (from !== to) sheet.cable(`D${from} x${index}`, `D${to} x${index}`);
  }
  return sheet.topology;
};

test('no link runs through a tile that is not its own, wherever tiles stand', () => {
  const noneUnder = fc.property(onGrid, ({ places, links }) => void expect(under(drawn(places, links))).toEqual([]));
  fc.assert(noneUnder, { numRuns: runs(30) });
});

test('a scene that was kept leads links as one made anew does, whatever was moved before', () => {
  fc.assert(
    fc.property(onGrid, fc.array(fc.tuple(fc.nat(23), fc.nat(35)), { maxLength: 6 }), ({ places, links }, moves) => {
      const keeper = new SceneKeeper();
      let topology = drawn(places, links);
      keeper.scene(topology);
      for (const [index, place] of moves) {
        const id = `D${index % places.length}`;
        const to = { x: (place % 6) * 240 + 7, y: Math.floor(place / 6) * 100 + 50 };
        keeper.scene(topology, { at: new Map([[id, to]]) });
        topology = { ...topology, devices: { ...topology.devices, [id]: { ...topology.devices[id]!, at: to } } };
        const ways = (scene: ReturnType<typeof sceneOf>) => [...scene.lines.values()].map(({ points }) => points);
        expect(ways(keeper.scene(topology))).toEqual(ways(sceneOf(topology)));
      }
    }),
    { numRuns: runs(15) },
  );
});
