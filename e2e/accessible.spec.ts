import { type Browser, type Page } from '@playwright/test';
import { violations, violationsNow } from './axe';
import { addressOf, choose, chooseOwn, expect, openLab, signIn, test } from './people';

const DIALOG = '[role=dialog]';

/** What is opened from the Bench, among it the page that a drawing is shown on without signing in. */
async function dialogsOfTheBench(page: Page, browser: Browser): Promise<void> {
  const dialog = page.getByRole('dialog');
  await choose(page, 'Begin from another lab');
  await dialog.getByRole('radio', { name: /Season Opening/ }).check();
  expect(await violations(page, DIALOG), 'begin from another lab').toEqual([]);
  await choose(page, 'Show it without signing in');
  await dialog.getByRole('button', { name: 'Make an address' }).click();
  const address = await dialog.getByLabel('Address').inputValue();
  expect(await violations(page, DIALOG), 'show it without signing in').toEqual([]);
  for (const colorScheme of ['light', 'dark'] as const) {
    const there = await browser.newPage({ colorScheme });
    await there.goto(address);
    await there.locator('.react-flow__node').first().waitFor();
    expect(await violationsNow(there), `a shown drawing, ${colorScheme}`).toEqual([]);
    await there.close();
  }
  await dialog.getByRole('button', { name: 'Take the address back' }).click();
  await expect(dialog).toContainText('It is not shown');
  await expect(dialog.getByRole('button', { name: 'Make an address' })).toBeFocused();
  await choose(page, 'Who reaches whom');
  await dialog.getByRole('application').waitFor();
  expect(await violations(page, DIALOG), 'reach grid').toEqual([]);
  await dialog.getByRole('tab', { name: 'What if one fails' }).click();
  await dialog.getByText(/devices and links cut somebody off/).waitFor({ timeout: 60_000 });
  expect(await violations(page, DIALOG), 'single failures').toEqual([]);
  await page.keyboard.press('Escape');
  await page.locator('.react-flow__node-tile', { hasText: 'RT-M' }).click();
  await page.keyboard.press('k');
  await page.getByRole('complementary', { name: 'Tables' }).waitFor();
  expect(await violations(page, '[aria-label=Tables]'), 'tables of a device').toEqual([]);
  await page.keyboard.press('Escape');
  await page.keyboard.press('/');
  await page.keyboard.type('trace DESK-1 CAM-1');
  await page.keyboard.press('Enter');
  await page.getByRole('region', { name: 'On the wire' }).or(page.getByText('reached, and')).first().waitFor();
  for (let step = 0; step < 9; step++) await page.keyboard.press('ArrowUp');
  await page.getByRole('region', { name: 'On the wire' }).getByRole('button').first().click();
  expect(await violations(page), 'trace').toEqual([]);
  await page.getByRole('button', { name: 'Close the trace' }).click();
}

test.describe.configure({ mode: 'parallel' });
test('signing in has no accessibility violations', async ({ page }) => {
  await page.goto('/sign-in');
  await expect(page.getByText('Look round in the demo')).toBeVisible();
  expect(await violations(page)).toEqual([]);
});

/** Opens a station of Three Stations as its instructor. */
async function openStation(page: Page, station: string, ready: string): Promise<void> {
  await signIn(page, 'Maren Osterkamp');
  const lab = await addressOf(page, 'Three Stations');
  await page.goto(`${lab}/${station}`);
  await page.locator(ready).first().waitFor();
}

test('home, jobs and the people of a course have no accessibility violations in either theme', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  await page.goto('/jobs');
  await expect(page.getByRole('region', { name: 'Checks' })).toBeVisible();
  expect(await violations(page)).toEqual([]);
  await page.goto('/');
  await expect(page.getByText('Three Stations').first()).toBeVisible();
  expect(await violations(page)).toEqual([]);
  await page.getByRole('button', { name: 'From your library' }).first().click();
  await expect(page.getByRole('button', { name: 'Give the lab Three Stations' })).toBeVisible();
  expect(await violations(page, DIALOG)).toEqual([]);
  await page.keyboard.press('Escape');
  await page.getByRole('link', { name: 'People' }).first().click();
  await expect(page.getByRole('table', { name: 'People of the course' })).toBeVisible();
  expect(await violations(page)).toEqual([]);
  await page.getByRole('button', { name: 'Change Zofia Wrona' }).click();
  await page.getByRole('dialog').waitFor();
  expect(await violations(page, DIALOG)).toEqual([]);
  await page.keyboard.press('Escape');
  await chooseOwn(page, 'Second factor…');
  await page.getByLabel('Your password', { exact: true }).waitFor();
  expect(await violations(page, DIALOG)).toEqual([]);
});

for (const [station, ready] of [
  ['brief', 'text=Rules of the lab'],
  ['spec', '[data-requirement]'],
] as const)
  test(`the ${station} has no accessibility violations in either theme`, async ({ page }) => {
    await openStation(page, station, ready);
    expect(await violations(page)).toEqual([]);
    if (station !== 'spec') return;
    await page.goto(`${await addressOf(page, 'Valley Station LAN')}/spec`);
    await expect(page.locator('[data-requirement]').first()).toBeVisible();
    await page.keyboard.press('d');
    await expect(page.getByRole('complementary', { name: 'Draft' }).getByRole('checkbox').first()).toBeVisible();
    expect(await violations(page), 'draft').toEqual([]);
    await page.getByRole('button', { name: /^Text/ }).click();
    await expect(page.getByRole('textbox', { name: 'Text of the spec' })).toContainText('sections');
    expect(await violations(page), 'text').toEqual([]);
  });

test('a drill has no accessibility violations in either theme', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  await page.goto(`${await addressOf(page, 'Valley Station LAN')}/spec/drill`);
  await page.getByRole('button', { name: 'Drill the spec' }).first().click();
  await expect(page.getByRole('complementary', { name: 'Score' })).toBeVisible({ timeout: 120_000 });
  expect(await violations(page)).toEqual([]);
});

test('the bench has no accessibility violations in either theme', async ({ page, browser }) => {
  await openStation(page, 'bench', '.tile');
  await page.locator('.react-flow__node-tile', { hasText: 'RT-M' }).click();
  expect(await violations(page)).toEqual([]);
  await dialogsOfTheBench(page, browser);
});

test('the plan and its dialogs have no accessibility violations in either theme', async ({ page }) => {
  await openStation(page, 'plan', '[role=treeitem]');
  await page.getByRole('treeitem', { name: /^cameras/ }).click();
  expect(await violations(page)).toEqual([]);
  for (const [key, ready] of [
    ['d', 'textbox'],
    ['p', 'textbox'],
    ['w', 'listitem'],
  ] as const) {
    await page.getByRole('tree').focus();
    await page.keyboard.press(key);
    await page.getByRole('dialog').getByRole(ready).first().waitFor();
    expect(await violations(page, DIALOG), `plan ${key}`).toEqual([]);
    await page.keyboard.press('Escape');
    await expect(page.getByRole('dialog')).toBeHidden();
  }
});

test('the class, checks of a drawing and of a plan, and results have no accessibility violations in either theme', async ({
  page,
}) => {
  await openStation(page, 'class', 'table');
  expect(await violations(page), 'class').toEqual([]);
  await page.getByRole('link', { name: 'Jamila Conteh' }).click();
  await expect(page.getByRole('region', { name: 'Evidence' })).toBeVisible();
  expect(await violations(page), 'check').toEqual([]);
  await expect(page.getByRole('region', { name: 'Causes' }).getByRole('button').first()).toBeVisible();
  await page.keyboard.press('a');
  await expect(page.getByRole('region', { name: 'Cause A' })).toBeVisible();
  await page.keyboard.press('y');
  expect(await violations(page), 'a cause').toEqual([]);
  await page.goto(page.url().replace(/\/labs\/([^/]+)\/.*$/, '/labs/$1/results'));
  await expect(page.getByRole('table')).toBeVisible();
  await expect(page.getByRole('region', { name: 'Causes in common' })).toBeVisible();
  expect(await violations(page), 'results').toEqual([]);
  const opening = await addressOf(page, 'Season Opening');
  await page.goto(`${opening}/class`);
  await page.getByRole('link', { name: 'Hoang Minh Thu' }).click();
  await expect(page.getByRole('treeitem').first()).toBeVisible();
  expect(await violations(page), 'check of a plan').toEqual([]);
});

test('the student’s views have no accessibility violations', async ({ page }) => {
  await signIn(page, 'Jamila Conteh');
  await openLab(page, 'Winch Isolation');
  await expect(page.getByText('Handing in')).toBeVisible();
  await page.getByRole('button', { name: /^A hint.*task 6$/ }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Take it' }).click();
  await expect(page.getByRole('list', { name: 'Hints, task 6' })).toBeVisible();
  expect(await violations(page), 'lab').toEqual([]);
  await page.getByRole('link', { name: 'Open the bench' }).click();
  await expect(page.getByRole('toolbar', { name: 'Bench' })).toBeVisible();
  expect(await violations(page), 'bench').toEqual([]);
  await page.keyboard.press('a');
  await expect(page.getByRole('dialog')).toBeVisible();
  expect(await violations(page, DIALOG), 'kit').toEqual([]);
  await page.keyboard.press('Escape');
  await page.getByRole('link', { name: 'Tasks' }).click();
  await page.getByRole('link', { name: /^Attempt 1/ }).click();
  await expect(page.getByRole('heading', { name: 'Attempt 1' })).toBeVisible();
  expect(await violations(page), 'attempt').toEqual([]);
});
