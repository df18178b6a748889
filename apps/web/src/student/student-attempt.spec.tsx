import { type StudentAttempt as Attempt, type StudentLabView } from '@sobrin/contracts';
import { emptyTopology } from '@sobrin/core/topology';
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type DrawingProps } from '../drawing/drawing-props';
import { serve, show } from '../tests/render';
import { StudentAttempt } from './student-attempt';

const asked: DrawingProps[] = [];
jest.mock('../drawing/drawing', () => ({
  Drawing: (props: DrawingProps) => {
    asked.push(props);
    return <div role="figure" aria-label={props.label} />;
  },
}));
jest.mock('../workers/use-facts', () => ({ useFacts: () => ({ links: {}, problems: [], given: [] }) }));
Element.prototype.scrollIntoView = () => {};

const lab = (more: Partial<StudentLabView> = {}): StudentLabView => ({
  id: 'lab',
  courseTitle: 'Networks 1',
  timeZone: 'Europe/Vienna',
  title: 'Valley Station LAN',
  dueAt: null,
  brief: {},
  tasks: [{ id: 't1', text: 'Draw the router.' }],
  choices: {},
  selfChecks: null,
  tries: null,
  hints: null,
  names: 'any',
  counts: 'last',
  bench: 'coach',
  attempts: { used: 1, allowed: null },
  shown: { what: 'findings', strength: 'what', when: 'at-once' },
  lookIn: false,
  documentId: 'd',
  planId: 'p',
  files: [],
  answers: {},
  attachments: [],
  submissions: [],
  ...more,
});
const attempt = (more: Partial<Attempt> = {}): Attempt => ({
  id: 's1',
  attempt: 1,
  handedInAt: '2026-11-02T10:00:00Z',
  late: false,
  topology: { ...emptyTopology(), devices: { n1: { name: 'Kasse', model: 'desktop', at: { x: 0, y: 0 } } } },
  plan: null,
  answers: { t1: 'Two switches.' },
  attachments: [],
  isChecked: true,
  comments: [],
  shown: { what: 'findings', strength: 'what', when: 'at-once' },
  result: null,
  ...more,
});
const finding = {
  section: 0,
  sentence: 'All links pass traffic.',
  points: 0,
  of: 2,
  bonus: false,
  verdict: 'lost',
} as const;

async function open(given: Attempt, view = lab()) {
  asked.length = 0;
  serve({ 'GET my/labs/lab': { body: view }, 'GET my/labs/lab/attempts/s1': { body: given } });
  show(<StudentAttempt />, { path: '/my/labs/:labId/attempts/:attemptId', at: '/my/labs/lab/attempts/s1' });
  await screen.findByRole('heading', { name: 'Attempt 1' });
}
const sections = [{ title: 'Cabling', points: 0, of: 2 }];

test('findings are listed with their evidence, and marked in the own drawing', async () => {
  const items = [{ text: 'Kasse is connected to nothing.', met: false, places: [{ device: 'n1' }] }];
  await open(attempt({ result: { points: 3, of: 5, penalty: null, sections, findings: [{ ...finding, items }] } }));
  expect(screen.getByLabelText('Mark 3 of 5')).toBeInTheDocument();
  expect(screen.getByRole('region', { name: 'Evidence' })).toHaveTextContent('Kasse is connected to nothing.');
  expect(asked.at(-1)!.marks!.devices.get('n1')).toBe('lost');
  await userEvent.click(screen.getByRole('button', { name: 'Answers and files' }));
  expect(screen.getByText('Two switches.')).toBeInTheDocument();
});
test('what was said of the work stands beside it, and leads to the device or the requirement it is about', async () => {
  const items = [{ text: 'Kasse is connected to nothing.', met: false, places: [{ device: 'n1' }] }];
  const said = { by: 'Maren', at: '2026-11-18T09:00:00Z' };
  await open(
    attempt({
      result: {
        points: 3,
        of: 5,
        penalty: null,
        sections,
        findings: [
          { ...finding, verdict: 'met' },
          { ...finding, sentence: 'It is connected.', items },
        ],
      },
      comments: [
        { id: 'a', kind: 'work', target: '', text: 'Nearly there.', ...said },
        { id: 'b', kind: 'device', target: 'n1', text: 'Which cable does it want?', ...said },
        { id: 'c', kind: 'requirement', target: '0', text: 'Well done.', ...said },
      ],
    }),
  );
  const pane = screen.getByRole('region', { name: 'Comments' });
  expect(pane).toHaveTextContent(/The whole work.*Nearly there\./);
  expect(Object.keys(asked.at(-1)!.topology.comments!)).toEqual(['b']);
  await userEvent.click(within(pane).getByRole('button', { name: 'Kasse' }));
  expect(asked.at(-1)!.marks!.devices.has('n1')).toBe(true);
  await userEvent.click(within(pane).getByRole('button', { name: 'All links pass traffic.' }));
  expect(screen.getByRole('button', { name: /All links pass traffic/, current: true })).toBeInTheDocument();
  expect(within(pane).queryByRole('button', { name: 'Remove' })).toBeNull();
});
test('where only places are shown, they are marked and no text says why', async () => {
  const findings = [{ ...finding, places: [{ device: 'n1' }] }];
  await open(attempt({ result: { points: 3, of: 5, penalty: null, sections, findings } }));
  expect(asked.at(-1)!.marks!.devices.get('n1')).toBe('lost');
  expect(screen.getByRole('region', { name: 'Evidence' })).toHaveTextContent(
    'Here something is not as it is asked for.',
  );
});
test('what helps is read with what is not met, also where nothing else of it is shown', async () => {
  const findings = [{ ...finding, hint: 'Look behind the till.' }];
  await open(attempt({ result: { points: 3, of: 5, penalty: null, sections, findings } }));
  expect(screen.getByRole('region', { name: 'Evidence' })).toHaveTextContent('Hint: Look behind the till.');
});
test('where less is shown there is no evidence, and of sections only their points', async () => {
  await open(attempt({ result: { points: 3, of: 5, penalty: null, sections } }));
  expect(within(screen.getByRole('navigation', { name: 'Requirements' })).getByText('0 / 2')).toBeInTheDocument();
  expect(screen.queryByRole('region', { name: 'Evidence' })).toBeNull();
});
test('what lateness takes off is said beside what was won', async () => {
  await open(
    attempt({
      late: true,
      result: { points: 30, of: 39, penalty: { points: 6, hints: null, late: { days: 2, percent: 20, points: 6 } } },
    }),
  );
  expect(screen.getByLabelText('Mark 24 of 39')).toBeInTheDocument();
  expect(screen.getByText('30 points won. Late by 2 begun days: 20 % of the points, 6, are taken off.')).toBeVisible();
});
test.each<[string, Partial<StudentLabView>, Partial<Attempt>]>([
  ['It is not checked yet.', {}, { isChecked: false }],
  [
    'The lab shows no results here: your instructor tells you.',
    { shown: { what: 'nothing', strength: 'that', when: 'at-once' } },
    {},
  ],
  [
    'Results are shown after the due date, and the lab has none yet.',
    { shown: { what: 'points', strength: 'that', when: 'after-due' } },
    {},
  ],
])('says why there is no result: %s', async (sentence, view, given) => {
  await open(attempt(given), lab(view));
  expect(screen.getByText(sentence)).toBeVisible();
});
