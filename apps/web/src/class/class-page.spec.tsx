import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type CheckProgress, type ClassRow, type LabView } from '@sobrin/contracts';
import { serve, show } from '../tests/render';
import { ClassPage } from './class-page';

const lab = {
  id: 'lab',
  courseId: 'course',
  title: 'Three Stations',
  courseTitle: 'Networks 1',
  timeZone: 'UTC',
  teaches: true,
  mayEdit: true,
  isOwner: true,
  owner: 'Maren Osterkamp',
  releasedAt: '2026-11-28T08:00:00Z',
  version: { number: 1, madeAt: '2026-11-28T08:00:00Z', by: 'Maren Osterkamp', judges: true },
  versions: 1,
  isChanged: false,
  policy: {},
} as LabView;
const row = (name: string, more: Partial<ClassRow> = {}): ClassRow => ({
  studentId: name,
  name,
  group: '',
  isInvited: false,
  hasBegun: false,
  attempts: 0,
  counts: more.attempts ?? null,
  toCheck: more.submissionId && (more.points === undefined || more.stale) ? 1 : 0,
  submissionId: null,
  handedInAt: null,
  late: false,
  points: null,
  of: null,
  penalty: null,
  unjudged: 0,
  stale: false,
  unconfirmed: false,
  ...more,
});
const handedIn = { attempts: 1, submissionId: 's', handedInAt: '2026-11-20T10:00:00Z' };
const rows = [
  row('Adaeze', { ...handedIn, submissionId: 'a', points: 40.5, of: 48 }),
  row('Bojana', { ...handedIn, submissionId: 'b', points: 40, of: 48, stale: true, late: true }),
  row('Caoimhe', { ...handedIn, submissionId: 'c', attempts: 2 }),
  row('Dilnoza', { ...handedIn, submissionId: 'd', points: 12, of: 48, unjudged: 3 }),
  row('Eero'),
];

const quiet: CheckProgress = { waiting: 0, running: 0, failed: [] };
const idle = { 'GET labs/lab/checks': { body: quiet } };

test('everybody’s state in words', async () => {
  serve({ 'GET labs/lab/submissions': { body: rows }, ...idle });
  show(<ClassPage />, { lab });
  const line = async (name: string) => (await screen.findByRole('row', { name: new RegExp(`^${name}`) })).textContent;
  expect(await line('Adaeze')).toMatch(/40\.5 \/ 48checked$/);
  expect(await line('Bojana')).toMatch(/, late.*checked by another version$/);
  expect(await line('Caoimhe')).toMatch(/^Caoimhe2.*to check$/);
  expect(await line('Dilnoza')).toMatch(/checked, 3 not certain$/);
  expect(await line('Eero')).toBe('Eero–not yet');
  expect(screen.getByText('4 of 5 handed in, 2 to check')).toBeInTheDocument();
});

test('where the lab lets staff look in, the drawing of whoever has begun is a click away', async () => {
  const begun = rows.map((one) => ({ ...one, hasBegun: one.name === 'Eero' }));
  serve({ 'GET labs/lab/submissions': { body: begun }, ...idle });
  show(<ClassPage />, { lab: { ...lab, policy: { lookIn: true } } });
  expect(await screen.findByRole('link', { name: 'The drawing of Eero as it is now' })).toHaveAttribute(
    'href',
    '/labs/lab/class/drawings/Eero',
  );
  expect(screen.getAllByRole('link', { name: /as it is now/ })).toHaveLength(1);
});

test('checking is asked for once and done on the server; how far it is is shown until it is done', async () => {
  const steps: CheckProgress[] = [quiet, { ...quiet, running: 1 }, quiet];
  let now = rows;
  const calls = serve({
    'GET labs/lab/submissions': () => ({ body: now }),
    'GET labs/lab/checks': () => ({ body: steps.length > 1 ? steps.shift() : steps[0] }),
    'POST labs/lab/checks': () => {
      now = rows.map((row) => ({ ...row, stale: false, toCheck: 0, points: row.submissionId ? 1 : null, of: 48 }));
      return { status: 202, body: { waiting: 2, running: 0, failed: [] } };
    },
  });
  show(<ClassPage />, { lab });
  await userEvent.click(await screen.findByRole('button', { name: 'Check 2' }));
  expect(await screen.findByRole('button', { name: 'Checking 0 of 2: stop' })).toBeEnabled();
  expect(await screen.findByRole('button', { name: 'Checking 1 of 2: stop' })).toBeEnabled();
  expect(await screen.findByRole('button', { name: 'All checked' })).toBeDisabled();
  expect(calls.filter((call) => call.method === 'POST').map((call) => call.path)).toEqual(['labs/lab/checks']);
});

test('checks that somebody asked for before are shown, and are stopped from here', async () => {
  let progress: CheckProgress = { ...quiet, waiting: 7, running: 2 };
  const calls = serve({
    'GET labs/lab/submissions': { body: rows },
    'GET labs/lab/checks': () => ({ body: progress }),
    'DELETE labs/lab/checks': () => {
      progress = quiet;
      return { status: 204 };
    },
  });
  show(<ClassPage />, { lab });
  await userEvent.click(await screen.findByRole('button', { name: 'Checking 0 of 9: stop' }));
  expect(await screen.findByRole('button', { name: 'Check 2' })).toBeEnabled();
  expect(calls.map(({ method }) => method)).toContain('DELETE');
});

test('who could not be checked is told with the reason, and what is left can be checked again', async () => {
  const failed = [{ submissionId: 'b', name: 'Bojana', sentence: 'The drawing takes too long to judge.' }];
  serve({ 'GET labs/lab/submissions': { body: rows }, 'GET labs/lab/checks': { body: { ...quiet, failed } } });
  show(<ClassPage />, { lab });
  expect(await screen.findByRole('alert')).toHaveTextContent('Bojana could not be checked. The drawing takes too long');
  expect(await screen.findByRole('button', { name: 'Check 2' })).toBeEnabled();
});

const member = { role: 'student', group: '', isInvited: false, wasThere: false };

test('students are added from pasted lines; who is new gets an address, shown once', async () => {
  const calls = serve({
    'GET labs/lab/submissions': { body: [] },
    ...idle,
    'POST courses/course/roster': {
      status: 201,
      body: [
        { ...member, id: '1', name: 'Zofia Wrona', login: 'zofia.wrona', link: '/enter#abc123' },
        { ...member, id: '2', name: 'Eero', login: 'eero.l', isInvited: true, link: null },
        { ...member, id: '3', name: 'Ana', login: 'ana', wasThere: true, link: null },
      ],
    },
  });
  show(<ClassPage />, { lab });
  await userEvent.click((await screen.findAllByRole('button', { name: 'Add students' }))[0]!);
  const dialog = screen.getByRole('dialog');
  await userEvent.click(within(dialog).getByLabelText('Students'));
  await userEvent.paste('Zofia Wrona\nEero, eero.l\n, nobody');
  expect(dialog).toHaveTextContent('Line 3: the name is missing.');
  expect(within(dialog).getByRole('button', { name: /^Add/ })).toBeDisabled();
  await userEvent.clear(within(dialog).getByLabelText('Students'));
  await userEvent.paste('Zofia Wrona\nEero, eero.l');
  await userEvent.click(within(dialog).getByRole('button', { name: 'Add 2' }));
  expect(await within(dialog).findByRole('button', { name: 'Copy: the address of Zofia Wrona' })).toBeEnabled();
  expect(dialog).toHaveTextContent('They are shown only now');
  expect(within(dialog).getByText('eero.l').parentElement).toHaveTextContent('invited');
  expect(within(dialog).getByText('ana').parentElement).toHaveTextContent('was there before');
  expect(calls.find((call) => call.method === 'POST')!.body).toEqual({
    students: [
      { name: 'Zofia Wrona', login: 'zofia.wrona' },
      { name: 'Eero', login: 'eero.l' },
    ],
  });
});

test('somebody who lost the password gets an address for a new one; what cannot be is said', async () => {
  serve({
    'GET labs/lab/submissions': { body: rows },
    ...idle,
    'POST courses/course/roster/Eero/link': { status: 201, body: { link: '/enter#xyz' } },
    'POST courses/course/roster/Bojana/link': {
      status: 403,
      body: { message: 'Bojana also attends courses of others.' },
    },
  });
  show(<ClassPage />, { lab });
  await userEvent.click(await screen.findByRole('button', { name: 'A new password for Eero' }));
  const dialog = within(screen.getByRole('dialog'));
  await userEvent.click(dialog.getByRole('button', { name: 'Make an address' }));
  expect(await dialog.findByLabelText('Address')).toHaveValue('http://localhost/enter#xyz');
  await userEvent.click(dialog.getByRole('button', { name: 'Done' }));
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  await userEvent.click(screen.getByRole('button', { name: 'A new password for Bojana' }));
  await userEvent.click(within(screen.getByRole('dialog')).getByRole('button', { name: 'Make an address' }));
  expect(await screen.findByRole('alert')).toHaveTextContent('also attends courses of others');
});

test('taking somebody off the roster asks first', async () => {
  const calls = serve({
    'GET labs/lab/submissions': { body: rows },
    ...idle,
    'DELETE courses/course/roster/Eero': { status: 204 },
  });
  show(<ClassPage />, { lab });
  await userEvent.click(await screen.findByRole('button', { name: 'Take Eero off the roster' }));
  expect(screen.getByRole('dialog')).toHaveTextContent('What was handed in stays stored');
  expect(calls.some((call) => call.method === 'DELETE')).toBe(false);
  await userEvent.click(screen.getByRole('button', { name: 'Take off the roster' }));
  await waitFor(() => expect(calls.some((call) => call.method === 'DELETE')).toBe(true));
});
