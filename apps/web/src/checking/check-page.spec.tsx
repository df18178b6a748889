import { act, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type LabView, type SubmissionView } from '@sobrin/contracts';
import { analyse } from '@sobrin/core/engine';
import { type CheckResult } from '@sobrin/core/spec';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { type DrawingView } from '../drawing/view';
import { type DrawingProps } from '../drawing/drawing-props';
import { brief, plan } from '../tests/plans';
import { serve, show, sizePage } from '../tests/render';
import { type Ask, ANSWERS } from '../workers/engine-requests';
import { largerPlacement } from './use-reference';
import { CheckPage } from './check-page';

/** The drawing itself is looked at in a real browser; here one sees what it is asked to mark. */
const asked: DrawingProps[] = [];
jest.mock('../drawing/drawing', () => ({
  Drawing: (props: DrawingProps) => {
    asked.push(props);
    return <div role="figure" aria-label={props.label} />;
  },
}));
/** The engine itself answers, in the page instead of beside it. */
const asks = new WeakMap<Topology, Ask>();
jest.mock('../workers/use-facts', () => ({
  useEngine: (topology: Topology) => {
    const answer: Ask = (kind, given) => Promise.resolve(ANSWERS[kind](analyse(topology), given));
    const ask = asks.get(topology) ?? answer;
    asks.set(topology, ask);
    return { facts: { links: {}, problems: [], given: [] }, ask };
  },
}));
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
const nothing = (): void => undefined;
const VIEW: DrawingView = {
  showAll: nothing,
  showAllIfOutside: nothing,
  reveal: nothing,
  readable: nothing,
  viewport: () => ({ x: 0, y: 0, zoom: 1 }),
  resized: nothing,
  release: nothing,
  panBy: nothing,
  moveLike: nothing,
  middle: () => ({ x: 0, y: 0 }),
  seen: () => undefined,
  placeAt: () => null,
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
  decisions: [],
  comments: [],
  asked: { tried: [], hints: [] },
  pins: [],
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

async function open(given = submission(), more: Parameters<typeof serve>[0] = {}, shown = lab) {
  asked.length = 0;
  const calls = serve({
    'GET submissions/two': { body: given },
    'GET documents/ref': { body: { id: 'ref', revision: 0, document: reference } },
    'GET documents/plan': { body: { id: 'plan', revision: 0, document: plan() } },
    'GET labs/lab/submissions': { body: rows },
    'POST submissions/two/check': { body: submission() },
    ...more,
  });
  show(<CheckPage />, { lab: shown, path: '/labs/lab/class/:submissionId', at: '/labs/lab/class/two' });
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
  // What is not certain is not met yet.
  expect(evidence()).toHaveTextContent('1 of 3 met');
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

test('how the mark comes about is told step by step', async () => {
  const decided = structuredClone(result);
  Object.assign(decided.requirements[0]!, { decided: true });
  await open(
    submission({
      result: decided,
      penalty: { points: 0.55, hints: null, late: { days: 1, percent: 10, points: 0.55 } },
    }),
  );
  expect(screen.getByLabelText('Mark 4.95 of 8')).toBeInTheDocument();
  await userEvent.click(screen.getByRole('button', { name: 'How the mark comes about' }));
  const rows = within(await screen.findByRole('dialog', { name: 'How the mark comes about' })).getAllByRole('row');
  expect(rows.map(({ textContent }) => textContent)).toEqual([
    '2 requirements, as judged2.5',
    '1 requirement decided by a person+3',
    'late by 1 begun day−0.55',
    'mark4.95 of 8',
  ]);
});

describe('the way of a packet', () => {
  const on = (address: string) => ({ e0: { on: { kind: 'port' as const, port: 'e0' }, v4: { addresses: [address] } } });
  const addressed: Topology = {
    ...drawing,
    devices: {
      n1: { ...device('Kasse'), interfaces: on('10.84.1.1/24') },
      n2: { ...device('Laden'), interfaces: on('10.84.1.2/24') },
    },
    links: { l: { ...drawing.links.l!, medium: 'crossover' } },
  };
  const judged = (packet: { from: string; to: string; address: string }, met: boolean | null = false): CheckResult => {
    const told = structuredClone(result);
    told.requirements[1]!.items = [{ text: 'Kasse → Laden.', met, places: [{ device: 'n1' }], packet }];
    return told;
  };

  test('of what is not reached it is drawn up to where it ends, with the reason', async () => {
    const away = { from: 'n1', to: 'n2', address: '10.99.0.9' };
    await open(submission({ topology: addressed, result: judged(away) }));
    const way = await screen.findByRole('region', { name: 'Way of the packet' });
    expect(way).toHaveTextContent(
      /1 KasseKasse Here it ends: 10.99.0.9 is not in a subnet of Kasse, and it has no gateway.$/,
    );
    expect(marks().devices.get('n1')).toBe('lost');
    expect(marks().words!.get('n1')).toBe('1');
  });

  test('of what is reached and should not it is walked by arrows, all of it a mistake, and put away by T', async () => {
    await open(submission({ topology: addressed, result: judged({ from: 'n1', to: 'n2', address: '10.84.1.2' }) }));
    const way = await screen.findByRole('region', { name: 'Way of the packet' });
    const step = () => within(way).getByRole('button', { current: 'step' });
    expect(step()).toHaveAccessibleName('Step 4: Kasse, on the way back');
    expect([...marks().devices]).toEqual([
      ['n1', 'lost'],
      ['n2', 'lost'],
    ]);
    expect(marks().words!.get('n2')).toBe('2 · 3');
    await userEvent.keyboard('{ArrowLeft}{ArrowLeft}');
    expect(step()).toHaveAccessibleName('Step 2: Laden');
    expect(marks().words!.get('n2')).toBe('2');
    await userEvent.keyboard('{ArrowRight}');
    expect(step()).toHaveAccessibleName('Step 3: Laden, on the way back');
    await userEvent.keyboard('t');
    expect(screen.queryByRole('region', { name: 'Way of the packet' })).toBeNull();
    expect([...marks().devices]).toEqual([['n1', 'lost']]);
    await userEvent.keyboard('t');
    expect(await screen.findByRole('region', { name: 'Way of the packet' })).toBeInTheDocument();
  });

  test('what is uncertain is marked so, and another requirement has a way of its own or none', async () => {
    await open(
      submission({ topology: addressed, result: judged({ from: 'n1', to: 'n2', address: '10.84.1.2' }, null) }),
    );
    await screen.findByRole('region', { name: 'Way of the packet' });
    expect(marks().devices.get('n2')).toBe('unsure');
    await userEvent.keyboard('{ArrowDown}');
    expect(screen.queryByRole('region', { name: 'Way of the packet' })).toBeNull();
  });
});

describe('the reference', () => {
  const figures = () => screen.getAllByRole('figure').map((figure) => figure.getAttribute('aria-label'));
  const last = (label: string) => asked.filter((props) => props.label.startsWith(label)).at(-1)!;

  test('in its place on a key, and back; beside or above on another', async () => {
    await open();
    await userEvent.keyboard('x');
    expect(figures()).toEqual(['Reference']);
    await userEvent.keyboard('x');
    expect(figures()).toEqual(['Drawing of Ilse Haverkamp']);
    await userEvent.keyboard('r');
    const pane = screen.getByRole('region', { name: 'Reference' });
    expect(pane).toHaveTextContent('L above');
    await userEvent.keyboard('l');
    expect(pane).toHaveTextContent('L beside');
    expect(figures()).toHaveLength(2);
  });

  test('who is pointed at in one drawing is shown in the other by whom it is played, or plays it', async () => {
    await open();
    await userEvent.keyboard('r');
    act(() => last('Drawing of').onPoint!('n1'));
    expect(last('Reference').selection!.devices).toEqual(['A']);
    act(() => last('Reference').onPoint!('B'));
    expect(last('Drawing of').selection!.devices).toEqual(['n2']);
    act(() => last('Reference').onPoint!(null));
    expect(last('Drawing of').selection!.devices).toEqual([]);
  });

  test('both are moved and zoomed together', async () => {
    await open();
    await userEvent.keyboard('r');
    const moved = jest.fn();
    act(() => last('Reference').onReady!({ ...VIEW, moveLike: moved }));
    const [after, before] = [
      { x: 10, y: 0, zoom: 2 },
      { x: 0, y: 0, zoom: 1 },
    ];
    act(() => last('Drawing of').onMoved!(after, before));
    expect(moved).toHaveBeenCalledWith(after, before);
  });

  test('stands where the tiles of both are larger at first', () => {
    const spread = (x: number, y: number): Topology => ({
      ...emptyTopology(),
      devices: { a: device('A'), b: { ...device('B'), at: { x, y } } },
    });
    const room = { width: 900, height: 480 };
    expect(largerPlacement(room, [spread(1500, 300), spread(1200, 300)])).toBe('above');
    expect(largerPlacement(room, [spread(400, 500), spread(300, 600)])).toBe('beside');
  });

  test('differences from it are a list that leads into the drawing, and to the tables of two devices', async () => {
    const on = (address: string) => ({
      e0: { on: { kind: 'port' as const, port: 'e0' }, v4: { addresses: [address] } },
    });
    const asksFor: Topology = {
      ...reference,
      devices: {
        A: { ...device('DESK'), interfaces: on('10.84.1.1/24') },
        B: device('SHOP'),
        C: device('PRINT'),
      },
    };
    const given: Topology = {
      ...drawing,
      devices: { n1: { ...device('Kasse'), interfaces: on('10.84.1.9/24') }, n2: device('Laden') },
    };
    await open(submission({ topology: given }), {
      'GET documents/ref': { body: { id: 'ref', revision: 0, document: asksFor } },
    });
    await userEvent.keyboard('d');
    const pane = screen.getByRole('region', { name: 'Differences' });
    expect(
      within(pane)
        .getAllByRole('listitem')
        .map(({ textContent }) => textContent),
    ).toEqual([
      'device otherwiseKassetablese0: 10.84.1.1/24 → 10.84.1.9/24',
      'device missingPRINT',
      expect.stringMatching(/^link only hereKasse e0 – Laden e0|^link only hereDESK e0 – SHOP e0/),
    ]);
    await userEvent.click(within(pane).getByRole('button', { name: 'Kasse' }));
    expect([...marks().devices.keys()]).toEqual(['n1']);
    await userEvent.click(within(pane).getByRole('button', { name: 'Tables of Kasse beside the reference’s' }));
    const own = await within(pane).findByRole('region', { name: 'Kasse here' });
    expect(within(own).getByRole('row', { name: /10\.84\.1\.9\/24.*only here/ })).toBeInTheDocument();
    expect(within(pane).getByRole('region', { name: 'DESK in the reference' })).toHaveTextContent('10.84.1.1/24');
    await userEvent.click(within(pane).getByRole('button', { name: 'All differences' }));
    expect(within(pane).getByRole('list', { name: 'Differences' })).toBeInTheDocument();
  });

  test('a finding leads to its requirement in the spec', async () => {
    await open();
    expect(within(evidence()).getByRole('link', { name: /In the spec/ })).toHaveAttribute('href', '/labs/lab/spec#2.1');
  });
});

describe('comments', () => {
  const said = (id: string, kind: 'work' | 'device' | 'link' | 'requirement', target: string, isOwn = true) => ({
    id,
    kind,
    target,
    text: `About ${id}.`,
    by: 'Maren',
    isOwn,
    at: '2026-11-18T09:00:00Z',
  });
  const list = [
    said('all', 'work', ''),
    said('till', 'device', 'n1'),
    said('shop', 'device', 'n2', false),
    said('cable', 'link', 'l'),
    said('first', 'requirement', '2.1'),
  ];

  test('C says something of the requirement, or of what its evidence points at', async () => {
    const calls = await open(submission(), {
      'POST submissions/two/comments': { body: submission({ comments: list }) },
    });
    await userEvent.keyboard('c');
    const form = screen.getByRole('form', { name: 'Comment' });
    const about = within(form).getByRole('combobox', { name: 'About' });
    expect([...about.querySelectorAll('option')].map(({ textContent }) => textContent)).toEqual([
      'this requirement',
      'Kasse',
      'Kasse – Laden',
      'the whole work',
      'Laden',
    ]);
    expect(within(form).getByRole('button', { name: 'Say it' })).toBeDisabled();
    await userEvent.keyboard('Which cable?');
    await userEvent.selectOptions(about, 'Kasse – Laden');
    await userEvent.click(within(form).getByRole('textbox', { name: 'Comment' }));
    await userEvent.keyboard('{Control>}{Enter}{/Control}');
    const [sent] = calls.filter(({ path, method }) => method === 'POST' && path.endsWith('comments'));
    expect(sent!.body).toEqual({
      id: expect.stringMatching(/^[0-9a-f-]{36}$/) as string,
      kind: 'link',
      target: 'l',
      text: 'Which cable?',
    });
    expect(screen.queryByRole('form', { name: 'Comment' })).toBeNull();
    // Those on the requirement and on what it points at are told beneath it.
    const told = await within(evidence()).findByRole('list', { name: 'Comments' });
    expect(
      within(told)
        .getAllByRole('listitem')
        .map(({ textContent }) => textContent),
    ).toEqual([
      expect.stringMatching(/^Kasse.*About till\.$/),
      expect.stringMatching(/^Kasse – Laden.*About cable\.$/),
      expect.stringMatching(/^Maren.*About first\.$/),
    ]);
  });

  test('all of them stand beside, with pins on the drawing, and lead to what they are about', async () => {
    const calls = await open(submission({ comments: list }), {
      'DELETE submissions/two/comments/all': { body: submission({ comments: list.slice(1) }) },
      'PUT submissions/two/comments/till': { body: submission({ comments: list.slice(1) }) },
    });
    const drawn = asked.filter((props) => props.label.startsWith('Drawing of')).at(-1)!;
    expect(Object.keys(drawn.topology.comments!)).toEqual(['till', 'shop', 'cable']);
    await userEvent.keyboard('{Shift>}C{/Shift}');
    const pane = screen.getByRole('region', { name: 'Comments' });
    await userEvent.click(within(pane).getByRole('button', { name: 'Laden' }));
    expect(marks().devices.has('n2')).toBe(true);
    const line = (text: string) => within(pane).getByText(text).closest('li')!;
    expect(within(line('About shop.')).queryByRole('button', { name: 'Say otherwise' })).toBeNull();
    await userEvent.click(within(line('About all.')).getByRole('button', { name: 'Remove' }));
    await waitFor(() => expect(within(pane).queryByText('About all.')).toBeNull());
    await userEvent.click(within(line('About till.')).getByRole('button', { name: 'Say otherwise' }));
    await userEvent.type(within(pane).getByRole('textbox', { name: 'Comment' }), ' Really.');
    await userEvent.click(within(pane).getByRole('button', { name: 'Say it' }));
    expect(calls.find(({ method }) => method === 'PUT')!.body).toEqual({ text: 'About till. Really.' });
  });

  test('who does not teach there reads them, and says nothing', async () => {
    await open(submission({ comments: list }), {}, { ...lab, teaches: false });
    await userEvent.keyboard('c');
    expect(screen.queryByRole('form', { name: 'Comment' })).toBeNull();
    expect(screen.getByText('About first.')).toBeInTheDocument();
    expect(screen.queryByRole('button', { name: 'Remove' })).toBeNull();
  });
});

describe('what a person decides', () => {
  const decision = {
    id: 'd1',
    requirement: '1.1',
    item: null,
    isMet: null,
    points: 1,
    reason: 'Explained it.',
    by: 'Maren',
    at: '2026-11-18T09:00:00Z',
    version: 3,
    asked: 'hash',
    holds: true,
    ended: null,
  };
  const bodies = (calls: Awaited<ReturnType<typeof open>>, end: string) =>
    calls.filter(({ path, method }) => path.endsWith(end) && method !== 'GET').map(({ body }) => body);

  test('E gives a requirement other points, with a reason, and not without', async () => {
    const calls = await open(submission(), { 'POST submissions/two/decisions': { body: submission() } });
    await userEvent.keyboard('e');
    const form = screen.getByRole('form', { name: 'Points by a person' });
    const give = within(form).getByRole('button', { name: 'Give' });
    await userEvent.clear(within(form).getByRole('textbox', { name: 'Points' }));
    await userEvent.keyboard('1,5');
    expect(give).toBeDisabled();
    await userEvent.type(within(form).getByRole('textbox', { name: 'Reason' }), 'Explained it.');
    await userEvent.keyboard('{Enter}');
    expect(bodies(calls, 'decisions')).toEqual([
      { requirement: '2.1', item: null, isMet: null, points: 1.5, reason: 'Explained it.' },
    ]);
    expect(screen.queryByRole('form', { name: 'Points by a person' })).toBeNull();
  });

  test('points outside of what the requirement is worth are told at the field', async () => {
    await open();
    await userEvent.keyboard('e');
    await userEvent.clear(screen.getByRole('textbox', { name: 'Points' }));
    await userEvent.keyboard('99');
    expect(screen.getByRole('form', { name: 'Points by a person' })).toHaveTextContent('From 0 to');
    await userEvent.keyboard('{Escape}');
    expect(screen.queryByRole('form', { name: 'Points by a person' })).toBeNull();
  });

  test('one key decides what is not certain', async () => {
    const unsure = structuredClone(result);
    const items = unsure.requirements.find(({ id }) => id === '2.2')!.items;
    Object.assign(
      items.find(({ met }) => met === null)!,
      { key: '|A~B|4', code: 'DUPLICATE_ADDRESS', proposed: 'lost' },
    );
    const calls = await open(submission({ result: unsure }), {
      'POST submissions/two/decisions': { body: submission({ result: unsure }) },
      'POST labs/lab/proposals': { body: { decided: 3 } },
    });
    await userEvent.keyboard('{ArrowDown}');
    await userEvent.keyboard('y');
    await userEvent.keyboard('n');
    await userEvent.keyboard('{Shift>}N{/Shift}');
    const fact = { requirement: '2.2', item: '|A~B|4', points: null, reason: '' };
    expect(bodies(calls, 'decisions')).toEqual([
      { ...fact, isMet: true },
      { ...fact, isMet: false },
    ]);
    expect(bodies(calls, 'proposals')).toEqual([{ requirement: '2.2', code: 'DUPLICATE_ADDRESS' }]);
  });

  test('it is told who decided what and why, and whether it still counts', async () => {
    const id = result.requirements.find(({ verdict }) => verdict !== 'met')!.id;
    const calls = await open(
      submission({
        decisions: [
          { ...decision, requirement: id, id: 'd0', ended: { by: 'Ulla', at: '2026-11-18T10:00:00Z' } },
          { ...decision, requirement: id, holds: false },
        ],
      }),
      { 'DELETE submissions/two/decisions/d1': { body: submission() } },
    );
    const list = screen.getByRole('list', { name: 'Decisions' });
    expect(list).toHaveTextContent('Maren gave 1 of 2: Explained it.');
    expect(list).toHaveTextContent('It was made for version 3, which asked something else: it does not count.');
    expect(list).toHaveTextContent('One decision before');
    await userEvent.click(within(list).getByRole('button', { name: 'Take back' }));
    expect(calls.filter(({ method }) => method === 'DELETE')).toHaveLength(1);
    await waitFor(() => expect(screen.queryByRole('list', { name: 'Decisions' })).toBeNull());
  });

  test('who is not sure to play a role can be pinned, or another one said, and unpinned', async () => {
    const pinned = structuredClone(result);
    pinned.matching[0] = { role: 'A', device: 'n1', sure: 'sure', pinned: true };
    const calls = await open(submission(), {
      'PUT submissions/two/pins': { body: submission({ result: pinned, pins: [] }) },
    });
    await userEvent.keyboard('w');
    await userEvent.click(screen.getByRole('button', { name: /^Pin SHOP as it is: one of 2/ }));
    await userEvent.click(await screen.findByRole('button', { name: 'Let it be found who plays DESK' }));
    await userEvent.selectOptions(screen.getByRole('combobox', { name: 'Plays SHOP' }), 'n1');
    expect(bodies(calls, 'pins')).toEqual([
      { role: 'B', device: 'n2' },
      { role: 'A', device: null },
      { role: 'B', device: 'n1' },
    ]);
  });

  test('is not offered to who does not teach the course', async () => {
    await open(submission(), {}, { ...lab, teaches: false });
    await userEvent.keyboard('e');
    expect(screen.queryByRole('form', { name: 'Points by a person' })).toBeNull();
    expect(screen.queryByRole('button', { name: /Give other points/ })).toBeNull();
    await userEvent.keyboard('w');
    expect(screen.queryByRole('combobox', { name: 'Plays SHOP' })).toBeNull();
  });
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

test('beside answers stands what was tried of them, and which hints were asked for', async () => {
  const asked = {
    tried: [
      { task: 't1', answer: 'RT-S', right: false },
      { task: 't1', answer: 'RT-V', right: true },
    ],
    hints: [{ requirement: '2.1', text: 'Look at both ends.', cost: 0.5 }],
  };
  await open(submission({ answers: { t1: 'RT-V' }, asked }));
  await userEvent.click(screen.getByRole('button', { name: /answers/i }));
  expect(await screen.findByText('Tried: RT-S, not right; RT-V, right')).toBeInTheDocument();
  expect(screen.getByRole('list', { name: 'Hints asked for' })).toHaveTextContent('2.1: Look at both ends. −0.5');
});
