// npm run screenshots: takes the pictures of docs/screenshots anew, from a fresh database with the demo.
import { spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, chmodSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { freePort, startPostgres } from './lib/postgres.mjs';
import { root, require } from './lib/root.mjs';
import { say } from './lib/say.mjs';
import { CHROMIUM, ensureChromium, ensureDependencies } from './lib/system.mjs';

await ensureDependencies();
const { buildAll } = await import('./lib/build.mjs');
await buildAll(say);
await ensureChromium();
const work = mkdtempSync(path.join(tmpdir(), 'sobrin-pictures-'));
chmodSync(work, 0o755); // the database runs as another user and must pass
const database = await startPostgres(path.join(work, 'data'), { fast: true });
const port = await freePort();
const base = `http://127.0.0.1:${port}`;
const server = spawn(process.execPath, [path.join(root, 'apps/server/dist/main.js')], {
  stdio: ['ignore', 'pipe', 'inherit'],
  env: { ...process.env, NODE_ENV: 'production', PORT: String(port), DATABASE_URL: database.url, SOBRIN_DEMO: '1' },
});
const out = path.join(root, 'docs', 'screenshots');
mkdirSync(out, { recursive: true });
const { chromium } = require('@playwright/test');
let browser;
try {
  await new Promise((resolve, reject) => {
    server.stdout.on('data', (chunk) => chunk.includes('is ready') && resolve());
    server.once('exit', () => reject(new Error('The server did not start.')));
  });
  browser = await chromium.launch({
    executablePath: CHROMIUM,
    args: [
      '--headless',
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
    ],
  });
  await takeAll();
} finally {
  await browser?.close();
  server.kill('SIGTERM');
  await new Promise((resolve) => server.once('exit', resolve));
  database.stop();
  rmSync(work, { recursive: true, force: true });
}

async function pageOf(colorScheme) {
  const context = await browser.newContext({
    viewport: { width: 1280, height: 800 },
    colorScheme,
    locale: 'en-GB',
    timezoneId: 'UTC',
  });
  return context.newPage();
}

async function signIn(page, name) {
  await page.goto(`${base}/sign-in`);
  await page.getByRole('button', { name, exact: true }).click();
  await page.getByRole('img', { name: `Signed in as ${name}` }).waitFor();
}

async function takeAll() {
  const page = await pageOf('light');
  const shot = async (name, on = page) => {
    await on.waitForTimeout(900); // pictures of a page at rest
    await on.mouse.move(4, 400);
    await on.screenshot({ path: path.join(out, `${name}.png`) });
    say(`docs/screenshots/${name}.png`);
  };
  const labOf = async (on, title) => {
    await on.goto(`${base}/`);
    await on.getByRole('link', { name: title }).first().click();
    await on.waitForURL(/\/labs\//);
    return /^.*\/labs\/[^/]+/.exec(on.url())[0];
  };
  const tile = (on, name) => on.locator('.react-flow__node-tile').filter({ has: on.getByText(name, { exact: true }) });

  await page.goto(`${base}/sign-in`);
  await page.getByText('Look round in the demo').waitFor();
  await shot('sign-in');
  await signIn(page, 'Maren Osterkamp');
  const lab = await labOf(page, 'Three Stations');
  await page.goto(`${lab}/brief`);
  await page.getByText('Rules of the lab').waitFor();
  await shot('brief');
  await page.goto(`${lab}/plan`);
  await page.getByRole('table').waitFor();
  await shot('plan');
  await page.goto(`${lab}/bench`);
  await page.locator('.tile').first().waitFor();
  await shot('bench');
  await page.getByRole('button', { name: /^Links/ }).click();
  await tile(page, 'RT-M').click();
  await shot('bench-inspector');
  await page.keyboard.press('a');
  await page.getByLabel('Search by name, kind or use').fill('switch');
  await shot('kit');
  await page.keyboard.press('Escape');
  await page.goto(`${lab}/spec`);
  await page.getByText(/The reference earns/).waitFor();
  await shot('spec');
  for (const title of ['Valley Station LAN', 'Three Stations']) {
    await page.goto(`${await labOf(page, title)}/class`);
    await page.getByRole('button', { name: /^Check \d+/ }).click();
    await page.getByRole('button', { name: 'All checked' }).waitFor({ timeout: 120_000 });
  }
  await shot('class');
  await page.getByRole('link', { name: 'Jamila Conteh' }).click();
  await page.getByRole('region', { name: 'Evidence' }).waitFor();
  await shot('check');
  await page.goto(`${lab}/results`);
  await page.getByRole('table').waitFor();
  await shot('results');
  await page.goto(`${base}/`);
  await page.getByText('Networks 1').waitFor();
  await shot('home');

  const dark = await pageOf('dark');
  await signIn(dark, 'Maren Osterkamp');
  await dark.goto(`${lab}/class`);
  await dark.getByRole('link', { name: 'Yrsa Dahlgaard' }).click();
  await dark.getByRole('region', { name: 'Evidence' }).waitFor();
  await dark.keyboard.press('r');
  await shot('check-dark', dark);

  const student = await pageOf('light');
  await signIn(student, 'Ilse Haverkamp');
  await labOf(student, 'Valley Station LAN');
  await student.getByText('Handing in').waitFor();
  await shot('student-lab', student);
  await student.getByRole('link', { name: 'Open the bench' }).click();
  await student.getByRole('toolbar', { name: 'Bench' }).waitFor();
  await student.locator('.tile').first().waitFor();
  await shot('student-bench', student);
}
