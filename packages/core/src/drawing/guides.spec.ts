import { Sheet } from '../tests/topologies';
import { clipped, distanceTo, pickAt, sceneOf, snapTo, tilesInBox, tilesInLasso } from '.';

const box = (x: number, y: number, width = 40, height = 40) => ({ x, y, width, height });

describe('snapping', () => {
  test('a box that is nearly in line with another comes into line, and a guide shows with which', () => {
    const { x, y, guides } = snapTo(box(203, 96), [box(0, 100), box(200, 300)], 5);
    expect([x, y]).toEqual([-3, 4]);
    expect(guides).toContainEqual({ from: { x: 0, y: 100 }, to: { x: 240, y: 100 } });
    expect(guides).toContainEqual({ from: { x: 200, y: 100 }, to: { x: 200, y: 340 } });
  });
  test('middles and far edges count as well as near ones', () => {
    expect(snapTo(box(0, 52, 40, 40), [box(200, 60, 40, 20)], 5).y).toBe(-2);
    expect(snapTo(box(163, 0, 40, 40), [box(100, 200, 100, 40)], 5).x).toBe(-3);
  });
  test('it snaps to the same distance as its neighbours have', () => {
    expect(snapTo(box(163, 0), [box(0, 0), box(80, 0)], 5).x).toBe(-3);
    expect(snapTo(box(97, 0), [box(0, 3), box(200, 3)], 5).x).toBe(3);
  });
  test('what is further away leaves it alone', () => {
    expect(snapTo(box(20, 20), [box(200, 200)], 5)).toEqual({ x: 0, y: 0, guides: [] });
  });
});

describe('what lies where', () => {
  const scene = sceneOf(
    new Sheet()
      .device('R', 'border-router', {}, { at: { x: 0, y: 0 } })
      .device('S', 'access-switch-12', {}, { at: { x: 0, y: 200 } })
      .device('H', 'desktop', {}, { at: { x: 400, y: 200 } })
      .cable('R g0', 'S u1').topology,
  );
  test('a place is on a tile, near a link or on nothing', () => {
    const line = scene.lines.get('R-g0-S-u1')!;
    expect(pickAt(scene, { x: 20, y: 20 }, 5)).toEqual({ device: 'R' });
    expect(pickAt(scene, { x: line.a.x + 4, y: 120 }, 5)).toEqual({ link: 'R-g0-S-u1' });
    expect(pickAt(scene, { x: line.a.x + 9, y: 120 }, 5)).toBeNull();
  });
  test('a rectangle takes what it touches, a free shape what it goes round', () => {
    expect(tilesInBox(scene, box(-10, -10, 60, 400))).toEqual(['R', 'S']);
    const triangle = [
      { x: 300, y: 100 },
      { x: 600, y: 150 },
      { x: 350, y: 400 },
    ];
    expect(tilesInLasso(scene, triangle)).toEqual(['H']);
    expect(tilesInLasso(scene, triangle.slice(0, 2))).toEqual([]);
  });
  test('of a way only what runs through a box is left', () => {
    const inside = box(0, 0, 100, 100);
    const clip = (x: number, y: number, to: { x: number; y: number }) => clipped({ x, y }, to, inside);
    expect(clip(-50, 50, { x: 150, y: 50 })).toEqual([
      { x: 0, y: 50 },
      { x: 100, y: 50 },
    ]);
    expect(clip(10, 10, { x: 20, y: 30 })).toEqual([
      { x: 10, y: 10 },
      { x: 20, y: 30 },
    ]);
    expect(clip(50, 50, { x: 50, y: 500 })).toEqual([
      { x: 50, y: 50 },
      { x: 50, y: 100 },
    ]);
    expect([clip(-50, 50, { x: 50, y: 250 }), clip(120, 0, { x: 120, y: 90 })]).toEqual([null, null]);
  });
  test('the distance to a way is to its nearest point, also beyond its ends', () => {
    const [from, to] = [
      { x: 0, y: 0 },
      { x: 10, y: 0 },
    ];
    expect(distanceTo({ x: 5, y: 3 }, from, to)).toBe(3);
    expect(distanceTo({ x: 13, y: 4 }, from, to)).toBe(5);
    expect(distanceTo({ x: 3, y: 4 }, from, from)).toBe(5);
  });
});
