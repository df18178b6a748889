import { type ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { type Page } from '@playwright/test';
import { expect, openOwnBench, saved, signIn, test } from './people';
import { dropDatabase, freePort, freshDatabase, startServer, stopServer } from './server';

const CHANGES = '**/api/documents/*/changes';
const tiles = (page: Page) => page.locator('.react-flow__node-tile');

async function add(page: Page, search: string): Promise<void> {
  await page.keyboard.press('Escape');
  await page.keyboard.press('a');
  await page.getByLabel('Search by name, kind or use').fill(search);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog')).toBeHidden();
}
async function openBench(page: Page, name: string): Promise<void> {
  await signIn(page, name);
  await openOwnBench(page, 'Three Stations');
}

test('what is drawn without a connection is kept in the browser and sent when it is back', async ({ page }) => {
  await openBench(page, 'Tobias Ferreira');
  await page.route(CHANGES, (route) => route.abort());
  await add(page, 'hub');
  await expect(page.getByText('kept in this browser')).toBeVisible();
  await add(page, 'firewall');
  await expect(tiles(page)).toHaveCount(2);
  await page.unroute(CHANGES);
  await saved(page);
  await page.reload();
  await expect(tiles(page)).toHaveCount(2);
});

test('a tab that dies before its changes were sent loses none of them', async ({ page, context }) => {
  await openBench(page, 'Tobias Ferreira');
  const before = await tiles(page).count();
  await page.route(CHANGES, (route) => route.abort());
  await add(page, 'printer');
  await expect(page.getByText('kept in this browser')).toBeVisible();
  const address = page.url();
  await page.close({ runBeforeUnload: false });
  const next = await context.newPage();
  await next.goto(address);
  await expect(tiles(next)).toHaveCount(before + 1);
  await next.reload();
  await expect(tiles(next)).toHaveCount(before + 1);
});

test('an answer that gets lost does not make a change twice', async ({ page }) => {
  await openBench(page, 'Tobias Ferreira');
  const before = await tiles(page).count();
  let lost = false;
  await page.route(CHANGES, async (route) => {
    if (lost) return route.continue();
    lost = true;
    await route.fetch();
    await route.abort();
  });
  await add(page, 'server');
  await page.getByRole('button', { name: 'Try now' }).click();
  await saved(page);
  await page.reload();
  await expect(tiles(page)).toHaveCount(before + 1);
});

test('two on one drawing see what the other saves; changes that meet show both versions', async ({ page, context }) => {
  await openBench(page, 'Tobias Ferreira');
  const other = await context.newPage();
  await other.goto(page.url());
  await expect(other.getByRole('toolbar', { name: 'Bench' })).toBeVisible();
  // A page in the background hears of nothing until it is looked at.
  const lookAt = (tab: Page) => tab.bringToFront();
  await lookAt(page);
  await add(page, 'camera');
  await saved(page);
  await lookAt(other);
  await expect(tiles(other).filter({ hasText: 'CM-1' })).toHaveCount(1);
  await add(other, 'sensor');
  await saved(other);
  await lookAt(page);
  await expect(tiles(page).filter({ hasText: 'SE-1' })).toHaveCount(1);

  const rename = async (tab: Page, name: string): Promise<void> => {
    await lookAt(tab);
    await tab.getByRole('button', { name: /^Devices/ }).click();
    await tab.getByRole('row', { name: /CM-1/ }).click();
    await tab.getByLabel('Name', { exact: true }).fill(name);
    await tab.getByLabel('Name', { exact: true }).press('Enter');
  };
  await other.route(CHANGES, (route) => route.abort());
  await rename(other, 'ROOF');
  await expect(other.getByText('kept in this browser')).toBeVisible();
  await rename(page, 'YARD');
  await saved(page);
  await lookAt(other);
  await expect(tiles(other).filter({ hasText: 'ROOF' })).toHaveCount(1);
  await other.unroute(CHANGES);
  await other.getByRole('button', { name: 'Try now' }).click();
  const dialog = other.getByRole('dialog');
  await expect(dialog).toContainText('Two versions of this drawing');
  await expect(dialog.locator('.tile', { hasText: 'ROOF' })).toHaveCount(1);
  await expect(dialog.locator('.tile', { hasText: 'YARD' })).toHaveCount(1);
  await expect(dialog.getByRole('list', { name: 'Changes' })).toContainText('name: YARD → ROOF');
  await dialog.getByRole('button', { name: /Keep mine/ }).click();
  await saved(other);
  await lookAt(page);
  await expect(tiles(page).filter({ hasText: 'ROOF' })).toHaveCount(1);
});

test('a browser without room says so while the server does not answer, and sends everything when it does', async ({
  page,
}) => {
  await page.addInitScript(() => {
    IDBObjectStore.prototype.put = () => {
      throw new DOMException('The store is full.', 'QuotaExceededError');
    };
  });
  await openBench(page, 'Tobias Ferreira');
  const before = await tiles(page).count();
  await page.route(CHANGES, (route) => route.abort());
  await add(page, 'laptop');
  await expect(page.getByText('this browser has no room')).toBeVisible();
  await page.unroute(CHANGES);
  await page.getByRole('button', { name: 'Try now' }).click();
  await saved(page);
  await page.reload();
  await expect(tiles(page)).toHaveCount(before + 1);
});

test('what a dead tab left is not put over what others saved since: both versions are shown', async ({
  page,
  context,
  browser,
  baseURL,
}) => {
  await openBench(page, 'Tobias Ferreira');
  await add(page, 'firewall');
  await saved(page);
  const address = page.url();
  const name = (await tiles(page)
    .filter({ hasText: /^FW/ })
    .last()
    .getByText(/^FW-\d+$/)
    .textContent())!;
  const rename = async (tab: Page, to: string): Promise<void> => {
    await tab.getByRole('button', { name: /^Devices/ }).click();
    await tab.getByRole('row', { name: new RegExp(`^${name}`) }).click();
    await tab.getByLabel('Name', { exact: true }).fill(to);
    await tab.getByLabel('Name', { exact: true }).press('Enter');
  };
  await page.route(CHANGES, (route) => route.abort());
  await rename(page, 'OFFLINE');
  await expect(page.getByText('kept in this browser')).toBeVisible();
  await page.close({ runBeforeUnload: false });

  // Somebody at another machine renames the same device.
  const elsewhere = await browser.newContext({ baseURL: baseURL! });
  const other = await elsewhere.newPage();
  await openBench(other, 'Tobias Ferreira');
  await rename(other, 'ELSEWHERE');
  await saved(other);
  await elsewhere.close();

  const next = await context.newPage();
  await next.goto(address);
  const dialog = next.getByRole('dialog');
  await expect(dialog).toContainText('Two versions of this drawing');
  await expect(dialog.locator('.tile', { hasText: 'OFFLINE' })).toHaveCount(1);
  await expect(dialog.locator('.tile', { hasText: 'ELSEWHERE' })).toHaveCount(1);
  await dialog.getByRole('button', { name: /Take the saved one/ }).click();
  await expect(tiles(next).filter({ hasText: 'ELSEWHERE' })).toHaveCount(1);
  await next.reload();
  await expect(tiles(next).filter({ hasText: 'ELSEWHERE' })).toHaveCount(1);
  await expect(next.getByRole('dialog')).toBeHidden();
});

test('killing the server in the middle of saves loses nothing that had been confirmed', async ({ request }) => {
  const name = `e2e_kill_${process.pid}`;
  const port = await freePort();
  const base = `http://127.0.0.1:${port}/api`;
  const database = await freshDatabase(name);
  let server: ChildProcess = await startServer(port, database);
  const headers = { 'x-sobrin-request': '1' };
  try {
    await request.post(`${base}/auth/demo-sign-in`, { headers, data: { login: 'zofia.wrona' } });
    const courses = (await (await request.get(`${base}/courses`)).json()) as { labs: { id: string }[] }[];
    const { documentId } = (await (await request.get(`${base}/my/labs/${courses[0]!.labs[0]!.id}`)).json()) as {
      documentId: string;
    };
    const confirmed: string[] = [];
    const saving = (async () => {
      for (let at = 0; ; at++) {
        const command = {
          kind: 'addDevice',
          id: `d${at}`,
          device: { name: `D${at}`, model: 'hub', at: { x: at, y: 0 } },
        };
        const answer = await request.post(`${base}/documents/${documentId}/changes`, {
          headers,
          data: { save: randomUUID(), base: at, commands: [command] },
        });
        if (!answer.ok()) throw new Error(await answer.text());
        confirmed.push(`d${at}`);
      }
    })().catch(() => undefined);
    await expect.poll(() => confirmed.length).toBeGreaterThan(20);
    await stopServer(server, 'SIGKILL');
    await saving;
    server = await startServer(port, database);
    const { document, revision } = (await (await request.get(`${base}/documents/${documentId}`)).json()) as {
      document: { devices: object };
      revision: number;
    };
    const stored = Object.keys(document.devices);
    expect(stored).toEqual(expect.arrayContaining(confirmed));
    expect(stored.length).toBe(revision);
    expect(stored.length - confirmed.length).toBeLessThanOrEqual(1);
  } finally {
    await stopServer(server);
    await dropDatabase(name);
  }
});
