// A built Sobrin with the demo on a database of its own, and a browser to look at it.
import { spawn } from 'node:child_process';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { freePort, startPostgres } from './postgres.mjs';
import { root, require } from './root.mjs';
import { say } from './say.mjs';
import { CHROMIUM, ensureChromium, ensureDependencies } from './system.mjs';

/** Runs `work({ browser, base })`; afterwards server, database and browser are gone. */
export async function withDemo(work) {
  await ensureDependencies();
  const { buildAll } = await import('./build.mjs');
  await buildAll(say);
  await ensureChromium();
  const folder = mkdtempSync(path.join(tmpdir(), 'sobrin-demo-'));
  chmodSync(folder, 0o755); // the database runs as another user and must pass
  const database = await startPostgres(path.join(folder, 'data'), { fast: true });
  const port = await freePort();
  const server = spawn(process.execPath, [path.join(root, 'apps/server/dist/main.js')], {
    stdio: ['ignore', 'pipe', 'inherit'],
    env: { ...process.env, NODE_ENV: 'production', PORT: String(port), DATABASE_URL: database.url, SOBRIN_DEMO: '1' },
  });
  let browser;
  try {
    await new Promise((resolve, reject) => {
      server.stdout.on('data', (chunk) => chunk.includes('is ready') && resolve());
      server.once('exit', () => reject(new Error('The server did not start.')));
    });
    const { chromium } = require('@playwright/test');
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
    await work({ browser, base: `http://127.0.0.1:${port}` });
  } finally {
    await browser?.close();
    server.kill('SIGTERM');
    await new Promise((resolve) => server.once('exit', resolve));
    database.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Signs in as one of the demo's people. */
export async function signIn(page, base, name) {
  await page.goto(`${base}/sign-in`);
  await page.getByRole('button', { name, exact: true }).click();
  await page.getByRole('button', { name: `Signed in as ${name}` }).waitFor();
}
