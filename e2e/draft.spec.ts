import { addressOf, checkClass, copyOf, expect, makeLab, saved, signIn, test } from './people';

test('a spec from nothing: drafted, taken and kept with fewer than twenty keys, and the reference earns all of it', async ({
  page,
}) => {
  await signIn(page, 'Maren Osterkamp');
  const lab = await makeLab(page, {
    ...(await copyOf('winch-isolation', 'From nothing')),
    spec: { groups: {}, sections: [] },
  });
  await page.goto(`${lab}/spec`);
  await expect(page.getByText('No requirement yet')).toBeVisible();
  let keys = 0;
  const press = async (key: string): Promise<void> => {
    keys++;
    await page.keyboard.press(key);
  };
  await press('D');
  const panel = page.getByRole('complementary', { name: 'Draft' });
  const add = panel.getByRole('button', { name: /^Add the \d+ ticked$/ });
  await expect(add).toBeVisible();
  // The first box has the focus: what is ticked is taken by Enter.
  await expect(panel.getByRole('checkbox').first()).toBeFocused();
  const ticked = Number(/\d+/.exec(await add.innerText())![0]);
  expect(ticked).toBeGreaterThan(20);
  await press('Enter');
  await expect(page.locator('[data-requirement]')).toHaveCount(ticked);
  await press('Escape');
  await expect(panel).toBeHidden();
  expect(keys).toBeLessThan(20);
  await saved(page);
  await page.reload();
  await expect(page.locator('[data-requirement]')).toHaveCount(ticked);
  await expect(page.getByText(/The reference earns (\d+) of \1$/)).toBeVisible();
  await expect(page.getByText('The office must not reach the winch controllers').first()).toBeVisible();
  // What it has is not offered again.
  await page.keyboard.press('D');
  await expect(panel.getByRole('button', { name: 'None is ticked' })).toBeDisabled();
});

test('a changed spec is tried on the class before it is made final: whose mark would change, and by what', async ({
  page,
}) => {
  await signIn(page, 'Maren Osterkamp');
  const lab = await addressOf(page, 'Summit Dual Stack');
  await page.goto(`${lab}/class`);
  await checkClass(page);
  await page.goto(`${lab}/spec`);
  const points = page.getByLabel('Points of 1.1', { exact: true });
  const before = Number(await points.inputValue());
  await points.fill(String(before + 5));
  await points.press('Enter');
  await saved(page);
  await page.getByRole('button', { name: 'Try it on the class' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('status')).toHaveText('Of 12 attempts 12 would have another mark.');
  const row = dialog.getByRole('row').filter({ hasText: '1.1' }).first();
  await expect(row).toContainText(new RegExp(`1\\.1.*→ ${before + 5}`));
  await expect(row).toContainText(/\d of 56/);
  await dialog.getByRole('button', { name: 'Leave it as it is' }).click();
  await expect(dialog).toBeHidden();
  // Nothing was made final: the class is judged as before, and the lab becomes what it was.
  await expect(page.getByText(/The class is judged by version 1/)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await saved(page);
  await expect(points).toHaveValue(String(before));
});
