import { copyOf, expect, makeLab, saved, signIn, test } from './people';

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
