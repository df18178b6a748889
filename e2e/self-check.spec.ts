import { expect, labWith, makeLab, openLab, saved, signIn, signOut, test } from './people';

test('the rules say how often students check themselves, try answers and what a hint costs, and which attempt counts; a student does all of it', async ({
  page,
}) => {
  await signIn(page, 'Maren Osterkamp');
  const rule = { kind: 'deviceCount', what: 'switch', op: 'atLeast', n: 1, site: 'anywhere' };
  const named = { kind: 'titled' };
  const requirements = [
    { id: '1.1', points: 4, rule, hints: { that: 'Something is missing in the cabinet.' }, task: 't1' },
    { id: '1.2', points: 2, rule: named },
    { id: '1.3', points: 2, rule: { kind: 'answerNumber', task: 't2', value: '62' } },
  ];
  const lab = await makeLab(page, {
    ...labWith('Checked by oneself'),
    tasks: [
      { id: 't1', text: 'Draw a switch, with a title.' },
      { id: 't2', text: 'How many hosts does a /26 hold?' },
    ],
    spec: { groups: {}, sections: [{ id: 'a', title: 'In the cabinet', requirements }] },
  });
  await page.goto(`${lab}/brief`);
  await page.getByRole('textbox', { name: 'Self-checks' }).fill('2');
  await page.getByRole('textbox', { name: 'Self-checks' }).press('Enter');
  for (const [rule, value] of [
    ['Tries', '1'],
    ['What a hint costs', '1'],
  ] as const) {
    await page.getByRole('textbox', { name: rule }).fill(value);
    await page.getByRole('textbox', { name: rule }).press('Enter');
  }
  await page.getByLabel('How devices are known').selectOption('exact');
  await page.getByLabel('Which attempt counts').selectOption('best');
  await page.getByLabel('What students see of a result').selectOption('findings');
  await saved(page);
  await page.reload();
  await expect(page.getByRole('textbox', { name: 'Self-checks' })).toHaveValue('2');
  await expect(page.getByRole('textbox', { name: 'Tries' })).toHaveValue('1');
  await expect(page.getByRole('textbox', { name: 'What a hint costs' })).toHaveValue('1');
  await expect(page.getByLabel('How devices are known')).toHaveValue('exact');
  await expect(page.getByLabel('Which attempt counts')).toHaveValue('best');
  await page.getByRole('button', { name: 'Release to the class' }).click();
  await page.getByRole('button', { name: 'Release', exact: true }).click();
  await expect(page.getByText('Students do not see this lab yet.')).toBeHidden();

  await signOut(page);
  await signIn(page, 'Zofia Wrona');
  const own = await openLab(page, 'Checked by oneself');
  await expect(page.getByRole('region', { name: 'What is asked' })).toContainText('Devices are known by their names');
  // The one try is used; the answer stays, and a hint is taken.
  const tasks = page.getByRole('region', { name: 'Tasks' });
  await tasks.getByLabel('Answer to task 2').fill('64');
  await tasks.getByRole('button', { name: 'Is it right? Task 2' }).click();
  await expect(tasks.getByText('64 is not right')).toBeVisible();
  await expect(tasks.getByLabel('Answer to task 2')).toBeDisabled();
  await tasks.getByRole('button', { name: 'A hint, 1 point (1 left): task 1' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Take it' }).click();
  await expect(tasks.getByRole('list', { name: 'Hints, task 1' })).toHaveText('Something is missing in the cabinet.');
  await page.reload();
  await expect(tasks.getByLabel('Answer to task 2')).toHaveValue('64');
  await expect(tasks.getByText('All tries are used: this answer is handed in.')).toBeVisible();
  await expect(tasks.getByRole('list', { name: 'Hints, task 1' })).toBeVisible();
  const panel = page.getByRole('region', { name: 'Checking it yourself' });
  await panel.getByRole('button', { name: 'Check it now' }).click();
  await expect(panel.getByRole('listitem')).toHaveText([/In the cabinet\s*0 of 6/]);
  await expect(panel).toContainText('1 of 2 left');
  await page.goto(`${own}/bench`);
  await page.getByRole('toolbar', { name: 'Bench' }).waitFor();
  await page.keyboard.press('/');
  await page.keyboard.type('add an access switch');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  await expect(page.locator('.react-flow__node .tile')).toHaveCount(1);
  await saved(page);
  await page.goto(own);
  await panel.getByRole('button', { name: 'Check it now, for the last time' }).click();
  await expect(panel.getByRole('listitem')).toHaveText([/In the cabinet\s*4 of 6/]);
  await page.reload();
  await expect(panel.getByRole('listitem')).toHaveText([/In the cabinet\s*4 of 6/]);
  await expect(panel.getByRole('button', { name: 'All self-checks are used' })).toBeDisabled();
  // The good drawing is handed in first, an empty one after it.
  for (const attempt of [1, 2]) {
    if (attempt === 2) {
      await page.goto(`${own}/bench`);
      await page.locator('.react-flow__node .tile').first().click();
      await page.keyboard.press('Delete');
      await expect(page.locator('.react-flow__node .tile')).toHaveCount(0);
      await saved(page);
      await page.goto(own);
    }
    await page.getByRole('button', { name: `Hand in attempt ${attempt}` }).click();
    await page.getByRole('dialog').getByRole('button', { name: 'Hand in' }).click();
    await expect(page.getByRole('link', { name: new RegExp(`^Attempt ${attempt}`) })).toBeVisible();
  }
  await signOut(page);
  await signIn(page, 'Maren Osterkamp');
  await page.goto(`${lab}/class`);
  await page.getByRole('button', { name: 'Check 2' }).click();
  await expect(page.getByRole('button', { name: 'All checked' })).toBeVisible();
  await expect(page.getByRole('row', { name: /Zofia Wrona/ })).toContainText('2, 1 counts');
  await expect(page.getByRole('row', { name: /Zofia Wrona/ })).toContainText('4 − 1 hint = 3 / 8');
  // Now the student is to say which one counts.
  await page.goto(`${lab}/brief`);
  await page.getByLabel('Which attempt counts').selectOption('chosen');
  await saved(page);
  await signOut(page);
  await signIn(page, 'Zofia Wrona');
  await openLab(page, 'Checked by oneself');
  await expect(page.getByRole('link', { name: /^Attempt 2.*counts$/ })).toBeVisible();
  await page.getByRole('button', { name: 'Let it count: attempt 1' }).click();
  await expect(page.getByRole('link', { name: /^Attempt 1.*counts$/ })).toBeVisible();
  await page.reload();
  await expect(page.getByRole('link', { name: /^Attempt 1.*counts$/ })).toBeVisible();
  await page.getByRole('link', { name: /^Attempt 2/ }).click();
  await expect(page.getByRole('region', { name: 'Evidence' })).toContainText(
    'Hint: Something is missing in the cabinet.',
  );
});
