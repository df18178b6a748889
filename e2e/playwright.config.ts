import { defineConfig } from '@playwright/test';

const { CHROMIUM, E2E_RUN } = process.env;
if (!CHROMIUM || !E2E_RUN) throw new Error('CHROMIUM or E2E_RUN is not set: run these tests with npm run test:e2e.');

export default defineConfig({
  testDir: '.',
  outputDir: '../test-results',
  globalSetup: './server.ts',
  // Each has a server with a database of its own: see people.ts. One more than the processors that a machine has at
  // least: pages wait for their servers now and then.
  workers: 3,
  // Machines are shared: a test is slow when others are busy, and fails only when it hangs.
  timeout: 300_000,
  expect: { timeout: 60_000 },
  // First what takes long and can only be done one after the other: the rest fills the other browsers meanwhile.
  projects: [
    { name: 'start', testMatch: 'start.spec.ts' },
    { name: 'pages', testIgnore: 'start.spec.ts' },
  ],
  reporter: [['list'], ['json']],
  use: {
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    timezoneId: 'UTC',
    acceptDownloads: true,
    // Nothing here is about movement, and without a graphics card each step of one is painted by the processor.
    contextOptions: { reducedMotion: 'reduce' },
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: CHROMIUM,
      args: [
        '--headless',
        // Pages of one server share a process, and so what is compiled of the scripts.
        '--process-per-site',
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        // Pages live for seconds here: tidying up their memory early costs more than it brings.
        '--js-flags=--min-semi-space-size=32 --initial-old-space-size=512 --no-incremental-marking --no-memory-reducer',
      ],
    },
  },
});
