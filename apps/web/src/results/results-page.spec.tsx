import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type LabView, type ResultsView } from '@sobrin/contracts';
import { serve, show } from '../tests/render';
import { ResultsPage } from './results-page';

jest.mock('./marks-chart', () => ({ MarksChart: () => null }));
const lab = { id: 'lab', title: 'Three Stations', courseTitle: 'Networks 1', policy: {} } as LabView;
const cell = (id: string, points: number, of = 2) =>
  ({ id, points, of, verdict: points === of ? 'met' : points ? 'partly' : 'lost' }) as const;
const results: ResultsView = {
  of: 6,
  requirements: [
    { id: '1.1', section: 'a', sectionTitle: 'Components', sentence: 'There are two switches.', of: 2 },
    { id: '1.2', section: 'a', sectionTitle: 'Components', sentence: 'There is power.', of: 2 },
    { id: 'extra', section: 'b', sectionTitle: 'Cabling', sentence: 'All links pass traffic.', of: 2 },
  ],
  rows: [
    {
      studentId: '1',
      submissionId: 's1',
      name: 'Adaeze Okonjo',
      group: '',
      points: 6,
      of: 6,
      penalty: null,
      version: 1,
      stale: false,
      cells: [cell('1.1', 2), cell('1.2', 2), cell('extra', 2)],
    },
    {
      studentId: '2',
      submissionId: 's2',
      name: 'Farid Benali',
      group: '',
      points: 1,
      of: 6,
      penalty: null,
      version: 1,
      stale: false,
      cells: [cell('1.1', 1), cell('1.2', 0), cell('extra', 0)],
    },
    {
      studentId: '3',
      submissionId: 's3',
      name: 'Greta Holzapfel',
      group: '',
      points: null,
      of: null,
      penalty: null,
      version: null,
      stale: false,
      cells: [],
    },
    {
      studentId: '4',
      submissionId: null,
      name: 'Zofia Wrona',
      group: '',
      points: null,
      of: null,
      penalty: null,
      version: null,
      stale: false,
      cells: [],
    },
  ],
};
async function open(given = results): Promise<void> {
  serve({ 'GET labs/lab/results': { body: given } });
  show(<ResultsPage />, { lab });
  await screen.findByText(/checked, newest attempt/);
}
const row = (name: string) => screen.getByRole('row', { name: new RegExp(name) });

test('a line a student: cells, mark, and who has none yet', async () => {
  await open();
  expect(within(await screen.findByRole('table')).getAllByRole('row')).toHaveLength(7);
  expect(
    within(row('Farid Benali'))
      .getAllByRole('button')
      .map((element) => element.getAttribute('aria-label')),
  ).toEqual([
    'Farid Benali, 1.1: part, 1 of 2',
    'Farid Benali, 1.2: none, 0 of 2',
    'Farid Benali, extra: none, 0 of 2',
  ]);
  expect(row('Adaeze')).toHaveTextContent('6.0');
  expect(row('Greta')).toHaveTextContent('to check');
  expect(row('Zofia')).toHaveTextContent('not handed in');
});

test('what most got wrong stands first, what nobody lost not at all', async () => {
  await open();
  const most = (await screen.findByText('Most missed')).closest('aside')!;
  expect(most).toHaveTextContent(
    /1\.2There is power\.50 %.*extraAll links pass traffic\.50 %.*1\.1There are two switches\.75 %/,
  );
  expect(most).toHaveTextContent('median 3.5, mean 3.5, of 6');
});

test('arrow keys go from cell to cell', async () => {
  await open();
  await screen.findByRole('table');
  await userEvent.click(row('Adaeze').querySelector('td')!);
  within(row('Adaeze')).getAllByRole('button')[0]!.focus();
  await userEvent.keyboard('{ArrowRight}{ArrowDown}');
  expect(document.activeElement).toHaveAttribute('aria-label', 'Farid Benali, 1.2: none, 0 of 2');
  await userEvent.keyboard('{ArrowLeft}{ArrowUp}');
  expect(document.activeElement).toHaveAttribute('aria-label', 'Adaeze Okonjo, 1.1: full, 2 of 2');
});

test('the CSV is offered, and Enter on a cell opens the student’s check', async () => {
  await open();
  expect(screen.getByRole('link', { name: 'Save as CSV' })).toHaveAttribute('href', '/api/labs/lab/results.csv');
  await screen.findByRole('table');
  await userEvent.click(within(row('Farid Benali')).getAllByRole('button')[1]!);
  expect(await screen.findByText('another page')).toBeInTheDocument();
});

test('before anything is checked it is said where to begin', async () => {
  await open({ ...results, rows: results.rows.slice(2) });
  expect(await screen.findByText('Nothing is checked yet')).toBeInTheDocument();
  expect(screen.getByRole('link', { name: 'To the class' })).toHaveAttribute('href', '/labs/lab/class');
});
