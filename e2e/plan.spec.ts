import { type Page } from '@playwright/test';
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { addressOf, chooseFile, expect, json, saved, signIn, signOut, test, textOf } from './people';

const item = (page: Page, name: RegExp) => page.getByRole('treeitem', { name });
const field = (page: Page, name: string) => page.getByRole('textbox', { name, exact: true });
async function openPlan(page: Page, title: string): Promise<void> {
  const lab = await addressOf(page, title);
  await page.goto(`${lab}/plan`);
  await expect(page.getByRole('heading', { name: 'Plan', exact: true })).toBeVisible();
}
async function commit(page: Page, name: string, text: string): Promise<void> {
  await field(page, name).fill(text);
  await page.keyboard.press('Enter');
}

test('a student makes a plan with the keyboard alone, hands it in, and the instructor sees it judged', async ({
  page,
}) => {
  await signIn(page, 'Zofia Wrona');
  await openPlan(page, 'Season Opening');
  await page.keyboard.press('a');
  await expect(field(page, 'Prefix')).toBeFocused();
  await page.keyboard.type('10.84.0.0/20');
  await page.keyboard.press('Enter');
  await commit(page, 'IPv6 prefix', 'fd5e:7a3c:90b1::/48');
  await page.getByRole('tree').focus();
  await page.keyboard.press('Home');
  await page.keyboard.press('d');
  await expect(page.getByRole('textbox', { name: 'Number of parts' })).toBeFocused();
  await expect(page.getByText('10.84.12.0/22')).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(item(page, /^Season Opening 4/)).toBeVisible();
  await page.getByRole('combobox', { name: 'Site', exact: true }).fill('Valley Station');
  await page.keyboard.press('Enter');
  await commit(page, 'Name', 'Valley');
  await page.keyboard.press('Escape');
  await page.getByRole('tree').focus();
  await page.keyboard.press('Home');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('d');
  await page.getByRole('tab', { name: 'Parts of given sizes' }).click();
  await page
    .getByRole('textbox', { name: 'Sizes of the parts' })
    .fill('Guests of the valley 209\nTicket desks and turnstiles 41');
  await page.getByRole('button', { name: 'Add 2 blocks' }).click();
  await expect(item(page, /^Guests of the valley, 10\.84\.0\.0\/24/)).toBeVisible();
  await item(page, /^Ticket desks/).click();
  await page.getByLabel('Group', { exact: true }).selectOption('Ticket desks and turnstiles, Valley Station');
  await commit(page, 'VLAN', '10');
  await page.keyboard.press('Escape');
  await page.keyboard.press('n');
  await expect(field(page, 'For whom')).toBeFocused();
  await page.keyboard.type('DESK-1');
  await page.keyboard.press('Enter');
  await saved(page);
  await page.reload();
  await item(page, /^Ticket desks/).click();
  await page.getByRole('tree').focus();
  await page.keyboard.press('ArrowRight');
  await expect(item(page, /^10\.84\.1\.2, DESK-1/)).toBeVisible();
  // What is to be learned is not told: neither sizes nor mistakes, and nothing is laid out by itself.
  await expect(page.getByText('/26', { exact: true })).toHaveCount(0);
  await expect(page.getByRole('button', { name: 'Lay out all groups' })).toHaveCount(0);

  await page.getByRole('link', { name: 'Tasks' }).click();
  await expect(page.getByText('7 blocks, 1 address')).toBeVisible();
  await page.getByRole('button', { name: 'Hand in attempt 1' }).click();
  await page.getByRole('button', { name: 'Hand in', exact: true }).click();
  await expect(page.getByText('Attempt 1 is handed in')).toBeVisible();

  await signOut(page);
  await signIn(page, 'Maren Osterkamp');
  const lab = await addressOf(page, 'Season Opening');
  await page.goto(`${lab}/class`);
  await page.getByRole('link', { name: 'Zofia Wrona' }).click();
  const evidence = page.getByRole('region', { name: 'Evidence' });
  await expect(
    evidence.getByText('Ticket desks and turnstiles: 10.84.1.0/26 with 62 usable addresses; 41 are needed later.'),
  ).toBeVisible();
  await evidence.getByRole('button', { name: 'show Ticket desks and turnstiles' }).click();
  await expect(page.getByRole('treeitem', { name: /^Ticket desks/, selected: true })).toBeVisible();
});

test('an instructor goes from numbers to a plan that holds, and undoes it', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  await page.goto('/');
  await page.getByRole('button', { name: 'Add a lab' }).first().click();
  await page.getByRole('textbox', { name: 'Title of the lab' }).fill('From numbers');
  await page.keyboard.press('Enter');
  await page.waitForURL(/\/labs\//);
  const lab = /^.*\/labs\/[^/]+/.exec(page.url())![0];
  await page.goto(`${lab}/brief`);
  await page.getByRole('button', { name: 'Add a site' }).click();
  await page.getByRole('button', { name: 'Add a group' }).click();
  await commit(page, 'Name of Group 1', 'Tickets');
  await page.getByRole('textbox', { name: 'Tickets later' }).fill('40');
  await page.keyboard.press('Enter');
  await page.getByRole('combobox', { name: 'Site of Tickets' }).fill('Site 1');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('region', { name: 'What follows' }).getByText('21 of 62')).toBeVisible();
  await saved(page);
  await page.getByRole('link', { name: /^Plan/ }).click();
  await page.getByRole('button', { name: 'Add the root block' }).click();
  await expect(field(page, 'Prefix')).toBeFocused();
  await page.keyboard.type('10.84.0.0/20');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Lay out all groups' }).click();
  await expect(page.getByText('21 addresses beyond what is needed later')).toBeVisible();
  await page.getByRole('button', { name: /^Add \d blocks?$/ }).click();
  await expect(item(page, /^Tickets, 10\.84\.0\.0\/26/)).toBeVisible();
  await expect(page.getByText('No problems')).toBeVisible();
  await page.getByRole('button', { name: /^Decide/ }).click();
  await saved(page);
  await expect(page.getByRole('link', { name: 'Plan: ready' })).toBeVisible();
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(item(page, /^Tickets/)).toHaveCount(0);
});

test('two windows take the same address: both takers are shown, and none is doubled', async ({ page, context }) => {
  await signIn(page, 'Maren Osterkamp');
  await openPlan(page, 'Three Stations');
  const other = await context.newPage();
  // The second window does not hear of the first one's save before it makes its own.
  await other.route('**/live', (route) => route.abort());
  await openPlan(other, 'Three Stations');
  for (const window of [page, other]) await item(window, /^winch control/).click();
  await page.keyboard.press('n');
  await expect(field(page, 'For whom')).toBeFocused();
  await page.keyboard.type('FIRST');
  await page.keyboard.press('Enter');
  await saved(page);
  await other.keyboard.press('n');
  await expect(field(other, 'For whom')).toBeFocused();
  await other.keyboard.type('SECOND');
  await other.keyboard.press('Enter');
  const dialog = other.getByRole('dialog', { name: 'Taken by two' });
  await expect(dialog.getByRole('row', { name: '10.84.4.7 FIRST SECOND' })).toBeVisible();
  await dialog.getByRole('button', { name: 'Give mine the next free one' }).click();
  await saved(other);
  await other.reload();
  await other.getByRole('textbox', { name: 'Find in the plan' }).fill('10.84.4.');
  await expect(item(other, /^10\.84\.4\.7, FIRST/)).toBeVisible();
  await expect(item(other, /^10\.84\.4\.8, SECOND/)).toBeVisible();
});

test('what is taken without a connection is marked as not confirmed until the server has it', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  await openPlan(page, 'Three Stations');
  await item(page, /^shop and staff/).click();
  await page.route('**/api/documents/*/changes', (route) => route.abort());
  await page.keyboard.press('n');
  await expect(field(page, 'For whom')).toBeFocused();
  await page.keyboard.type('OFFLINE');
  await page.keyboard.press('Enter');
  await expect(page.getByText('kept in this browser')).toBeVisible();
  await page.getByRole('textbox', { name: 'Find in the plan' }).fill('OFFLINE');
  await expect(page.getByRole('img', { name: 'not confirmed by the server yet' })).toBeVisible();
  await page.unroute('**/api/documents/*/changes');
  await page.getByRole('button', { name: 'Try now' }).click();
  await saved(page);
  await expect(page.getByRole('img', { name: 'not confirmed by the server yet' })).toHaveCount(0);
});

test('10,000 rows are read with progress and taken; CSV goes out and comes back the same', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  await openPlan(page, 'Three Stations');
  const before = await page.getByRole('treeitem').count();
  await page.keyboard.press('p');
  const rows = Array.from({ length: 10_000 }, (_one, at) => `h${at},10.84.${32 + (at >> 8)}.${at & 255}`).join('\n');
  await chooseFile(page, () => page.getByRole('button', { name: 'Choose a file' }).click(), {
    name: 'hosts.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(`host,ip\n${rows}`),
  });
  await expect(page.getByRole('button', { name: '10000 added' })).toBeVisible();
  await page.getByRole('button', { name: 'Take all 10000 lines' }).click();
  await saved(page);
  await page.getByRole('button', { name: 'More' }).click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: 'Save the plan as CSV' }).click(),
  ]);
  const csv = await textOf(download);
  expect(csv.split('\r\n').length).toBeGreaterThan(10_000);
  await page.keyboard.press('p');
  await chooseFile(page, () => page.getByRole('button', { name: 'Choose a file' }).click(), {
    name: 'plan.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(csv),
  });
  await expect(page.getByRole('button', { name: '0 added' })).toBeVisible();
  await expect(page.getByRole('button', { name: '0 refused' })).toBeVisible();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Undo' }).click();
  await saved(page);
  await expect(page.getByRole('treeitem')).toHaveCount(before);
});

test('a sheet of a spreadsheet is read by its columns; what cannot be read in it is told by line', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  await openPlan(page, 'Three Stations');
  await page.keyboard.press('p');
  await chooseFile(page, () => page.getByRole('button', { name: 'Choose a file' }).click(), {
    name: 'tills.xlsx',
    mimeType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    buffer: await readFile(path.join(__dirname, 'fixtures', 'tills.xlsx')),
  });
  await expect(page.getByRole('row', { name: /^4 × refused 10\.84\.9\.300/ })).toBeVisible();
  await page.getByRole('button', { name: 'Take the 2 good lines only' }).click();
  await page.getByRole('textbox', { name: 'Find in the plan' }).fill('by the bar');
  await expect(item(page, /^10\.84\.9\.9, TILL-9/)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await saved(page);
});

test('the drawing is compared with the plan, and each is taken over into the other', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  await openPlan(page, 'Valley Station LAN');
  await page.getByRole('button', { name: 'More' }).click();
  await page.getByRole('menuitem', { name: 'Compare with the drawing…' }).click();
  await expect(page.getByText('Plan and drawing agree')).toBeVisible();
  await page.getByRole('button', { name: 'Close' }).click();
  await item(page, /^Station LAN/).click();
  await page.getByRole('tree').focus();
  await page.keyboard.press('ArrowRight');
  await item(page, /^10\.84\.1\.11, DESK-1/).click();
  await page.keyboard.press('Delete');
  await page.getByRole('button', { name: 'More' }).click();
  await page.getByRole('menuitem', { name: 'Compare with the drawing…' }).click();
  await expect(page.getByText('DESK-1 uses 10.84.1.11; the plan does not know it.')).toBeVisible();
  await page.getByRole('button', { name: 'as drawn' }).click();
  await expect(page.getByText('Plan and drawing agree')).toBeVisible();
});

test('the address table is printed as a PDF and put into the drawing’s legend', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  await openPlan(page, 'Three Stations');
  const table = async (): Promise<void> => {
    await page.getByRole('button', { name: 'More' }).click();
    await page.getByRole('menuitem', { name: /Address table/ }).click();
  };
  await table();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Print as PDF' }).click(),
  ]);
  expect((await textOf(download)).startsWith('%PDF-')).toBe(true);
  await page.getByRole('button', { name: 'Put it into the drawing’s legend' }).click();
  await expect(page.getByText('stands in the legend of the drawing now')).toBeVisible();
  await page.getByRole('link', { name: /^Bench/ }).click();
  await expect(page.getByRole('region', { name: 'Legend' })).toContainText('10.84.1.0/26 · gateway 10.84.1.1');
  await page.getByRole('button', { name: 'About this drawing' }).click();
  await expect(page.getByRole('textbox', { name: 'Legend' })).toHaveValue(
    /Subnets:\n.*10\.84\.1\.0\/26 · gateway 10\.84\.1\.1/s,
  );
});

test('a plan file that is none is refused with the place, and the plan stays', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  await openPlan(page, 'Three Stations');
  const count = await page.getByRole('treeitem').count();
  for (const [name, text, wanted] of [
    ['broken.json', '{"format": "sobrin-plan",\n}', /line 2, column/],
    [
      'wrong.json',
      JSON.stringify({ format: 'sobrin-plan', version: 1, plan: { blocks: { a: { name: 'x' } } } }),
      /blocks › a › prefix: "prefix" is missing/,
    ],
  ] as const) {
    await page.getByRole('button', { name: 'More' }).click();
    await chooseFile(
      page,
      () => page.getByRole('menuitem', { name: 'Replace the plan by a file…' }).click(),
      json(name, text),
    );
    await expect(page.getByText(wanted)).toBeVisible();
  }
  await expect(page.getByRole('treeitem')).toHaveCount(count);
});
