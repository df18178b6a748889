import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type CourseRole, type CourseSummary, type LabSummary } from '@sobrin/contracts';
import { serve, show } from '../tests/render';
import { ownZone } from '../ui/words';
import { Home } from './home';

const lab = (title: string, more: Partial<LabSummary> = {}): LabSummary => ({
  id: title,
  title,
  picture: null,
  isReleased: true,
  dueAt: null,
  handedIn: 0,
  checked: 0,
  attempts: 0,
  mine: null,
  ...more,
});
const course = (labs: LabSummary[], role: CourseRole = 'instructor'): CourseSummary => ({
  id: 'c',
  title: 'Networks 1',
  term: 'Autumn',
  role,
  timeZone: 'UTC',
  students: 24,
  labs,
});
const me = (mayCreateCourses: boolean) => ({
  'GET auth/me': { body: { me: { id: '1', login: 'x', name: 'Maren Osterkamp', mayCreateCourses } } },
});

/** The home of somebody; who it is has been asked before the page is shown. */
async function open(who: 'instructor' | 'student', courses: CourseSummary[], more: Parameters<typeof serve>[0] = {}) {
  const calls = serve({
    ...me(who === 'instructor'),
    'GET courses': { body: courses },
    'GET invitations': { body: [] },
    ...more,
  });
  const { useMe } = await import('../api/queries');
  const Known = () => (useMe().data ? <Home /> : null);
  show(<Known />);
  await screen.findByRole('heading', { name: who === 'instructor' ? 'Your courses' : 'Your labs' });
  return calls;
}

test('an instructor sees how far each lab is', async () => {
  await open('instructor', [course([lab('Valley Station LAN', { handedIn: 12, checked: 5 })])]);
  const panel = await screen.findByRole('region', { name: 'Networks 1' });
  expect(panel).toHaveTextContent('24 students');
  expect(panel).toHaveTextContent('12 of 24 handed in, 5 checked');
});

test('a lab that something is drawn for shows it, small and in the colours of the page; no other has a picture', async () => {
  const picture = { document: '7d4b', revision: 12 };
  await open('instructor', [course([lab('Valley Station LAN', { picture }), lab('Winch')])]);
  const [drawn, empty] = within(await screen.findByRole('region', { name: 'Networks 1' })).getAllByRole('listitem');
  expect(drawn!.querySelector('img')).toHaveAttribute(
    'src',
    '/api/documents/7d4b/picture.png?revision=12&width=240&scheme=light',
  );
  expect(empty!.querySelector('img')).toBeNull();
});

test('a student sees the own state of each lab, and nothing to add', async () => {
  await open('student', [
    course(
      [
        lab('A', { mine: { attempts: 0, points: null, of: null, penalty: null } }),
        lab('B', { mine: { attempts: 2, points: null, of: null, penalty: null } }),
        lab('C', { mine: { attempts: 1, points: 33.5, of: 39, penalty: null } }),
      ],
      'student',
    ),
  ]);
  const panel = await screen.findByRole('region', { name: 'Networks 1' });
  expect(
    within(panel)
      .getAllByRole('listitem')
      .map((element) => element.textContent),
  ).toEqual([
    expect.stringContaining('not handed in'),
    expect.stringContaining('handed in, attempt 2'),
    expect.stringContaining('33.5 / 39'),
  ]);
  expect(screen.queryByRole('button', { name: /Add/ })).toBeNull();
});

test('empty pages say what to do first', async () => {
  await open('instructor', []);
  expect(await screen.findByText('Begin with a course')).toBeInTheDocument();
});
test('a student on no roster is told whom to ask', async () => {
  await open('student', []);
  expect(await screen.findByText(/Ask your instructor/)).toBeInTheDocument();
});

test('a course and a lab are added by their titles; a title of spaces is none', async () => {
  const calls = await open('instructor', [course([])], {
    'POST courses': { status: 201, body: course([]) },
    'POST courses/c/labs': { status: 201, body: { id: 'new' } },
  });
  await userEvent.click(screen.getByRole('button', { name: 'Add a course' }));
  await userEvent.type(screen.getByLabelText('Title of the course'), '   ');
  expect(screen.getByRole('button', { name: 'Add' })).toBeDisabled();
  await userEvent.type(screen.getByLabelText('Title of the course'), 'Networks 2{Enter}');
  await userEvent.click(await screen.findByRole('button', { name: 'Add a lab' }));
  await userEvent.type(await screen.findByLabelText('Title of the lab'), 'Season Opening{Enter}');
  expect(await screen.findByText('another page')).toBeInTheDocument();
  expect(calls.filter((call) => call.method === 'POST').map((call) => [call.path, call.body])).toEqual([
    ['courses', { title: 'Networks 2', timeZone: ownZone() }],
    ['courses/c/labs', { title: 'Season Opening' }],
  ]);
});

test('when the server does not answer that is said, with a way to try again', async () => {
  let up = false;
  await open('instructor', [], {
    'GET courses': () =>
      up ? { body: [course([])] } : { status: 500, body: { message: 'Something went wrong in Sobrin.' } },
  });
  expect(await screen.findByRole('alert')).toHaveTextContent('Something went wrong in Sobrin.');
  up = true;
  await userEvent.click(screen.getByRole('button', { name: 'Try again' }));
  expect(await screen.findByRole('region', { name: 'Networks 1' })).toBeInTheDocument();
});
