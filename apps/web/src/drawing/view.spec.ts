import { type Scene, sceneOf } from '@sobrin/core/drawing';
import { emptyTopology } from '@sobrin/core/topology';
import { ZOOM, seenFrom, viewOf } from './view';

const scene: Scene = sceneOf({
  ...emptyTopology(),
  sites: { v: { name: 'Valley', area: { x: 2000, y: 0, width: 400, height: 300 } } },
  devices: {
    a: { name: 'A', model: 'hub', at: { x: 0, y: 0 } },
    b: { name: 'B', model: 'hub', at: { x: 900, y: 500 } },
  },
});
function open(viewport = { x: 0, y: 0, zoom: 1 }, width = 1000, height = 600) {
  let now = viewport;
  let room = { width, height };
  const moves: (number | undefined)[] = [];
  const view = viewOf(
    {
      getViewport: () => now,
      setViewport: (next, options) => {
        now = next;
        moves.push(options?.duration);
        return Promise.resolve(true);
      },
    },
    () => ({ left: 100, top: 50, right: 100 + room.width, bottom: 50 + room.height, ...room }) as DOMRect,
    () => scene,
  );
  const resize = (next: number, chosen?: { devices: string[] }): void => {
    const before = room;
    room = { width: next, height };
    view.resized(before, chosen);
  };
  return { view, moves, now: () => now, resize };
}
const isSeen = (of: ReturnType<typeof open>, x: number, y: number): boolean => {
  const { x: left, y: top, zoom } = of.now();
  return x * zoom + left >= 0 && x * zoom + left <= 1000 && y * zoom + top >= 0 && y * zoom + top <= 600;
};

test('what is looked at beside something else can be read: of things far apart the first, alone with what is round it', () => {
  const opened = open({ x: 0, y: 0, zoom: 0.1 }, 448, 400);
  opened.view.readable(['a']);
  expect(opened.now().zoom).toBeCloseTo(0.7);
  expect([isSeen(opened, 0, 0), isSeen(opened, 120, 44)]).toEqual([true, true]);
  opened.view.readable(['b', 'a']);
  expect(opened.now().zoom).toBeCloseTo(0.7);
  expect([isSeen(opened, 960, 520), isSeen(opened, 0, 0)]).toEqual([true, false]);
  opened.view.readable([]);
  expect([isSeen(opened, 0, 0), isSeen(opened, 2400, 300)]).toEqual([true, true]);
});
test('showing all brings every corner into sight, never larger than life', () => {
  const opened = open({ x: -5000, y: 0, zoom: 2 });
  opened.view.showAll();
  for (const [x, y] of [
    [0, 0],
    [1000, 544],
    [2400, 300],
  ] as const)
    expect(isSeen(opened, x, y)).toBe(true);
  expect(opened.now().zoom).toBeLessThanOrEqual(1.1);
});
test('something is revealed only where it is not in sight already, or too small to be read', () => {
  const near = open();
  near.view.reveal({ devices: ['a'] });
  expect(near.moves).toEqual([]);
  near.view.reveal({ sites: ['v'] });
  expect(isSeen(near, 2200, 150)).toBe(true);
  const far = open({ x: 0, y: 0, zoom: 0.3 });
  far.view.reveal({ devices: ['b'] });
  expect(far.now().zoom).toBeGreaterThanOrEqual(1);
  near.view.reveal({ devices: ['gone'] });
  expect(near.moves).toHaveLength(1);
});
test('what was shown stays in sight when a panel takes room, until a person moves the drawing', () => {
  const opened = open();
  opened.view.showAllIfOutside();
  opened.resize(500);
  const { x, zoom } = opened.now();
  expect(2400 * zoom + x).toBeLessThanOrEqual(500);
  opened.view.release();
  opened.resize(300);
  expect(opened.now()).toEqual(expect.objectContaining({ x, zoom }));
});
test('everything is shown after something new only where some of it lies outside', () => {
  const all = open({ x: 20, y: 20, zoom: 0.35 });
  all.view.showAllIfOutside();
  expect(all.moves).toEqual([]);
  const part = open();
  part.view.showAllIfOutside();
  expect(part.moves).toHaveLength(1);
});
test('places of the screen are places of the drawing, and none outside of it', () => {
  const { view } = open({ x: 10, y: 20, zoom: 2 });
  expect(view.placeAt({ x: 310, y: 270 })).toEqual({ x: 100, y: 100 });
  expect(view.placeAt({ x: 90, y: 100 })).toBeNull();
  expect(view.middle()).toEqual({ x: 245, y: 140 });
  view.panBy({ x: 30, y: -20 });
  expect(view.viewport()).toEqual({ x: 40, y: 0, zoom: 2 });
});

describe('what is seen', () => {
  test('stays the same object while the drawing is moved a little, and always holds what is in sight', () => {
    const first = seenFrom(null, { x: 0, y: 0, zoom: 1 }, 1000, 600)!;
    expect(seenFrom(first, { x: -3, y: -5, zoom: 1 }, 1000, 600)).toBe(first);
    for (let x = 0; x > -2000; x -= 37) {
      const { area } = seenFrom(first, { x, y: x / 2, zoom: 0.8 }, 1000, 600)!;
      expect(area.x).toBeLessThanOrEqual(-x / 0.8);
      expect(area.x + area.width).toBeGreaterThanOrEqual((1000 - x) / 0.8);
      expect(area.y + area.height).toBeGreaterThanOrEqual((600 - x / 2) / 0.8);
    }
  });
  test('is far below a zoom, and near again only a little above it', () => {
    const at = (zoom: number, before = seenFrom(null, { x: 0, y: 0, zoom: 1 }, 1000, 600)) =>
      seenFrom(before, { x: 0, y: 0, zoom }, 1000, 600)!;
    const far = at(0.4);
    expect([at(0.45).far, far.far, at(0.45, far).far, at(0.5, far).far]).toEqual([false, true, true, false]);
    expect(ZOOM.least).toBeLessThan(0.1);
  });
  test('is not known before the drawing has a size', () =>
    expect(seenFrom(null, { x: 0, y: 0, zoom: 1 }, 0, 0)).toBeNull());
});

test('what is chosen stays in sight when a panel takes room, and moves no further than it must', () => {
  const opened = open();
  opened.resize(700, { devices: ['b'] });
  expect(opened.now()).toMatchObject({ y: 0, zoom: 1 });
  const tile = scene.tiles.get('b')!;
  expect(tile.x + tile.width + opened.now().x).toBeCloseTo(700 - 24);
  // What a person has moved out of sight stays there.
  const away = open({ x: -2000, y: 0, zoom: 1 });
  away.resize(700, { devices: ['b'] });
  expect(away.moves).toEqual([]);
  const inSight = open();
  inSight.resize(700, { devices: ['a'] });
  expect(inSight.moves).toEqual([]);
});
