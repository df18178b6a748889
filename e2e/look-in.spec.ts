import { addressOf, expect, saved, signIn, signOut, test } from './people';

test('where a lab lets them, instructors look at a drawing before it is handed in and comment; both see each other', async ({
  page,
  browser,
  baseURL,
}) => {
  await signIn(page, 'Maren Osterkamp');
  const lab = await addressOf(page, 'Three Stations');
  await page.goto(`${lab}/class`);
  await expect(page.getByRole('row', { name: /Zofia Wrona/ })).toBeVisible();
  await expect(page.getByRole('link', { name: /as it is now/ })).toHaveCount(0);
  await page.goto(`${lab}/brief`);
  await page.getByLabel('When instructors see drawings').selectOption({ label: 'also before, and may comment' });
  await saved(page);
  await page.reload();
  await expect(page.getByLabel('When instructors see drawings')).toHaveValue('before');

  const context = await browser.newContext(baseURL === undefined ? {} : { baseURL });
  const student = await context.newPage();
  await signIn(student, 'Zofia Wrona');
  const mine = await addressOf(student, 'Three Stations');
  await student.goto(mine);
  await expect(student.getByText('Your instructors may look at your drawing before you hand it in')).toBeVisible();
  await student.goto(`${mine}/bench`);
  await expect(student.getByRole('toolbar', { name: 'Bench' })).toBeVisible();
  await student.keyboard.press('/');
  await student.keyboard.type('add hub');
  await student.keyboard.press('Enter');
  await expect(student.locator('.tile').filter({ hasText: 'HB-1' })).toBeVisible();
  await saved(student);

  await page.goto(`${lab}/class`);
  await page.getByRole('link', { name: 'The drawing of Zofia Wrona as it is now' }).click();
  await expect(page.getByText('Zofia Wrona sees that you have it open.')).toBeVisible();
  await expect(page.getByRole('img', { name: 'Zofia Wrona has this open, too' })).toBeVisible();
  await expect(student.getByRole('img', { name: 'Maren Osterkamp has this open, too' })).toBeVisible();
  await page.locator('.tile').filter({ hasText: 'HB-1' }).click();
  // What is the student's stays the student's.
  await page.keyboard.press('Delete');
  await expect(page.getByText('Nothing was changed. This is the drawing of Zofia Wrona')).toBeVisible();
  await page.keyboard.press('c');
  await page.getByLabel('Comment', { exact: true }).fill('What does the hub do here?');
  await page.getByRole('button', { name: 'Say it' }).click();
  await saved(page);

  await student.reload();
  await expect(student.locator('.tile').filter({ hasText: 'HB-1' })).toBeVisible();
  await student
    .getByRole('button', { name: /^Comment/ })
    .first()
    .click();
  await expect(student.getByText('What does the hub do here?')).toBeVisible();
  await expect(student.getByText('Maren Osterkamp', { exact: true })).toBeVisible();
  await student.getByLabel('Answer').fill('It joins two desks.');
  await student.getByRole('button', { name: 'Say it' }).click();
  await saved(student);
  await expect(page.getByText('It joins two desks.')).toBeVisible();
  await student.locator('.tile').filter({ hasText: 'HB-1' }).click();
  await student.keyboard.press('Delete');
  await saved(student);
  await context.close();

  await page.goto(`${lab}/brief`);
  await page.getByLabel('When instructors see drawings').selectOption('after');
  await saved(page);
  await page.goto(`${lab}/class`);
  await expect(page.getByRole('link', { name: /as it is now/ })).toHaveCount(0);
  await signOut(page);
});
