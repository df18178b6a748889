import 'fake-indexeddb/auto';
import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type StudentLabView } from '@sobrin/contracts';
import { type Plan } from '@sobrin/core/plan';
import { brief, plan } from '../tests/plans';
import { type Call, serve, show, sizePage } from '../tests/render';
import { StudentPlan } from './student-plan';

beforeAll(sizePage);

let plans = 0;
async function open(bench: StudentLabView['bench'], document: Plan = plan()): Promise<Call[]> {
  const planId = `plan-${++plans}`;
  const lab = {
    id: 'lab',
    title: 'Season Opening',
    courseTitle: 'Networks 1',
    bench,
    planId,
    documentId: 'doc',
    brief,
  };
  const calls = serve({
    'GET my/labs/lab': { body: lab },
    [`GET documents/${planId}`]: { body: { id: planId, revision: 4, document } },
    [`POST documents/${planId}/changes`]: { body: { revision: 5, merged: null } },
  });
  show(<StudentPlan />, { path: '/my/labs/:labId/plan', at: '/my/labs/lab/plan' });
  await screen.findByRole('tree');
  return calls;
}
const tooSmall = (): Plan => {
  const document = plan();
  document.blocks.tickets!.prefix = '10.84.1.0/27';
  return document;
};

test('what a student plans is saved as the commands it was made of, on the revision it was made on', async () => {
  const calls = await open('coach');
  await userEvent.click(screen.getByRole('treeitem', { name: /^Tickets/ }));
  await userEvent.type(screen.getByRole('textbox', { name: 'For whom' }), 'TILL{Enter}');
  await waitFor(() =>
    expect(calls.find((call) => call.method === 'POST')?.body).toMatchObject({
      base: 4,
      commands: [{ kind: 'takeAddresses', addresses: { '10.84.1.4': { name: 'TILL' } } }],
    }),
  );
  expect(screen.getByText(/Networks 1 · your plan/)).toBeInTheDocument();
  expect(screen.getByRole('link', { name: 'Tasks' })).toHaveAttribute('href', '/my/labs/lab');
});

test('a coaching lab tells sizes and mistakes; an examination neither; Sobrin lays nothing out for students', async () => {
  await open('coach', tooSmall());
  expect(await screen.findByRole('button', { name: /\d problems/ })).toBeInTheDocument();
  expect(within(screen.getByRole('region', { name: 'Brief numbers' })).getByText('/26')).toBeInTheDocument();
  expect(screen.queryByRole('button', { name: 'Lay out all groups' })).toBeNull();
});

test.each(['examination', 'plain'] as const)('a lab of kind %s keeps sizes and mistakes to itself', async (bench) => {
  await open(bench, tooSmall());
  expect(screen.queryByText(/problem/)).toBeNull();
  expect(within(screen.getByRole('region', { name: 'Brief numbers' })).queryByText('/26')).toBeNull();
});

test('a plan that cannot be opened says so and can be tried again', async () => {
  const lab = { id: 'lab', title: 'S', courseTitle: 'N', bench: 'coach', planId: 'gone', documentId: 'doc', brief };
  serve({ 'GET my/labs/lab': { body: lab } });
  show(<StudentPlan />, { path: '/my/labs/:labId/plan', at: '/my/labs/lab/plan' });
  expect(await screen.findByText(/Nothing answers GET documents\/gone/)).toBeInTheDocument();
  serve({ 'GET documents/gone': { body: { id: 'gone', revision: 0, document: { blocks: {} } } } });
  await userEvent.click(screen.getByRole('button', { name: /again/i }));
  expect(await screen.findByRole('button', { name: 'Add the root block' })).toBeInTheDocument();
});
