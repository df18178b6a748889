import { readFile } from 'node:fs/promises';
import { addressOf, choose, expect, labWith, openBenchOf, signIn, test } from './people';

test.beforeEach(async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  const lab = await addressOf(page, 'Three Stations');
  await page.goto(`${lab}/bench`);
  await expect(page.locator('.tile').first()).toBeVisible();
});

test('a packet is followed down to its headers by keyboard, and saved as a capture', async ({ page }) => {
  await page.keyboard.press('/');
  await page.keyboard.type('trace DESK-1 CAM-1');
  await page.keyboard.press('Enter');
  await expect(page.getByText('reached, and the answer came back')).toBeVisible();
  await expect(page.getByRole('listbox', { name: 'Steps of the packet' })).toBeFocused();
  for (let step = 0; step < 9; step++) await page.keyboard.press('ArrowUp');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Enter');
  const wire = page.getByRole('region', { name: 'On the wire' });
  await expect(wire.getByRole('table', { name: /ARP RFC 826/ })).toContainText('request (1)');
  const saving = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save as a capture' }).click();
  const capture = await readFile(await (await saving).path());
  expect(capture.readUInt32LE(0)).toBe(0xa1b2c3d4);
  expect(capture.length).toBeGreaterThan(500);
});

test('a packet goes to an address that is typed; where it ends, what would have to change is told', async ({
  page,
}) => {
  await page.keyboard.press('/');
  await page.keyboard.type('trace DESK-1 203.0.113.9');
  await page.keyboard.press('Enter');
  const trace = page.getByRole('complementary', { name: 'Trace' });
  await expect(trace).toContainText('DESK-1 → 203.0.113.9');
  await expect(trace).toContainText(/Give RT-\w a route to this destination|Correct the next hop/);
  const neighbours = trace.getByRole('combobox', { name: 'Neighbours' });
  await neighbours.focus();
  await neighbours.selectOption('known');
  await expect(neighbours).toBeFocused();
  // The answer comes a moment later, and stands at its last step.
  await expect(async () => {
    await trace.getByRole('listbox', { name: 'Steps of the packet' }).focus();
    for (let step = 0; step < 4; step++) await page.keyboard.press('ArrowUp');
    await expect(page.getByRole('region', { name: 'On the wire' })).not.toContainText('ARP', { timeout: 2000 });
  }).toPass();
});

test('the reach grid tells what a device that is off would cut off, and its cells are walked by keys', async ({
  page,
}) => {
  await page.keyboard.press('m');
  const cells = page.getByRole('application', { name: /Reach grid, 33 by 33/ });
  await cells.focus();
  await expect(page.getByRole('status').filter({ hasText: 'CAM-1 → CAM-2: yes' })).toBeVisible();
  await page.getByRole('combobox', { name: 'Switched off for the moment' }).fill('SW-M2');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/cells are other than before/)).toBeVisible();
  await cells.focus();
  await page.keyboard.press('ArrowDown');
  await expect(page.getByRole('status').filter({ hasText: 'CAM-2 → CAM-2: nothing is asked' })).toBeVisible();
  await page.keyboard.press('End');
  await expect(page.getByRole('status').filter({ hasText: 'CAM-2 → WORK: no, was yes' })).toBeVisible();
  await expect(page.getByText('No interface of CAM-2 with an address is up.')).toBeVisible();
  const withReasons = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save with reasons' }).click();
  const pairs = await readFile(await (await withReasons).path(), 'utf8');
  expect(pairs).toMatch(/^from,to,address,answer,code,reason\r\n/);
  expect(pairs).toContain('No interface of CAM-2 with an address is up.');
  await page.getByRole('combobox', { name: 'Grouped' }).selectOption('group');
  await expect(page.getByRole('application', { name: /Reach grid, 1\d by 1\d/ })).toBeVisible();
  await page.getByRole('combobox', { name: 'Grouped' }).selectOption('device');
  await expect(cells).toBeVisible();
  const saving = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save as CSV' }).click();
  const table = await readFile(await (await saving).path(), 'utf8');
  expect(table.split('\r\n')[0]).toContain('CAM-1,CAM-2');
  await page.getByRole('tab', { name: 'Counts' }).click();
  const counts = page.getByRole('region', { name: 'Counts' });
  await expect(counts.getByRole('row', { name: 'switch 6' })).toBeVisible();
  await expect(counts.getByRole('row', { name: 'network devices 9' })).toBeVisible();
  await expect(counts.getByRole('row', { name: 'straight-through copper 36' })).toBeVisible();
  await expect(counts.getByText('extended star')).toBeVisible();
  await page.getByRole('tab', { name: 'What if one fails' }).click();
  await expect(page.getByText('47 of 47 devices and links cut somebody off when they fail alone.')).toBeVisible({
    timeout: 60_000,
  });
  await page
    .getByRole('row', { name: /^RT-V device/ })
    .getByRole('button', { name: 'See in the grid' })
    .click();
  await expect(page.getByText(/cells are other than before/)).toBeVisible();
});

test('the tables of a device follow what is changed on the drawing', async ({ page }) => {
  await openBenchOf(page, labWith('Tables of a device'));
  await choose(page, 'Who reaches whom');
  await expect(page.getByText('Nobody has an address yet.')).toBeVisible();
  await page.keyboard.press('Escape');
  await page
    .getByRole('button', { name: /router on a stick/i })
    .first()
    .click();
  await page.locator('.react-flow__node-tile', { hasText: 'RT' }).first().click();
  await page.keyboard.press('k');
  const tables = page.getByRole('complementary', { name: 'Tables' });
  await expect(tables.getByRole('table', { name: /^Routes/ })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(tables).toBeHidden();
});

test('a laptop is plugged in somewhere by the command field, and it is said what it gets and whom it reaches', async ({
  page,
}) => {
  const lab = await addressOf(page, 'Winch Isolation');
  await page.goto(`${lab}/bench`);
  await expect(page.locator('.react-flow__node').first()).toBeVisible();
  await page.keyboard.press('/');
  await page.keyboard.type('plug SW-M3 p1');
  await expect(page.getByText('what a laptop gets there')).toBeVisible();
  await page.keyboard.press('Enter');
  const answer = page.getByRole('alert').filter({ hasText: 'a laptop is given' });
  await expect(answer).toContainText(/In SW-M3 p1 a laptop is given 10\.84\.30\.\d+\/24\. It reaches .*NEWS/);
  await expect(answer).toContainText(/It does not reach .*WINCH-1/);
});
