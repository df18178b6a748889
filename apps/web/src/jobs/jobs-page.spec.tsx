import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type JobView } from '@sobrin/contracts';
import { serve, show } from '../tests/render';
import { JobsPage } from './jobs-page';

const job = (id: string, more: Partial<JobView>): JobView => ({
  id,
  what: 'check',
  state: 'done',
  course: 'Networks 1',
  lab: { id: 'lab', title: 'Three Stations' },
  student: id,
  submissionId: `s-${id}`,
  by: 'Maren Osterkamp',
  askedAt: '2026-11-30T08:00:00Z',
  startedAt: '2026-11-30T08:00:01Z',
  endedAt: '2026-11-30T08:00:01.250Z',
  retries: 0,
  sentence: null,
  ...more,
});
const rowOf = (name: string): HTMLElement => screen.getByRole('link', { name }).closest('tr')!;

test('what waits, runs, is done or was given up is told, with why', async () => {
  serve({
    'GET jobs': {
      body: [
        job('Zofia', { state: 'waits', startedAt: null, endedAt: null }),
        job('Eero', {}),
        job('Bojana', { state: 'given up', retries: 2, sentence: 'The check takes too long.' }),
        job('Samir', { what: 'confirm', by: null }),
      ],
    },
  });
  show(<JobsPage />);
  expect(await screen.findByText('1 to do')).toBeInTheDocument();
  expect(rowOf('Zofia')).toHaveTextContent('waits');
  expect(rowOf('Eero')).toHaveTextContent('done in 0.3 s');
  expect(rowOf('Eero')).toHaveTextContent('Maren Osterkamp');
  expect(rowOf('Bojana')).toHaveTextContent('given up, try 3: The check takes too long.');
  expect(rowOf('Samir')).toHaveTextContent('Check again, by a newer Sobrin');
  expect(screen.getAllByRole('button', { name: /^Take back/ })).toHaveLength(1);
});

test('what waits is taken back; where it runs by then that is said', async () => {
  const calls = serve({
    'GET jobs': { body: [job('Zofia', { state: 'waits', startedAt: null, endedAt: null })] },
    'DELETE jobs/Zofia': {
      status: 409,
      body: { message: 'It runs already, or is done: nothing is left to take back.' },
    },
  });
  show(<JobsPage />);
  await userEvent.click(await screen.findByRole('button', { name: 'Take back: Zofia, Three Stations' }));
  expect(await screen.findByRole('alert')).toHaveTextContent('It runs already');
  expect(calls.map(({ method, path }) => `${method} ${path}`)).toContain('DELETE jobs/Zofia');
});
