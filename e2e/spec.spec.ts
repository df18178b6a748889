import { addressOf, chooseFile, copyOf, expect, json, labWith, makeLab, saved, signIn, test, textOf } from './people';

test('an instructor changes points and words, reorders, adds a requirement, and undoes', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  const lab = await addressOf(page, 'Valley Station LAN');
  await page.goto(`${lab}/spec`);
  const rows = page.locator('[data-requirement]');
  await expect(rows.first()).toBeVisible();
  const count = await rows.count();
  expect(count).toBeGreaterThanOrEqual(20);
  await expect(page.getByText(/The reference earns 41 of 41/)).toBeVisible();
  // On paper it is as long as it is, not as long as the window.
  await page.emulateMedia({ media: 'print' });
  const [paper, last] = [page.locator('html'), rows.last()];
  const end = await last.evaluate((row) => row.getBoundingClientRect().bottom);
  expect(end).toBeGreaterThan(1000);
  expect(await paper.evaluate((html) => html.scrollHeight)).toBeGreaterThanOrEqual(Math.floor(end));
  await page.emulateMedia({ media: null });

  const points = page.getByLabel('Points of 1.1', { exact: true });
  await points.fill(String(Number(await points.inputValue()) + 1));
  await points.press('Enter');
  await saved(page);
  await expect(page.getByText(/The reference earns 42 of 42/)).toBeVisible();

  const first = page.locator('[data-requirement="1.2"]');
  await first.getByRole('button', { name: /exactly/ }).click();
  await page.getByRole('menuitem', { name: 'at least' }).click();
  await expect(first).toContainText('at least');
  await saved(page);

  await page.getByRole('button', { name: 'Move requirement 1.1' }).focus();
  await page.keyboard.press('Space');
  await expect(page.locator('[id^="DndLiveRegion"]').first()).toContainText('Requirement 1.1 would be at place 1');
  await page.keyboard.press('ArrowDown');
  // What is moved over is announced; before that a drop would leave it where it was.
  await expect(page.locator('[id^="DndLiveRegion"]').first()).toContainText('Requirement 1.1 would be at place 2 of');
  await page.keyboard.press('Space');
  await expect(rows.first()).toHaveAttribute('data-requirement', '1.2');
  await expect(page.getByRole('button', { name: 'Move requirement 1.1' })).toBeFocused();
  await saved(page);

  await page.getByRole('button', { name: 'Add a requirement' }).first().click();
  await page.getByLabel('Search').fill('exact prefix');
  await page.keyboard.press('Enter');
  await expect(rows).toHaveCount(count + 1);
  const added = page.locator('[data-requirement^="1."]').filter({ hasText: 'The prefix length of' });
  // What is new has the focus: its first word opens with Enter.
  await expect(added.locator('.slot').first()).toBeFocused();
  await added.getByRole('button', { name: /every host/ }).click();
  await page.getByRole('option', { name: 'RT-V' }).click();
  await expect(added).toContainText('RT-V');
  await saved(page);

  await page.reload();
  await expect(rows).toHaveCount(count + 1);
  await expect(rows.first()).toHaveAttribute('data-requirement', '1.2');
  await page
    .getByRole('button', { name: /More for requirement 1\.\d+/ })
    .last()
    .click();
  await page.getByRole('menuitem', { name: 'Remove' }).click();
  await expect(rows).toHaveCount(count);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(rows).toHaveCount(count + 1);
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect(rows).toHaveCount(count);
  await saved(page);

  await page.getByRole('button', { name: 'Make it final' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Make it final' }).click();
  await expect(page.getByText(/changed since/)).toBeHidden();
  await page.goto(`${lab}/class`);
  // No result is of the version that judges now: everybody who handed in is to be checked.
  await expect(page.getByText(/^(\d+) of 26 handed in, \1 to check$/)).toBeVisible();
});

test('a requirement is dragged into another section, and carried on by keys into an empty one', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  const rule = (n: number) => ({ kind: 'deviceCount', what: 'switch', op: 'atMost', n, site: 'anywhere' });
  const requirement = (id: string, n: number) => ({ id, points: 1, rule: rule(n) });
  const sections = [
    { id: 'a', title: 'Components', requirements: [requirement('1.1', 5), requirement('1.2', 6)] },
    { id: 'b', title: 'Cabling', requirements: [requirement('2.1', 7), requirement('2.2', 8)] },
    { id: 'c', title: 'Addressing', requirements: [] },
  ];
  const lab = await makeLab(page, { ...labWith('Between sections'), spec: { groups: {}, sections } });
  await page.goto(`${lab}/spec`);
  const idsIn = (title: string) =>
    page
      .getByRole('region', { name: title, exact: true })
      .locator('[data-requirement]')
      .evaluateAll((rows) => rows.map((row) => row.getAttribute('data-requirement')));
  const handle = (id: string) => page.getByRole('button', { name: `Move requirement ${id}`, exact: true });
  await expect(handle('1.1')).toBeVisible();
  const told = page.locator('[id^="DndLiveRegion"]').first();
  await handle('1.1').hover();
  await page.mouse.down();
  await page.mouse.move(100, 240, { steps: 4 });
  // What is carried lies over where it goes.
  await handle('2.2').hover({ force: true });
  await expect(told).toContainText('place 2 of 3, Cabling');
  await page.mouse.up();
  await expect.poll(() => idsIn('Cabling')).toEqual(['2.1', '1.1', '2.2']);
  await handle('2.2').focus();
  await page.keyboard.press('Space');
  await expect(told).toContainText('place 3 of 3, Cabling');
  await page.keyboard.press('ArrowDown');
  await expect(told).toContainText('place 1 of 1, Addressing');
  await page.keyboard.press('Space');
  await expect.poll(() => idsIn('Addressing')).toEqual(['2.2']);
  await expect(handle('2.2')).toBeFocused();
  await saved(page);
  await page.reload();
  await expect.poll(() => idsIn('Cabling')).toEqual(['2.1', '1.1']);
  await expect.poll(() => idsIn('Components')).toEqual(['1.2']);
  await expect.poll(() => idsIn('Addressing')).toEqual(['2.2']);
});

test('a value that cannot be is said where it is typed and not taken', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  const lab = await addressOf(page, 'Valley Station LAN');
  await page.goto(`${lab}/spec`);
  const row = page.locator('[data-requirement]').filter({ hasText: 'inside' }).first();
  await row
    .getByRole('button', { name: /10\.84\.\d/ })
    .first()
    .click();
  await page.getByLabel('Value').fill('10.84.1.0/33');
  await expect(page.getByText(/33/).last()).toBeVisible();
  await expect(page.getByRole('button', { name: 'Set' })).toBeDisabled();
});

test('a lab goes out as a file and comes back as another lab', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  const lab = await addressOf(page, 'Three Stations');
  await page.goto(`${lab}/brief`);
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save the lab as a file' }).click(),
  ]);
  const text = await textOf(file);
  expect(JSON.parse(text)).toMatchObject({ format: 'sobrin-lab', version: 9, title: 'Three Stations' });
  await page.goto('/');
  await chooseFile(
    page,
    () => page.getByRole('button', { name: 'Bring a lab file' }).first().click(),
    json('broken.json', text.slice(0, 400)),
  );
  await expect(page.getByRole('alert')).toContainText(/line \d+, column \d+/);
  await chooseFile(
    page,
    () => page.getByRole('button', { name: 'Bring a lab file' }).first().click(),
    json('lab.json', text.replace('"Three Stations"', '"Three Stations, again"')),
  );
  await page.waitForURL(/\/labs\//);
  await page.goto(page.url().replace(/\/[a-z]+$/, '/spec'));
  await expect(page.getByText(/The reference earns 63 of 63/)).toBeVisible();
});

test('spec and text follow each other: completions, mistakes in place, comments that stay', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  const rule = (n: number) => ({ kind: 'deviceCount', what: 'switch', op: 'atMost', n, site: 'anywhere' });
  const requirements = [
    { id: '1.1', points: 1, rule: rule(5) },
    { id: '1.2', points: 2, rule: rule(6) },
  ];
  const spec = { groups: {}, sections: [{ id: 'a', title: 'Components', requirements }] };
  const lab = await makeLab(page, { ...labWith('Spec as text'), spec });
  await page.goto(`${lab}/spec`);
  const rows = page.locator('[data-requirement]');
  await expect(rows).toHaveCount(2);
  await page.keyboard.press('t');
  const editor = page.getByRole('textbox', { name: 'Text of the spec' });
  const said = page.getByRole('complementary', { name: 'Text' }).getByRole('status');
  await editor.click();
  await page.keyboard.press('Control+End');
  const begun = ['      # by hand', '      - id: 1.3', '        points: 4', '        rule:', '          kind: de'];
  await page.keyboard.insertText(begun.join('\n'));
  await page.keyboard.type('v');
  await page.getByRole('option', { name: /^deviceCount/ }).click();
  await expect(said).toContainText('1 mistake: the spec waits until it is mended.');
  const rest = ['what: router', 'op: exactly', 'n: 1', 'site: moon'].map((line) => `          ${line}`);
  await page.keyboard.insertText(`\n${rest.join('\n')}`);
  await expect(rows.nth(2)).toContainText('exactly 1 router');
  // What it points at is not there: it is taken, and the place is marked in the text and in the spec.
  await expect(said).toContainText(/Line \d+: .*moon/);
  await page.keyboard.press('Control+Shift+ArrowLeft');
  await page.keyboard.insertText('anywhere');
  await expect(said).toContainText('The spec follows the text.');
  await expect(said).not.toContainText('moon');
  await saved(page);
  await page.keyboard.press('Escape');
  await page.getByLabel('Points of 1.3', { exact: true }).fill('7');
  await page.keyboard.press('Enter');
  await expect(editor).toContainText('points: 7');
  await saved(page);
  await page.reload();
  await expect(rows).toHaveText([/at most 5 switches/, /at most 6 switches/, /exactly 1 router/]);
  await expect(page.getByLabel('Points of 1.3', { exact: true })).toHaveValue('7');
  await page.keyboard.press('t');
  await expect(editor).toContainText('# by hand');
});

test('requirements of another lab are taken over with their groups, and what is otherwise since a version is told', async ({
  page,
}) => {
  await signIn(page, 'Maren Osterkamp');
  const lab = await makeLab(page, await copyOf('three-stations', 'Taken over'));
  await page.goto(`${lab}/spec`);
  const rows = page.locator('[data-requirement]');
  await expect(rows.first()).toBeVisible();
  const before = await rows.count();
  await page.getByRole('button', { name: 'Release to the class' }).click();
  await page.getByRole('button', { name: 'Release', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Version 1' }).or(page.getByText('Students do not see'))).toBeHidden();
  await page.getByRole('button', { name: 'Take from another lab' }).click();
  const dialog = page.getByRole('dialog', { name: 'Take from another lab' });
  await dialog.getByLabel('The other lab').selectOption({ label: 'Winch Isolation, Networks 1' });
  await dialog.getByRole('checkbox', { name: 'Documentation' }).check();
  await dialog.getByRole('checkbox', { name: /^The guests must not reach the winch controllers/ }).check();
  await dialog.getByRole('button', { name: 'Take 2 requirements' }).click();
  await expect(dialog).toBeHidden();
  await expect(rows).toHaveCount(before + 2);
  await expect(page.getByRole('toolbar', { name: 'Chosen requirements' })).toContainText('2 chosen');
  await saved(page);
  await page.reload();
  await expect(rows).toHaveCount(before + 2);
  await page.getByLabel('Points of 1.1', { exact: true }).fill('9');
  await page.getByLabel('Points of 1.1', { exact: true }).press('Enter');
  await saved(page);
  await page.goto(`${lab}/class`);
  await page.getByRole('button', { name: 'Version 1' }).click();
  await page.getByRole('button', { name: 'What is otherwise since version 1' }).click();
  const found = page.getByRole('list', { name: 'Differences from version 1' }).getByRole('listitem');
  await expect(found).toContainText([
    /^otherwise: 1\.1 .*→ 9 points/,
    /^new: .*guests/,
    /^new: .*Title/,
    /^otherwise: Groups/,
  ]);
});
