import { type Page } from '@playwright/test';
import { expect, labWith, openBenchOf, openBenchOfCopy, openOwnBench, saved, signIn, test } from './people';

const tile = (page: Page, name: string) =>
  page.locator('.react-flow__node-tile').filter({ has: page.getByText(name, { exact: true }) });
const links = (page: Page) => page.locator('.links [data-link]');

async function emptyBench(page: Page): Promise<void> {
  await openOwnBench(page, 'Three Stations');
  await page.keyboard.press('Control+a');
  await page.keyboard.press('Delete');
  await expect(page.getByText('An empty sheet')).toBeVisible();
}

/** A router, a switch and four hosts, on a sheet that was emptied: no test goes by what another left. */
async function smallNetwork(page: Page): Promise<void> {
  await emptyBench(page);
  await page.getByRole('button', { name: 'One LAN' }).click();
  await expect(links(page)).toHaveCount(5);
  await saved(page);
  await page.getByRole('button', { name: 'Show all' }).click();
}

async function addByKeyboard(page: Page, search: string, count = 1): Promise<void> {
  await page.keyboard.press('Escape');
  await page.keyboard.press('a');
  await page.getByLabel('Search by name, kind or use').fill(search);
  if (count > 1) await page.getByLabel('How many').fill(String(count));
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog')).toBeHidden();
}

async function link(page: Page, a: string, b: string): Promise<void> {
  await page.keyboard.press('Escape');
  await page.keyboard.press('/');
  await page.keyboard.type(`link ${a} ${b}`);
  await page.keyboard.press('Enter');
  await page.getByLabel('Medium').selectOption('straight');
  await page.getByRole('button', { name: 'Link', exact: true }).last().click();
  await expect(page.getByRole('dialog')).toBeHidden();
}

test('a student builds a small network with the keyboard; undo, redo and a reload keep it right', async ({ page }) => {
  await signIn(page, 'Zofia Wrona');
  await emptyBench(page);
  await addByKeyboard(page, 'border router');
  await addByKeyboard(page, 'access switch 20');
  await addByKeyboard(page, 'desktop', 2);
  await expect(page.locator('.react-flow__node-tile')).toHaveCount(4);
  await link(page, 'RT-1', 'SW-1');
  await link(page, 'SW-1', 'PC-1');
  await link(page, 'SW-1', 'PC-2');
  await expect(links(page)).toHaveCount(3);
  await expect(page.locator('.links [data-state="up"]')).toHaveCount(3);

  await tile(page, 'PC-1').click();
  await page.keyboard.press('F2');
  await expect(page.getByLabel('New name of PC-1')).toBeFocused();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('DESK-1');
  await page.keyboard.press('Enter');
  await expect(tile(page, 'DESK-1')).toBeVisible();
  const address = page.getByLabel('Address of e0');
  await address.fill('10.84.1.300/26');
  await expect(address).toHaveAccessibleDescription(/300/);
  await address.fill('10.84.1.11/26');
  await address.press('Enter');
  await page.getByLabel('Gateway', { exact: true }).fill('10.84.1.1');
  await page.getByLabel('Gateway', { exact: true }).press('Enter');
  await expect(tile(page, 'DESK-1')).toContainText('.11');

  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByLabel('Gateway', { exact: true })).toHaveValue('');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByLabel('Address of e0')).toHaveValue('');
  await page.getByRole('button', { name: 'Redo' }).click();
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect(page.getByLabel('Gateway', { exact: true })).toHaveValue('10.84.1.1');
  await saved(page);
  await page.reload();
  await expect(tile(page, 'DESK-1')).toContainText('.11');
  await expect(links(page)).toHaveCount(3);
});

test('a device is dragged where it should stand, and its links come along', async ({ page }) => {
  await signIn(page, 'Zofia Wrona');
  await smallNetwork(page);
  const router = tile(page, 'RT-1');
  const before = (await router.boundingBox())!;
  const lines = () =>
    page.locator('.links [data-link] .wire').evaluateAll((all) => all.map((element) => element.getAttribute('d')));
  const drawn = await lines();
  await page.mouse.move(before.x + 60, before.y + 20);
  await page.mouse.down();
  await page.mouse.move(before.x + 20, before.y - 100, { steps: 8 });
  await page.mouse.up();
  await saved(page);
  const after = (await router.boundingBox())!;
  expect(Math.round(after.y - before.y)).toBeLessThan(-80);
  expect(await lines()).not.toEqual(drawn);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => Math.round((await router.boundingBox())!.y - before.y)).toBe(0);
});

test('links survive being panned out of sight, and are drawn between two tiles by pulling', async ({ page }) => {
  await signIn(page, 'Zofia Wrona');
  await smallNetwork(page);
  const pane = (await page.locator('.react-flow__pane').boundingBox())!;
  for (const by of [-1200, 1200]) {
    await page.mouse.move(pane.x + 640, pane.y + 560);
    await page.mouse.down();
    await page.mouse.move(pane.x + 640 + by, pane.y + 560, { steps: 5 });
    await page.mouse.up();
  }
  await expect(links(page)).toHaveCount(5);
  await page.getByRole('button', { name: 'Show all' }).click();
  await tile(page, 'PC-2').hover();
  await tile(page, 'PC-2').locator('.tile-grip').dragTo(tile(page, 'RT-1'));
  await expect(page.getByRole('dialog')).toContainText('Link two devices');
  await expect(page.getByLabel('From', { exact: true })).toHaveValue('PC-2');
  await expect(page.getByLabel('To', { exact: true })).toHaveValue('RT-1');
  // The only port of the host is taken: that is said instead of offering it.
  await expect(page.getByLabel('Port at the first end')).toContainText('no port is free');
  await expect(page.getByRole('button', { name: 'Link', exact: true }).last()).toBeDisabled();
});

test('a network is drawn, configured and cleared with the command field alone, and is there after a reload', async ({
  page,
}) => {
  await signIn(page, 'Maren Osterkamp');
  await openBenchOfCopy(page, 'three-stations', 'Typed network');
  const type = async (text: string): Promise<void> => {
    await page.keyboard.press('/');
    await page.keyboard.type(text);
    await page.keyboard.press('Enter');
    await expect(page.getByRole('combobox', { name: 'Command' })).toHaveValue('');
  };
  for (const line of [
    'site Test bench',
    '4 desktops at Test',
    'switch 12 as SW-A at Test',
    'router RT-A at Test',
    'link PC-* SW-A',
    'link RT-A g0 SW-A u1',
    'vlan 20 SW-A p1-p4',
    'trunk SW-A u1 20',
    'PC-1 10.77.20.11/24',
    'gateway PC-1 10.77.20.1',
    'dhcp PC-2',
    'route RT-A 10.84.0.0/16 via 10.77.20.2',
    'delete PC-4',
  ])
    await type(line);
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.reload();
  await expect(tile(page, 'PC-1')).toContainText('.11');
  await expect(tile(page, 'PC-4')).toHaveCount(0);
  const shown = (label: string) => page.getByRole('complementary').getByLabel(label, { exact: true });
  await page.keyboard.press('/');
  await page.keyboard.type('RT-A');
  await page.keyboard.press('Enter');
  await expect(page.locator('input[value="10.84.0.0/16"]')).toBeVisible();
  await page.keyboard.press('/');
  await page.keyboard.type('PC-1');
  await page.keyboard.press('Enter');
  await expect(shown('Gateway')).toHaveValue('10.77.20.1');
  await page.keyboard.press('/');
  await page.keyboard.type('ping PC-1 10.77.20.1');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('complementary', { name: 'Trace' })).toContainText('nobody answers');
});

test('an instructor draws with the command field and by clicking, and follows a packet', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  await openBenchOfCopy(page, 'three-stations', 'Pylon network one');
  await expect(tile(page, 'DESK-1')).toBeVisible();
  const type = async (text: string): Promise<void> => {
    await page.keyboard.press('/');
    await page.keyboard.type(text);
    await page.keyboard.press('Enter');
  };
  const before = await links(page).count();
  await type('pc x3 at Valley');
  for (const name of ['PC-1', 'PC-2', 'PC-3']) await expect(tile(page, name)).toBeVisible();
  await type('link PC-* SW-V2');
  await expect(links(page)).toHaveCount(before + 3);
  await type('find PC-');
  await page.getByRole('button', { name: 'Line up' }).click();
  await page.getByRole('menuitem', { name: 'Align bottom' }).click();
  const bottoms = await Promise.all(['PC-1', 'PC-2'].map(async (name) => (await tile(page, name).boundingBox())!.y));
  expect(Math.abs(bottoms[0]! - bottoms[1]!)).toBeLessThan(1);

  // A copy has a name and an address of its own, and is linked by clicking both ends.
  await type('SHOP');
  await page.keyboard.press('Control+d');
  await expect(tile(page, 'SHOP-2')).toBeVisible();
  await expect(tile(page, 'SHOP-2')).not.toContainText('.66');
  await page.keyboard.press('l');
  await expect(page.getByRole('status').filter({ hasText: 'Link from SHOP-2' })).toBeVisible();
  await tile(page, 'SW-V2').click();
  await expect(links(page)).toHaveCount(before + 4);
  await page.keyboard.press('Escape');

  // Copied and pasted: another name and another address again.
  await page.keyboard.press('Escape');
  await type('SHOP');
  await page.keyboard.press('Control+c');
  await page.keyboard.press('Control+v');
  await expect(tile(page, 'SHOP-3')).toBeVisible();

  await type('trace DESK-1 SHOP');
  const trace = page.getByRole('complementary', { name: 'Trace' });
  await expect(trace).toContainText('reached, and the answer came back');
  const steps = trace.getByRole('listbox', { name: 'Steps of the packet' });
  await expect(steps.getByRole('option')).toHaveCount(6);
  await page.keyboard.press('ArrowUp');
  await expect(steps.getByRole('option', { selected: true })).toContainText('RT-V');
  await page.keyboard.press('Escape');
  await expect(trace).toBeHidden();
});

test('keyboard only: a router, a switch and two hosts are built, cabled, addressed and handed in', async ({ page }) => {
  await signIn(page, 'Zofia Wrona');
  await emptyBench(page);
  const type = async (text: string): Promise<void> => {
    await page.keyboard.press('Escape');
    await page.keyboard.press('/');
    await page.keyboard.type(text);
    await page.keyboard.press('Enter');
  };
  const address = async (name: string, text: string): Promise<void> => {
    await type(name);
    await expect(page.getByRole('complementary', { name: 'Inspector' })).toContainText(name);
    await page.keyboard.press('e');
    await page.keyboard.type(text);
    await page.keyboard.press('Enter');
    await page.keyboard.press('Escape');
  };
  await type('border router');
  await type('switch 12');
  await type('pc x2');
  await expect(page.locator('.react-flow__node-tile')).toHaveCount(4);
  for (const link of ['RT-1 g0 SW-1 u1', 'PC-1 e0 SW-1 p1', 'PC-2 e0 SW-1 p2']) await type(`link ${link} straight`);
  await expect(page.locator('.links [data-state="up"]')).toHaveCount(3);
  await address('RT-1', '10.84.1.1/26');
  await address('PC-1', '10.84.1.11/26');
  await address('PC-2', '10.84.1.12 255.255.255.192');
  await expect(tile(page, 'PC-2')).toContainText('.12');
  await type('trace PC-1 PC-2');
  await expect(page.getByRole('complementary', { name: 'Trace' })).toContainText('reached, and the answer came back');
  await page.keyboard.press('Escape');
  await saved(page);
  // To handing in: what Tab reaches is focused and pressed, no mouse.
  await page.getByRole('link', { name: 'Tasks' }).focus();
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: /^Hand in attempt/ }).focus();
  await page.keyboard.press('Enter');
  await page.getByRole('dialog').waitFor();
  await page.keyboard.press('Tab');
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /^Hand in/ })
    .focus();
  await page.keyboard.press('Enter');
  await expect(page.getByText(/Attempt 1/).first()).toBeVisible();
});

test('a drawing is arranged, a column is pasted into the strip, and a problem is mended by its repair', async ({
  page,
}) => {
  await signIn(page, 'Maren Osterkamp');
  await openBenchOfCopy(page, 'three-stations', 'Pylon network two');
  await expect(tile(page, 'DESK-1')).toBeVisible();
  await page.getByRole('button', { name: 'Line up' }).click();
  await page.getByRole('menuitem', { name: 'Arrange everything' }).click();
  const rowOf = (names: string[]) =>
    Promise.all(names.map(async (name) => Math.round((await tile(page, name).boundingBox())!.y)));
  // Tiles are on their way for a moment.
  const rows = (...names: string[]) => expect.poll(async () => new Set(await rowOf(names)).size);
  await rows('RT-V', 'RT-M', 'RT-S').toBe(1);
  await rows('DESK-1', 'DESK-2', 'TURN-3').toBe(1);

  await page.getByRole('button', { name: /^Devices/ }).click();
  await page.getByLabel('Filter the sheet').fill('CAM');
  const grid = page.getByRole('grid', { name: 'Devices' });
  await grid.focus();
  await page.keyboard.press('Control+Home');
  await page.keyboard.type('EYE-1');
  await page.keyboard.press('Enter');
  await expect(tile(page, 'EYE-1')).toBeVisible();
  await page.getByRole('button', { name: /^Links/ }).click();
  await page.getByLabel('Filter the sheet').fill('DESK-1');
  await page.getByRole('grid', { name: 'Links' }).focus();
  await page.keyboard.press('Control+Home');
  for (let at = 0; at < 5; at++) await page.keyboard.press('ArrowRight');
  await page.keyboard.type('crossover copper');
  await page.keyboard.press('Enter');

  await page.getByRole('button', { name: '1 problem', exact: true }).click();
  await page.getByRole('button', { name: 'Take straight-through copper' }).click();
  await page.keyboard.press('Escape');
  await expect(page.getByText('No problems')).toBeVisible();
});

test('a click on a device takes the device, also where a cable was laid past it', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  const host = (name: string, x: number) => ({ name, model: 'desktop', at: { x, y: 160 } });
  await openBenchOf(
    page,
    labWith('A cable over a host', {
      format: 'sobrin-topology',
      version: 1,
      sites: {},
      devices: { a: host('PC-A', 80), b: host('PC-B', 240), c: host('PC-C', 400) },
      links: {
        l: {
          a: { device: 'a', port: 'e0' },
          b: { device: 'c', port: 'e0' },
          medium: 'crossover',
          bends: [{ x: 260, y: 180 }],
        },
      },
    }),
  );
  await expect(links(page)).toHaveCount(1);
  await tile(page, 'PC-B').click();
  await page.keyboard.press('F2');
  await expect(page.getByLabel('New name of PC-B')).toBeFocused();
  await page.keyboard.press('Escape');
  const [a, b] = [(await tile(page, 'PC-A').boundingBox())!, (await tile(page, 'PC-B').boundingBox())!];
  await page.mouse.click((a.x + a.width + b.x) / 2, a.y + a.height / 2);
  await expect(page.getByRole('heading', { name: 'PC-A – PC-C' })).toBeVisible();
  await expect(page.getByText(/Runs beneath PC-B/)).toBeVisible();
  await page.getByRole('button', { name: 'Undo bends and moved texts' }).click();
  await expect(page.getByText(/Runs beneath/)).toHaveCount(0);
  await saved(page);
  await page.reload();
  await expect(links(page)).toHaveCount(1);
  const corners = await page.locator('[data-hit=l]').getAttribute('d');
  expect(corners!.split('L').length).toBeGreaterThan(2);
});

test('a menu at the pointer has what goes with a device, several, a cable, a port and the sheet; the key for menus opens it, too', async ({
  page,
}) => {
  await signIn(page, 'Maren Osterkamp');
  const host = (name: string, x: number) => ({ name, model: 'desktop', at: { x, y: 160 } });
  await openBenchOf(
    page,
    labWith('Menus at the pointer', {
      format: 'sobrin-topology',
      version: 1,
      sites: {},
      devices: { a: host('PC-A', 80), b: host('PC-B', 400), c: host('PC-C', 600) },
      links: { l: { a: { device: 'a', port: 'e0' }, b: { device: 'b', port: 'e0' }, medium: 'crossover' } },
    }),
  );
  const item = (name: RegExp) => page.getByRole('menuitem', { name });
  /** A menu that is on its way out still takes what is pressed beside it. */
  const askAt = async (x: number, y: number): Promise<void> => {
    await expect(page.getByRole('menu')).toHaveCount(0);
    await page.mouse.click(x, y, { button: 'right' });
  };
  await expect(page.locator('.links [data-state="up"]')).toHaveCount(1);
  await tile(page, 'PC-A').click({ button: 'right' });
  await expect(item(/^Rename/)).toBeVisible();
  await expect(item(/^Follow a packet/)).toHaveCount(0);
  await item(/^Switch off/).click();
  await expect(page.locator('.links [data-state="up"]')).toHaveCount(0);
  // With the first one the inspector comes and takes room: what one presses next stands still only after that.
  const inspector = page.getByRole('complementary', { name: 'Inspector' });
  await expect(async () => {
    await tile(page, 'PC-B').click();
    await expect(inspector).toContainText('PC-B', { timeout: 3000 });
    await page.keyboard.down('Shift');
    await tile(page, 'PC-C').click();
    await page.keyboard.up('Shift');
    await expect(inspector).toContainText('2 devices', { timeout: 3000 });
  }).toPass();
  await tile(page, 'PC-C').click({ button: 'right' });
  // Only where several are chosen, and asking for the menu did not change that.
  await item(/^Group/).click();
  await expect(page.getByRole('complementary', { name: 'Inspector' })).toContainText('2 devices');
  const [a, b] = [(await tile(page, 'PC-A').boundingBox())!, (await tile(page, 'PC-B').boundingBox())!];
  await askAt((a.x + a.width + b.x) / 2, a.y + a.height / 2);
  await item(/^Break the cable/).click();
  await askAt(b.x, b.y + 250);
  await expect(item(/^Rename/)).toHaveCount(0);
  await item(/^Add a note/).click();
  await page.keyboard.press('Escape');
  await tile(page, 'PC-A').focus();
  await page.keyboard.press('ContextMenu');
  await item(/^Switch on/).click();
  await saved(page);
  await page.reload();
  await expect(page.locator('.links [data-state="down"]')).toHaveCount(1);
  await expect(page.getByText('No problems')).toHaveCount(0);
  await page.locator('[data-hit=l]').dispatchEvent('contextmenu');
  await item(/^Take a whole cable/).click();
  await expect(page.locator('.links [data-state="up"]')).toHaveCount(1);
  const chip = (await page.locator('[data-ends=l] rect.chip').first().boundingBox())!;
  await askAt(chip.x + chip.width / 2, chip.y + chip.height / 2);
  await item(/^Switch PC-A e0 off/).click();
  await expect(page.locator('.links [data-state="up"]')).toHaveCount(0);
});

test('a hand that trembles by two pixels still clicks; the device is chosen and stays where it was', async ({
  page,
}) => {
  await signIn(page, 'Zofia Wrona');
  await smallNetwork(page);
  const host = tile(page, 'PC-1');
  const before = (await host.boundingBox())!;
  const [x, y] = [before.x + before.width / 2, before.y + before.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 2, y + 2);
  await page.mouse.up();
  await expect(page.getByLabel('Inspector')).toContainText('PC-1');
  expect(await host.boundingBox()).toEqual(before);
});

test('what is new stays in sight when the inspector comes late and takes room of the drawing', async ({ page }) => {
  await signIn(page, 'Zofia Wrona');
  let give = (): void => {};
  const asked = new Promise<void>((resolve) => (give = resolve));
  await page.route('**/assets/inspector-*.js', async (route) => {
    await asked;
    await route.continue();
  });
  await emptyBench(page);
  await addByKeyboard(page, 'desktop', 14);
  await expect(page.locator('.react-flow__node-tile')).toHaveCount(14);
  // Until the drawing stands still with all the room that it has now.
  await tile(page, 'PC-14').hover();
  give();
  const panel = page.getByLabel('Inspector');
  await expect(panel).toBeVisible();
  const left = (await panel.boundingBox())!.x;
  const ends = () =>
    page
      .locator('.react-flow__node-tile')
      .evaluateAll((tiles) => Math.max(...tiles.map((element) => element.getBoundingClientRect().right)));
  await expect.poll(ends).toBeLessThan(left);
});
