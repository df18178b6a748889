/* global document, requestAnimationFrame, DOMMatrix, getComputedStyle -- in functions that run in the page */
// npm run bench:web: the Bench with 1,000 devices and 1,500 links beside the same scene in the bare library. Both are
// drawn in one browser in this run; printed are ratios of the processor time that all processes of the browser take.
import { mkdtempSync, readFileSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { signIn, withDemo } from '../scripts/lib/demo-browser.mjs';
import { root } from '../scripts/lib/root.mjs';
import { ensureDependencies } from '../scripts/lib/system.mjs';
import { HUB, campus, plainScene } from './campus.mjs';

const ROUNDS = 3;
const AT_MOST = {
  'first paint': 0.4,
  'pan, all in view': 0.6,
  zoom: 1,
  'pan, working zoom': 0.35,
  'drag 72 links': 0.45,
};

/** Milliseconds of processor time that all processes of the browser have taken so far. */
function processorTime() {
  const all = readdirSync('/proc').filter((name) => /^\d+$/.test(name));
  const found = new Map();
  for (const pid of all)
    try {
      const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
      const [name, rest] = [
        stat.slice(stat.indexOf('(') + 1, stat.lastIndexOf(')')),
        stat.slice(stat.lastIndexOf(')') + 2),
      ];
      const fields = rest.split(' ');
      // Of proc(5): the parent is the fourth field, utime and stime are the fourteenth and fifteenth, in ticks of 10 ms.
      found.set(pid, { name, parent: fields[1], ticks: Number(fields[11]) + Number(fields[12]) });
    } catch {
      // A process that ended meanwhile.
    }
  const isOurs = (pid) => pid === String(process.pid) || (found.has(pid) && isOurs(found.get(pid).parent));
  return [...found].reduce(
    (sum, [pid, process]) => sum + (/^chrom/.test(process.name) && isOurs(pid) ? process.ticks * 10 : 0),
    0,
  );
}

const frame = (page) => page.evaluate(() => new Promise((resolve) => requestAnimationFrame(() => resolve())));
const settle = (page) => page.waitForTimeout(300);

/** Processor time for each of so many steps, each of them seen. */
async function perStep(page, steps, step) {
  await page.waitForTimeout(500);
  const before = processorTime();
  for (let at = 0; at < steps; at++) {
    await step(at);
    await frame(page);
  }
  await settle(page);
  return (processorTime() - before) / steps;
}

const viewport = (page) =>
  page.evaluate(() => {
    const { a, e, f } = new DOMMatrix(getComputedStyle(document.querySelector('.react-flow__viewport')).transform);
    const { x, y } = document.querySelector('.react-flow').getBoundingClientRect();
    return { zoom: a, x: x + e, y: y + f };
  });

/** An empty place of the drawing from which it can be moved. */
const emptyPlace = (page) =>
  page.evaluate(() => {
    const box = document.querySelector('.react-flow').getBoundingClientRect();
    for (let y = box.y + 200; y < box.bottom - 60; y += 7)
      for (let x = box.x + 200; x < box.right - 200; x += 7)
        if (document.elementFromPoint(x, y)?.classList.contains('react-flow__pane')) return { x, y };
    throw new Error('no empty place');
  });

async function pan(page, steps, by) {
  const { x, y } = await emptyPlace(page);
  await page.mouse.move(x, y);
  await page.mouse.down();
  const taken = await perStep(page, steps, (at) => {
    const way = at < steps / 2 ? at : steps - at;
    return page.mouse.move(x + (way + 1) * by, y + (way + 1) * (by / 2));
  });
  await page.mouse.up();
  return taken;
}

const wheel = async (page, factor) => page.mouse.wheel(0, -Math.log2(factor) / 0.002);

async function measure(page, topology) {
  const found = {};
  const hub = topology.devices[HUB].at;
  found['pan, all in view'] = await pan(page, 40, 5);
  const { zoom } = await viewport(page);
  const whereHub = async () => {
    const now = await viewport(page);
    return { x: now.x + (hub.x + 20) * now.zoom, y: now.y + (hub.y + 30) * now.zoom };
  };
  const at = await whereHub();
  await page.mouse.move(at.x, at.y);
  const steps = 40;
  const factor = (1 / zoom) ** (2 / steps);
  found.zoom = await perStep(page, steps, (step) => wheel(page, step < steps / 2 ? factor : 1 / factor));
  await wheel(page, 1 / zoom);
  await page.waitForTimeout(800);
  // The hub into the middle of the drawing.
  const empty = await emptyPlace(page);
  const here = await whereHub();
  await page.mouse.move(empty.x, empty.y);
  await page.mouse.down();
  await page.mouse.move(empty.x + 500 - here.x, empty.y + 300 - here.y, { steps: 4 });
  await page.mouse.up();
  found['pan, working zoom'] = await pan(page, 60, 12);
  const grab = await whereHub();
  await page.mouse.move(grab.x, grab.y);
  await page.mouse.down();
  found['drag 72 links'] = await perStep(page, 40, (step) => page.mouse.move(grab.x + step * 4, grab.y + step * 2));
  await page.mouse.up();
  return found;
}

const painted = (page) =>
  page.evaluate(
    () =>
      new Promise((resolve) => {
        const look = () =>
          document.querySelectorAll('.react-flow__node').length > 0
            ? requestAnimationFrame(() => requestAnimationFrame(() => resolve()))
            : requestAnimationFrame(look);
        look();
      }),
  );

async function measureBare(browser, url, topology) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(url);
  await page.waitForTimeout(500);
  const scene = plainScene(topology);
  await page.evaluate((made) => void (globalThis.scene = made), scene);
  const before = processorTime();
  await page.evaluate(() => globalThis.draw(globalThis.scene));
  await painted(page);
  const paint = processorTime() - before;
  const found = { 'first paint': paint, ...(await measure(page, topology)) };
  await page.close();
  return found;
}

async function measureSobrin(browser, base, lab, topology) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await signIn(page, base, 'Maren Osterkamp');
  await page.goto(`${base}/labs/${lab}/brief`);
  await page.getByRole('link', { name: /^Bench/ }).waitFor();
  await page.waitForTimeout(2000);
  const before = processorTime();
  await page.getByRole('link', { name: /^Bench/ }).click();
  await painted(page);
  const paint = processorTime() - before;
  await page.waitForTimeout(4000);
  const found = { 'first paint': paint, ...(await measure(page, topology)) };
  await page.close();
  return found;
}

// First of all: once Vite has built something, it is production here, and npm would leave out half of the packages.
await ensureDependencies();
const topology = campus();
const folder = mkdtempSync(path.join(tmpdir(), 'sobrin-bare-'));
const { build, preview } = await import('vite');
const bare = {
  configFile: false,
  root: path.join(root, 'benchmarks/bare'),
  oxc: { jsx: { runtime: 'automatic' } },
  logLevel: 'error',
  build: { outDir: folder },
};
await build(bare);
const served = await preview({ ...bare, preview: { host: '127.0.0.1', port: 0 } });
try {
  await withDemo(async ({ browser, base }) => {
    const page = await browser.newPage();
    await signIn(page, base, 'Maren Osterkamp');
    const lab = await page.evaluate(async (reference) => {
      const headers = { 'content-type': 'application/json', 'x-sobrin-request': '1' };
      const [course] = await (await fetch('/api/courses')).json();
      const file = {
        format: 'sobrin-lab',
        version: 2,
        title: 'Campus',
        brief: {},
        tasks: [],
        plan: { blocks: {} },
        policy: {},
        reference,
        spec: { groups: {}, sections: [] },
      };
      const answer = await fetch(`/api/courses/${course.id}/labs/import`, {
        method: 'POST',
        headers,
        body: JSON.stringify({ text: JSON.stringify(file) }),
      });
      const body = await answer.json();
      if (!body.id) throw new Error(JSON.stringify(body));
      return body.id;
    }, topology);
    await page.close();
    const rounds = [];
    for (let round = 0; round < ROUNDS; round++) {
      const plain = await measureBare(browser, served.resolvedUrls.local[0], topology);
      const ours = await measureSobrin(browser, base, lab, topology);
      rounds.push({ plain, ours });
      console.log(`Round ${round + 1} of ${ROUNDS} is done.`);
      if (process.env.RAW) console.log(JSON.stringify({ plain, ours }));
    }
    console.log('\nProcessor time, Sobrin / bare library (median of three)');
    for (const [name, most] of Object.entries(AT_MOST)) {
      const ratios = rounds.map(({ plain, ours }) => ours[name] / plain[name]).sort((a, b) => a - b);
      const median = ratios[Math.floor(ROUNDS / 2)];
      console.log(`${name.padEnd(20)} ${median.toFixed(2)}  (at most ${most})${median <= most ? '' : '  too much'}`);
    }
  });
} finally {
  await served.close();
  rmSync(folder, { recursive: true, force: true });
}
