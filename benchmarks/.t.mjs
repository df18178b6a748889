import { campus } from './campus.mjs';
import path from 'node:path';
import { require, root } from '../scripts/lib/root.mjs';
const { sceneOf, SceneKeeper, tilesUnder } = require(path.join(root, 'packages/core/dist/drawing/index.js'));
const c = campus();
for (let i = 0; i < 4; i++) {
  const t = performance.now();
  const s = sceneOf(c, { texts: false });
  const ms = performance.now() - t;
  console.log(
    ms.toFixed(0),
    'ms',
    [...s.lines.values()].filter((l) => l.points.length > 2).length,
    'led,',
    [...s.lines.values()].filter((l) => tilesUnder(l, s.tiles.values()).length).length,
    'through',
  );
}
const k = new SceneKeeper();
k.scene(c);
const d = { ...c, devices: { ...c.devices, 's0-core-0': { ...c.devices['s0-core-0'], at: { x: 300, y: 40 } } } };
let t = performance.now();
k.scene(d);
console.log('move', performance.now() - t);
