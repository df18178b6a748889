import { AxeBuilder } from '@axe-core/playwright';
import { type Download, type Page } from '@playwright/test';
import { readFile } from 'node:fs/promises';
import { choose, expect, labWith, openBenchOf, openBenchOfCopy, saved, signIn, test } from './people';

const tile = (page: Page, name: string) =>
  page.locator('.react-flow__node-tile').filter({ has: page.getByText(name, { exact: true }) });
const contentOf = async (download: Download): Promise<Buffer> => readFile(await download.path());
async function save(page: Page, format: string): Promise<Buffer> {
  await choose(page, 'Save as');
  const dialog = page.getByRole('dialog', { name: 'Save the drawing' });
  await dialog.getByRole('radio', { name: format }).click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    dialog.getByRole('button', { name: 'Save', exact: true }).click(),
  ]);
  await expect(dialog).toBeHidden();
  return contentOf(download);
}
async function read(page: Page, name: string, text: string): Promise<void> {
  const choosing = page.waitForEvent('filechooser');
  await choose(page, 'Read a file');
  await (await choosing).setFiles({ name, mimeType: 'text/plain', buffer: Buffer.from(text) });
}

test('a drawing is saved as picture, paper, table and text', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  await openBenchOfCopy(page, 'three-stations', 'To be saved');
  await expect(page.locator('.react-flow__node-tile')).toHaveCount(39);
  const png = await save(page, 'Picture (PNG)');
  expect(png.subarray(1, 4).toString()).toBe('PNG');
  expect(png.readUInt32BE(16)).toBeGreaterThan(2000);
  const html = (await save(page, 'Page (HTML)')).toString();
  expect(html).toContain('<h2>Devices</h2>');
  expect(html).not.toContain('<script');
  const svg = (await save(page, 'Picture (SVG)')).toString();
  expect(svg).toContain('@font-face');
  for (const name of ['DESK-1', 'RT-M', 'Valley Station', '10.84.15.0/30']) expect(svg).toContain(`>${name}</text>`);
  expect((await save(page, 'Paper (PDF)')).subarray(0, 5).toString()).toBe('%PDF-');
  const table = (await save(page, 'One table (CSV)')).toString();
  expect(table.split('\r\n')[0]).toMatch(/^Name,Model,Site,Address/);
  expect(table).toContain('DESK-1,Desktop,Valley Station,10.84.1.11/26');
});

test('a file shows what it would change before it is taken, and is undone in one step', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  await openBenchOfCopy(page, 'valley-lan', 'To be read');
  await expect(tile(page, 'DESK-1')).toBeVisible();
  const text = (await save(page, 'Drawing as text (YAML)')).toString();
  await read(page, 'changed.yaml', text.replace('name: DESK-1', 'name: TICKETS').replace('name: PRINT', 'name: PRESS'));
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('listitem')).toHaveCount(2);
  await expect(dialog.getByRole('list', { name: 'Changes' })).toContainText('name: DESK-1 → TICKETS');
  await expect(tile(page, 'DESK-1')).toBeVisible();
  await dialog.getByRole('button', { name: 'Replace the drawing' }).click();
  await expect(tile(page, 'TICKETS')).toBeVisible();
  await expect(tile(page, 'PRESS')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(tile(page, 'DESK-1')).toBeVisible();
  await expect(tile(page, 'PRINT')).toBeVisible();
  await read(page, 'broken.graphml', '<graphml><graph>');
  await expect(page.getByText(/broken\.graphml was not taken, the drawing is as it was/)).toBeVisible();
});

test('text and drawing follow each other; comments stay, and a mistake changes nothing', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  await openBenchOfCopy(page, 'valley-lan', 'As text');
  await expect(tile(page, 'DESK-1')).toBeVisible();
  await page.keyboard.press('t');
  const editor = page.getByRole('textbox', { name: 'Text of the drawing' });
  await expect(editor).toContainText('format: sobrin-topology');
  const type = async (text: string): Promise<void> => {
    await editor.click();
    await page.keyboard.press('Control+Home');
    await page.keyboard.press('End');
    await page.keyboard.press('Enter');
    await page.keyboard.insertText(text);
  };
  await type('# typed by hand');
  await type('title: 7 [');
  await expect(page.getByText('the drawing waits until')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByText('The drawing follows the text.')).toBeVisible();
  // Renamed on the drawing, it is renamed in the text; the comment is still there.
  await page.keyboard.press('Escape');
  await tile(page, 'DESK-1').dblclick();
  await page.getByLabel('New name of DESK-1').fill('TICKETS');
  await page.keyboard.press('Enter');
  await saved(page);
  await expect(editor).toContainText('# typed by hand');
  await expect(editor).toContainText('TICKETS');
  await page.reload();
  await expect(tile(page, 'TICKETS')).toBeVisible();
  await page.keyboard.press('t');
  await expect(editor).toContainText('# typed by hand');
});

test('a version is named, compared with what came after it, and gone back to', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  await openBenchOfCopy(page, 'valley-lan', 'With versions');
  await expect(tile(page, 'DESK-1')).toBeVisible();
  await page.keyboard.press('v');
  const dialog = page.getByRole('dialog', { name: 'Versions of this drawing' });
  const listed = dialog.getByRole('listbox', { name: 'Versions' });
  await dialog.getByLabel('Name it as it is now').fill('Before the party');
  await dialog.getByRole('button', { name: 'Keep' }).click();
  await expect(listed.getByRole('option', { name: /Before the party.*Maren Osterkamp/ })).toBeVisible();
  await dialog.getByRole('button', { name: 'Close' }).click();
  await expect(dialog).toBeHidden();
  await tile(page, 'DESK-1').dblclick();
  await page.getByLabel('New name of DESK-1').fill('BAR');
  await page.keyboard.press('Enter');
  await expect(tile(page, 'BAR')).toBeVisible();
  await saved(page);
  await expect(async () => {
    await tile(page, 'PRINT').click();
    await expect(page.getByRole('complementary', { name: 'Inspector' })).toContainText('PRINT', { timeout: 2000 });
  }).toPass();
  await page.keyboard.press('Delete');
  await expect(tile(page, 'PRINT')).toBeHidden();
  await saved(page);
  await page.keyboard.press('v');
  await listed.getByRole('option', { name: /Before the party/ }).click();
  await expect(dialog.getByText(/Since then: 1 device changed, 1 device and 1 link removed/)).toBeVisible();
  // Another version instead of the drawing as it is now.
  await dialog.getByLabel('Name it as it is now').fill('After the party');
  await dialog.getByRole('button', { name: 'Keep' }).click();
  await dialog.getByLabel('Compared with').selectOption({ label: 'After the party, Maren Osterkamp' });
  await expect(dialog.getByText(/In “After the party”: 1 device changed, 1 device and 1 link removed/)).toBeVisible();
  await listed.getByRole('option', { name: /After the party/ }).click();
  await dialog.getByLabel('Compared with').selectOption({ label: 'Before the party, Maren Osterkamp' });
  await expect(dialog.getByText(/In “Before the party”: 1 device and 1 link added, 1 device changed/)).toBeVisible();
  await listed.getByRole('option', { name: /Before the party/ }).click();
  await dialog.getByLabel('Compared with').selectOption({ label: 'the drawing as it is now' });
  await expect(dialog.getByRole('list', { name: 'Changes' })).toContainText('name: DESK-1 → BAR');
  const pictured = (name: string) => dialog.locator('.react-flow__node-tile').getByText(name, { exact: true });
  await expect(pictured('PRINT')).toBeVisible();
  await dialog.getByRole('button', { name: 'As it is now' }).click();
  await expect(pictured('BAR')).toBeVisible();
  await expect(pictured('PRINT')).toBeHidden();
  const { violations } = await new AxeBuilder({ page }).include('[role=dialog]').analyze();
  expect(violations).toEqual([]);
  await dialog.getByRole('button', { name: 'Go back to this version' }).click();
  await expect(tile(page, 'DESK-1')).toBeVisible();
  await expect(tile(page, 'PRINT')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(tile(page, 'BAR')).toBeVisible();
});

test('a lab is made of a version, and another one begins with the devices of a lab', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  await openBenchOfCopy(page, 'valley-lan', 'To be copied');
  await page.keyboard.press('v');
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Name it as it is now').fill('First');
  await dialog.getByRole('button', { name: 'Keep' }).click();
  await dialog.getByRole('option', { name: /First/ }).click();
  await expect(dialog.getByRole('option', { name: /First/ }).locator('img')).toHaveJSProperty('complete', true);
  await dialog.getByRole('button', { name: 'Make a lab of it' }).click();
  await dialog.getByRole('link', { name: 'Open the new lab' }).click();
  await expect(page.getByRole('heading', { name: 'To be copied, First' })).toBeVisible();
  await expect(tile(page, 'DESK-1')).toBeVisible();
  const count = await page.locator('.react-flow__node-tile').count();

  await openBenchOf(page, labWith('To be begun'));
  await page.getByRole('button', { name: 'Or from another lab…' }).click();
  await dialog.getByRole('radio', { name: /To be copied, First/ }).check();
  await dialog.getByRole('radio', { name: /Devices only/ }).check();
  await dialog.getByRole('button', { name: 'Look at it first' }).click();
  await expect(dialog).toContainText(`${count} devices`);
  await dialog.getByRole('button', { name: 'Take it' }).click();
  await expect(page.locator('.react-flow__node-tile')).toHaveCount(count);
  await expect(page.locator('.links [data-state]')).toHaveCount(0);
});

test('an empty sheet begins with a network that works, and is empty again after one undo', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  await openBenchOf(page, labWith('From a starter'));
  await page.getByRole('button', { name: /^Two sites/ }).click();
  await expect(page.locator('.react-flow__node-tile')).toHaveCount(10);
  await expect(page.locator('.links [data-state=up]')).toHaveCount(9);
  await expect(page.getByText('No problems')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByText('An empty sheet')).toBeVisible();
});

test('a reference is looked at without signing in until its address is taken back', async ({
  page,
  browser,
  baseURL,
}) => {
  await signIn(page, 'Maren Osterkamp');
  await openBenchOfCopy(page, 'valley-lan', 'Shown');
  const dialog = page.getByRole('dialog');
  await choose(page, 'Show it without signing in');
  await expect(dialog).toContainText('It is not shown');
  await dialog.getByRole('button', { name: 'Make an address' }).click();
  const address = await dialog.getByLabel('Address').inputValue();
  const stranger = await browser.newContext({ baseURL: baseURL! });
  const there = await stranger.newPage();
  await there.goto(address);
  await expect(there.getByRole('heading', { name: 'Shown' })).toBeVisible();
  await expect(there.locator('.react-flow__node-tile').first()).toBeVisible();
  expect(await there.getByRole('textbox').count()).toBe(0);
  await dialog.getByRole('button', { name: 'Take the address back' }).click();
  await expect(dialog).toContainText('It is not shown');
  await there.reload();
  await expect(there.getByText('Nothing is shown here')).toBeVisible();
  await stranger.close();
});

test('tables of devices and links are read with a preview, and undone in one step', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  await openBenchOf(page, labWith('Tables'));
  const choosing = page.waitForEvent('filechooser');
  await choose(page, 'Read a file');
  const file = (name: string, text: string) => ({ name, mimeType: 'text/csv', buffer: Buffer.from(text) });
  await (
    await choosing
  ).setFiles([
    file('devices.csv', 'Name,Type,IP,Mask\nTILL-1,till,10.84.1.2,/26\nSW-1,switch,,\n'),
    file('links.csv', 'From,To\nTILL-1,SW-1\nTILL-1,TILL-9\n'),
  ]);
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('alert')).toContainText('there is no "TILL-9"');
  await expect(dialog).toContainText('2 devices and 1 link added');
  await dialog.getByRole('button', { name: 'Take it' }).click();
  await expect(page.locator('.react-flow__node-tile')).toHaveCount(2);
  await page.keyboard.press('Control+z');
  await expect(page.locator('.react-flow__node-tile')).toHaveCount(0);
});
