import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type CourseRole, type CourseSummary, type Member } from '@sobrin/contracts';
import { useMe } from '../api/queries';
import { serve, show } from '../tests/render';
import { CoursePage } from './course-page';

const course = (role: CourseRole): CourseSummary => ({
  id: 'c',
  title: 'Networks 1',
  term: 'Autumn',
  role,
  timeZone: 'Europe/Vienna',
  students: 1,
  labs: [],
});
const member = (name: string, more: Partial<Member> = {}): Member => ({
  id: name,
  name,
  login: name.toLowerCase(),
  role: 'student',
  group: '',
  isInvited: false,
  ...more,
});
const people = [
  member('Maren', { role: 'instructor' }),
  member('Zofia', { group: 'B' }),
  member('Ulf', { isInvited: true }),
];

/** The page of the course as somebody sees it; who it is has been asked before. */
function open(role: CourseRole, more: Parameters<typeof serve>[0] = {}) {
  const calls = serve({
    'GET auth/me': { body: { me: { id: 'Maren', login: 'maren', name: 'Maren', mayCreateCourses: true } } },
    'GET courses': { body: [course(role)] },
    'GET courses/c/roster': { body: people },
    ...more,
  });
  const Known = () => (useMe().data ? <CoursePage /> : null);
  show(<Known />, { path: '/courses/:courseId', at: '/courses/c' });
  return calls;
}
const row = async (name: string): Promise<HTMLElement> =>
  (await screen.findByRole('cell', { name: new RegExp(`^${name}`) })).closest('tr')!;

test('shows what everybody is in the course, their group, and who has not accepted yet', async () => {
  open('instructor');
  expect(await row('Maren')).toHaveTextContent('Maren (you)mareninstructor');
  expect(await row('Zofia')).toHaveTextContent('ZofiazofiastudentB');
  expect(await row('Ulf')).toHaveTextContent('student, invited');
});

test('an assistant sees the people and changes nothing', async () => {
  open('assistant');
  await row('Zofia');
  expect(screen.queryByRole('button', { name: /^Add people|^Change Zofia|Zofia/ })).toBeNull();
  expect(screen.queryByRole('textbox')).toBeNull();
});

test('a student of the course finds no such page', async () => {
  open('student', { 'GET courses/c/roster': { status: 403, body: { message: 'This is for instructors.' } } });
  expect(await screen.findByText('There is no such course')).toBeInTheDocument();
});

test('name, part, group and sign-in name of somebody are corrected; only what changed is sent, and a refusal is said', async () => {
  const calls = open('instructor', {
    'PATCH courses/c/roster/Zofia': { status: 403, body: { message: 'Zofia also is in courses of others.' } },
  });
  await userEvent.click(within(await row('Zofia')).getByRole('button', { name: 'Change Zofia' }));
  const dialog = within(screen.getByRole('dialog'));
  expect(dialog.getByRole('button', { name: 'Change' })).toBeDisabled();
  await userEvent.clear(dialog.getByLabelText('Name in this course'));
  await userEvent.paste('Zofia W.');
  await userEvent.clear(dialog.getByLabelText('Sign-in name'));
  await userEvent.paste('Zofia.W');
  await userEvent.click(dialog.getByRole('button', { name: 'Change' }));
  expect(await dialog.findByRole('alert')).toHaveTextContent('also is in courses of others');
  expect(calls.find(({ method }) => method === 'PATCH')!.body).toEqual({ name: 'Zofia W.', login: 'zofia.w' });
});

test('people are added as assistants from lines', async () => {
  const calls = open('instructor', { 'POST courses/c/roster': { status: 201, body: [] } });
  await userEvent.click(await screen.findByRole('button', { name: 'Add people' }));
  const dialog = within(screen.getByRole('dialog'));
  await userEvent.click(dialog.getByRole('combobox', { name: 'In the course' }));
  await userEvent.click(await screen.findByRole('option', { name: /^assistant/ }));
  await userEvent.click(dialog.getByLabelText('People'));
  await userEvent.paste('Ann Lindqvist, ann.l, Evening');
  await userEvent.click(dialog.getByRole('button', { name: 'Add 1' }));
  await waitFor(() =>
    expect(calls.find(({ method }) => method === 'POST')?.body).toEqual({
      students: [{ name: 'Ann Lindqvist', login: 'ann.l', group: 'Evening', role: 'assistant' }],
    }),
  );
});
