/* global Worker -- in functions that run in the page */
// The engine in a worker of the browser that has just begun: from the document to the first answer, and after edits.
import { readdirSync } from 'node:fs';
import path from 'node:path';
import { withDemo } from '../scripts/lib/demo-browser.mjs';
import { builtCore, root } from '../scripts/lib/root.mjs';
import { routedCampus } from './engine.mjs';

const RUNS = 5;
const EDITS = 24;
const median = (list) => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)];

export async function benchEnginePage(say) {
  await withDemo(async ({ browser, base }) => {
    const core = builtCore('topology', 'changes');
    const topology = routedCampus(core, 40);
    const whole = core.editsBetween(core.emptyTopology(), topology);
    const isCore = ({ a, b }) => a.device.startsWith('r') && b.device.startsWith('r');
    const isAccess = ({ b }) => b.device.startsWith('h');
    const cables = (isMeant) => Object.keys(topology.links).filter((id) => isMeant(topology.links[id]));
    const script = readdirSync(path.join(root, 'apps/web/dist/assets')).find((name) =>
      name.startsWith('engine.worker'),
    );
    const page = await browser.newPage();
    await page.goto(base);
    const timesOfOne = () =>
      page.evaluate(
        async ([url, edits, access, between, count]) => {
          const worker = new Worker(url, { type: 'module' });
          let revision = 0;
          const ask = (kind, asked, some = []) => {
            if (some.length) revision++;
            const start = performance.now();
            worker.postMessage({ turn: 1, revision, edits: some, options: {}, kind, asked });
            return new Promise((resolve, reject) => {
              worker.onmessage = ({ data }) =>
                data.failed ? reject(new Error(data.failed)) : resolve(performance.now() - start);
            });
          };
          const grid = { by: 'site', family: 4, probe: { protocol: 'icmp' } };
          const begun = await ask('facts', null);
          const first = await ask('facts', null, edits);
          const gridMs = await ask('grid', grid);
          const after = async (ids) => {
            const times = [];
            for (let at = 0; at < count; at++) {
              const id = ids[((at >> 1) * 37) % ids.length];
              const cut = { path: ['links', id, 'broken'], ...(at % 2 === 0 && { value: true }) };
              times.push(await ask('facts', null, [cut]));
            }
            return times.slice(count / 2);
          };
          const result = { begun, first, grid: gridMs, access: await after(access), core: await after(between) };
          worker.terminate();
          return result;
        },
        [`/assets/${script}`, whole, cables(isAccess), cables(isCore), EDITS],
      );
    const runs = [];
    for (let at = 0; at < RUNS; at++) runs.push(await timesOfOne());
    const of = (key) => median(runs.flatMap((run) => run[key]));
    say(`  the worker begins                        ${of('begun').toFixed(0)} ms`);
    say(`  1,000 devices, document to first answer  ${of('first').toFixed(0)} ms (links, domains, problems)`);
    say(`  then the reach grid by site              ${of('grid').toFixed(0)} ms`);
    say(`  the answer after an access link          ${of('access').toFixed(0)} ms`);
    say(`  the answer after a core link             ${of('core').toFixed(0)} ms`);
  });
}
