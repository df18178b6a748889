import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type LabView, type SignOffsView } from '@sobrin/contracts';
import { serve, show } from '../tests/render';
import { SignOffsPage } from './sign-offs-page';

const lab = { id: 'lab', teaches: true, title: 'Three Stations', courseTitle: 'Networks 1' } as unknown as LabView;
const open = { id: '4.9', state: 'open', decision: null, by: null, at: null } as const;
const seen = { id: '4.9', state: 'seen', decision: 'd', by: 'Maren Osterkamp', at: '2026-12-01T09:00:00Z' } as const;
const row = (name: string, more: Partial<SignOffsView['rows'][number]> = {}) => ({
  studentId: name,
  name,
  group: '',
  submissionId: `s-${name}`,
  isChecked: true,
  cells: [open],
  ...more,
});
const view = (
  rows = [row('Ilse'), row('Eero', { cells: [seen] }), row('Ana', { submissionId: null })],
): SignOffsView => ({
  signOffs: [{ id: '4.9', sentence: 'A person has seen that the till prints.', of: 2 }],
  rows,
});
const start = (given = view(), more: Parameters<typeof serve>[0] = {}, shown = lab) => {
  const calls = serve({ 'GET labs/lab/sign-offs': { body: given }, ...more });
  show(<SignOffsPage />, { lab: shown });
  return calls;
};
const line = async (name: string) => (await screen.findByText(name)).closest('li')!;

test('each student has a line with who saw it and when; nobody is asked who handed nothing in', async () => {
  start();
  expect(await line('Eero')).toHaveTextContent(/seen .*, MO/);
  expect(await line('Ana')).toHaveTextContent('nothing handed in yet');
  expect(within(await line('Ana')).queryByRole('button')).toBeNull();
  expect(screen.getByRole('status')).toHaveTextContent('1 of 3 seen');
});

test('one press confirms it for all its points, one more takes it back; what is not checked yet is checked first', async () => {
  const calls = start(view([row('Ilse', { isChecked: false }), row('Eero', { cells: [seen] })]), {
    'POST submissions/s-Ilse/check': { body: {} },
    'POST submissions/s-Ilse/decisions': { body: {} },
    'DELETE submissions/s-Eero/decisions/d': { body: {} },
  });
  await userEvent.click(await screen.findByRole('button', { name: 'Ilse: seen' }));
  await waitFor(() => expect(screen.getByRole('button', { name: 'Eero: seen, take it back' })).toBeEnabled());
  await userEvent.click(screen.getByRole('button', { name: 'Eero: seen, take it back' }));
  await waitFor(() => expect(calls.filter(({ method }) => method !== 'GET')).toHaveLength(3));
  expect(calls.filter(({ method }) => method !== 'GET').map(({ method, path, body }) => [method, path, body])).toEqual([
    ['POST', 'submissions/s-Ilse/check', undefined],
    [
      'POST',
      'submissions/s-Ilse/decisions',
      { requirement: '4.9', item: null, isMet: null, points: 2, reason: 'Seen.' },
    ],
    ['DELETE', 'submissions/s-Eero/decisions/d', undefined],
  ]);
});

test('a name is found; who does not teach there changes nothing; without sign-offs it is told what to do', async () => {
  start(view(), {}, { ...lab, teaches: false });
  expect(await screen.findByRole('button', { name: 'Ilse: seen' })).toBeDisabled();
  await userEvent.type(screen.getByRole('textbox', { name: 'Find a student' }), 'ee');
  expect(screen.queryByText('Ilse')).toBeNull();
  expect(screen.getByText('Eero')).toBeInTheDocument();
});

test('without anything to be signed off it is told what to do', async () => {
  start({ signOffs: [], rows: [] });
  expect(await screen.findByText('Nothing is to be signed off')).toBeInTheDocument();
});
