import { type Page } from '@playwright/test';
import { expect, openBenchOfCopy, signIn, test } from './people';

/** Where the focus is, in words; "nowhere" on the page itself, or on what cannot be used. */
const focused = (page: Page): Promise<string> =>
  page.evaluate(() => {
    const at = document.activeElement;
    if (!at || at === document.body || at.matches(':disabled')) return 'nowhere';
    return `${at.tagName.toLowerCase()} ${at.getAttribute('aria-label') ?? at.textContent?.trim().slice(0, 30) ?? ''}`;
  });

test('after whatever one does by keys the focus is where one goes on, never nowhere', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  await openBenchOfCopy(page, 'three-stations', 'Focus');
  const lab = /^.*\/labs\/[^/]+/.exec(page.url())![0];
  const lost: string[] = [];
  let done = 0;
  const act = async (what: string, ...keys: string[]): Promise<void> => {
    for (const key of keys)
      if (key.length > 1 && key.startsWith('"')) await page.keyboard.type(key.slice(1));
      else await page.keyboard.press(key);
    done++;
    // What a list or a dialog does with it comes first, and a frame later what is left.
    await expect
      .poll(() => focused(page), { timeout: 5000 })
      .not.toBe('nowhere')
      .catch(() => lost.push(what));
  };
  const tiles = page.locator('.react-flow__node-tile');
  const chosen = page.locator('.react-flow__node-tile.selected');
  await tiles.first().waitFor();
  await act('through the parts to the drawing', 'F6', 'F6', 'F6');
  await act('the command field', '/');
  await act('leave it', 'Escape');
  await act('add by the field', '/', '"2 desktops', 'Enter');
  await expect(tiles.filter({ hasText: 'PC-2' })).toHaveCount(1);
  await act('jump to a device', '/', '"RT-M', 'Enter');
  await act('to the inspector', 'i');
  await act('next field', 'Tab');
  await act('back to the tile', 'Escape');
  await act('next tile', 'Tab');
  await act('choose it', 'Space');
  await act('choose another as well', 'Tab', 'Shift+Space');
  await expect(chosen).toHaveCount(2);
  await act('take it out again', 'Shift+Space');
  await expect(chosen).toHaveCount(1);
  await act('choose nothing', 'Escape');
  await act('choose everything', 'Control+a');
  await expect(chosen).toHaveCount(await tiles.count());
  await act('nothing again', 'Escape');
  await expect(chosen).toHaveCount(0);
  await act('move it', 'Space', 'ArrowRight');
  await act('undo', 'Control+z');
  await act('redo', 'Control+Shift+z');
  const before = await tiles.count();
  await act('remove', 'Delete');
  await expect(tiles).toHaveCount(before - 1);
  await act('undo the removal', 'Control+z');
  await expect(tiles).toHaveCount(before);
  await act('kit', 'a');
  await act('close the kit', 'Escape');
  await act('kit again', 'a', '"printer', 'Enter');
  await act('a site', 's');
  await act('leave its name', 'Escape');
  await act('a note', '/', '"add a note', 'Enter');
  await act('leave the note', 'Escape', 'Escape');
  await act('rename', '/', '"PRINT', 'Enter', 'F2');
  await act('leave the name', 'Escape');
  await act('comment', 'c');
  await act('close the comment', 'Escape', 'Escape');
  await act('tables', '/', '"RT-V', 'Enter', 'k');
  await act('close the tables', 'Escape');
  await act('trace', '/', '"trace DESK-1 CAM-1', 'Enter');
  await act('step', 'ArrowDown');
  await expect(page.getByRole('complementary', { name: 'Trace' })).toBeVisible();
  await act('close the trace', 'Escape');
  await expect(page.getByRole('complementary', { name: 'Trace' })).toBeHidden();
  await act('reach grid', 'm');
  await act('close it', 'Escape');
  await act('text', 't');
  await act('close the text', 'Escape', 'Escape');
  await act('versions', 'v');
  await act('close them', 'Escape');
  await act('link dialog', 'Shift+l');
  await act('close it', 'Escape');
  await act('keys', '?');
  await act('close the keys', 'Escape');
  await act('next problem', 'F8');
  for (let part = 0; part < 5; part++) await act(`part ${part}`, 'F6');

  await page.goto(`${lab}/plan`);
  await page.getByRole('tree').focus();
  await act('a block', 'ArrowDown');
  await act('open it', 'ArrowRight');
  await act('add a block', 'a');
  await act('type a name', '"Kiosk', 'Enter');
  await act('leave', 'Escape');
  await act('undo it', 'Control+z');
  await act('divide', 'd');
  await act('close it', 'Escape');
  await act('next address', 'n');
  await act('leave it', 'Escape');

  await page.goto(`${lab}/spec`);
  await page.locator('[data-requirement]').first().waitFor();
  const more = page.getByRole('button', { name: 'More for requirement 1.2' });
  await more.focus();
  await act('the menu of a requirement', 'Enter');
  await act('remove it', 'ArrowUp', 'Enter');
  await act('undo', 'Control+z');
  await page.getByRole('button', { name: 'Add a section' }).focus();
  await act('a section', 'Enter');
  await act('undo the section', 'Control+z');
  expect(lost).toEqual([]);
  expect(done).toBeGreaterThanOrEqual(60);
});

test('in panels, and when they are switched off, keys of one character do nothing', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  await openBenchOfCopy(page, 'winch-isolation', 'Silence');
  await page.locator('.react-flow__node-tile').first().click();
  const panel = page.getByRole('complementary', { name: 'Inspector' });
  const undo = page.getByRole('button', { name: 'Undo', exact: true });
  const devices = await page.locator('.react-flow__node-tile').count();
  const all = [
    ...'abcdefghijklmnopqrstuvwxyz[]/?'.split(''),
    'Delete',
    'Backspace',
    'ArrowLeft',
    'ArrowDown',
    'Shift+l',
  ];
  const pressAll = async (): Promise<void> => {
    for (const key of all) await page.keyboard.press(key);
    await expect(page.getByRole('dialog')).toHaveCount(0);
    await expect(undo).toBeDisabled();
    await expect(page.locator('.react-flow__node-tile')).toHaveCount(devices);
    await expect(panel).toBeVisible();
  };
  const button = panel.getByRole('button').first();
  await button.focus();
  await pressAll();
  await expect(button).toBeFocused();

  await page.locator('.react-flow__node-tile').first().focus();
  await page.keyboard.press('?');
  const keys = page.getByRole('dialog', { name: 'Keys of this page' });
  await keys.getByRole('switch').press('Space');
  await keys.getByRole('button', { name: 'Close' }).press('Enter');
  await page.locator('.react-flow__node-tile').first().focus();
  for (const key of all.filter((each) => each.length === 1)) await page.keyboard.press(key);
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(undo).toBeDisabled();
  // What has Control, and what is no character, is there still; so is the way back.
  await page.reload();
  await page.locator('.react-flow__node-tile').first().waitFor();
  await page.getByRole('button', { name: /^Signed in as/ }).press('Enter');
  await page.getByRole('menuitem', { name: 'Keys…' }).press('Enter');
  await expect(keys.getByRole('switch')).not.toBeChecked();
  await keys.getByRole('button', { name: 'Change the key for Add from the kit' }).waitFor();
  await keys.getByRole('switch').press('Space');
  await keys.getByRole('button', { name: 'Change the key for Add from the kit' }).press('Enter');
  await page.keyboard.press('y');
  await keys.getByRole('button', { name: 'Close' }).press('Enter');
  await page.locator('.react-flow__node-tile').first().focus();
  await page.keyboard.press('a');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.keyboard.press('y');
  await expect(page.getByRole('dialog')).toContainText('Add from the kit');
});
