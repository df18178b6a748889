import { type BrowserContext, type Download, type Page, expect, test as base } from '@playwright/test';
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { TEMPLATE, dropDatabase, freePort, freshDatabase, startServer, stopServer } from './server';

/**
 * Tests against the built Sobrin with the demo: each worker starts one on a copy of the database, and has one browser
 * that keeps Sobrin's scripts as a person's does and forgets everything else between tests. A console error or an uncaught
 * exception of a page is a failure.
 */
export const test = base.extend<{ quietConsole: string[] }, { server: string; kept: BrowserContext }>({
  kept: [
    async ({ browser, server }, use) => {
      const kept = await browser.newContext();
      // The process of a site ends with its last page, and with it the scripts that it has compiled: this one stays.
      const keeper = await kept.newPage();
      await keeper.goto(`${server}/api/health`);
      await use(kept);
      await kept.close();
    },
    { scope: 'worker' },
  ],
  context: async ({ kept }, use) => {
    await use(kept);
    const [, ...pages] = kept.pages();
    await Promise.all(pages.map((page) => page.close()));
    await kept.clearCookies();
    await kept.clearPermissions();
  },
  page: async ({ context, server: origin }, use) => {
    const page = await context.newPage();
    const browser = await context.newCDPSession(page);
    await browser.send('Storage.clearDataForOrigin', { origin, storageTypes: 'local_storage,indexeddb' });
    await browser.detach();
    await use(page);
  },
  server: [
    async ({ browser: _browser }, use, { parallelIndex, workerIndex }) => {
      const name = `${TEMPLATE}_${parallelIndex}_${workerIndex}`;
      const port = await freePort();
      const server = await startServer(port, await freshDatabase(name, TEMPLATE));
      await use(`http://127.0.0.1:${port}`);
      await stopServer(server);
      await dropDatabase(name);
    },
    { scope: 'worker', timeout: 120_000 },
  ],
  baseURL: ({ server }, use) => use(server),
  quietConsole: [
    async ({ page }, use) => {
      const said: string[] = [];
      page.on('pageerror', (error) => said.push(`uncaught: ${error.message}`));
      page.on('console', (message) => {
        // The browser itself writes a line for every answer that is no success; refusals are part of some tests.
        if (message.type() === 'error' && !message.text().startsWith('Failed to load resource'))
          said.push(message.text());
      });
      await use(said);
      expect(said).toEqual([]);
    },
    { auto: true },
  ],
});
export { expect };

const headers = { 'x-sobrin-request': '1' };

/** Signs in as one of the demo's people, without a page: how people do it is tried in sign-in.spec.ts. */
export async function signIn(page: Page, name: string): Promise<void> {
  const people = (await (await page.request.get('/api/auth/demo')).json()) as { name: string; login: string }[];
  const { login } = people.find((person) => person.name === name)!;
  expect((await page.request.post('/api/auth/demo-sign-in', { headers, data: { login } })).ok()).toBe(true);
}

/** Chooses from the menu behind one's own sign. */
export async function chooseOwn(page: Page, entry: string): Promise<void> {
  await page.getByRole('button', { name: /^Signed in as/ }).click();
  await page.getByRole('menuitem', { name: entry }).click();
}

export async function signOut(page: Page): Promise<void> {
  await page.goto('/');
  await chooseOwn(page, 'Sign out');
  await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible();
}

/** The address of a lab by its title; how people find it on the home page is tried by `openLab`. */
export async function addressOf(page: Page, title: string): Promise<string> {
  const courses = (await (await page.request.get('/api/courses')).json()) as {
    role: string;
    labs: { id: string; title: string }[];
  }[];
  const labs = courses.flatMap((course) => course.labs.map((lab) => ({ ...lab, role: course.role })));
  const { id, role } = labs.find((lab) => lab.title === title)!;
  return `${role === 'student' ? '/my' : ''}/labs/${id}`;
}

/** Opens a lab from the home page; the address of the lab. */
export async function openLab(page: Page, title: string): Promise<string> {
  await page.goto('/');
  await page.getByRole('link', { name: title }).first().click();
  await page.waitForURL(/\/labs\//);
  return /^.*\/labs\/[^/]+/.exec(page.url())![0];
}

/** A lab like one of the demo's, to be made anew, so that other tests find theirs as it was. */
export const copyOf = async (slug: string, title: string): Promise<object> => ({
  ...(JSON.parse(await readFile(path.join(__dirname, '..', 'demo', slug, 'lab.json'), 'utf8')) as object),
  title,
});
export const openBenchOfCopy = async (page: Page, slug: string, title: string): Promise<void> =>
  openBenchOf(page, await copyOf(slug, title));

const EMPTY = { format: 'sobrin-topology', version: 1, sites: {}, devices: {}, links: {} };
/** A lab with a reference and nothing else. */
export const labWith = (title: string, reference: object = EMPTY): object => ({
  format: 'sobrin-lab',
  version: 2,
  title,
  brief: {},
  tasks: [],
  plan: { blocks: {} },
  policy: {},
  reference,
  spec: { groups: {}, sections: [] },
});

/** A course by its title: other tests begin courses too, so none is the first. */
export async function courseOf(page: Page, title: string): Promise<{ id: string }> {
  const all = (await (await page.request.get('/api/courses')).json()) as { id: string; title: string }[];
  return all.find((course) => course.title === title)!;
}

/** Makes a new lab from a file, in the course of the demo's class; its address. */
export async function makeLab(page: Page, file: object): Promise<string> {
  const { id: course } = await courseOf(page, 'Networks 1');
  const answer = await page.request.post(`/api/courses/${course}/labs/import`, {
    headers,
    data: { text: JSON.stringify(file) },
  });
  const { id } = (await answer.json()) as { id: string };
  return `/labs/${id}`;
}

/** Opens the bench of a new lab from a file. */
export async function openBenchOf(page: Page, file: object): Promise<void> {
  await page.goto(`${await makeLab(page, file)}/bench`);
  await expect(page.getByRole('toolbar', { name: 'Bench' })).toBeVisible();
}

/** Opens a student's own bench of a lab. */
export async function openOwnBench(page: Page, title: string): Promise<void> {
  await page.goto(`${await addressOf(page, title)}/bench`);
  await expect(page.getByRole('toolbar', { name: 'Bench' })).toBeVisible();
}

/** Does something, and waits for what the server says to the request of that method which it makes. */
export async function answered(page: Page, method: 'DELETE' | 'POST', act: () => Promise<void>): Promise<void> {
  const answer = page.waitForResponse((response) => response.request().method() === method);
  await act();
  expect((await answer).ok()).toBe(true);
}

export const textOf = async (download: Download): Promise<string> => readFile(await download.path(), 'utf8');

/** Takes an entry of the menu by the command field. */
export async function choose(page: Page, text: string): Promise<void> {
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.keyboard.press('/');
  await page.keyboard.type(text);
  await expect(page.getByRole('option').first()).toContainText(text);
  await page.keyboard.press('Enter');
}

/** Answers the file chooser that something opens. */
export async function chooseFile(
  page: Page,
  open: () => Promise<void>,
  file: { name: string; mimeType: string; buffer: Buffer },
): Promise<void> {
  const [chooser] = await Promise.all([page.waitForEvent('filechooser'), open()]);
  await chooser.setFiles(file);
}
export const json = (name: string, text: string) => ({ name, mimeType: 'application/json', buffer: Buffer.from(text) });

export const saved = (page: Page) => expect(page.getByRole('status').filter({ hasText: /^Saved$/ })).toBeVisible();

/** Has everything that a class handed in checked, on its page; another test may have checked some or all of it before. */
export async function checkClass(page: Page): Promise<void> {
  const check = page.getByRole('button', { name: /^Check \d+$/ });
  const done = page.getByRole('button', { name: 'All checked' });
  await expect(check.or(done)).toBeVisible();
  if (await check.isVisible()) await check.click();
  await expect(done).toBeVisible();
}
