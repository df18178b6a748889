import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type LabView, type SubmissionView } from '@sobrin/contracts';
import { type CheckResult } from '@sobrin/core/spec';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { type DrawingProps } from '../drawing/drawing-props';
import { brief, plan } from '../tests/plans';
import { serve, show, sizePage } from '../tests/render';
import { CheckPage } from './check-page';

/** The drawing itself is looked at in a real browser; here one sees what it is asked to mark. */
const asked: DrawingProps[] = [];
jest.mock('../drawing/drawing', () => ({
  Drawing: (props: DrawingProps) => {
    asked.push(props);
    return <div role="figure" aria-label={props.label} />;
  },
}));
jest.mock('../workers/use-facts', () => ({ useFacts: () => ({ links: {}, problems: [], given: [] }) }));
Element.prototype.scrollIntoView = () => {};

const device = (name: string) => ({ name, model: 'desktop', at: { x: 0, y: 0 } });
const drawing: Topology = {
  ...emptyTopology(),
  devices: { n1: device('Kasse'), n2: device('Laden') },
  links: { l: { a: { device: 'n1', port: 'e0' }, b: { device: 'n2', port: 'e0' }, medium: 'straight' } },
};
const reference: Topology = { ...emptyTopology(), devices: { A: device('DESK'), B: device('SHOP') } };
const result: CheckResult = {
  coreVersion: '0',
  specHash: 's',
  submissionHash: 'h',
  points: 5.5,
  of: 8,
  sections: [
    { id: 'a', title: 'Components', points: 3, of: 3 },
    { id: 'b', title: 'Cabling', points: 2.5, of: 5 },
  ],
  requirements: [
    {
      id: '1.1',
      section: 'a',
      sentence: 'All kinds are there.',
      points: 3,
      of: 3,
      bonus: false,
      verdict: 'met',
      items: [{ text: 'DESK is Kasse.', met: true, places: [{ device: 'n1' }] }],
    },
    {
      id: '2.1',
      section: 'b',
      sentence: 'All links pass traffic.',
      points: 0,
      of: 2,
      bonus: false,
      verdict: 'lost',
      items: [
        {
          text: 'Kasse – Laden needs a crossover cable.',
          met: false,
          places: [{ link: 'l' }, { device: 'n1', port: 'e0' }],
        },
      ],
    },
    {
      id: '2.2',
      section: 'b',
      sentence: 'Ports are labelled.',
      points: 2.5,
      of: 3,
      bonus: false,
      verdict: 'partly',
      items: [
        { text: 'One is.', met: true, places: [] },
        { text: 'One is not.', met: false, places: [{ device: 'n2', port: 'e0' }] },
        { text: 'One is not certain.', met: null, places: [] },
      ],
    },
  ],
  matching: [
    { role: 'A', device: 'n1', sure: 'sure' },
    { role: 'B', device: 'n2', sure: 'unsure', also: ['n3'] },
  ],
};
const submission = (more: Partial<SubmissionView> = {}): SubmissionView => ({
  id: 'two',
  labId: 'lab',
  student: { id: 'ilse', name: 'Ilse Haverkamp' },
  attempt: 2,
  handedInAt: '2026-11-17T21:48:00Z',
  late: false,
  topology: drawing,
  plan: null,
  answers: {},
  attachments: [],
  attempts: [],
  penalty: null,
  result,
  checkedAt: null,
  stale: false,
  differs: [],
  ...more,
});
const rows = ['one', 'two', 'three'].map((id) => ({
  studentId: id === 'two' ? 'ilse' : id,
  submissionId: id,
  name: id,
  attempts: 1,
  handedInAt: null,
  late: false,
  points: 1,
  of: 2,
  unjudged: 0,
  stale: false,
  differs: [],
}));
const lab = {
  id: 'lab',
  teaches: true,
  mayEdit: true,
  timeZone: 'UTC',
  title: 'Three Stations',
  courseTitle: 'Networks 1',
  referenceId: 'ref',
  starterId: null,
  planId: 'plan',
  brief,
  policy: {},
  tasks: [{ id: 't1', text: 'Which router?' }],
} as unknown as LabView;

async function open(given = submission()) {
  asked.length = 0;
  const calls = serve({
    'GET submissions/two': { body: given },
    'GET documents/ref': { body: { id: 'ref', revision: 0, document: reference } },
    'GET documents/plan': { body: { id: 'plan', revision: 0, document: plan() } },
    'GET labs/lab/submissions': { body: rows },
    'POST submissions/two/check': { body: submission() },
  });
  show(<CheckPage />, { lab, path: '/labs/lab/class/:submissionId', at: '/labs/lab/class/two' });
  await screen.findByRole('heading', { name: 'Ilse Haverkamp' });
  return calls;
}
const marks = () => asked.filter((props) => props.label.startsWith('Drawing of')).at(-1)!.marks!;
const evidence = () => screen.getByRole('region', { name: 'Evidence' });

test('opens at the first requirement that lost points, with its places marked', async () => {
  await open();
  expect(screen.getByLabelText('Mark 5.5 of 8')).toBeInTheDocument();
  expect(evidence()).toHaveTextContent('Kasse – Laden needs a crossover cable.');
  expect([...marks().links]).toEqual([['l', 'lost']]);
  expect([...marks().ports!]).toEqual([['n1 e0', 'lost']]);
  expect(screen.getByText('2 of 2 roles found, 1 not sure')).toBeInTheDocument();
});

test('sections that lost nothing are closed, the others open', async () => {
  await open();
  expect(screen.getByRole('button', { name: /Components/ })).toHaveAttribute('aria-expanded', 'false');
  expect(screen.getByRole('button', { name: /Cabling/ })).toHaveAttribute('aria-expanded', 'true');
  expect(screen.getByRole('button', { name: /Ports are labelled/ })).toHaveTextContent('1 of 3 not met, 1 not certain');
});

test('keys go to requirements and sections and slide the reference in', async () => {
  await open();
  await userEvent.keyboard('{ArrowDown}');
  expect(evidence()).toHaveTextContent('Ports are labelled.');
  expect(
    within(evidence())
      .getAllByRole('listitem')
      .map((element) => element.textContent),
  ).toEqual([
    expect.stringContaining('One is not.'),
    expect.stringContaining('One is not certain.'),
    expect.stringContaining('One is.'),
  ]);
  await userEvent.keyboard('1');
  expect(evidence()).toHaveTextContent('DESK is Kasse.');
  await userEvent.keyboard('r');
  expect(screen.getByRole('figure', { name: 'Reference' })).toBeInTheDocument();
  await userEvent.keyboard('r');
  expect(screen.queryByRole('figure', { name: 'Reference' })).toBeNull();
});

test('each device says whose part it plays', async () => {
  await open();
  expect([...asked.find((props) => props.label.startsWith('Drawing of'))!.seconds!]).toEqual([
    ['n1', 'is DESK'],
    ['n2', 'is SHOP'],
  ]);
});

test('one place of many can be looked at alone', async () => {
  await open();
  await userEvent.keyboard('{ArrowDown}');
  await userEvent.click(within(evidence()).getByRole('button', { name: 'show Laden e0' }));
  expect([...marks().devices]).toEqual([['n2', 'lost']]);
});

test('a submission that was never checked is checked when it is opened', async () => {
  const calls = await open(submission({ result: null }));
  expect(screen.getByText('Checking the submission')).toBeInTheDocument();
  expect(calls.filter((call) => call.method === 'POST').map((call) => call.path)).toEqual(['submissions/two/check']);
});

test('an old result says so and can be renewed', async () => {
  const calls = await open(submission({ stale: true }));
  expect(screen.getByText('Checked by another version')).toBeInTheDocument();
  await userEvent.click(screen.getByRole('button', { name: 'Check again' }));
  expect(calls.some((call) => call.method === 'POST')).toBe(true);
});

test('answers and files are a click away, where there are some', async () => {
  await open(
    submission({
      answers: { t1: 'a border router' },
      attachments: [{ id: 'f', name: 'plan.png', type: 'image/png', size: 52_000 }],
    }),
  );
  await userEvent.click(screen.getByRole('button', { name: 'answers and files' }));
  expect(screen.getByText('a border router')).toBeInTheDocument();
  expect(screen.getByRole('link', { name: 'plan.png' })).toHaveAttribute('href', '/api/attachments/f');
});

test('an empty sheet is said to be one', async () => {
  await open(submission({ topology: emptyTopology() }));
  expect(screen.getByText('An empty sheet was handed in')).toBeInTheDocument();
});

test('it is told which of how many one looks at, and there are others both ways', async () => {
  await open();
  expect(await screen.findByText('2 of 3')).toBeInTheDocument();
  expect(screen.getByRole('button', { name: 'Next student' })).toBeEnabled();
  expect(screen.getByRole('button', { name: 'Previous student' })).toBeEnabled();
});

describe('a plan that was handed in', () => {
  beforeAll(sizePage);
  const planned = (): Partial<SubmissionView> => ({
    plan: plan(),
    result: {
      ...result,
      requirements: [
        {
          id: '3.1',
          section: 'b',
          sentence: 'Each group has room.',
          points: 0,
          of: 2,
          bonus: false,
          verdict: 'lost',
          items: [{ text: 'Tickets is too small.', met: false, places: [{ block: 'tickets' }] }],
        },
      ],
    },
  });

  test('is shown where the evidence points into it, at the block; P goes back to the drawing', async () => {
    await open(submission(planned()));
    const tree = await screen.findByRole('tree');
    expect(within(tree).getByRole('treeitem', { name: /^Tickets/ })).toHaveAttribute('aria-selected', 'true');
    expect(evidence()).toHaveTextContent('Tickets is too small.');
    await userEvent.keyboard('p');
    expect(screen.queryByRole('tree')).toBeNull();
    await userEvent.click(within(evidence()).getByRole('button', { name: /show Tickets/ }));
    expect(screen.getByRole('tree')).toBeInTheDocument();
  });
  test('tells what is wrong in it, and the reference beside it is the lab’s plan', async () => {
    const broken = plan();
    broken.blocks.tickets!.prefix = '10.84.0.64/26';
    await open(submission({ ...planned(), plan: broken }));
    expect(screen.getByRole('status')).toHaveTextContent(/Tickets.*Guests/);
    await userEvent.keyboard('r');
    expect(await screen.findAllByRole('tree')).toHaveLength(2);
  });
  test('is all there is to see where nothing was drawn', async () => {
    await open(submission({ ...planned(), topology: emptyTopology() }));
    expect(await screen.findByRole('tree')).toBeInTheDocument();
    expect(screen.queryByText('An empty sheet was handed in')).toBeNull();
  });
});
