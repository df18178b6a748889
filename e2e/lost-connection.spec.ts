import { type ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { type APIRequestContext, type Page } from '@playwright/test';
import { addressOf, expect, openOwnBench, saved, signIn, test } from './people';
import { dropDatabase, freePort, freshDatabase, startServer, stopServer } from './server';

const CHANGES = '**/api/documents/*/changes';
const tiles = (page: Page) => page.locator('.react-flow__node-tile');

async function add(page: Page, search: string): Promise<void> {
  await page.keyboard.press('Escape');
  // In the sheet strip letters are written into its cells.
  await page.locator('.drawing').focus();
  await page.keyboard.press('a');
  await page.getByLabel('Search by name, kind or use').fill(search);
  await page.keyboard.press('Enter');
  // Not every dialog: a session that ended meanwhile asks for its sign-in.
  await expect(page.getByLabel('Search by name, kind or use')).toBeHidden();
}
async function openBench(page: Page, name: string): Promise<void> {
  await signIn(page, name);
  await openOwnBench(page, 'Three Stations');
}

test('what is drawn without a connection is kept in the browser and sent when it is back', async ({ page }) => {
  await openBench(page, 'Greta Holzapfel');
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
  await openBench(page, 'Greta Holzapfel');
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
  await openBench(page, 'Greta Holzapfel');
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

test('two on one drawing see what the other saves; of what both changed one says whose holds, and all else stands', async ({
  page,
  context,
}) => {
  await openBench(page, 'Greta Holzapfel');
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
  const before = await tiles(other).count();
  await add(other, 'printer');
  await rename(page, 'YARD');
  await add(page, 'laptop');
  await saved(page);
  await lookAt(other);
  await expect(tiles(other).filter({ hasText: 'ROOF' })).toHaveCount(1);
  await other.unroute(CHANGES);
  await other.evaluate(() => window.dispatchEvent(new Event('online')));
  const dialog = other.getByRole('dialog');
  await expect(dialog).toContainText('1 thing changed by two');
  await expect(dialog.locator('.tile', { hasText: 'ROOF' })).toHaveCount(1);
  await expect(dialog.locator('.tile', { hasText: 'YARD' })).toHaveCount(1);
  await expect(dialog.getByRole('radio', { name: 'Yours: name: CM-1 → ROOF' })).toBeChecked();
  await expect(dialog.getByRole('radio', { name: 'Saved: name: CM-1 → YARD' })).toBeVisible();
  await dialog.getByRole('button', { name: 'Go on with what is chosen' }).click();
  await saved(other);
  await expect(other.getByText('Both versions that met are kept by name among the versions.')).toBeVisible();
  for (const tab of [page, other]) {
    await lookAt(tab);
    await expect(tiles(tab).filter({ hasText: 'ROOF' })).toHaveCount(1);
    await expect(tiles(tab)).toHaveCount(before + 2);
  }
});

test('a browser without room says so while the server does not answer, and sends everything when it does', async ({
  page,
}) => {
  await page.addInitScript(() => {
    IDBObjectStore.prototype.put = () => {
      throw new DOMException('The store is full.', 'QuotaExceededError');
    };
  });
  await openBench(page, 'Greta Holzapfel');
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

test('of what a dead tab left and others changed since one says whose holds; all else that it left is there', async ({
  page,
  context,
  browser,
  baseURL,
}) => {
  await openBench(page, 'Greta Holzapfel');
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
  // Of the whole browser: a page that closes must not let through at its end what was held back before.
  await context.route(CHANGES, (route) => route.abort());
  await rename(page, 'OFFLINE');
  await expect(page.getByText('kept in this browser')).toBeVisible();
  // The first save is on its way for ever; what comes after it waits.
  const before = await tiles(page).count();
  await add(page, 'hub');
  await add(page, 'tablet');
  await expect(tiles(page)).toHaveCount(before + 2);
  await page.close({ runBeforeUnload: false });

  // Somebody at another machine renames the same device.
  const elsewhere = await browser.newContext({ baseURL: baseURL! });
  const other = await elsewhere.newPage();
  await openBench(other, 'Greta Holzapfel');
  await rename(other, 'ELSEWHERE');
  await saved(other);
  await elsewhere.close();
  // Only now: what a tab sends at its end may be on its way for a while.
  await context.unroute(CHANGES);

  const next = await context.newPage();
  await next.goto(address);
  const dialog = next.getByRole('dialog');
  await expect(dialog).toContainText('1 thing changed by two');
  await expect(dialog.locator('.tile', { hasText: 'OFFLINE' })).toHaveCount(1);
  await expect(dialog.locator('.tile', { hasText: 'ELSEWHERE' })).toHaveCount(1);
  await dialog.getByRole('radio', { name: /^Saved: / }).check();
  await dialog.getByRole('button', { name: 'Go on with what is chosen' }).click();
  await expect(dialog).toBeHidden();
  for (const turn of ['decided', 'loaded again']) {
    await expect(tiles(next).filter({ hasText: 'ELSEWHERE' }), turn).toHaveCount(1);
    await expect(tiles(next), turn).toHaveCount(before + 2);
    await saved(next);
    if (turn === 'decided') await next.reload();
  }
  await expect(next.getByRole('dialog')).toBeHidden();
  await next.keyboard.press('v');
  for (const name of [/^Saved, when two versions met/, /Not saved, when two versions met/])
    await expect(next.getByRole('option', { name }).first()).toBeVisible();
});

test('what a closed tab left is put together with what was added since at the same place, and that is told', async ({
  page,
  context,
  browser,
  baseURL,
}) => {
  await openBench(page, 'Greta Holzapfel');
  await add(page, 'tablet');
  await saved(page);
  // Both see the drawing alike, so that what they add comes to the same place.
  await page.reload();
  await expect(tiles(page).filter({ hasText: 'TB' }).first()).toBeVisible();
  const before = await tiles(page).count();
  await context.route(CHANGES, (route) => route.abort());
  await add(page, 'phone');
  await expect(page.getByText('kept in this browser')).toBeVisible();
  const address = page.url();
  await page.close({ runBeforeUnload: false });
  const elsewhere = await browser.newContext({ baseURL: baseURL! });
  const other = await elsewhere.newPage();
  await openBench(other, 'Greta Holzapfel');
  await add(other, 'camera');
  await saved(other);
  await elsewhere.close();
  await context.unroute(CHANGES);
  const next = await context.newPage();
  await next.goto(address);
  await expect(next.getByText(/came together with what was saved since\..*stand in one place/)).toBeVisible();
  await expect(tiles(next)).toHaveCount(before + 2);
});

test('what a closed tab left and the server refuses is kept as a version, and that is told once', async ({
  page,
  context,
}) => {
  await openBench(page, 'Greta Holzapfel');
  await context.route(CHANGES, (route) => route.abort());
  await add(page, 'phone');
  await expect(page.getByText('kept in this browser')).toBeVisible();
  const address = page.url();
  await page.close({ runBeforeUnload: false });
  const next = await context.newPage();
  await next.route(CHANGES, (route) => route.fulfill({ status: 422, json: { message: 'It cannot be.' } }));
  await context.unroute(CHANGES);
  await next.goto(address);
  await expect(
    next.getByText(/do not fit what is saved: It cannot be\. They are kept among the versions/),
  ).toBeVisible();
  await next.reload();
  await expect(next.getByRole('toolbar', { name: 'Bench' })).toBeVisible();
  await expect(next.getByText(/do not fit what is saved/)).toHaveCount(0);
  await next.keyboard.press('v');
  const dialog = next.getByRole('dialog');
  await dialog
    .getByRole('option', { name: /^Could not be saved/ })
    .first()
    .click();
  await expect(dialog.getByText(/Since then: 1 device removed/)).toBeVisible();
});

test('whoever is signed out while drawing and answering signs in where they are, and loses nothing; a double click signs nobody out', async ({
  page,
}) => {
  await openBench(page, 'Zofia Wrona');
  await add(page, 'camera');
  await saved(page);
  await page.getByRole('link', { name: 'Tasks' }).dblclick();
  await expect(page.getByRole('heading', { name: 'Three Stations' })).toBeVisible();
  await expect(page.getByRole('button', { name: /^Signed in as/ })).toBeVisible();
  await page.getByLabel('Answer to task 1').fill('Kept over the end of a session');
  await expect(page.getByRole('status').filter({ hasText: /^saved$/ })).toBeVisible();
  await page.getByRole('link', { name: 'Open the bench' }).click();
  await expect(page.getByRole('toolbar', { name: 'Bench' })).toBeVisible();
  const before = await tiles(page).count();
  await page.context().clearCookies();
  await add(page, 'hub');
  const dialog = page.getByRole('dialog', { name: 'You are not signed in any more' });
  await expect(dialog.getByLabel('Sign-in name')).toHaveValue('zofia.wrona');
  await dialog.getByLabel('Password').fill('kestrel-ridge');
  await page.keyboard.press('Enter');
  await expect(dialog).toBeHidden();
  await saved(page);
  await page.reload();
  await expect(tiles(page)).toHaveCount(before + 1);
  // An answer is typed and left at once, while the page has its hands full.
  await page.getByRole('link', { name: 'Tasks' }).click();
  await expect(page.getByLabel('Answer to task 1')).toHaveValue('Kept over the end of a session');
  await page.evaluate(() => {
    const isBusy = (): void => {
      const until = performance.now() + 5_000;
      while (performance.now() < until);
    };
    addEventListener('input', () => setTimeout(isBusy), { once: true });
  });
  await page.getByLabel('Answer to task 2').fill('Typed, and the tab closed');
  await page.close({ runBeforeUnload: false });
  const next = await page.context().newPage();
  await next.goto(`${await addressOf(next, 'Three Stations')}`);
  await expect(next.getByLabel('Answer to task 2')).toHaveValue('Typed, and the tab closed');
  await expect(next.getByRole('status').filter({ hasText: /^saved$/ })).toBeVisible();
  await next.reload();
  for (const [task, text] of [
    [1, 'Kept over the end of a session'],
    [2, 'Typed, and the tab closed'],
  ] as const)
    await expect(next.getByLabel(`Answer to task ${task}`)).toHaveValue(text);
});

test('killing the server in the middle of saves loses nothing that had been confirmed, of a drawing or of a lab', async ({
  playwright,
}) => {
  const name = `e2e_kill_${process.pid}`;
  const port = await freePort();
  const base = `http://127.0.0.1:${port}/api`;
  const database = await freshDatabase(name);
  let server: ChildProcess = await startServer(port, database);
  const headers = { 'x-sobrin-request': '1' };
  const [student, instructor] = await Promise.all([playwright.request.newContext(), playwright.request.newContext()]);
  const read = async <T>(who: APIRequestContext, path: string): Promise<T> =>
    (await (await who.get(`${base}/${path}`)).json()) as T;
  /** Saves one command after the other until the server does not answer; what it confirmed. */
  const saving = (who: APIRequestContext, document: string, revision: number, command: (id: string) => object) => {
    const confirmed: string[] = [];
    const ended = (async () => {
      for (let at = 0; ; at++) {
        const data = { save: randomUUID(), base: revision + at, commands: [command(`d${at}`)] };
        const answer = await who.post(`${base}/documents/${document}/changes`, { headers, data });
        if (!answer.ok()) throw new Error(await answer.text());
        confirmed.push(`d${at}`);
      }
    })().catch(() => undefined);
    return { confirmed, ended };
  };
  try {
    await student.post(`${base}/auth/demo-sign-in`, { headers, data: { login: 'zofia.wrona' } });
    await instructor.post(`${base}/auth/demo-sign-in`, { headers, data: { login: 'maren' } });
    const courses = await read<{ labs: { id: string }[] }[]>(student, 'courses');
    const lab = courses.flatMap((course) => course.labs)[0]!.id;
    const { documentId } = await read<{ documentId: string }>(student, `my/labs/${lab}`);
    const { documents } = await read<{ documents: { tasks: string } }>(instructor, `labs/${lab}`);
    const before = await read<{ revision: number }>(instructor, `documents/${documents.tasks}`);
    const drawing = saving(student, documentId, 0, (id) => ({
      kind: 'addDevice',
      id,
      device: { name: id.toUpperCase(), model: 'hub', at: { x: 0, y: 0 } },
    }));
    const tasks = saving(instructor, documents.tasks, before.revision, (id) => ({
      kind: 'edits',
      edits: [{ path: ['tasks', id], value: { id, text: `Task ${id}.` } }],
    }));
    await expect.poll(() => Math.min(drawing.confirmed.length, tasks.confirmed.length)).toBeGreaterThan(20);
    await stopServer(server, 'SIGKILL');
    await Promise.all([drawing.ended, tasks.ended]);
    server = await startServer(port, database);
    type Stored = { revision: number; document: { devices: object; tasks: { id: string }[] } };
    const ofStudent = await read<Stored>(student, `documents/${documentId}`);
    const ofLab = await read<Stored>(instructor, `documents/${documents.tasks}`);
    for (const [stored, count, { confirmed }] of [
      [Object.keys(ofStudent.document.devices), ofStudent.revision, drawing],
      [
        ofLab.document.tasks.map(({ id }) => id).filter((id) => /^d\d+$/.test(id)),
        ofLab.revision - before.revision,
        tasks,
      ],
    ] as const) {
      expect(stored).toEqual(expect.arrayContaining(confirmed));
      expect(stored.length).toBe(count);
      expect(stored.length - confirmed.length).toBeLessThanOrEqual(1);
    }
  } finally {
    await Promise.all([student.dispose(), instructor.dispose()]);
    await stopServer(server);
    await dropDatabase(name);
  }
});
