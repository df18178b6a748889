import { type Page } from '@playwright/test';
import { copyOf, expect, makeLab, saved, signIn, test } from './people';

const points = (page: Page, number: string) => page.getByLabel(`Points of ${number}`, { exact: true });
async function give(page: Page, number: string, value: string): Promise<void> {
  await points(page, number).fill(value);
  await points(page, number).press('Enter');
}

test('two instructors at one spec: different requirements come together, the same one asks whose holds', async ({
  page,
  context,
}) => {
  await signIn(page, 'Maren Osterkamp');
  const spec = `${await makeLab(page, await copyOf('three-stations', 'A spec of two'))}/spec`;
  await page.goto(spec);
  await expect(points(page, '1.2')).toBeVisible();
  const other = await context.newPage();
  await other.goto(spec);
  await give(other, '1.2', '5');
  await saved(other);
  await expect(points(page, '1.2')).toHaveValue('5');

  for (const [choice, mine, theirs, wanted] of [
    ['Take theirs', '7', '8', '8'],
    ['Keep mine', '3', '4', '3'],
  ] as const) {
    await page.route('**/api/documents/*/changes', (route) => route.abort());
    await give(page, '1.1', mine);
    await expect(page.getByText('kept in this browser')).toBeVisible();
    await give(other, '1.1', theirs);
    await saved(other);
    await page.unroute('**/api/documents/*/changes');
    await page.getByRole('button', { name: choice }).click();
    await saved(page);
    await expect(points(page, '1.1')).toHaveValue(wanted);
    await page.reload();
    await expect(points(page, '1.1')).toHaveValue(wanted);
    await expect(points(page, '1.2')).toHaveValue('5');
    await expect(points(other, '1.1')).toHaveValue(wanted);
  }
});

test('a change of the brief can still be undone after another page was looked at', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  await page.goto(`${await makeLab(page, await copyOf('three-stations', 'A brief to come back to'))}/brief`);
  const attempts = page.getByLabel('Attempts');
  const before = await attempts.inputValue();
  await attempts.fill('5');
  await attempts.press('Tab');
  await saved(page);
  await page.getByRole('link', { name: /^Plan/ }).click();
  await expect(attempts).toHaveCount(0);
  await page.getByRole('link', { name: /^Brief/ }).click();
  await expect(attempts).toHaveValue('5');
  await page.keyboard.press('Control+z');
  await expect(attempts).toHaveValue(before);
  await saved(page);
  await page.reload();
  await expect(attempts).toHaveValue(before);
});
