import { defineConfig } from '@playwright/test';

const { CHROMIUM = '/usr/bin/chromium', E2E_PORT } = process.env;
if (!E2E_PORT) throw new Error('E2E_PORT is not set: run these tests with npm run test:e2e.');

export default defineConfig({
  testDir: '.',
  outputDir: '../test-results',
  globalSetup: './server.ts',
  workers: 1,
  timeout: 120_000,
  expect: { timeout: 15_000 },
  reporter: [['list'], ['json']],
  use: {
    baseURL: `http://127.0.0.1:${E2E_PORT}`,
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    timezoneId: 'UTC',
    acceptDownloads: true,
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: CHROMIUM,
      args: [
        '--headless',
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
});
