import { type Locator, type Page } from '@playwright/test';
import { addressOf, answered, chooseFile, copyOf, expect, labWith, makeLab, saved, signIn, test } from './people';

/** Everything that pages let one change is changed once through the real interface, read back, and compared. */

const FIELDS = 'main :is(input, textarea, select):not([type=file]):not([type=search]):not(:disabled)';

/** What a page lets one change, as it stands: its fields by their labels, and what is written on it. */
const standing = (page: Page): Promise<{ fields: [string, string][]; text: string }> =>
  page.locator('main').evaluate((main, selector) => {
    const labelOf = (field: HTMLInputElement): string =>
      field.getAttribute('aria-label') ?? [...(field.labels ?? [])].map((label) => label.textContent).join(' ');
    const valueOf = (field: HTMLInputElement): string =>
      field.type === 'checkbox' ? (field.checked ? 'on' : 'off') : field.value;
    const fields = [...document.querySelectorAll<HTMLInputElement>(selector)].filter(labelOf);
    // What others do and how things are saved is not of the page.
    const text = [...main.querySelectorAll('section, table, [data-requirement]')].map((part) => part.textContent);
    return { fields: fields.map((field) => [labelOf(field), valueOf(field)]), text: text.join('\n') };
  }, FIELDS);

/** What is typed into a field, by its label; null to leave it. */
type Typed = (label: string, now: string) => string | null;

/** Changes every field of a page, one after the other, also those that come up meanwhile; which would not take it. */
async function changeEvery(page: Page, typed: Typed): Promise<string[]> {
  const refused: string[] = [];
  const added = new Set<string>();
  const fields = page.locator(FIELDS);
  for (let at = 0; at < (await fields.count()); at++) {
    const field = fields.nth(at);
    const label = await field.evaluate(
      (of: HTMLInputElement) =>
        of.getAttribute('aria-label') ?? [...(of.labels ?? [])].map((each) => each.textContent).join(' '),
    );
    // A line that adds one more comes up again under what it added.
    if (!label || (label.startsWith('Add ') && added.has(label))) continue;
    added.add(label);
    const kind = await field.evaluate((of: HTMLInputElement) => (of.tagName === 'SELECT' ? 'select' : of.type));
    if (kind === 'select') await chooseAnother(field);
    else if (kind === 'checkbox') await field.click();
    else {
      const text = typed(label, await field.inputValue());
      if (text === null) continue;
      await field.fill(text);
      const isWrong = (await field.getAttribute('aria-invalid')) === 'true';
      if (isWrong) {
        refused.push(`${label}: ${text}`);
        await field.press('Escape');
      } else await field.blur();
    }
  }
  return refused;
}

async function chooseAnother(select: Locator): Promise<void> {
  const [now, options] = await select.evaluate((of: HTMLSelectElement): [string, string[]] => [
    of.value,
    [...of.options].flatMap(({ value, disabled }) => (disabled || !value ? [] : value)),
  ]);
  const other = options.findLast((value) => value !== now);
  if (other !== undefined) await select.selectOption(other);
}

/** The page as it stands is what it is after a reload. */
async function expectToStay(page: Page): Promise<{ fields: [string, string][]; text: string }> {
  await saved(page);
  const before = await standing(page);
  await page.reload();
  await expect(page.locator(FIELDS).first()).toBeVisible();
  await expect.poll(() => standing(page)).toEqual(before);
  return before;
}

test('the brief: every field, list, rule and size', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  const lab = await makeLab(page, labWith('Every field of a brief'));
  await page.goto(`${lab}/brief`);
  await expect(page.getByText('Rules of the lab')).toBeVisible();
  for (const name of ['Add a group', 'Add a group', 'Keep a group apart', 'Add a site', 'Add a task', 'Add a link'])
    await page.getByRole('button', { name }).click();

  const untouched = await standing(page);
  const refused = await changeEvery(page, (label, now) => {
    if (/^Name of |^Site \d|^Needs of /.test(label)) return null; // names are labels of others: below
    if (/^Site of /.test(label)) return now === 'Valley Station' ? 'Summit Station' : 'Valley Station';
    if (/range/i.test(label)) return '203.0.113.64/26';
    if (/Naming scheme/.test(label)) return '{site}{n}-{kind}';
    if (/^Address of /.test(label)) return 'https://kestrel.example/notes';
    if (/[Pp]er cent/.test(label)) return '7.5';
    if (/^Distance of routes/.test(label)) return '77';
    if (/Due date/.test(label)) return '2031-01-05T18:00';
    if (/^\d+(\.\d+)?$/.test(now)) return String(Number(now) + 1);
    if (/attempts|^Self-checks|^Tries|^What a hint costs/i.test(label)) return '4';
    return `${now} again`.trim();
  });
  expect(refused).toEqual([]);
  for (const [label, text] of [
    [/^Name of /, 'Lift pilots'],
    [/^Site 1$/, 'Valley Foot'],
  ] as const) {
    await page.getByLabel(label).first().fill(text);
    await page.getByLabel(label).first().press('Enter');
  }
  const now = await expectToStay(page);
  const before = new Map(untouched.fields);
  const same = now.fields.filter(
    ([label, value]) =>
      before.get(label) === value && !/^N(eeds|ame) of |^Add |^Site [2-9]|^Automatic cabling/.test(label),
  );
  // Every one that is there was changed, and has stayed changed; automatic cabling follows how much the bench tells.
  expect(same.map(([label]) => label)).toEqual([]);
  expect(now.text).toContain('Lift pilots');
});

test('the spec: requirements of every family, and all that its menu, sections and groups have', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  const lab = await makeLab(page, await copyOf('valley-lan', 'Requirements of every family'));
  await page.goto(`${lab}/spec`);
  const rows = page.locator('[data-requirement]');
  await expect(rows.first()).toBeVisible();
  const open = (): Promise<void> => page.getByRole('button', { name: 'Add a requirement' }).first().click();
  await open();
  // One of each family: that every kind is stored as it is read is a matter of its schema.
  const families = page.getByRole('dialog').locator('section');
  const count = await families.count();
  expect(count).toBeGreaterThan(4);
  const first = await rows.count();
  for (let at = 0; at < count; at++) {
    if (at > 0) await open();
    await families.nth(at).getByRole('button').last().click();
    await expect(rows).toHaveCount(first + at + 1);
  }
  await saved(page);
  const menu = async (number: string, entry: string | RegExp): Promise<void> => {
    // What the reference says of a change comes as a line of its own and moves the rows: whoever misses presses again.
    await expect(async () => {
      if (!(await page.getByRole('menu').isVisible()))
        await page
          .getByRole('button', { name: `More for requirement ${number}`, exact: true })
          .click({ timeout: 5000 });
      await expect(page.getByRole('menu')).toBeVisible({ timeout: 5000 });
    }).toPass();
    await page.getByRole('menuitem', { name: entry }).first().click();
    await expect(page.getByRole('menu')).toBeHidden();
  };
  const more = async (number: string, what: string, word?: string): Promise<void> => {
    await page.getByRole('button', { name: `More terms for ${number}`, exact: true }).click();
    await page.getByRole('menuitem', { name: what, exact: true }).click();
    if (word !== undefined) await page.getByRole('menuitem', { name: word, exact: true }).click();
  };
  const credit = rows.first().getByRole('button', { name: /^(a share for each part|all or nothing), choose another$/ });
  const isShare = ((await credit.textContent()) ?? '').startsWith('a share');
  await credit.click();
  await page.getByRole('menuitem', { name: isShare ? 'all or nothing' : 'a share for each part' }).click();
  await more('1.1', 'A bonus, or points that are taken off', 'a bonus');
  await more('1.1', 'Needed to pass', 'needed to pass');
  await more('1.1', 'A hint where it is wrong');
  await page.getByLabel('Value').fill('Look at the cabinet.');
  await page.getByLabel('Value').press('Enter');
  for (const entry of ['Own wording', 'Turn into “not”']) await menu('1.1', entry);
  await more('1.2', 'The task it belongs to', 'belongs to task 1');
  await more('1.2', 'Counts only once others are met');
  await page.getByRole('checkbox', { name: '1.1', exact: true }).check();
  await page.getByRole('button', { name: 'Take these' }).click();
  await menu('1.3', 'Join with other statements');
  await menu('1.4', 'Duplicate');
  await menu('1.5', /^Move to /);
  await menu('1.6', 'Remove');
  await page.getByLabel('Wording of 1.1').fill('In other words.');
  await page.getByLabel('Wording of 1.1').press('Enter');
  await page.getByLabel('Points of 1.2', { exact: true }).fill('7');
  await page.getByLabel('Points of 1.2', { exact: true }).press('Enter');
  await page.getByLabel('Title of section 1').fill('First of all');
  await page.getByLabel('Title of section 1').press('Enter');
  await page.getByRole('button', { name: 'Add a section' }).click();
  await page.getByRole('button', { name: 'Move down' }).first().click();
  await page.getByRole('button', { name: 'Add a group' }).click();
  await page.getByLabel('Name of the group').fill('Those at the top');
  await page.getByLabel('Name of the group').press('Enter');
  await page.getByLabel('Devices', { exact: true }).click();
  await page.locator('[role=listbox] [role=option]').first().click();
  await page.keyboard.press('Escape');
  const group = page.getByRole('button', { name: /^Those at the top/ });
  await group.click(); // whether it is opened is not of the spec
  await page.getByRole('button', { name: 'Add a group' }).click();
  await page.getByLabel('Name of the group').fill('Those that are cameras');
  await page.getByLabel('Name of the group').press('Enter');
  await page.getByLabel('How the group is chosen').selectOption('selected');
  await page.getByLabel('What they are', { exact: true }).selectOption('cameras');
  await page.getByLabel('At which site').fill('Nowhere');
  await page.getByLabel('At which site').press('Enter');
  await page.getByLabel('How many there must be').fill('3');
  await page.getByLabel('How many there must be').press('Enter');
  const chosen = page.getByRole('button', { name: /^Those that are cameras/ });
  await chosen.click();
  const now = await expectToStay(page);
  const words = [
    'not',
    'a bonus',
    'needed to pass',
    'Look at the cabinet.',
    'told in task 1',
    'counts once 1.1 is met',
  ];
  for (const word of words) expect(now.text).toContain(word);
  expect(now.fields).toContainEqual([expect.stringMatching(/^Wording of /), 'In other words.']);
  expect(now.fields).toContainEqual([expect.stringMatching(/^Title of section /), 'First of all']);
  await expect(group).toContainText('1');
  await chosen.click();
  await expect(page.getByLabel('At which site')).toHaveValue('Nowhere');
  await expect(page.getByLabel('How many there must be')).toHaveValue('3');
});

test('a student’s page and the class: answers, files, drawing, and what is handed in of them, read by both sides', async ({
  page,
  browser,
  baseURL,
}) => {
  await signIn(page, 'Anselm Brückner');
  const lab = await addressOf(page, 'Three Stations');
  await page.goto(lab);
  const answers = page.getByRole('textbox', { name: /^Answer/ });
  await expect(answers.first()).toBeVisible();
  const count = await answers.count();
  expect(count).toBeGreaterThan(0);
  for (let at = 0; at < count; at++) await answers.nth(at).fill(`Answer number ${at + 1}`);
  await answers.last().blur();
  await chooseFile(page, () => page.getByRole('button', { name: 'Attach a file' }).click(), {
    name: 'notes.txt',
    mimeType: 'text/plain',
    buffer: Buffer.from('seen from the tower'),
  });
  await expect(page.getByText('notes.txt')).toBeVisible();
  await page.getByRole('link', { name: 'Open the bench' }).click();
  await expect(page.getByRole('toolbar', { name: 'Bench' })).toBeVisible();
  await page.keyboard.press('/');
  await page.keyboard.type('add hub');
  await page.keyboard.press('Enter');
  await expect(page.locator('.tile').filter({ hasText: 'HB-1' })).toBeVisible();
  await saved(page);
  await page.goto(lab);
  const stands = async (): Promise<void> => {
    await expect(answers).toHaveCount(count);
    for (let at = 0; at < count; at++) await expect(answers.nth(at)).toHaveValue(`Answer number ${at + 1}`);
    await expect(page.getByText('notes.txt')).toBeVisible();
    await expect(page.getByText('1 device, 0 links')).toBeVisible();
  };
  await stands();
  await page.getByRole('button', { name: 'Hand in attempt 1' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Hand in', exact: true }).click();
  await expect(page.getByRole('status').filter({ hasText: 'Attempt 1 is handed in' })).toBeVisible();
  await page.reload();
  await stands();
  await page.getByRole('link', { name: /^Attempt 1/ }).click();
  await expect(page.locator('.tile').filter({ hasText: 'HB-1' })).toBeVisible();
  await page.getByRole('button', { name: 'Answers and files' }).click();
  await expect(page.getByText('Answer number 1')).toBeVisible();

  const theirs = await browser.newContext(baseURL === undefined ? {} : { baseURL });
  const teacher = await theirs.newPage();
  await signIn(teacher, 'Maren Osterkamp');
  await teacher.goto(`${await addressOf(teacher, 'Three Stations')}/class`);
  await teacher.getByRole('link', { name: 'Anselm Brückner' }).click();
  await expect(teacher.locator('.tile').filter({ hasText: 'HB-1' }).first()).toBeVisible();
  await teacher.getByRole('button', { name: /answers/i }).click();
  await expect(teacher.getByText('Answer number 1')).toBeVisible();
  await expect(teacher.getByText('notes.txt')).toBeVisible();
  // What the class lets one change: who is in it, and by which version it is judged.
  await teacher.goto(`${await addressOf(teacher, 'Three Stations')}/class`);
  await teacher.getByRole('button', { name: 'Add students' }).click();
  await teacher.getByRole('textbox', { name: 'Students', exact: true }).fill('Kern, Lukas; lukas.kern');
  await teacher.getByRole('button', { name: 'Add 1' }).click();
  await teacher.getByRole('button', { name: 'Done' }).click();
  await teacher.reload();
  await expect(teacher.getByRole('row', { name: /Kern, Lukas/ })).toBeVisible();
  await teacher.getByRole('button', { name: 'Take Kern, Lukas off the roster' }).click();
  await answered(teacher, 'DELETE', () => teacher.getByRole('button', { name: 'Take off the roster' }).click());
  await expect(teacher.getByRole('dialog')).toHaveCount(0);
  await expect(teacher.getByRole('row', { name: /Kern, Lukas/ })).toHaveCount(0);
  await teacher.reload();
  await expect(teacher.getByRole('row', { name: /Anselm/ })).toBeVisible();
  await expect(teacher.getByRole('row', { name: /Kern, Lukas/ })).toHaveCount(0);
  await theirs.close();
});
