import { expect, labWith, openLab, signIn, signOut, test } from './people';

const headers = { 'x-sobrin-request': '1' };

test('a lab is released, a change judges nobody until it is made final, and a course goes back to the version before', async ({
  page,
}) => {
  await signIn(page, 'Maren Osterkamp');
  const courses = (await (await page.request.get('/api/courses')).json()) as { id: string; title: string }[];
  const course = courses.find(({ title }) => title === 'Networks 1');
  const rule = { kind: 'deviceCount', what: 'switch', op: 'atMost', n: 5, site: 'anywhere' };
  const spec = {
    groups: {},
    sections: [
      {
        id: '1',
        title: 'Components',
        requirements: [{ id: '1.1', points: 2, credit: 'all', rule }],
      },
    ],
  };
  const data = { text: JSON.stringify({ ...labWith('Rope Tension'), spec }) };
  const answer = await page.request.post(`/api/courses/${course!.id}/labs/import`, { headers, data });
  expect(await answer.text()).toContain('id');
  const { id } = (await answer.json()) as { id: string };
  await page.goto('/');
  await expect(page.getByRole('link', { name: /Rope Tension/ })).toContainText('not released yet');
  await page.goto(`/labs/${id}/brief`);
  await page.getByRole('button', { name: 'Release to the class' }).click();
  await page.getByRole('button', { name: 'Release', exact: true }).click();
  await expect(page.getByText('Students do not see this lab yet.')).toBeHidden();
  await signOut(page);

  await signIn(page, 'Zofia Wrona');
  await openLab(page, 'Rope Tension');
  await page.getByRole('button', { name: 'Hand in attempt 1' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Hand in' }).click();
  await expect(page.getByText(/Attempt 1/).first()).toBeVisible();
  await signOut(page);

  await signIn(page, 'Maren Osterkamp');
  await page.goto(`/labs/${id}/class`);
  await page.getByRole('button', { name: 'Check 1' }).click();
  const zofia = page.getByRole('row', { name: /Zofia Wrona/ });
  await expect(zofia).toContainText('0 / 2');
  await page.goto(`/labs/${id}/spec`);
  await page.getByLabel('Points of 1.1').fill('5');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/judged by version 1 of .* changed since/)).toBeVisible();
  await page.reload();
  await page.getByRole('button', { name: 'Make it final' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Make it final' }).click();
  await expect(page.getByText(/changed since/)).toBeHidden();
  await page.goto(`/labs/${id}/class`);
  await expect(zofia).toContainText('checked by another version');
  await page.getByRole('button', { name: 'Check 1' }).click();
  await expect(zofia).toContainText('0 / 5');
  await page.getByRole('button', { name: 'Version 2' }).click();
  await page.getByRole('button', { name: 'Judge by version 1' }).click();
  await expect(page.getByRole('button', { name: 'Judge by version 2' })).toBeVisible();
  await page.getByRole('button', { name: 'Done' }).click();
  await page.reload();
  await expect(page.getByRole('button', { name: 'Version 1' })).toBeVisible();
  await expect(zofia).toContainText('checked by another version');
});
