import { Secret, TOTP } from 'otpauth';
import { chooseOwn, expect, openLab, signIn, signOut, test } from './people';

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
  await chooseOwn(page, 'Where you are signed in…');
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('listitem')).toHaveCount(2);
  await expect(dialog.getByRole('listitem').first()).toContainText('this browser');
  await dialog.getByRole('button', { name: /^End / }).click();
  await expect(dialog.getByRole('listitem')).toHaveCount(1);
  await elsewhere.reload();
  await expect(elsewhere.getByRole('button', { name: 'Sign in' })).toBeVisible();
  await elsewhere.context().close();
  await page.reload();
  await expect(page.getByRole('button', { name: /^Signed in as/ })).toBeVisible();
});

test('a student who is new chooses a password with the address that the instructor copies, and another when it is lost', async ({
  page,
  browser,
  baseURL,
}) => {
  await signIn(page, 'Maren Osterkamp');
  const headers = { 'x-sobrin-request': '1' };
  const made = async (path: string, title: string): Promise<string> =>
    ((await (await page.request.post(path, { headers, data: { title } })).json()) as { id: string }).id;
  const course = await made('/api/courses', 'Evening class');
  await page.goto(`/labs/${await made(`/api/courses/${course}/labs`, 'First evening')}/class`);
  await page.getByRole('button', { name: 'Add students' }).first().click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Students').fill('Nils Berg');
  await dialog.getByRole('button', { name: 'Add 1' }).click();
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write']);
  await dialog.getByRole('button', { name: 'Copy: the address of Nils Berg' }).click();
  await expect(dialog.getByRole('button', { name: /^Copied/ })).toBeVisible();
  const first = await page.evaluate(() => navigator.clipboard.readText());
  await dialog.getByRole('button', { name: 'Done' }).click();

  // Another student is signed in on this machine: nothing of theirs is left on the page.
  const student = await (await browser.newContext({ baseURL: baseURL! })).newPage();
  await signIn(student, 'Zofia Wrona');
  await student.goto('/');
  await expect(student.getByText('Networks 1').first()).toBeVisible();
  const choose = async (address: string, password: string): Promise<void> => {
    await student.goto('/shown/nothing');
    await student.goto(address);
    await expect(student.getByRole('heading', { name: 'Nils Berg' })).toBeVisible();
    await student.getByLabel('New password').fill('nils.berg.berg');
    await student.keyboard.press('Enter');
    await expect(student.getByRole('alert')).toContainText('among the first that somebody would guess');
    await student.getByLabel('New password').fill(password);
    await student.keyboard.press('Enter');
    await expect(student.getByText('Evening class')).toBeVisible();
    await expect(student.getByText('Networks 1')).toHaveCount(0);
  };
  await choose(first, 'lantern gondola 7 pumpkin');
  await student.goto(first);
  await expect(student.getByRole('alert')).toContainText('This address is used up');

  await page.getByRole('button', { name: 'A new password for Nils Berg' }).click();
  await dialog.getByRole('button', { name: 'Make an address' }).click();
  await choose(await dialog.getByLabel('Address').inputValue(), 'another gondola 8 melon');
  await signOut(student);
  await student.getByLabel('Sign-in name').fill('nils.berg');
  await student.getByLabel('Password').fill('another gondola 8 melon');
  await student.keyboard.press('Enter');
  await expect(student.getByText('Evening class')).toBeVisible();
  await student.context().close();
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
  await expect(page.getByRole('toolbar', { name: 'Bench' })).toBeVisible();
  await page.goto('/nowhere');
  await expect(page.getByText('There is no such page')).toBeVisible();
  await signOut(page);
  await signIn(page, 'Zofia Wrona');
  await page.goto(address);
  await expect(page.getByRole('alert')).toContainText('This is for instructors and assistants of the course.');
  await page.getByRole('link', { name: 'To your labs' }).click();
  await expect(page.getByRole('link', { name: 'Valley Station LAN' }).first()).toBeVisible();
});

test('an instructor sets up a second factor, signs in with a code and with a spare one, and ends it', async ({
  page,
}) => {
  const signInWith = async (password: string): Promise<void> => {
    await page.getByLabel('Sign-in name').fill('maren');
    await page.getByLabel('Password').fill(password);
    await page.keyboard.press('Enter');
  };
  await page.goto('/');
  await signInWith('kestrel-ridge');
  await chooseOwn(page, 'Second factor…');
  await page.getByLabel('Your password', { exact: true }).fill('kestrel-ridge');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('img', { name: 'Secret for a program that makes codes' })).toBeVisible();
  const secret = (await page.getByText(/^([A-Z2-7]{4} ){7}[A-Z2-7]{4}$/).textContent())!.replaceAll(' ', '');
  const codeNow = (seconds = 0): string =>
    new TOTP({ secret: Secret.fromBase32(secret) }).generate({ timestamp: Date.now() + 1000 * seconds });
  await page.getByLabel('Code').fill('000000');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toContainText('The code does not fit');
  await page.getByLabel('Code').fill(codeNow());
  await page.keyboard.press('Enter');
  const spares = page.getByRole('list', { name: 'Spare codes' }).getByRole('listitem');
  await expect(spares).toHaveCount(10);
  const spare = await spares.allTextContents();
  await page.getByRole('button', { name: 'I have kept them' }).click();
  // The next code, as the present one was used to set it up: a clock may be half a minute fast.
  for (const code of [() => codeNow(30), () => spare[0]!]) {
    await signOut(page);
    await signInWith('kestrel-ridge');
    await expect(page.getByText('Now the code of your second factor')).toBeVisible();
    await page.getByLabel('Code').fill(code());
    await page.keyboard.press('Enter');
    await expect(page.getByRole('heading', { name: 'Your courses' })).toBeVisible();
  }
  await chooseOwn(page, 'Second factor…');
  await expect(page.getByText('with 9 spare codes left')).toBeVisible();
  await page.getByLabel('Your password', { exact: true }).fill('kestrel-ridge');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await signOut(page);
  await signInWith('kestrel-ridge');
  await expect(page.getByRole('heading', { name: 'Your courses' })).toBeVisible();
});
