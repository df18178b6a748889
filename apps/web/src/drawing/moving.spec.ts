import { sceneOf } from '@sobrin/core/drawing';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { movedBy, snapped } from './moving';

const device = (x: number, y: number, site?: string) => ({
  name: 'D',
  model: 'desktop',
  at: { x, y },
  ...(site && { site }),
});
const topology: Topology = {
  ...emptyTopology(),
  sites: { v: { name: 'Valley', area: { x: 0, y: 0, width: 300, height: 300 } }, in: { name: 'Hall', parent: 'v' } },
  devices: { a: device(20, 60, 'v'), b: device(120, 60, 'in'), c: device(600, 60) },
  notes: { n: { text: 'note', at: { x: 700, y: 200 } } },
  pictures: { p: { name: 'P', data: 'data:image/png;base64,AA==', at: { x: 5, y: 5 }, width: 50, height: 50 } },
};
const scene = sceneOf(topology);
const move = (node: string, to: { x: number; y: number }, chosen: string[] = []) =>
  movedBy(topology, scene, new Set(chosen), node, to, null);

test('a device moves alone, or with all that are chosen together with it', () => {
  expect([...move('a', { x: 30, y: 70 }).devices]).toEqual([['a', { x: 30, y: 70 }]]);
  expect([...move('a', { x: 30, y: 70 }, ['a', 'c']).devices]).toEqual([
    ['a', { x: 30, y: 70 }],
    ['c', { x: 610, y: 70 }],
  ]);
  expect([...move('a', { x: 30, y: 70 }, ['c']).devices.keys()]).toEqual(['a']);
});
test('a site carries what is in it and in the sites inside it', () => {
  const area = scene.sites.find((site) => site.id === 'v')!;
  const moved = move('site v', { x: area.x + 10, y: area.y });
  expect([...moved.devices]).toEqual([
    ['a', { x: 30, y: 60 }],
    ['b', { x: 130, y: 60 }],
  ]);
  expect([...moved.carried!.keys()].sort()).toEqual(['in', 'v']);
});
test('notes and pictures move by themselves; the way is counted from where they stood at first', () => {
  const first = move('note n', { x: 710, y: 200 });
  expect([first.by, first.note]).toEqual([
    { x: 10, y: 0 },
    { id: 'n', x: 710, y: 200 },
  ]);
  const shifted = sceneOf({ ...topology, notes: { n: { text: 'note', at: { x: 710, y: 200 } } } });
  expect(movedBy(topology, shifted, new Set(), 'note n', { x: 730, y: 200 }, first).by).toEqual({ x: 30, y: 0 });
  expect(move('picture p', { x: 0, y: 0 })).toMatchObject({ by: { x: -5, y: -5 }, picture: { id: 'p' } });
});
test('what is moved comes into line with its neighbours, sites and notes do not', () => {
  const area = { x: -1000, y: -1000, width: 4000, height: 4000 };
  const near = snapped(scene, move('c', { x: 400, y: 63 }), area)!;
  expect(near.devices.get('c')).toEqual({ x: 400, y: 60 });
  expect(near.guides.length).toBeGreaterThan(0);
  expect(snapped(scene, move('site v', { x: 3, y: 3 }), area)).toBeNull();
  expect(snapped(scene, move('note n', { x: 3, y: 3 }), area)).toBeNull();
});
