import 'fake-indexeddb/auto';
import { act, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { clear, get, set } from 'idb-keyval';
import { type HintsView, type StudentLabView, type TriesView } from '@sobrin/contracts';
import { emptyPlan } from '@sobrin/core/plan';
import { emptyTopology } from '@sobrin/core/topology';
import { type Call, serve, show } from '../tests/render';

import { StudentLab } from './student-lab';

jest.mock('../drawing/drawing', () => ({ Drawing: () => <div role="figure" /> }));
const DOC = 'd0000000-0000-4000-8000-000000000001';
beforeEach(() => clear());

const lab = (more: Partial<StudentLabView> = {}): StudentLabView => ({
  id: 'lab',
  courseTitle: 'Networks 1',
  timeZone: 'UTC',
  title: 'Valley Station LAN',
  dueAt: '2026-12-08T18:00:00Z',
  bench: 'coach',
  lookIn: false,
  documentId: DOC,
  planId: 'plan',
  files: [],
  answers: {},
  attachments: [],
  submissions: [],
  brief: {
    scenario: 'The cableway opens its rebuilt station.',
    objectives: ['Cable one switch.'],
    groups: [{ id: 'desks', name: 'Ticket desks', now: 7, later: 30, site: 'Valley' }],
  },
  tasks: [
    { id: 't1', text: 'Draw the router.' },
    { id: 't2', text: 'Cable it.' },
  ],
  choices: {},
  selfChecks: null,
  tries: null,
  hints: null,
  names: 'any',
  counts: 'last',
  attempts: { used: 0, allowed: 3 },
  shown: { what: 'points', strength: 'that', when: 'at-once' },
  ...more,
});
const drawing = (devices = 2) => ({
  id: DOC,
  revision: 1,
  document: {
    ...emptyTopology(),
    devices: Object.fromEntries(
      Array.from({ length: devices }, (_one, at) => [`d${at}`, { name: `D${at}`, model: 'hub', at: { x: 0, y: 0 } }]),
    ),
  },
});

async function open(given = lab(), more: Parameters<typeof serve>[0] = {}) {
  const calls = serve({
    'GET my/labs/lab': { body: given },
    [`GET documents/${DOC}`]: { body: drawing() },
    'GET documents/plan': { body: { id: 'plan', revision: 0, document: emptyPlan() } },
    'GET auth/me': { body: { me: null } },
    ...more,
  });
  show(<StudentLab />, { path: '/my/labs/:labId', at: '/my/labs/lab' });
  await screen.findByRole('heading', { name: 'Valley Station LAN' });
  return calls;
}
/** Answers the next file chooser of the page with a file. */
function chooser(name: string, text: string): void {
  jest.spyOn(HTMLInputElement.prototype, 'click').mockImplementationOnce(function choose(this: HTMLInputElement) {
    Object.defineProperty(this, 'files', { value: [{ name, size: text.length, text: () => Promise.resolve(text) }] });
    this.onchange?.(new Event('change'));
  });
}

test('what is asked stands there: scenario, objectives, groups with their numbers, tasks', async () => {
  await open();
  const asked = screen.getByRole('region', { name: 'What is asked' });
  expect(asked).toHaveTextContent(/rebuilt station.*Cable one switch.*Ticket desksValley730/);
  await screen.findByLabelText('Answer to task 1');
  expect(within(screen.getByRole('region', { name: 'Tasks' })).getAllByRole('listitem')).toHaveLength(2);
});

test('where the student chooses which attempt counts, any other can be chosen', async () => {
  const done = { handedInAt: '2026-11-01T10:00:00Z', late: false, penalty: null, points: null, of: null };
  const submissions = [1, 2].map((attempt) => ({
    ...done,
    id: `${DOC.slice(0, -1)}${attempt}`,
    attempt,
    counts: attempt === 2,
  }));
  const calls = await open(lab({ counts: 'chosen', submissions, attempts: { used: 2, allowed: 3 } }), {
    'PUT my/labs/lab/counting': { status: 204 },
  });
  expect(screen.getByText(/the one counts that you choose/)).toBeInTheDocument();
  expect(screen.queryByRole('button', { name: 'Let it count: attempt 2' })).not.toBeInTheDocument();
  await userEvent.click(screen.getByRole('button', { name: 'Let it count: attempt 1' }));
  await waitFor(() =>
    expect(calls.filter(({ method }) => method === 'PUT').map(({ body }) => body)).toEqual([
      { attempt: DOC, drawing: DOC },
    ]),
  );
});

describe('asking while one works', () => {
  const tries = (task: Partial<TriesView['tasks'][string]> = {}, most = 2): TriesView => ({
    most,
    tasks: { t1: { used: 0, last: null, settled: null, ...task } },
  });
  test('an answer is saved, and then tried', async () => {
    const told = tries({ used: 1, last: { answer: '64', right: false } });
    const calls = await open(lab({ tries: tries() }), {
      'PUT my/labs/lab/answers': { status: 204 },
      'POST my/labs/lab/tries': { body: told },
    });
    const button = await screen.findByRole('button', { name: 'Is it right? Task 1' });
    expect(button).toBeDisabled();
    expect(screen.queryByRole('button', { name: 'Is it right? Task 2' })).not.toBeInTheDocument();
    await userEvent.type(screen.getByLabelText('Answer to task 1'), '64');
    await userEvent.click(button);
    await waitFor(() =>
      expect(calls.filter(({ method }) => method !== 'GET').map(({ path, body }) => [path, body])).toEqual([
        ['my/labs/lab/answers', { answers: { t1: '64' }, drawing: DOC }],
        ['my/labs/lab/tries', { id: expect.any(String) as string, drawing: DOC, task: 't1', answer: '64' }],
      ]),
    );
  });
  test('what came of it stands there; once all tries are used nothing else is typed, and a draft of it goes', async () => {
    const last = { answer: '60', right: false };
    await set(`answer ${DOC} t1`, { text: '62', from: '64' });
    await open(lab({ answers: { t1: '60' }, tries: tries({ used: 2, last, settled: '60' }) }), {
      'PUT my/labs/lab/answers': { status: 409, body: { message: 'All tries are used.' } },
    });
    const answer = await screen.findByLabelText('Answer to task 1');
    await waitFor(() => expect(answer).toHaveValue('60'));
    expect(answer).toBeDisabled();
    expect(screen.getByText('60 is not right')).toBeInTheDocument();
    expect(screen.getByText(/All tries are used/)).toBeInTheDocument();
    expect(screen.queryByRole('button', { name: /Is it right/ })).not.toBeInTheDocument();
  });
  test('where the right answer was tried before a wrong one, the right one stands there again', async () => {
    const right = { answer: '62', right: true };
    let given = lab({ answers: { t1: '62' }, tries: tries({ used: 1, last: right }) });
    await open(given, {
      'GET my/labs/lab': () => ({ body: given }),
      'PUT my/labs/lab/answers': { status: 204 },
      'POST my/labs/lab/tries': () => {
        const settled = tries({ used: 2, last: { answer: '63', right: false }, settled: '62' });
        given = lab({ answers: { t1: '62' }, tries: settled });
        return { body: settled };
      },
    });
    const answer = await screen.findByLabelText('Answer to task 1');
    await userEvent.clear(answer);
    await userEvent.type(answer, '63');
    await userEvent.click(screen.getByRole('button', { name: 'Is it right? Task 1' }));
    expect(await screen.findByText('63 is not right')).toBeInTheDocument();
    await waitFor(() => expect(screen.getByLabelText('Answer to task 1')).toHaveValue('62'));
    expect(screen.getByLabelText('Answer to task 1')).toBeDisabled();
  });
  test('a hint that costs is asked for twice, by the matter of which least is told; what was told stays', async () => {
    const at = '2026-11-01T10:00:00Z';
    const hints: HintsView = {
      cost: 0.5,
      of: [
        { key: 'k1', task: 't1', left: 1, told: [{ text: 'Look again.', cost: 0.5, at }] },
        { key: 'k2', task: 't1', left: 2, told: [] },
        { key: 'k3', task: null, left: 1, told: [] },
        { key: 'k4', task: 't2', left: 0, told: [{ text: 'Both ends.', cost: 0, at }] },
      ],
    };
    const calls = await open(lab({ hints }), { 'POST my/labs/lab/hints': { body: hints } });
    expect(await screen.findByRole('list', { name: 'Hints, task 1' })).toHaveTextContent('Look again.');
    expect(screen.getByRole('list', { name: 'Hints, task 2' })).toHaveTextContent('Both ends.');
    expect(screen.queryByRole('button', { name: /^A hint.*task 2/ })).not.toBeInTheDocument();
    expect(screen.getByRole('button', { name: 'A hint, 0.5 points (1 left): your drawing' })).toBeEnabled();
    await userEvent.click(screen.getByRole('button', { name: 'A hint, 0.5 points (3 left): task 1' }));
    const dialog = within(await screen.findByRole('dialog'));
    expect(dialog.getByText(/costs 0.5 points/)).toBeInTheDocument();
    await userEvent.click(dialog.getByRole('button', { name: 'Take it' }));
    await waitFor(() =>
      expect(calls.filter(({ method }) => method === 'POST').map(({ body }) => body)).toEqual([
        { id: expect.any(String) as string, drawing: DOC, key: 'k2', cost: 0.5 },
      ]),
    );
  });
});

describe('answers', () => {
  const answer = (task: number) => screen.findByLabelText(`Answer to task ${task}`);
  const sent = (calls: Call[]) =>
    calls.filter(({ method }) => method === 'PUT').map(({ body }) => (body as { answers: object }).answers);
  const kept = (task: string) => get(`answer ${DOC} ${task}`);

  test('each is sent by itself, also while one types; none is left in the browser then', async () => {
    const calls = await open(lab({ answers: { t1: 'a border router' } }), {
      'PUT my/labs/lab/answers': { status: 204 },
    });
    await userEvent.type(await answer(2), 'straight');
    await waitFor(() => expect(sent(calls)).toEqual([{ t2: 'straight' }]));
    await userEvent.type(await answer(1), '!');
    await userEvent.tab();
    await waitFor(() => expect(sent(calls)).toEqual([{ t2: 'straight' }, { t1: 'a border router!' }]));
    expect(await screen.findByText('saved')).toBeInTheDocument();
    await waitFor(async () => expect([await kept('t1'), await kept('t2')]).toEqual([undefined, undefined]));
  });

  test('where there are choices one is chosen, and what was written before them stays to be seen', async () => {
    const calls = await open(lab({ choices: { t2: ['straight', 'crossover'] }, answers: { t2: 'a cable' } }), {
      'PUT my/labs/lab/answers': { status: 204 },
    });
    const choices = await screen.findByRole('radiogroup', { name: 'Answer to task 2' });
    expect(within(choices).getByRole('radio', { name: 'a cable (no longer one of the choices)' })).toBeChecked();
    await userEvent.click(within(choices).getByRole('radio', { name: 'crossover' }));
    await waitFor(() => expect(sent(calls)).toEqual([{ t2: 'crossover' }]));
    expect(within(choices).getAllByRole('radio')).toHaveLength(2);
  });

  test('what cannot be sent is said, stays in the field and in the browser, and is sent when it is there again', async () => {
    let isDown = true;
    const calls = await open(lab(), {
      'PUT my/labs/lab/answers': () => (isDown ? { status: 503, body: { message: 'No room.' } } : { status: 204 }),
    });
    await userEvent.type(await answer(1), 'kept');
    await userEvent.tab();
    expect(await screen.findByRole('alert')).toHaveTextContent('Not saved yet, and kept in this browser: No room.');
    expect(await kept('t1')).toMatchObject({ text: 'kept', from: '' });
    isDown = false;
    act(() => void window.dispatchEvent(new Event('online')));
    expect(await screen.findByText('saved')).toBeInTheDocument();
    expect(sent(calls).at(-1)).toEqual({ t1: 'kept' });
    expect(await answer(1)).toHaveValue('kept');
  });

  test('what a closed tab left is there and is sent; where it was saved elsewhere since, one says which holds', async () => {
    await set(`answer ${DOC} t1`, { text: 'typed here', from: 'old' });
    await set(`answer ${DOC} t2`, { text: 'typed here, too', from: '' });
    await set('answer of-somebody-else t1', { text: 'not mine', from: '' });
    const calls = await open(lab({ answers: { t1: 'saved elsewhere' } }), {
      'PUT my/labs/lab/answers': { status: 204 },
    });
    expect(await answer(2)).toHaveValue('typed here, too');
    await waitFor(() => expect(sent(calls)).toEqual([{ t2: 'typed here, too' }]));
    expect(await answer(1)).toHaveValue('typed here');
    const two = screen.getByRole('group', { name: 'Two answers to task 1' });
    expect(two).toHaveTextContent('saved elsewhere');
    await userEvent.click(within(two).getByRole('button', { name: 'Save what I typed' }));
    await waitFor(() => expect(sent(calls).at(-1)).toEqual({ t1: 'typed here' }));
    expect(screen.queryByRole('group', { name: 'Two answers to task 1' })).toBeNull();
  });
});

test('the own plan is shown by its map, with the way to it', async () => {
  const blocks = {
    root: { prefix: '10.84.0.0/20', name: 'Ridge' },
    valley: { prefix: '10.84.0.0/22', name: 'Valley' },
  };
  await open(lab(), {
    'GET documents/plan': {
      body: { id: 'plan', revision: 2, document: { blocks, addresses: { '10.84.0.2': { name: 'A' } } } },
    },
  });
  const own = screen.getByRole('region', { name: 'Your address plan' });
  expect(await within(own).findByRole('button', { name: 'Valley, 10.84.0.0/22' })).toBeDisabled();
  expect(own).toHaveTextContent('2 blocks, 1 address');
  expect(within(own).getByRole('link', { name: 'Open the plan' })).toHaveAttribute('href', '/my/labs/lab/plan');
});

describe('uploading', () => {
  const mine = JSON.stringify(emptyTopology());
  test('a file that cannot be taken is refused with its place, and nobody is asked to replace anything by it', async () => {
    const calls = await open(lab(), { 'POST my/labs/lab/upload': { body: { taken: [], left: [] } } });
    await screen.findByText('2 devices, 0 links');
    chooser('bad.json', JSON.stringify({ ...emptyTopology(), devices: { a: { name: 'A', model: 7 } } }));
    await userEvent.click(screen.getByRole('button', { name: 'Upload a file' }));
    expect(await screen.findByRole('alert')).toHaveTextContent(/Your drawing is as it was\..*devices › a › model/);
    expect(screen.queryByRole('dialog')).toBeNull();
    expect(calls.some((call) => call.method === 'POST')).toBe(false);
  });
  test('asks before it replaces what is drawn', async () => {
    const calls = await open(lab(), { 'POST my/labs/lab/upload': { body: { taken: ['drawing'], left: [] } } });
    await screen.findByText('2 devices, 0 links');
    chooser('mine.json', mine);
    await userEvent.click(screen.getByRole('button', { name: 'Upload a file' }));
    expect(await screen.findByRole('dialog')).toHaveTextContent(
      'mine.json takes the place of the 2 devices drawn so far',
    );
    await userEvent.click(screen.getByRole('button', { name: 'Cancel' }));
    expect(calls.some((call) => call.method === 'POST')).toBe(false);
    chooser('mine.json', mine);
    await userEvent.click(await screen.findByRole('button', { name: 'Upload a file' }));
    await userEvent.click(await screen.findByRole('button', { name: 'Replace it' }));
    expect(await screen.findByText('mine.json is taken: drawing.')).toBeInTheDocument();
    expect(calls.find((call) => call.method === 'POST')!.body).toEqual({ text: mine });
  });
  test('does not ask on an empty sheet, and shows what the server says is wrong', async () => {
    await open(lab(), {
      [`GET documents/${DOC}`]: { body: drawing(0) },
      'POST my/labs/lab/upload': {
        status: 422,
        body: {
          message: 'The file was not taken. Your drawing is as it was.',
          problems: [{ place: 'devices › a › model', text: 'Unknown.' }],
        },
      },
    });
    await screen.findByText('Nothing is drawn yet');
    chooser('bad.json', mine);
    await userEvent.click(screen.getByRole('button', { name: 'Upload a file' }));
    expect(await screen.findByRole('alert')).toHaveTextContent(
      'Your drawing is as it was.devices › a › model: Unknown.',
    );
  });
  test('takes what the Bench writes in other formats, and says what of it was not read', async () => {
    const calls = await open(lab(), {
      [`GET documents/${DOC}`]: { body: drawing(0) },
      'POST my/labs/lab/upload': { body: { taken: ['drawing'], left: [] } },
    });
    await screen.findByText('Nothing is drawn yet');
    chooser('devices.csv', 'Name,Type,Colour\nDESK-1,desktop,green\nSW-1,switch,grey\n');
    await userEvent.click(screen.getByRole('button', { name: 'Upload a file' }));
    expect(await screen.findByText(/^devices\.csv is taken: drawing\. Not read: .*Colour/)).toBeInTheDocument();
    const { text } = calls.find(({ method }) => method === 'POST')!.body as { text: string };
    const { devices } = JSON.parse(text) as { devices: Record<string, { name: string }> };
    expect(Object.values(devices).map(({ name }) => name)).toEqual(['DESK-1', 'SW-1']);
    chooser('notes.csv', 'Monday,Tuesday\n1,2\n');
    await userEvent.click(screen.getByRole('button', { name: 'Upload a file' }));
    expect(await screen.findByRole('alert')).toHaveTextContent(/notes\.csv was not taken.*a column “Name”/);
  });
  test('a file beyond 10 MB is not even sent', async () => {
    const calls = await open(lab(), { [`GET documents/${DOC}`]: { body: drawing(0) } });
    await screen.findByText('Nothing is drawn yet');
    chooser('huge.json', 'x'.repeat(11_000_000));
    await userEvent.click(screen.getByRole('button', { name: 'Upload a file' }));
    expect(await screen.findByRole('alert')).toHaveTextContent('huge.json has 11.0 MB: at most 10 MB are taken.');
    expect(calls.some((call) => call.method === 'POST')).toBe(false);
  });
});

describe('handing in', () => {
  test('asks, says what it costs, and tells the attempt', async () => {
    const calls = await open(lab({ attempts: { used: 2, allowed: 3 } }), {
      'POST my/labs/lab/hand-in': { status: 201, body: { id: 's', attempt: 3, late: false } },
    });
    await userEvent.click(screen.getByRole('button', { name: 'Hand in attempt 3' }));
    expect(screen.getByRole('dialog')).toHaveTextContent('it is your last attempt');
    expect(calls.some((call) => call.method === 'POST')).toBe(false);
    await userEvent.click(screen.getByRole('button', { name: 'Hand in' }));
    expect(await screen.findByText('Attempt 3 is handed in.')).toBeInTheDocument();
  });
  test('a double click hands in once', async () => {
    const calls = await open(lab({ attempts: { used: 0, allowed: 3 } }), {
      'POST my/labs/lab/hand-in': { status: 201, body: { id: 's', attempt: 1, late: false } },
    });
    await userEvent.click(screen.getByRole('button', { name: 'Hand in attempt 1' }));
    await userEvent.dblClick(screen.getByRole('button', { name: 'Hand in' }));
    expect(await screen.findByText('Attempt 1 is handed in.')).toBeInTheDocument();
    expect(calls.filter((call) => call.method === 'POST')).toHaveLength(1);
  });
  test('pressing again after a lost answer sends the same hand-in, a new attempt another one', async () => {
    const answers = [
      { status: 503, body: { message: 'No answer.' } },
      { status: 201, body: { id: 's', attempt: 1, late: false } },
      { status: 201, body: { id: 't', attempt: 2, late: false } },
    ];
    const calls = await open(lab({ attempts: { used: 0, allowed: 3 } }), {
      'POST my/labs/lab/hand-in': () => answers.shift()!,
    });
    const handIn = async (): Promise<void> => {
      await userEvent.click(await screen.findByRole('button', { name: 'Hand in attempt 1' }));
      await userEvent.click(screen.getByRole('button', { name: 'Hand in' }));
    };
    await handIn();
    expect(await screen.findByRole('alert')).toHaveTextContent('No answer.');
    await handIn();
    expect(await screen.findByText('Attempt 1 is handed in.')).toBeInTheDocument();
    await handIn();
    expect(await screen.findByText('Attempt 2 is handed in.')).toBeInTheDocument();
    const ids = calls.filter((call) => call.method === 'POST').map((call) => (call.body as { handIn: string }).handIn);
    expect(ids[0]).toBe(ids[1]);
    expect(ids[2]).not.toBe(ids[1]);
  });
  test('waits for what is typed and not saved yet; nothing is handed in where that cannot be saved', async () => {
    let isFull = true;
    const calls = await open(lab(), {
      'PUT my/labs/lab/answers': () => (isFull ? { status: 503, body: { message: 'No room.' } } : { status: 204 }),
      'POST my/labs/lab/hand-in': { status: 201, body: { id: 's', attempt: 1, late: false } },
    });
    const press = async (): Promise<void> => {
      await userEvent.click(await screen.findByRole('button', { name: 'Hand in attempt 1' }));
      await userEvent.click(screen.getByRole('button', { name: 'Hand in' }));
    };
    await userEvent.type(await screen.findByLabelText('Answer to task 1'), 'last words');
    await press();
    expect(await screen.findByText(/^Nothing was handed in. Your answers are not all saved yet/)).toBeInTheDocument();
    expect(calls.some(({ method }) => method === 'POST')).toBe(false);
    isFull = false;
    await press();
    expect(await screen.findByText('Attempt 1 is handed in.')).toBeInTheDocument();
    const made = calls.filter(({ method }) => method !== 'GET').map(({ method, body }) => [method, body]);
    expect(made.slice(-2)).toMatchObject([
      ['PUT', { answers: { t1: 'last words' } }],
      ['POST', { drawing: DOC }],
    ]);
  });
  test('sends what a closed tab left of the drawing first', async () => {
    const commands = [{ kind: 'setDocument', set: { title: 'left' } }];
    await set(`unsaved ${DOC} closed-tab`, { sent: null, waiting: commands, base: 1 });
    const calls = await open(lab(), {
      [`POST documents/${DOC}/changes`]: { body: { revision: 2, merged: null } },
      'POST my/labs/lab/hand-in': { status: 201, body: { id: 's', attempt: 1, late: false } },
    });
    await userEvent.click(screen.getByRole('button', { name: 'Hand in attempt 1' }));
    await userEvent.click(screen.getByRole('button', { name: 'Hand in' }));
    expect(await screen.findByText('Attempt 1 is handed in.')).toBeInTheDocument();
    expect(calls.filter(({ method }) => method === 'POST').map(({ path }) => path)).toEqual([
      `documents/${DOC}/changes`,
      'my/labs/lab/hand-in',
    ]);
  });
  test('an empty drawing is asked about by name', async () => {
    await open(lab(), { [`GET documents/${DOC}`]: { body: drawing(0) } });
    await screen.findByText('Nothing is drawn yet');
    await userEvent.click(screen.getByRole('button', { name: 'Hand in attempt 1' }));
    expect(screen.getByRole('dialog')).toHaveTextContent('Nothing is drawn or planned. Hand in an empty sheet?');
    expect(screen.getByRole('button', { name: 'Hand in the empty sheet' })).toBeInTheDocument();
  });
  test('a plan alone is no empty work', async () => {
    const blocks = { root: { prefix: '10.84.0.0/20', name: 'Ridge' } };
    await open(lab(), {
      [`GET documents/${DOC}`]: { body: drawing(0) },
      'GET documents/plan': { body: { id: 'plan', revision: 2, document: { ...emptyPlan(), blocks } } },
    });
    await screen.findByText('1 block, 0 addresses');
    await userEvent.click(screen.getByRole('button', { name: 'Hand in attempt 1' }));
    expect(screen.getByRole('dialog')).toHaveTextContent('Hand in attempt 1?');
  });
  test('without an answer it is not said that nothing was handed in, and it does not fire later by itself', async () => {
    const calls = await open(lab(), { 'POST my/labs/lab/hand-in': { status: 0 } });
    await userEvent.click(screen.getByRole('button', { name: 'Hand in attempt 1' }));
    await userEvent.click(screen.getByRole('button', { name: 'Hand in' }));
    expect(await screen.findByRole('alert')).toHaveTextContent(/not known whether this attempt arrived/);
    act(() => void window.dispatchEvent(new Event('online')));
    await new Promise((resolve) => setTimeout(resolve, 50));
    expect(calls.filter(({ path }) => path === 'my/labs/lab/hand-in')).toHaveLength(1);
  });
  test('a refusal is shown as the server says it', async () => {
    await open(lab(), {
      'POST my/labs/lab/hand-in': {
        status: 409,
        body: { message: 'The lab was due on 2026-01-01 at 12:00 UTC: nothing more is taken.' },
      },
    });
    await userEvent.click(screen.getByRole('button', { name: 'Hand in attempt 1' }));
    await userEvent.click(screen.getByRole('button', { name: 'Hand in' }));
    expect(await screen.findByRole('alert')).toHaveTextContent('nothing more is taken');
  });
  test('earlier attempts with their points; none left, nothing to press', async () => {
    const done = { id: 's', counts: false, handedInAt: '2026-11-01T10:00:00Z', late: false, penalty: null };
    await open(
      lab({
        attempts: { used: 3, allowed: 3 },
        counts: 'best',
        submissions: [
          { ...done, counts: true, attempt: 1, points: 33.5, of: 39 },
          { ...done, id: 's2', attempt: 2, late: true, points: null, of: null },
          { ...done, id: 's3', attempt: 3, points: null, of: null },
        ],
      }),
    );
    const panel = screen.getByRole('region', { name: 'Handing in' });
    expect(panel).toHaveTextContent(
      /Attempt 1.*33\.5 \/ 39.*Attempt 2.*late.*not checked yet.*Attempt 3.*not checked yet.*the best one counts/,
    );
    expect(within(panel).getByRole('button', { name: 'All attempts are used' })).toBeDisabled();
  });
  test('where the last attempt counts, an older one that is not checked says that a newer one does', async () => {
    const done = { handedInAt: '2026-11-01T10:00:00Z', late: false, penalty: null, points: null, of: null };
    const submissions = [
      { ...done, id: 's1', attempt: 1, counts: false },
      { ...done, id: 's2', attempt: 2, counts: true },
    ];
    await open(lab({ attempts: { used: 2, allowed: 3 }, submissions }));
    expect(screen.getByRole('region', { name: 'Handing in' })).toHaveTextContent(
      /Attempt 1.*a newer one counts.*Attempt 2.*, counts.*not checked yet.*the last one counts/,
    );
  });
});

test('files are listed with their sizes and can be taken away', async () => {
  const calls = await open(lab({ attachments: [{ id: 'f', name: 'plan.png', type: 'image/png', size: 1_500_000 }] }), {
    'DELETE my/labs/lab/attachments/f': { status: 204 },
  });
  expect(screen.getByText('1.5 MB')).toBeInTheDocument();
  await userEvent.click(screen.getByRole('button', { name: 'Remove plan.png' }));
  await waitFor(() => expect(calls.some((call) => call.path === 'my/labs/lab/attachments/f')).toBe(true));
});
