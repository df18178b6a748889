import { expect, openLab, signIn, signOut, test } from './people';

test('somebody signs in with name and password, and out again', async ({ page }) => {
  await page.goto('/');
  await page.getByLabel('Sign-in name').fill('maren');
  await page.getByLabel('Password').fill('not this one');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toContainText('do not go together');
  await expect(page.getByLabel('Sign-in name')).toHaveValue('maren');
  await page.getByLabel('Password').fill('kestrel-ridge');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Your courses' })).toBeVisible();
  await signOut(page);
  await page.goto('/');
  await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible();
});

test('somebody who forgot to sign out elsewhere ends that from here', async ({ page, browser, baseURL }) => {
  const elsewhere = await (await browser.newContext({ baseURL: baseURL! })).newPage();
  for (const there of [elsewhere, page]) {
    await signIn(there, 'Adaeze Okonjo');
    await there.goto('/');
  }
  await page.getByRole('button', { name: 'Where you are signed in' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('listitem')).toHaveCount(2);
  await expect(dialog.getByRole('listitem').first()).toContainText('this browser');
  await dialog.getByRole('button', { name: /^End / }).click();
  await expect(dialog.getByRole('listitem')).toHaveCount(1);
  await elsewhere.reload();
  await expect(elsewhere.getByRole('button', { name: 'Sign in' })).toBeVisible();
  await elsewhere.context().close();
  await page.reload();
  await expect(page.getByRole('button', { name: 'Sign out' })).toBeVisible();
});

test('a page that asked for a sign-in is shown after it', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  await openLab(page, 'Valley Station LAN');
  const address = page.url();
  await page.context().clearCookies();
  await page.goto(address);
  await page.getByRole('button', { name: 'Maren Osterkamp' }).click();
  await expect(page).toHaveURL(address);
});

test('an address that leads nowhere says so, and a student is not shown an instructor’s page', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  await openLab(page, 'Valley Station LAN');
  const address = page.url();
  await page.goto('/nowhere');
  await expect(page.getByText('There is no such page')).toBeVisible();
  await signOut(page);
  await signIn(page, 'Zofia Wrona');
  await page.goto(address);
  await expect(page.getByRole('alert')).toContainText('This is for the instructor of the course.');
});
