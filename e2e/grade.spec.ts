import Papa from 'papaparse';
import {
  addressOf,
  checkClass,
  chooseFile,
  expect,
  json,
  openLab,
  saved,
  signIn,
  signOut,
  test,
  textOf,
} from './people';

test('a drawing exported in one session is uploaded by another student, checked, and its mark is in the CSV', async ({
  page,
}) => {
  await signIn(page, 'Eero Lahtinen');
  await openLab(page, 'Valley Station LAN');
  await page.getByRole('link', { name: 'Open the bench' }).click();
  await page.getByRole('button', { name: 'More', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Save as a file or print…' }).click();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('dialog').getByRole('button', { name: 'Save', exact: true }).click(),
  ]);
  const drawing = await textOf(file);
  expect(JSON.parse(drawing)).toMatchObject({ format: 'sobrin-topology', version: 4 });
  await signOut(page);

  await signIn(page, 'Tobias Ferreira');
  await openLab(page, 'Valley Station LAN');
  await chooseFile(
    page,
    () => page.getByRole('button', { name: 'Upload a file' }).click(),
    json('from-eero.json', drawing),
  );
  await expect(page.getByText('from-eero.json is taken: drawing.')).toBeVisible();
  await page.getByLabel('Answer to task 1').fill('a border router');
  await page.getByLabel('Answer to task 2').focus();
  await page.getByRole('button', { name: 'Hand in attempt 1' }).click();
  await expect(page.getByRole('dialog')).toContainText('cannot be taken back');
  await page.getByRole('button', { name: 'Hand in', exact: true }).click();
  await expect(page.getByText('Attempt 1 is handed in.')).toBeVisible();
  await signOut(page);

  await signIn(page, 'Maren Osterkamp');
  const lab = await addressOf(page, 'Valley Station LAN');
  await page.goto(`${lab}/class`);
  await checkClass(page);
  await expect(page.getByRole('row', { name: /Tobias Ferreira/ })).toContainText('41 / 41');
  await page.getByRole('link', { name: 'Tobias Ferreira' }).click();
  await expect(page.getByLabel('Mark 41 of 41')).toBeVisible();
  await page.getByRole('button', { name: 'answers and files' }).click();
  await expect(page.getByText('a border router')).toBeVisible();

  await page.goto(`${lab}/results`);
  const [csv] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Save as CSV' }).click(),
  ]);
  const { data } = Papa.parse<string[]>(await textOf(csv));
  expect(data.find((row) => row[0] === 'Tobias Ferreira')!.slice(-2)).toEqual(['41', '41']);
});

test('a mistake is found, explained and shown in the student’s drawing, all by keyboard', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  const lab = await addressOf(page, 'Three Stations');
  await page.goto(`${lab}/class`);
  await page.getByRole('link', { name: 'Jamila Conteh' }).click();
  const evidence = page.getByRole('region', { name: 'Evidence' });
  await expect(evidence).toContainText('RT-M has no route to 10.84.1.66');
  await expect(page.locator('.tile.marked-lost').filter({ hasText: 'RT-M' })).toBeVisible();
  await page.keyboard.press('1');
  await expect(evidence).toContainText('right kind');
  await page.keyboard.press('ArrowDown');
  await expect(evidence).toContainText('3 routers');
  await page.keyboard.press('r');
  await expect(page.getByRole('region', { name: 'Reference' })).toBeVisible();
  await page.keyboard.press('r');
  await page.keyboard.press('j');
  await expect(page.getByRole('heading', { name: 'Kasper Lindqvist' })).toBeVisible();
  await page.keyboard.press('k');
  await expect(page.getByRole('heading', { name: 'Jamila Conteh' })).toBeVisible();
});

test('a faultless drawing with other names shows whose part each device plays', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  const lab = await addressOf(page, 'Three Stations');
  await page.goto(`${lab}/class`);
  await page.getByRole('link', { name: 'Samir Haddadin' }).click();
  await expect(page.getByLabel('Mark 63 of 63')).toBeVisible();
  await expect(page.locator('.tile').filter({ hasText: 'is RT-M' })).toHaveCount(1);
});

test('a lab shows findings, and its student sees them on the own drawing, also of an earlier attempt', async ({
  page,
  browser,
  baseURL,
}) => {
  await signIn(page, 'Maren Osterkamp');
  await page.goto(`${await addressOf(page, 'Summit Dual Stack')}/brief`);
  await page.getByLabel('What students see of a result').selectOption('findings');
  await page.getByLabel('How much findings say').selectOption('where');
  await saved(page);
  await page.reload();
  await expect(page.getByLabel('What students see of a result')).toHaveValue('findings');
  await expect(page.getByLabel('How much findings say')).toHaveValue('where');
  await expect(page.getByLabel('When students see it')).toHaveValue('at-once');
  await page.getByRole('link', { name: /^Class/ }).click();
  const row = page
    .getByRole('row')
    .filter({ has: page.getByRole('link') })
    .first();
  const name = (await row.getByRole('link').textContent())!;
  await row.getByRole('link').click();
  const mark = (await page.getByLabel(/^Mark /).getAttribute('aria-label'))!;

  const theirs = await browser.newContext({ baseURL: baseURL! });
  const student = await theirs.newPage();
  await signIn(student, name);
  await student.goto(await addressOf(student, 'Summit Dual Stack'));
  await student.getByRole('button', { name: 'Hand in attempt 2' }).click();
  await student.getByRole('dialog').getByRole('button', { name: 'Hand in', exact: true }).click();
  await expect(student.getByRole('status').filter({ hasText: 'Attempt 2 is handed in' })).toBeVisible();
  await student.getByRole('link', { name: /^Attempt 1/ }).click();
  await expect(student.getByLabel(mark, { exact: true })).toBeVisible();
  await expect(student.getByRole('navigation', { name: 'Requirements' }).getByRole('button').first()).toBeVisible();
  await expect(student.locator('.react-flow__node-tile').first()).toBeVisible();
  await student.getByRole('link', { name: 'Attempt 2' }).click();
  await expect(student.getByText('It is not checked yet.')).toBeVisible();
  await theirs.close();

  // The instructor opens both.
  await page.reload();
  await page.getByLabel('Attempt', { exact: true }).selectOption({ label: 'Attempt 2 of 2' });
  await expect(page.getByText(/attempt 2 · handed in/)).toBeVisible();
});

test('marks are decided by keyboard: other points with a reason, what is left to chance for all at once, and who is who', async ({
  page,
}) => {
  await signIn(page, 'Maren Osterkamp');
  const lab = await addressOf(page, 'Three Stations');
  await page.goto(`${lab}/class`);
  await checkClass(page);
  await page.getByRole('link', { name: 'Pilar Echeverría' }).click();
  const evidence = page.getByRole('region', { name: 'Evidence' });
  const line = (sentence: RegExp) => page.locator('[data-requirement]').filter({ hasText: sentence }).first();
  await expect(evidence).toBeVisible();

  await page.keyboard.press('4');
  await expect(evidence).toContainText('Left to chance: proposed as lost.');
  await page.keyboard.press('Shift+N');
  await expect(evidence).not.toContainText('Not met, for the whole class');
  await expect(evidence.getByRole('list', { name: 'Decisions' })).toContainText('Maren Osterkamp decided “not met”');

  await page.keyboard.press('e');
  await page.getByRole('textbox', { name: 'Points' }).fill('0,5');
  await page.keyboard.press('Tab');
  await page.keyboard.type('Says at the bench which of the two tills answers.');
  await page.keyboard.press('Enter');
  await expect(evidence).toContainText('gave 0.5 of');
  await expect(line(/decided by a person/)).toHaveAttribute('aria-current', 'true');
  const sentence = await evidence.getByRole('heading').textContent();

  await page.keyboard.press('w');
  const plays = page.getByRole('combobox', { name: 'Plays TILL-1' });
  await plays.selectOption({ label: 'TILL-2 (now TILL-2)' });
  await expect(page.getByRole('button', { name: 'Let it be found who plays TILL-1' })).toBeVisible();

  await page.reload();
  await expect(evidence).toBeVisible();
  await page.keyboard.press('4');
  await expect(evidence.getByRole('heading')).toHaveText(sentence!);
  await expect(evidence).toContainText('Says at the bench which of the two tills answers.');
  await page.keyboard.press('w');
  await expect(plays.locator('option:checked')).toHaveText('TILL-2');
  await page.getByRole('button', { name: 'Let it be found who plays TILL-1' }).click();
  await expect(plays.locator('option:checked')).toHaveText('TILL-1');
});
