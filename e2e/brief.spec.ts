import { expect, labWith, makeLab, saved, signIn, test } from './people';

test('tasks are written, changed and removed, and are there after a reload; other parts are saved as well', async ({
  page,
}) => {
  await signIn(page, 'Maren Osterkamp');
  await page.goto(`${await makeLab(page, labWith('Tasks of a lab'))}/brief`);
  for (const [number, text] of [
    [1, 'Draw the valley.'],
    [2, 'Label every port.'],
  ] as const) {
    await page.getByRole('button', { name: 'Add a task' }).click();
    // A new task is open and its words are chosen: one types at once.
    await expect(page.getByRole('textbox', { name: `Task ${number}` })).toBeFocused();
    await page.keyboard.type(text);
    await page.keyboard.press('Tab');
    await saved(page);
  }
  await page.getByRole('button', { name: 'Remove task 1' }).click();
  await page.getByRole('textbox', { name: 'Add to objectives' }).fill('Size subnets.');
  await page.keyboard.press('Tab');
  await saved(page);
  await page.reload();
  await expect(page.getByText('Label every port.')).toBeVisible();
  await expect(page.getByText('Draw the valley.')).toHaveCount(0);
  await expect(page.getByRole('textbox', { name: 'Objectives 1' })).toHaveValue('Size subnets.');
});
