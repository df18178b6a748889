import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type ChangeLabRequest, type LabView } from '@sobrin/contracts';
import { serve, show } from '../tests/render';
import { PlanPage } from '../plan/plan-page';
import { BriefPage } from './brief-page';

const lab = (more: Partial<LabView> = {}): LabView => ({
  id: 'lab',
  courseId: 'c',
  courseTitle: 'Networks 1',
  title: 'Three Stations',
  revision: 7,
  dueAt: null,
  brief: { scenario: 'A cableway.', objectives: ['Size subnets.'] },
  tasks: [
    { id: 't1', text: 'Draw.' },
    { id: 't3', text: 'Cable.' },
  ],
  plan: {
    blocks: {
      a: { prefix: '10.84.0.0/20', name: 'Kestrel Ridge', standing: 'decided' },
      b: { prefix: '10.84.1.0/26', name: 'tickets', vlan: 10 },
    },
  },
  spec: { groups: {}, sections: [] },
  policy: { attempts: 2, bench: 'plain' },
  referenceId: 'r',
  specProblems: [],
  handedIn: 0,
  checked: 0,
  students: 0,
  ...more,
});
function open(page: 'brief' | 'plan', given = lab()): () => ChangeLabRequest {
  const calls = serve({ 'PATCH labs/lab': { body: given } });
  show(page === 'brief' ? <BriefPage /> : <PlanPage />, { lab: given });
  return () => calls.at(-1)!.body as ChangeLabRequest;
}
async function retype(label: string, text: string): Promise<void> {
  const field = screen.getByRole('textbox', { name: label });
  await userEvent.clear(field);
  if (text) await userEvent.type(field, text);
  await userEvent.tab();
}

describe('the brief', () => {
  test('scenario and objectives are changed in place, on top of the revision known', async () => {
    const sent = open('brief');
    await retype('Scenario', 'Two cableways.');
    await waitFor(() =>
      expect(sent()).toEqual({ base: 7, brief: { scenario: 'Two cableways.', objectives: ['Size subnets.'] } }),
    );
    await retype('Add to objectives', 'Write routes.');
    await waitFor(() => expect(sent().brief).toMatchObject({ objectives: ['Size subnets.', 'Write routes.'] }));
    await retype('Objectives 1', '');
    await waitFor(() => expect(sent().brief).toMatchObject({ objectives: [] }));
  });
  test('a task that is added gets an id nobody has; answers to the others keep theirs', async () => {
    const sent = open('brief');
    await userEvent.click(screen.getByRole('button', { name: 'Add a task' }));
    await waitFor(() =>
      expect(sent().tasks).toEqual([
        { id: 't1', text: 'Draw.' },
        { id: 't3', text: 'Cable.' },
        { id: 't4', text: 'What is to be done?' },
      ]),
    );
    await userEvent.click(screen.getByRole('button', { name: 'Remove task 1' }));
    await waitFor(() => expect(sent().tasks).toEqual([{ id: 't3', text: 'Cable.' }]));
  });
  test('the rules of the lab: defaults are not stored', async () => {
    const sent = open('brief');
    await userEvent.selectOptions(screen.getByLabelText('After the due date'), 'taken, marked as late');
    await waitFor(() => expect(sent().policy).toEqual({ attempts: 2, bench: 'plain', late: 'accepted' }));
    await retype('Attempts', '');
    await waitFor(() => expect(sent().policy).toEqual({ bench: 'plain' }));
    await userEvent.selectOptions(screen.getByLabelText('Copper ports'), 'as in older kit: cables must be right');
    await waitFor(() => expect(sent().policy).toMatchObject({ autoPairing: false }));
  });
  test('a number of attempts that is none is said and not sent', async () => {
    const calls = serve({});
    show(<BriefPage />, { lab: lab() });
    const field = screen.getByLabelText('Attempts');
    await userEvent.clear(field);
    await userEvent.type(field, 'many');
    expect(field).toHaveAccessibleDescription(/number from 1 to 100/);
    await userEvent.tab();
    expect(calls).toEqual([]);
  });
});

describe('the plan', () => {
  test('blocks stand as a tree with what they hold', () => {
    open('plan');
    expect(
      screen
        .getAllByRole('row')
        .slice(1)
        .map((one) => one.textContent),
    ).toEqual([expect.stringContaining('4 094'), expect.stringContaining('62')]);
  });
  test('a block is changed, added and removed', async () => {
    const sent = open('plan');
    await retype('Prefix of tickets', '10.84.1.0/25');
    await waitFor(() => expect(sent().plan).toMatchObject({ blocks: { b: { prefix: '10.84.1.0/25', vlan: 10 } } }));
    await retype('VLAN of tickets', '');
    await waitFor(() =>
      expect((sent().plan as { blocks: Record<string, object> }).blocks.b).toEqual({
        prefix: '10.84.1.0/26',
        name: 'tickets',
      }),
    );
    await userEvent.click(screen.getByRole('button', { name: 'Add a block' }));
    await waitFor(() => expect(Object.keys((sent().plan as { blocks: object }).blocks)).toEqual(['a', 'b', 'block3']));
    await userEvent.click(screen.getByRole('button', { name: 'Remove tickets' }));
    await waitFor(() => expect(Object.keys((sent().plan as { blocks: object }).blocks)).toEqual(['a']));
  });
  test('a block that cannot be is told, an empty plan says what to do first', () => {
    open('plan', lab({ plan: { blocks: { a: { prefix: '10.84.0.1/20', name: 'A' } } } }));
    expect(screen.getByText(/10\.84\.0\.0\/20/)).toBeInTheDocument();
    open('plan', lab({ plan: { blocks: {} } }));
    expect(screen.getByText('No address plan yet')).toBeInTheDocument();
  });
});
