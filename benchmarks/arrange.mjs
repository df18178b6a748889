// npm run bench -- arrange: how labs look after arranging, beside a layered layout of the same devices.
import ELK from 'elkjs/lib/elk.bundled.js';
import path from 'node:path';
import { require, root } from '../scripts/lib/root.mjs';

const { crossingsOf, seededLab } = require(path.join(root, 'benchmarks/seeded-labs.cjs'));
const LABS = 200;

export async function benchArrange(say) {
  const [{ sceneOf, tilesUnder, tilesOf, overlap }, { arrange, layeredGraph, layoutOf }, { applyBatch }] = [
    'drawing',
    'editing',
    'topology',
  ].map((name) => require(path.join(root, 'packages/core/dist', name, 'index.js')));
  const elk = new ELK();
  const ratios = [];
  const sums = { devices: 0, links: 0, overlapping: 0, through: 0, ours: 0, theirs: 0, seconds: 0 };
  for (let seed = 1; seed <= LABS; seed++) {
    const lab = seededLab(seed);
    const began = performance.now();
    const { tasks, finish } = arrange(lab);
    const layouts = new Map();
    for (const task of tasks) layouts.set(task.id, layoutOf(await elk.layout(layeredGraph(task))));
    const { document } = applyBatch(lab, 'arrange', finish(layouts)).value;
    const scene = sceneOf(document);
    sums.seconds += (performance.now() - began) / 1000;
    const tiles = [...scene.tiles.values()];
    const lines = [...scene.lines.values()].filter(({ medium }) => medium !== 'wireless');
    sums.devices += tiles.length;
    sums.links += lines.length;
    sums.overlapping += tiles.filter((tile, at) => tiles.slice(at + 1).some((other) => overlap(tile, other))).length;
    const through = lines.filter((line) => tilesUnder(line, tiles).length);
    if (through.length) say(`  lab ${seed}: through tiles ${through.map(({ id }) => id).join(', ')}`);
    sums.through += through.length;
    const ours = crossingsOf(lines.map(({ points }) => points));
    const theirs = crossingsOf(await layered(elk, tilesOf(lab), lines));
    sums.ours += ours;
    sums.theirs += theirs;
    // Where neither has any they are equal; where only the other has none, each of ours counts.
    ratios.push(ours === theirs ? 1 : ours / Math.max(theirs, 1));
  }
  ratios.sort((a, b) => a - b);
  const median = ratios[LABS / 2];
  say(`  ${LABS} labs, ${sums.devices} devices, ${sums.links} links; ${sums.seconds.toFixed(1)} s in all`);
  say(`  tiles that overlap: ${sums.overlapping}; links through tiles: ${sums.through}`);
  say(
    `  crossings: ${sums.ours}, layered ${sums.theirs}; ratio, median ${median.toFixed(2)}, 90 % ${ratios[Math.floor(LABS * 0.9)].toFixed(2)}`,
  );
}

/** The ways of the same links in a layered layout of the same tiles, with nothing asked of it. */
async function layered(elk, tiles, lines) {
  const { edges } = await elk.layout({
    id: 'all',
    layoutOptions: { 'elk.algorithm': 'layered', 'elk.direction': 'DOWN', 'elk.randomSeed': '1' },
    children: [...tiles.values()].map(({ id, width, height }) => ({ id, width, height })),
    edges: lines.map(({ id, a, b }) => ({ id, sources: [a.device], targets: [b.device] })),
  });
  return edges.flatMap(({ sections }) =>
    sections.map(({ startPoint, bendPoints = [], endPoint }) => [startPoint, ...bendPoints, endPoint]),
  );
}
