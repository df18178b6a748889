import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type Conflict, type LabView } from '@sobrin/contracts';
import { type JudgingLab, type Spec, doubtsOf, specProblems as problemsOfSpec } from '@sobrin/core/spec';
import { emptyTopology } from '@sobrin/core/topology';
import { forgetUnsent } from '../documents/unsent';
import { labDocuments } from '../tests/lab-documents';
import { serve, show } from '../tests/render';
import { SpecPage } from './spec-page';

const [mockSpecProblems, mockDoubts] = [problemsOfSpec, doubtsOf];
// The check of the reference runs in a worker; here it is only told what it finds. What is wrong in the spec is real.
jest.mock('./use-reference-check', () => ({
  useReferenceCheck: (judged: JudgingLab) => ({
    check: {
      points: 3,
      of: 5,
      requirements: [
        { id: '1.1', verdict: 'met', items: [] },
        { id: '1.2', verdict: 'lost', items: [{ text: 'DESK-2 has no address.', met: false, places: [] }] },
      ],
    },
    problems: mockSpecProblems(judged),
    doubts: mockDoubts(judged),
  }),
}));

const spec = (): Spec => ({
  groups: { desks: { title: 'the ticket desks', roles: ['a', 'b'] } },
  sections: [
    {
      id: 'one',
      title: 'Components',
      requirements: [
        {
          id: '1.1',
          points: 2,
          credit: 'share',
          rule: { kind: 'deviceCount', what: 'switch', op: 'atLeast', n: 2, site: 'valley' },
        },
        { id: '1.2', points: 3, rule: { kind: 'medium', a: '@network', b: 'desks', media: ['straight'] } },
        {
          id: '1.3',
          points: 1,
          bonus: true,
          wording: 'In words of one’s own.',
          rule: {
            kind: 'allOf',
            rules: [
              { kind: 'namesUnique', who: '@all' },
              { kind: 'roomFor', who: 'desks', n: 40, block: '10.84.0.0/22' },
            ],
          },
        },
      ],
    },
  ],
});
const device = (name: string) => ({ name, model: 'desktop', at: { x: 0, y: 0 } });
const reference = {
  ...emptyTopology(),
  sites: { valley: { name: 'Valley Station' }, summit: { name: 'Summit Station' } },
  devices: { a: device('DESK-1'), b: device('DESK-2') },
};
const lab = (): LabView => ({
  id: 'lab',
  courseId: 'course',
  courseTitle: 'Networks 1',
  timeZone: 'UTC',
  teaches: true,
  mayEdit: true,
  isOwner: true,
  owner: 'Maren Osterkamp',
  title: 'Three Stations',
  revision: 4,
  dueAt: null,
  releasedAt: null,
  version: null,
  versions: 0,
  isChanged: false,
  brief: {},
  tasks: [],
  documents: { brief: 'brief', tasks: 'tasks', spec: 'spec', policy: 'policy' },
  planId: 'plan',
  plan: { blocks: 0, proposed: 0, problems: 0 },
  drawn: 0,
  files: [],
  spec: spec(),
  policy: {},
  referenceId: 'ref',
  starterId: null,
  notInForce: null,
  untoldNames: [],
  specProblems: [],
  handedIn: 0,
  checked: 0,
  students: 0,
});

/** The page with a server that keeps the spec; what comes back waits until all is saved and gives what the server has. */
async function open(given = lab()): Promise<() => Promise<Spec>> {
  const { answers, stored } = labDocuments(given);
  serve({
    'GET documents/ref': { body: { id: 'ref', revision: 0, document: reference } },
    'GET documents/plan': {
      body: { id: 'plan', revision: 0, document: { blocks: { a: { prefix: '10.84.1.0/26', name: 'Tickets' } } } },
    },
    'GET labs/lab': { body: given },
    ...answers,
  });
  show(<SpecPage />, { lab: given });
  await screen.findByText(/The reference earns/);
  return async () => {
    await screen.findByText('Saved');
    return stored.spec;
  };
}
const row = (id: string): HTMLElement => document.querySelector(`[data-requirement="${id}"]`)!;
async function pick(id: string, word: RegExp): Promise<void> {
  await userEvent.click(within(row(id)).getByRole('button', { name: word }));
}
const rule = (next: Spec, id: string) =>
  next.sections[0]!.requirements.find((requirement) => requirement.id === id)!.rule;

beforeEach(forgetUnsent);

test('requirements read as sentences, with what the reference makes of them', async () => {
  await open();
  expect(row('1.1')).toHaveTextContent('At Valley Station there are at least 2 switches.');
  expect(row('1.2')).toHaveTextContent(
    /The links between every network device and the ticket desks are straight-through copper/,
  );
  expect(row('1.2')).toHaveTextContent('The reference does not meet this: DESK-2 has no address.');
  expect(within(row('1.1')).getByRole('img', { name: 'The reference meets this' })).toBeInTheDocument();
  expect(screen.getByText(/3 requirements/)).toHaveTextContent('3 requirements, 5 points');
});

test('two requirements that contradict each other say so at both, lead to one another, and are told above', async () => {
  const given = lab();
  const count = (id: string, op: string, n: number) => ({
    id,
    points: 1,
    rule: { kind: 'deviceCount', what: 'switch', op, n, site: 'anywhere' },
  });
  given.spec = {
    groups: { idle: { title: 'the idle', roles: ['a'] } },
    sections: [{ id: 's', title: 'S', requirements: [count('1.1', 'atMost', 2), count('1.2', 'exactly', 3)] }],
  };
  await open(given);
  expect(screen.getByText(/^1 contradiction: 1.1 and 1.2\./)).toBeInTheDocument();
  for (const id of ['1.1', '1.2'])
    expect(row(id)).toHaveTextContent('1.1 and 1.2 cannot both be earned: 1.2 wants 3 or more, 1.1 2 at the most.');
  await userEvent.click(within(row('1.2')).getByRole('button', { name: 'Go to 1.1' }));
  expect(row('1.1')).toContainElement(document.activeElement as HTMLElement);
  expect(screen.getByText('No sentence speaks of it.')).toBeInTheDocument();
  await pick('1.2', /exactly/);
  await userEvent.click(screen.getByRole('menuitem', { name: 'at least' }));
  await pick('1.2', /^3,/);
  await userEvent.clear(screen.getByLabelText('Value'));
  await userEvent.paste('2');
  await userEvent.keyboard('{Enter}');
  expect(screen.queryByText(/contradiction/)).not.toBeInTheDocument();
  // The same asked twice is doubtful as well, and goes with a press.
  await pick('1.1', /at most/);
  await userEvent.click(screen.getByRole('menuitem', { name: 'at least' }));
  expect(row('1.1')).toHaveTextContent('1.2 asks the same as 1.1.');
  await userEvent.click(within(row('1.2')).getByRole('button', { name: 'Remove 1.2' }));
  expect(row('1.2')).not.toBeInTheDocument();
  expect(screen.queryByText(/asks the same/)).not.toBeInTheDocument();
});

describe('a word is chosen', () => {
  test('from a list', async () => {
    const sent = await open();
    await pick('1.1', /at least/);
    await userEvent.click(screen.getByRole('menuitem', { name: 'exactly' }));
    expect(rule(await sent(), '1.1')).toMatchObject({ op: 'exactly', n: 2 });
    expect(row('1.1')).toHaveTextContent('exactly 2 switches');
  });
  test('a site', async () => {
    const sent = await open();
    await pick('1.1', /Valley Station/);
    await userEvent.click(screen.getByRole('menuitem', { name: 'anywhere' }));
    expect(rule(await sent(), '1.1')).toMatchObject({ site: 'anywhere' });
  });
  test('a number, within its bounds', async () => {
    const sent = await open();
    await pick('1.1', /^2,/);
    await userEvent.clear(screen.getByLabelText('Value'));
    await userEvent.paste('0');
    expect(screen.getByText(/whole number from 1 to 5000/)).toBeInTheDocument();
    expect(screen.getByRole('button', { name: 'Set' })).toBeDisabled();
    await userEvent.clear(screen.getByLabelText('Value'));
    await userEvent.paste('6');
    await userEvent.keyboard('{Enter}');
    expect(rule(await sent(), '1.1')).toMatchObject({ n: 6 });
  });
  test('somebody: a group or a device', async () => {
    const sent = await open();
    await pick('1.2', /the ticket desks/);
    await userEvent.click(screen.getByRole('option', { name: 'DESK-2' }));
    expect(rule(await sent(), '1.2')).toMatchObject({ b: 'b' });
  });
  test('several of a list', async () => {
    const sent = await open();
    await pick('1.2', /straight-through/);
    await userEvent.click(screen.getByLabelText('crossover copper'));
    await userEvent.click(screen.getByRole('button', { name: 'Take these' }));
    expect(rule(await sent(), '1.2')).toMatchObject({ media: ['straight', 'crossover'] });
  });
  test('a block, which must be one', async () => {
    const sent = await open();
    await pick('1.3', /10\.84\.0\.0\/22/);
    await userEvent.clear(screen.getByLabelText('Value'));
    await userEvent.paste('10.84.1.1/22');
    expect(screen.getByRole('button', { name: 'Set' })).toBeDisabled();
    await userEvent.clear(screen.getByLabelText('Value'));
    await userEvent.paste('10.84.4.0/22');
    await userEvent.keyboard('{Enter}');
    expect((rule(await sent(), '1.3') as { rules: object[] }).rules[1]).toMatchObject({ block: '10.84.4.0/22' });
  });
});

describe('a requirement', () => {
  async function menu(id: string, entry: string): Promise<void> {
    await userEvent.click(await within(row(id)).findByRole('button', { name: `More for requirement ${id}` }));
    await userEvent.click(screen.getByRole('menuitem', { name: entry }));
  }
  /** Chooses another word of the terms on which it counts. */
  async function term(id: string, word: string, other: string): Promise<void> {
    await userEvent.click(await within(row(id)).findByRole('button', { name: `${word}, choose another` }));
    await userEvent.click(screen.getByRole('menuitem', { name: other }));
  }
  /** Adds a term. */
  async function more(id: string, what: string, word?: string): Promise<void> {
    await userEvent.click(await within(row(id)).findByRole('button', { name: `More terms for ${id}` }));
    await userEvent.click(screen.getByRole('menuitem', { name: what }));
    if (word !== undefined) await userEvent.click(await screen.findByRole('menuitem', { name: word }));
  }
  const requirement = (next: Spec, id: string) =>
    next.sections[0]!.requirements.find((requirement) => requirement.id === id)!;

  test('changes points, credit and whether it is a bonus', async () => {
    const sent = await open();
    await userEvent.clear(screen.getByLabelText('Points of 1.1'));
    await userEvent.paste('2,5');
    await userEvent.keyboard('{Enter}');
    expect(requirement(await sent(), '1.1').points).toBe(2.5);
    await term('1.1', 'a share for each part', 'all or nothing');
    expect(requirement(await sent(), '1.1').credit).toBe('all');
    await term('1.3', 'a bonus', 'required');
    expect(requirement(await sent(), '1.3').bonus).toBeUndefined();
    await more('1.3', 'A bonus, or points that are taken off', 'taken off where it does not hold');
    expect(requirement(await sent(), '1.3')).toMatchObject({ deduction: true });
    await more('1.3', 'Needed to pass', 'needed to pass');
    await more('1.3', 'Counts only once others are met');
    await userEvent.click(screen.getByRole('checkbox', { name: '1.2' }));
    await userEvent.click(screen.getByRole('button', { name: 'Take these' }));
    expect(requirement(await sent(), '1.3')).toMatchObject({ deduction: true, hurdle: true, standsOn: ['1.2'] });
    expect(row('1.3')).toHaveTextContent('taken off where it does not hold, needed to pass, counts once 1.2 is met');
    await userEvent.click(within(row('1.3')).getByRole('button', { name: /^counts once/ }));
    await userEvent.click(screen.getByRole('checkbox', { name: '1.2' }));
    await userEvent.click(screen.getByRole('button', { name: 'Take these' }));
    expect(requirement(await sent(), '1.3')).not.toHaveProperty('standsOn');
  });
  test('has hints by how much they tell, each on a line of its own; an emptied one is gone', async () => {
    const sent = await open();
    await more('1.2', 'A hint where it is wrong');
    await userEvent.type(screen.getByLabelText('Value'), 'Look at the cabinet.{Enter}');
    expect(requirement(await sent(), '1.2').hints).toEqual({ where: 'Look at the cabinet.' });
    expect(row('1.2')).toHaveTextContent('A hint where it is wrong: Look at the cabinet.');
    await userEvent.click(within(row('1.2')).getByRole('button', { name: /^A hint where/ }));
    await userEvent.clear(screen.getByLabelText('Value'));
    await userEvent.keyboard('{Enter}');
    expect(requirement(await sent(), '1.2')).not.toHaveProperty('hints');
  });
  test('says of a lab with a starter what counts of it, and nothing of that without one', async () => {
    const sent = await open({ ...lab(), starterId: 'ref' });
    await more('1.1', 'What the starter has, too', 'counts what the starter has, too');
    expect(requirement(await sent(), '1.1').given).toBe('counts');
    expect(row('1.1')).toHaveTextContent('counts what the starter has, too');
    await term('1.1', 'counts what the starter has, too', 'counts only what goes beyond the starter');
    expect(requirement(await sent(), '1.1').given).toBeUndefined();
    cleanup();
    await open();
    await userEvent.click(screen.getByRole('button', { name: 'More terms for 1.1' }));
    expect(screen.getByRole('menuitem', { name: 'Needed to pass' })).toBeVisible();
    expect(screen.queryByRole('menuitem', { name: /starter/ })).toBeNull();
  });
  test('points that are no number are said and not sent', async () => {
    await open();
    await userEvent.clear(screen.getByLabelText('Points of 1.1'));
    await userEvent.paste('many');
    expect(screen.getByLabelText('Points of 1.1')).toHaveAccessibleDescription(/number/);
    await userEvent.keyboard('{Enter}');
    expect(screen.getByText('Saved')).toBeInTheDocument();
    expect(screen.getByLabelText('Points of 1.1')).toHaveValue('many');
    await userEvent.keyboard('{Escape}');
    expect(screen.getByLabelText('Points of 1.1')).toHaveValue('2');
  });
  test('is turned round and back, joined with others, duplicated and removed', async () => {
    const sent = await open();
    await menu('1.1', 'Turn into “not”');
    expect(row('1.1')).toHaveTextContent('It is not so that: At Valley Station');
    await menu('1.1', 'Drop the “not”');
    expect(rule(await sent(), '1.1').kind).toBe('deviceCount');
    await menu('1.1', 'Join with other statements');
    await userEvent.click(within(row('1.1')).getByRole('button', { name: 'Add a statement' }));
    await userEvent.click(screen.getByRole('button', { name: /Title, author and legend/ }));
    expect(rule(await sent(), '1.1')).toMatchObject({
      kind: 'allOf',
      rules: [{ kind: 'deviceCount' }, { kind: 'titled' }],
    });
    await menu('1.2', 'Duplicate');
    expect((await sent()).sections[0]!.requirements.map((requirement) => requirement.id)).toEqual([
      '1.1',
      '1.2',
      '1.4',
      '1.3',
    ]);
    await menu('1.4', 'Remove');
    expect((await sent()).sections[0]!.requirements.map((requirement) => requirement.id)).toEqual([
      '1.1',
      '1.2',
      '1.3',
    ]);
  });
  test('gets words of its own and loses them again', async () => {
    const sent = await open();
    const own = screen.getByLabelText('Wording of 1.3');
    await userEvent.clear(own);
    await userEvent.tab();
    expect(requirement(await sent(), '1.3')).not.toHaveProperty('wording');
  });
});

test.each([
  ['nat', 'Addresses are translated'],
  ['multiple choice', 'One of several answers to a task is chosen'],
  ['netmask mismatch', 'Masks agree within a subnet'],
])('a kind is found by what people call it: %s', async (typed, title) => {
  await open();
  await userEvent.click(screen.getByRole('button', { name: 'Add a requirement' }));
  const dialog = within(await screen.findByRole('dialog'));
  await userEvent.click(dialog.getByRole('searchbox', { name: 'Search' }));
  await userEvent.paste(typed);
  expect(dialog.getByRole('button', { name: new RegExp(title) })).toBeInTheDocument();
});

test('a requirement is typed, the sentence it may mean taken with Enter, and the next one typed at once', async () => {
  const sent = await open();
  await userEvent.click(screen.getByRole('button', { name: 'Choose requirement 1.1' }));
  await userEvent.keyboard('{Escape}a');
  const field = screen.getByRole('combobox', { name: 'Type a requirement of Components' });
  expect(field).toHaveFocus();
  await userEvent.paste('ticket desks can reach the gateway, 3 points');
  expect(screen.getByRole('option', { name: /The ticket desks can reach the gateway\./ })).toHaveTextContent('3');
  await userEvent.keyboard('{Enter}');
  expect(field).toHaveValue('');
  expect(field).toHaveFocus();
  await userEvent.paste('xyzzy');
  expect(screen.getByText(/^No sentence has these words\./)).toBeInTheDocument();
  await userEvent.keyboard('{Enter}{Escape}');
  expect(field).toHaveValue('');
  const { requirements } = (await sent()).sections[0]!;
  expect(requirements.at(-1)).toMatchObject({ id: '1.4', points: 3, rule: { kind: 'reachesGateway', who: 'desks' } });
  expect(requirements).toHaveLength(4);
});

test('several are chosen, by range as well, and get points, are copied, put in again, or removed', async () => {
  const sent = await open();
  const number = (id: string) => screen.getByRole('button', { name: `Choose requirement ${id}` });
  await userEvent.click(number('1.1'));
  fireEvent.click(number('1.3'), { shiftKey: true });
  const bar = screen.getByRole('toolbar', { name: 'Chosen requirements' });
  expect(bar).toHaveTextContent('3 chosen');
  await userEvent.click(number('1.2'));
  expect(bar).toHaveTextContent('2 chosen');
  await userEvent.click(within(bar).getByRole('textbox', { name: 'Points of each that is chosen' }));
  await userEvent.paste('7');
  await userEvent.keyboard('{Enter}');
  expect((await sent()).sections[0]!.requirements.map(({ points }) => points)).toEqual([7, expect.any(Number), 7]);
  act(() => number('1.1').focus());
  const copied: Record<string, string> = {};
  const clipboard = (text = '') => ({
    bubbles: true,
    cancelable: true,
    clipboardData: { setData: (type: string, value: string) => void (copied[type] = value), getData: () => text },
  });
  fireEvent.copy(document.body, clipboard());
  fireEvent.paste(document.body, clipboard('something else'));
  expect(screen.getByText(/are no requirements/)).toBeInTheDocument();
  fireEvent.paste(document.body, clipboard(copied['text/plain']));
  expect(screen.queryByText(/are no requirements/)).toBeNull();
  // What was put in is chosen now.
  expect(bar).toHaveTextContent('2 chosen');
  expect((await sent()).sections[0]!.requirements.map(({ id }) => id)).toEqual(['1.1', '1.2', '1.3', '1.4', '1.5']);
  act(() => number('1.1').focus());
  await userEvent.keyboard('{Delete}');
  expect((await sent()).sections[0]!.requirements.map(({ id }) => id)).toEqual(['1.1', '1.2', '1.3']);
  expect(screen.queryByRole('toolbar', { name: 'Chosen requirements' })).toBeNull();
});

test('sections are named and added; only an empty one can be removed', async () => {
  const sent = await open();
  const title = screen.getByLabelText('Title of section 1');
  await userEvent.clear(title);
  await userEvent.paste('Devices');
  await userEvent.keyboard('{Enter}');
  expect((await sent()).sections[0]!.title).toBe('Devices');
  expect(screen.getByRole('button', { name: 'Only an empty section can be removed' })).toBeDisabled();
  await userEvent.click(screen.getByRole('button', { name: 'Add a section' }));
  await userEvent.click(screen.getByRole('button', { name: 'Remove' }));
  expect((await sent()).sections).toHaveLength(1);
});

test('a section has a share that is needed to pass, and stands on requirements', async () => {
  const sent = await open();
  await userEvent.click(screen.getByRole('button', { name: 'What it takes to pass' }));
  await userEvent.type(screen.getByLabelText('Per cent of its points to pass'), '101{Enter}');
  expect(screen.getByText('From 1 to 100; leave it empty for none.')).toBeInTheDocument();
  await userEvent.clear(screen.getByLabelText('Per cent of its points to pass'));
  await userEvent.type(screen.getByLabelText('Per cent of its points to pass'), '60{Enter}');
  await userEvent.selectOptions(screen.getByLabelText('Counts once this requirement is met'), '1.2 is met');
  expect((await sent()).sections[0]).toMatchObject({ hurdle: 60, standsOn: ['1.2'] });
  expect(screen.getByText('60 % of its points are needed to pass, counts once 1.2 is met')).toBeInTheDocument();
  await userEvent.click(screen.getByRole('button', { name: 'no more' }));
  await userEvent.clear(screen.getByLabelText('Per cent of its points to pass'));
  await userEvent.keyboard('{Enter}');
  const [section] = (await sent()).sections;
  expect([section!.hurdle, section!.standsOn]).toEqual([undefined, undefined]);
});

test('what is asked and nowhere told says so, and is told in a task', async () => {
  const given = { ...lab(), tasks: [{ id: 't1', text: 'Draw it.' }] };
  const { answers, stored } = labDocuments(given);
  serve({
    'GET documents/ref': { body: { id: 'ref', revision: 0, document: reference } },
    'GET documents/plan': { body: { id: 'plan', revision: 0, document: { blocks: {} } } },
    'GET labs/lab': { body: given },
    ...answers,
  });
  show(<SpecPage />, { lab: given });
  await waitFor(() => expect(row('1.1')).toHaveTextContent(/Asked, but nowhere told: Valley Station, 2\./));
  await userEvent.selectOptions(screen.getByLabelText('Tell 1.1 in a task'), 'task 1');
  await waitFor(() =>
    expect(stored.tasks).toEqual({
      tasks: [{ id: 't1', text: 'Draw it.\n\nAt Valley Station there are at least 2 switches.' }],
    }),
  );
  expect(row('1.1')).toHaveTextContent('told in task 1');
  expect(row('1.1')).not.toHaveTextContent('nowhere');
});

test('a rule is asked of each local network', async () => {
  const sent = await open();
  await userEvent.click(screen.getByRole('button', { name: 'More for requirement 1.2' }));
  await userEvent.click(screen.getByRole('menuitem', { name: 'Ask for each of a group' }));
  await pick('1.2', /every network device, choose another/);
  await userEvent.click(await screen.findByRole('option', { name: 'the local networks' }));
  expect(rule(await sent(), '1.2')).toMatchObject({ kind: 'forEach', who: '@networks' });
});

test('a group is renamed; one that a sentence speaks of is not removed', async () => {
  const sent = await open();
  await userEvent.click(screen.getByRole('button', { name: /^the ticket desks\s*2$/ }));
  const name = screen.getByLabelText('Name of the group');
  await userEvent.clear(name);
  await userEvent.paste('the desks');
  await userEvent.keyboard('{Enter}');
  expect((await sent()).groups.desks!.title).toBe('the desks');
  expect(row('1.2')).toHaveTextContent('and the desks are');
  expect(screen.getByRole('button', { name: 'Remove the group the desks' })).toBeDisabled();
});

test('a group is chosen by what devices are, and says where they are found', async () => {
  const sent = await open();
  await userEvent.click(screen.getByRole('button', { name: 'Add a group' }));
  await userEvent.selectOptions(screen.getByLabelText('How the group is chosen'), 'selected');
  expect((await sent()).groups.group1).toEqual({
    title: 'a new group',
    roles: [],
    select: { sort: 'hosts', least: 1 },
  });
  await userEvent.selectOptions(screen.getByLabelText('What they are'), 'cameras');
  expect(screen.getByText(/The reference has none: they are chosen in each student’s drawing/)).toBeInTheDocument();
  await userEvent.type(screen.getByLabelText('At which site'), 'Valley Station{Enter}');
  await userEvent.selectOptions(screen.getByLabelText('What they are linked to'), 'every network device');
  await userEvent.clear(screen.getByLabelText('How many there must be'));
  await userEvent.paste('12');
  await userEvent.keyboard('{Enter}');
  expect((await sent()).groups.group1!.select).toEqual({
    kind: 'camera',
    site: 'Valley Station',
    behind: '@network',
    least: 12,
  });
  await userEvent.selectOptions(screen.getByLabelText('How the group is chosen'), 'named');
  expect((await sent()).groups.group1).toEqual({ title: 'a new group', roles: [] });
});

test('what a spec points at and is not there is marked at its requirement until it is put right', async () => {
  const given = lab();
  Object.assign(given.spec.sections[0]!.requirements[1]!.rule, { b: 'gone' });
  const sent = await open(given);
  expect(screen.getByText(/points at something that is not there: the place is marked below/)).toBeInTheDocument();
  expect(row('1.2')).toHaveTextContent('"gone" is no group of the spec and no device of the reference.');
  await pick('1.2', /gone/);
  await userEvent.click(screen.getByRole('option', { name: 'DESK-2' }));
  expect(rule(await sent(), '1.2')).toMatchObject({ b: 'b' });
  await waitFor(() => expect(row('1.2')).not.toHaveTextContent('is no group'));
});

test('when somebody else changed the same requirement, one chooses which version holds', async () => {
  const documents = labDocuments(lab());
  const theirs = spec();
  theirs.sections[0]!.requirements[0]!.points = 9;
  serve({
    'GET documents/ref': { body: { id: 'ref', revision: 0, document: reference } },
    'GET documents/plan': { body: { id: 'plan', revision: 0, document: { blocks: {} } } },
    'GET labs/lab': { body: lab() },
    ...documents.answers,
  });
  documents.refuse({
    status: 409,
    body: {
      message: 'Somebody saved a change of the same thing in between (Devices › 1.1).',
      revision: 5,
      places: ['Devices › 1.1'],
      by: ['Ilse Brandt'],
      before: spec(),
      mine: spec(),
      theirs,
    } satisfies Conflict<Spec>,
  });
  show(<SpecPage />, { lab: lab() });
  await screen.findByText(/The reference earns/);
  await userEvent.clear(screen.getByLabelText('Points of 1.1'));
  await userEvent.paste('4');
  await userEvent.keyboard('{Enter}');
  expect(await screen.findByText(/^Ilse Brandt saved a change of what you changed as well/)).toHaveTextContent(
    'Devices › 1.1',
  );
  documents.refuse(null);
  await userEvent.click(screen.getByRole('button', { name: 'Take theirs' }));
  await waitFor(() => expect(screen.getByLabelText('Points of 1.1')).toHaveValue('9'));
  expect(screen.queryByText(/among the versions/)).toBeNull();
});
