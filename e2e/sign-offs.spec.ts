import { violations } from './axe';
import { expect, labWith, makeLab, openLab, saved, signIn, signOut, test } from './people';

const labAsking = (title: string, requirements: readonly object[] = []) => ({
  ...labWith(title),
  spec: { groups: {}, sections: [{ id: '1', title: 'Components', requirements }] },
});

test('what must hold is typed, copied to another lab, and what a person has seen is signed off on a telephone', async ({
  page,
}) => {
  await signIn(page, 'Maren Osterkamp');
  const rule = { kind: 'deviceCount', what: 'switch', op: 'atMost', n: 5, site: 'anywhere' };
  const first = await makeLab(page, labAsking('Slip Printer', [{ id: '1.1', points: 2, rule }]));
  const second = await makeLab(page, labAsking('Receipt Printer'));
  const rows = page.locator('[data-requirement]');
  await page.goto(`${first}/spec`);
  await expect(rows).toHaveCount(1);
  await page.keyboard.press('a');
  await page.keyboard.type('a person has seen that the till prints, 3 points');
  await expect(page.getByRole('option', { name: /^A person has seen that the till prints\./ })).toBeVisible();
  await page.keyboard.press('Enter');
  await page.keyboard.type('at most 2 routers');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  await expect(rows).toHaveCount(3);
  await page.getByRole('button', { name: 'Choose requirement 1.2' }).press('Space');
  await page.getByRole('button', { name: 'Choose requirement 1.3' }).press('Space');
  await expect(page.getByRole('toolbar', { name: 'Chosen requirements' })).toContainText('2 chosen');
  await page.keyboard.press('Control+c');
  await saved(page);
  await page.reload();
  await expect(rows).toHaveText([/at most 5 switches/, /the till prints/, /at most 2 routers/]);
  await expect(page.getByLabel('Points of 1.2', { exact: true })).toHaveValue('3');

  await page.goto(`${second}/spec`);
  await expect(page.getByRole('combobox', { name: 'Type a requirement of Components' })).toBeVisible();
  await page.locator('body').press('Control+v');
  await expect(rows).toHaveText([/the till prints/, /at most 2 routers/]);
  await page.getByRole('textbox', { name: 'Points of each that is chosen' }).fill('4');
  await page.keyboard.press('Enter');
  await saved(page);
  await page.reload();
  await expect(page.getByLabel('Points of 1.2', { exact: true })).toHaveValue('4');

  await page.goto(`${second}/brief`);
  await page.getByRole('button', { name: 'Release to the class' }).click();
  await page.getByRole('button', { name: 'Release', exact: true }).click();
  await expect(page.getByText('Students do not see this lab yet.')).toBeHidden();
  await signOut(page);
  await signIn(page, 'Zofia Wrona');
  await openLab(page, 'Receipt Printer');
  await page.getByRole('button', { name: 'Hand in attempt 1' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Hand in' }).click();
  await expect(page.getByText(/Attempt 1/).first()).toBeVisible();
  await signOut(page);

  await signIn(page, 'Maren Osterkamp');
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(`${second}/class`);
  await page.getByRole('link', { name: 'Sign-offs' }).click();
  await page.getByRole('button', { name: 'Zofia Wrona: seen', exact: true }).click();
  await expect(page.getByText(/^1 of \d+ seen$/)).toBeVisible();
  await page.reload();
  await expect(page.getByRole('button', { name: 'Zofia Wrona: seen, take it back' })).toBeVisible();
  expect(await violations(page)).toEqual([]);
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.goto(`${second}/class`);
  // The sheet is empty, and nothing is met by nothing but what was seen.
  await expect(page.getByRole('row', { name: /Zofia Wrona/ })).toContainText('4 / 8');
  await signOut(page);
  await signIn(page, 'Zofia Wrona');
  await openLab(page, 'Receipt Printer');
  await expect(page.getByText('4 of 8').or(page.getByText('4 / 8')).first()).toBeVisible();
});
