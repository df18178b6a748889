import { readFile } from 'node:fs/promises';
import { checkClass, copyOf, expect, makeLab, openBenchOf, openLab, saved, signIn, signOut, test } from './people';

test('the mistake behind what failed is found by one key, seen repaired, told to its student, and counted once', async ({
  page,
}) => {
  test.slow();
  await signIn(page, 'Maren Osterkamp');
  const lab = await openLab(page, 'Summit Dual Stack');
  await page.goto(`${lab}/class`);
  await checkClass(page);
  await page.getByRole('link', { name: 'Samir Haddadin' }).first().click();
  const causes = page.getByRole('region', { name: 'Causes' });
  await expect(causes.getByRole('button')).toHaveText([/^A.*\/80, and should have .*\/64/]);
  await expect(page.locator('[data-requirement]').filter({ hasText: 'follows from A' }).first()).toBeVisible();
  await page.keyboard.press('a');
  const panel = page.getByRole('region', { name: 'Cause A' });
  await expect(panel).toContainText('If it counted once');
  await page.keyboard.press('y');
  await expect(page.getByRole('region', { name: 'With A repaired' })).toContainText('51 of 51');
  await page.keyboard.press('y');
  await page.keyboard.press('c');
  const form = page.getByRole('form', { name: 'Comment' });
  await expect(form.getByRole('textbox', { name: 'Comment' })).toHaveValue('Look at RT-M g1: the IPv6 address.');
  await page.getByRole('button', { name: 'what it is' }).click();
  await expect(form.getByRole('textbox', { name: 'Comment' })).toHaveValue(/should have/);
  await page.keyboard.press('Control+Enter');
  await expect(form).toHaveCount(0);
  await page.reload();
  await expect(causes).toBeVisible();
  await page.keyboard.press('Shift+C');
  await expect(page.getByRole('list', { name: 'Comments' })).toContainText('should have');
  // What the class has in common leads to whose it is.
  await page.goto(`${lab}/results`);
  const common = page.getByRole('region', { name: 'Causes in common' });
  await common.getByRole('button', { name: /^Look for them/ }).click();
  await expect(common.getByText('of 12 checked')).toBeVisible({ timeout: 60_000 });
  await page.reload();
  await common.getByRole('link', { name: 'Mateusz Gawron' }).first().click();
  await expect(page.getByRole('region', { name: 'Cause A' })).toContainText('does not forward IPv6');
  await page.keyboard.press('Shift+A');
  await expect(page.getByRole('region', { name: 'Cause A' })).toBeVisible();
});

test('a mistake counts once where the rules say so: the mark, its steps, and what its student reads', async ({
  page,
}) => {
  test.slow();
  await signIn(page, 'Maren Osterkamp');
  const lab = await makeLab(page, await copyOf('valley-lan', 'Counted once'));
  await page.goto(`${lab}/brief`);
  await page.getByLabel('A mistake counts').selectOption('on');
  await saved(page);
  await page.reload();
  await expect(page.getByLabel('A mistake counts')).toHaveValue('on');
  await expect(page.getByLabel('What a mistake costs')).toHaveValue('');
  await page.getByRole('button', { name: 'Release to the class' }).click();
  await page.getByRole('button', { name: 'Release', exact: true }).click();
  await expect(page.getByText('Students do not see this lab yet.')).toBeHidden();

  await signOut(page);
  await signIn(page, 'Zofia Wrona');
  const own = await openLab(page, 'Counted once');
  const id = own.split('/').at(-1)!;
  const work = JSON.parse(await readFile('demo/valley-lan/submissions/bojana-ristic.json', 'utf8')) as object;
  const headers = { 'x-sobrin-request': '1' };
  const sent = async (path: string, data: object): Promise<void> =>
    expect((await page.request.post(`/api/my/labs/${id}/${path}`, { headers, data })).ok()).toBe(true);
  await sent('upload', { text: JSON.stringify(work) });
  await sent('hand-in', {});

  await signOut(page);
  await signIn(page, 'Maren Osterkamp');
  await page.goto(`${lab}/class`);
  await checkClass(page);
  await page.getByRole('link', { name: 'Zofia Wrona' }).first().click();
  await expect(page.getByLabel('Mark 40 of 41')).toBeVisible();
  await page.getByRole('button', { name: 'How the mark comes about' }).click();
  await expect(page.getByText('given back, 1 mistake counted once')).toBeVisible();
  await page.keyboard.press('Escape');

  await signOut(page);
  await signIn(page, 'Zofia Wrona');
  await openLab(page, 'Counted once');
  await page.getByRole('link', { name: /^Attempt 1/ }).click();
  await expect(page.getByText(/points are given back: 1 mistake counts once/)).toBeVisible();
  await expect(page.getByLabel('Mark 40 of 41')).toBeVisible();
});

test('a spec is drilled: a proposal is taken and stays, and the drill goes on while its page is left', async ({
  page,
}) => {
  test.slow();
  await signIn(page, 'Maren Osterkamp');
  const lab = await makeLab(page, await copyOf('three-stations', 'Drilled'));
  await page.goto(`${lab}/spec`);
  await page.getByRole('link', { name: 'Drill' }).click();
  await page.getByRole('button', { name: 'Drill the spec' }).first().click();
  await expect(page.getByRole('progressbar', { name: 'Drawings tried' })).toBeVisible();
  await page.getByRole('link', { name: 'Spec', exact: true }).first().click();
  await expect(page.getByText('The reference earns')).toBeVisible();
  await page.getByRole('link', { name: 'Drill' }).click();
  const score = page.getByRole('complementary', { name: 'Score' });
  await expect(score).toBeVisible({ timeout: 120_000 });
  const missed = page.getByRole('region', { name: 'Missed', exact: true });
  const heading = missed.getByRole('heading', { level: 2 });
  const before = Number(/^\d+/.exec((await heading.textContent())!)![0]);
  expect(before).toBeGreaterThan(0);
  await missed.locator('[data-miss]').filter({ hasText: '+' }).first().click();
  const proposal = page.getByRole('region', { name: 'Proposed requirement' });
  const sentence = (await proposal.locator('[data-proposal]').textContent())!;
  await page.keyboard.press('p');
  await expect(heading).not.toHaveText(`${before} missed`);
  await saved(page);
  await page.goto(`${lab}/spec`);
  await page.reload();
  await expect(page.getByText(sentence).first()).toBeVisible();
});

test('beside the way of a packet that is not answered stands what would help, and does it', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  const file = (await copyOf('three-stations', 'Would help')) as {
    reference: { devices: Record<string, { settings?: { gateway4?: string } }> };
  };
  file.reference.devices['OFFICE-1']!.settings!.gateway4 = '10.84.1.90';
  await openBenchOf(page, file);
  await page.keyboard.press('/');
  await page.keyboard.type('trace OFFICE-1 CAM-1');
  await page.keyboard.press('Enter');
  const help = page.getByRole('region', { name: 'What would help' });
  await expect(help).toContainText('10.84.1.90');
  await help
    .getByRole('button', { name: /10\.84\.1\.65/ })
    .first()
    .click();
  await page.getByRole('button', { name: 'Send again' }).click();
  await expect(page.getByRole('complementary', { name: 'Trace' })).toContainText('reached');
  await expect(help).toHaveCount(0);
  await saved(page);
});
