import { sceneOf } from '@sobrin/core/drawing';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { portAt } from './menu-target';

const drawing: Topology = {
  ...emptyTopology(),
  devices: {
    s: { name: 'SW-1', model: 'access-switch-12', at: { x: 0, y: 0 } },
    h: { name: 'PC-1', model: 'desktop', at: { x: 40, y: 300 } },
  },
  links: { l: { a: { device: 's', port: 'p1' }, b: { device: 'h', port: 'e0' }, medium: 'straight' } },
};
const scene = sceneOf(drawing);
const { a, b } = scene.lines.get('l')!;

test('at the chip of a cable its port is meant, elsewhere none', () => {
  expect(portAt(scene, { x: a.x + 4, y: a.y - 3 })).toEqual({ device: 's', port: 'p1', link: 'l' });
  expect(portAt(scene, { x: b.x, y: b.y + 6 })).toEqual({ device: 'h', port: 'e0', link: 'l' });
  expect(portAt(scene, { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 })).toBeNull();
  expect(portAt(scene, null)).toBeNull();
});
