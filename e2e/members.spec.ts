import { answered, courseOf, expect, labWith, saved, signIn, signOut, test } from './people';

const headers = { 'x-sobrin-request': '1' };

test('a second instructor is invited, accepts, reads a lab of the other’s library, and changes it once named', async ({
  page,
  browser,
  baseURL,
}) => {
  await signIn(page, 'Maren Osterkamp');
  const { id: networks } = await courseOf(page, 'Networks 1');
  const data = { text: JSON.stringify(labWith('Cable Inspection')) };
  await page.request.post(`/api/courses/${networks}/labs/import`, { headers, data });
  await page.goto('/');
  await page.getByRole('button', { name: 'Add a course' }).click();
  await page.getByLabel('Title of the course').fill('Evening class');
  await page.keyboard.press('Enter');
  const panel = page.getByRole('region', { name: 'Evening class' });
  await panel.getByRole('button', { name: 'From your library' }).click();
  await page.getByRole('button', { name: 'Give the lab Cable Inspection' }).click();
  await page.waitForURL(/\/brief$/);
  const lab = /^.*\/labs\/[^/]+/.exec(page.url())![0];

  const { id: evening } = await courseOf(page, 'Evening class');
  await page.goto(`/courses/${evening}`);
  await page.getByLabel('Time zone').fill('St_Johns');
  await page.getByRole('option', { name: 'America/St_Johns' }).click();
  await page.getByRole('button', { name: 'Add people' }).click();
  await page.getByRole('combobox', { name: 'In the course' }).click();
  await page.getByRole('option', { name: /^instructor/ }).click();
  await page.getByRole('textbox', { name: 'People', exact: true }).fill('Z. Wrona, zofia.wrona, Staff');
  await page.getByRole('button', { name: 'Add 1' }).click();
  await page.getByRole('button', { name: 'Done' }).click();
  await page.reload();
  await expect(page.getByRole('row', { name: /Z\. Wrona/ })).toContainText('instructor, invited');
  await expect(page.getByLabel('Time zone')).toHaveValue('America/St_Johns');
  await signOut(page);

  await signIn(page, 'Zofia Wrona');
  await page.goto('/');
  await expect(page.getByRole('alert')).toContainText(
    'Maren Osterkamp added you to Evening class as an instructor, by the name Z. Wrona.',
  );
  await page.getByRole('button', { name: 'Accept' }).click();
  await page.reload();
  await panel.getByRole('link', { name: 'Cable Inspection' }).click();
  await page.goto(`${lab}/brief`);
  await expect(page.getByText(/library of Maren Osterkamp: here it can be read/)).toBeVisible();
  await page.getByLabel('Add to objectives').fill('Find the break');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/cannot be done|here it can be read, not changed/).last()).toBeVisible();
  // The due date is the course's, on its clocks.
  await page.getByLabel('Due date', { exact: true }).fill('2031-01-05T18:00');
  const sent = page.waitForResponse((response) => response.request().method() === 'PATCH');
  await page.getByLabel('Due date', { exact: true }).blur();
  expect((await sent).ok()).toBe(true);
  await page.reload();
  await expect(page.getByLabel('Due date', { exact: true })).toHaveValue('2031-01-05T18:00');
  expect(await (await page.request.get(lab.replace('/labs/', '/api/labs/'))).json()).toMatchObject({
    dueAt: '2031-01-05T21:30:00.000Z',
    brief: {},
  });
  await signOut(page);

  await signIn(page, 'Maren Osterkamp');
  await page.goto(`${lab}/brief`);
  await page.getByRole('button', { name: 'Editors' }).click();
  await page.getByLabel('Z. Wrona').check();
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await signOut(page);

  await signIn(page, 'Zofia Wrona');
  await page.goto(`${lab}/brief`);
  await page.getByLabel('Add to objectives').fill('Find the break');
  await page.keyboard.press('Enter');
  await saved(page);
  await page.reload();
  await expect(page.getByLabel('Objectives 1')).toHaveValue('Find the break');

  const there = await (await browser.newContext({ baseURL: baseURL! })).newPage();
  await signIn(there, 'Maren Osterkamp');
  await there.goto(`${lab}/brief`);
  await expect(there.getByRole('img', { name: 'Zofia Wrona has this open, too' })).toBeVisible();
  await expect(page.getByRole('img', { name: 'Maren Osterkamp has this open, too' })).toBeVisible();
  await there.context().close();
  await expect(page.getByRole('img', { name: 'Maren Osterkamp has this open, too' })).toBeHidden();
});

test('an assistant sees the class and its results, and finds nothing there to change', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  const { id } = await courseOf(page, 'Networks 1');
  await page.goto(`/courses/${id}`);
  await page.getByRole('button', { name: 'Change Tobias Ferreira' }).click();
  await page.getByRole('combobox', { name: 'In the course' }).click();
  await page.getByRole('option', { name: /^assistant/ }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Change' }).click();
  await expect(page.getByRole('row', { name: /Tobias Ferreira/ })).toContainText('assistant');
  await signOut(page);

  await signIn(page, 'Tobias Ferreira');
  await page.goto('/');
  await page.getByRole('link', { name: 'Valley Station LAN' }).click();
  await expect(page.getByRole('table', { name: 'Roster' })).toBeVisible();
  await expect(page.getByRole('button', { name: /^Check|Add students|A new password/ })).toHaveCount(0);
  await page.getByRole('table', { name: 'Roster' }).getByRole('link').first().click();
  await expect(page.getByText(/handed in .* on time/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Check again' })).toHaveCount(0);
  await signOut(page);

  await signIn(page, 'Maren Osterkamp');
  const tobias = (
    (await (await page.request.get(`/api/courses/${id}/roster`)).json()) as { id: string; login: string }[]
  ).find(({ login }) => login === 'tobias.ferreira')!;
  await page.request.patch(`/api/courses/${id}/roster/${tobias.id}`, { headers, data: { role: 'student' } });
});

test('labs are put in order and taken out of their course, and a course is deleted with what hangs on it', async ({
  page,
}) => {
  await signIn(page, 'Maren Osterkamp');
  const made = await page.request.post('/api/courses', { headers, data: { title: 'A course to go' } });
  const { id } = (await made.json()) as { id: string };
  for (const title of ['First of two', 'Second of two'])
    await page.request.post(`/api/courses/${id}/labs`, { headers, data: { title } });
  await page.goto('/');
  const panel = page.getByRole('region', { name: 'A course to go' });
  const more = async (of: string, entry: RegExp): Promise<void> => {
    await page.getByRole('button', { name: `More about ${of}` }).click();
    await page.getByRole('menuitem', { name: entry }).click();
  };
  await more('Second of two', /Move up/);
  await expect(panel.getByRole('listitem').first()).toContainText('Second of two');
  await page.reload();
  await expect(panel.getByRole('listitem').first()).toContainText('Second of two');
  await more('Second of two', /Take out of the course/);
  await expect(page.getByRole('dialog')).toContainText('Nothing was handed in yet.');
  await page.getByRole('button', { name: 'Take it out' }).click();
  await expect(panel.getByRole('listitem')).toHaveCount(1);
  await panel.getByRole('button', { name: 'From your library' }).click();
  await page.getByRole('button', { name: 'Delete Second of two' }).click();
  await page.getByRole('button', { name: 'Delete the lab' }).click();
  await expect(page.getByRole('button', { name: 'Delete Second of two' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Close' }).click();
  await more('A course to go', /Delete the course/);
  await expect(page.getByRole('dialog')).toContainText('1 lab');
  // While a dialog is open nothing behind it is found: that the course is gone is said by the server.
  await answered(page, 'POST', () => page.getByRole('button', { name: 'Delete the course' }).click());
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(panel).toHaveCount(0);
  await page.reload();
  await expect(page.getByRole('region', { name: 'Networks 1' })).toBeVisible();
  await expect(panel).toHaveCount(0);
});
