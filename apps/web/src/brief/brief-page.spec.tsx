import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type LabView } from '@sobrin/contracts';
import { type Brief } from '@sobrin/core/plan';
import { forgetUnsent } from '../documents/unsent';
import { labDocuments } from '../tests/lab-documents';
import { serve, show } from '../tests/render';
import { BriefPage } from './brief-page';

const brief: Brief = {
  scenario: 'A **cableway**.\n\n![ridge](file:f1)\n\n<img src=x onerror=alert(1)>',
  objectives: ['Size subnets.'],
  groups: [
    { id: 'desks', name: 'Ticket desks', now: 16, later: 40, site: 'Valley' },
    { id: 'guests', name: 'Guests', now: 60, later: 200, site: 'Valley', needs: ['wireless'] },
  ],
  sites: [{ name: 'Valley', place: '840 m' }],
  separations: [{ id: 's1', who: 'guests', from: '@inside' }],
  outside: ['198.51.100.0/24'],
};
const lab = (more: Partial<LabView> = {}): LabView => ({
  id: 'lab',
  courseId: 'c',
  courseTitle: 'Networks 1',
  timeZone: 'UTC',
  teaches: true,
  mayEdit: true,
  isOwner: true,
  owner: 'Maren Osterkamp',
  title: 'Three Stations',
  revision: 7,
  dueAt: null,
  releasedAt: null,
  version: null,
  versions: 0,
  isChanged: false,
  brief,
  tasks: [
    { id: 't1', text: 'Draw.' },
    { id: 't3', text: 'Cable.' },
  ],
  documents: { brief: 'brief', tasks: 'tasks', spec: 'spec', policy: 'policy' },
  planId: 'p',
  plan: { blocks: 0, proposed: 0, problems: 0 },
  drawn: 0,
  spec: {
    groups: {},
    sections: [{ id: 's', title: 'S', requirements: [{ id: '1.1', points: 1, task: 't3', rule: { kind: 'titled' } }] }],
  },
  policy: { attempts: 2, bench: 'plain' },
  referenceId: 'r',
  starterId: null,
  files: [{ id: 'f1', name: 'ridge.png', type: 'image/png', size: 3000 }],
  notInForce: null,
  untoldNames: [],
  specProblems: [],
  handedIn: 0,
  checked: 0,
  students: 0,
  ...more,
});
/** The page with a server that keeps the lab's documents; what comes back gives what the server has. */
async function open(given = lab()) {
  const { answers, stored } = labDocuments(given);
  const calls = serve({ 'GET labs/lab': { body: given }, ...answers });
  show(<BriefPage />, { lab: given });
  await screen.findByRole('textbox', { name: 'Title of the lab' });
  return Object.assign(() => ({ brief: stored.brief, tasks: stored.tasks.tasks, policy: stored.policy }), { calls });
}
async function retype(label: string, text: string): Promise<void> {
  const field = screen.getByRole('textbox', { name: label });
  await userEvent.clear(field);
  if (text) await userEvent.paste(text);
  await userEvent.tab();
}
const combo = (name: string) => screen.getByRole('combobox', { name });

/** What a page before did not have answered yet is none of the next one's. */
beforeEach(forgetUnsent);

describe('what is written', () => {
  test('the scenario is shown as Markdown with pictures of the lab, and HTML in it stays text', async () => {
    await open();
    expect(screen.getByText('cableway').tagName).toBe('STRONG');
    expect(screen.getByAltText('ridge')).toHaveAttribute('src', '/api/labs/lab/files/f1');
    expect(screen.getByText(/<img src=x onerror/)).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: 'Edit: Scenario' }));
    expect(screen.getByRole('textbox', { name: 'Scenario' })).toHaveValue(brief.scenario);
  });
  test('only what changed is sent; undo sends it back, over all parts in the order in which they were changed', async () => {
    const sent = await open();
    await userEvent.click(screen.getByRole('button', { name: 'Edit: Scenario' }));
    await retype('Scenario', 'Two cableways.');
    await waitFor(() => expect(sent().brief).toEqual({ ...brief, scenario: 'Two cableways.' }));
    expect(sent.calls.filter((call) => call.method === 'POST').map((call) => call.body)).toMatchObject([
      { base: 0, commands: [{ kind: 'edits', edits: [{ path: ['scenario'], value: 'Two cableways.' }] }] },
    ]);
    await retype('Attempts', '5');
    await waitFor(() => expect(sent().policy.attempts).toBe(5));
    await retype('Add to objectives', 'Write routes.');
    await waitFor(() => expect(sent().brief.objectives).toEqual(['Size subnets.', 'Write routes.']));
    await userEvent.click(screen.getByRole('button', { name: 'Undo' }));
    await waitFor(() => expect(sent().brief.objectives).toEqual(['Size subnets.']));
    await userEvent.click(screen.getByRole('button', { name: 'Undo' }));
    await waitFor(() => expect(sent().policy.attempts).toBe(2));
    expect(sent().brief.scenario).toBe('Two cableways.');
    await userEvent.click(screen.getByRole('button', { name: 'Redo' }));
    await waitFor(() => expect(sent().policy.attempts).toBe(5));
  });
  test('coming back to the page finds what can be undone', async () => {
    const sent = await open();
    await retype('Attempts', '5');
    await waitFor(() => expect(sent().policy.attempts).toBe(5));
    cleanup();
    show(<BriefPage />, { lab: lab() });
    await userEvent.click(await screen.findByRole('button', { name: 'Undo' }));
    await waitFor(() => expect(sent().policy.attempts).toBe(2));
  });
  test('a task that is added gets an id nobody has; requirements that judge a task are named', async () => {
    const sent = await open();
    expect(screen.getByText('Judged by 1.1 of the spec')).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: 'Add a task' }));
    await waitFor(() => expect(sent().tasks.map((task) => task.id)).toEqual(['t1', 't3', 't4']));
    expect(screen.getByRole('textbox', { name: 'Task 3' })).toHaveFocus();
    await userEvent.keyboard('Cable the lift.');
    await userEvent.tab();
    await waitFor(() => expect(sent().tasks.at(-1)!.text).toBe('Cable the lift.'));
    await userEvent.click(screen.getByRole('button', { name: 'Remove task 1' }));
    await waitFor(() => expect(sent().tasks.map((task) => task.id)).toEqual(['t3', 't4']));
  });
  test('title and due date are sent at once; what could not be sent stays and is tried again', async () => {
    let isThere = false;
    const { answers } = labDocuments(lab());
    const calls = serve({
      ...answers,
      'GET labs/lab': { body: lab({ revision: 9 }) },
      'PATCH labs/lab': () =>
        isThere ? { body: lab({ title: 'Mine' }) } : { status: 503, body: { message: 'Come back later.' } },
    });
    show(<BriefPage />, { lab: lab() });
    await screen.findByRole('textbox', { name: 'Title of the lab' });
    await retype('Title of the lab', 'Mine');
    expect(await screen.findByText(/Not saved: Come back later/)).toBeInTheDocument();
    expect(screen.getByRole('textbox', { name: 'Title of the lab' })).toHaveValue('Mine');
    isThere = true;
    await userEvent.click(screen.getByRole('button', { name: 'Try now' }));
    expect(await screen.findByText('Saved')).toBeInTheDocument();
    expect(calls.filter((call) => call.method === 'PATCH').at(-1)!.body).toEqual({ base: 9, title: 'Mine' });
  });
  test('a title that is refused each time is told to be, and not sent for ever', async () => {
    const { answers } = labDocuments(lab());
    const calls = serve({
      ...answers,
      'GET labs/lab': { body: lab() },
      'PATCH labs/lab': { status: 409, body: { message: 'Somebody changed this lab in between.' } },
    });
    show(<BriefPage />, { lab: lab() });
    await screen.findByRole('textbox', { name: 'Title of the lab' });
    await retype('Title of the lab', 'Mine');
    expect(await screen.findByText(/Not saved: Somebody changed this lab/)).toBeInTheDocument();
    expect(calls.filter(({ method }) => method === 'PATCH')).toHaveLength(5);
    expect(screen.getByRole('textbox', { name: 'Title of the lab' })).toHaveValue('Mine');
  });
  test('a title that meets the save of a part of the lab is sent again; of another title the person is told', async () => {
    let revision = 9;
    let title = 'Three Stations';
    const { answers } = labDocuments(lab());
    serve({
      ...answers,
      'GET labs/lab': () => ({ body: lab({ revision, title }) }),
      'PATCH labs/lab': (body) => {
        const change = body as { base: number; title: string };
        // The first to come meets a save that was faster.
        if (revision === 9) revision = 10;
        if (change.base !== revision)
          return { status: 409, body: { message: 'Somebody changed this lab in between.' } };
        revision++;
        title = change.title;
        return { body: lab({ revision, title }) };
      },
    });
    show(<BriefPage />, { lab: lab() });
    await screen.findByRole('textbox', { name: 'Title of the lab' });
    await retype('Title of the lab', 'Mine');
    expect(await screen.findByText('Saved')).toBeInTheDocument();
    await waitFor(() => expect(title).toBe('Mine'));
    title = 'Theirs';
    await retype('Title of the lab', 'Mine again');
    expect(await screen.findByText(/Not saved: Somebody else called this lab “Theirs” meanwhile/)).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: 'Try now' }));
    await waitFor(() => expect(title).toBe('Mine again'));
  });
});

describe('groups and what follows from them', () => {
  const follows = () => within(screen.getByRole('region', { name: 'What follows' }));
  test('numbers typed change the sizes beside, with the reason', async () => {
    const sent = await open();
    expect(follows().getByText('21 of 62')).toBeInTheDocument();
    await retype('Ticket desks later', '70');
    await waitFor(() => expect(sent().brief).toMatchObject({ groups: [{ id: 'desks', later: 70 }, {}] }));
    expect(follows().getByText('55 of 126')).toBeInTheDocument();
    await userEvent.click(follows().getByRole('button', { name: 'Ticket desks' }));
    expect(follows().getByText(/70 later \+ 1 gateway = 71 addresses/)).toHaveTextContent(
      '26 − 2 = 62 is too few, 27 − 2 = 126 fits',
    );
  });
  test('a number that is none is said and not sent', async () => {
    const sent = await open();
    await retype('Ticket desks later', 'many');
    await retype('Attempts', 'many');
    expect(sent.calls.filter((call) => call.method !== 'GET')).toEqual([]);
  });
  test('needs are chosen from a list, or written', async () => {
    const sent = await open();
    await userEvent.click(screen.getByRole('button', { name: /^Needs of Ticket desks/ }));
    await userEvent.click(screen.getByRole('checkbox', { name: 'phones' }));
    await waitFor(() => expect(sent().brief.groups![0]!.needs).toEqual(['phones']));
    const field = screen.getByRole('textbox', { name: 'Other needs' });
    await userEvent.type(field, 'shop server{Enter}');
    await waitFor(() => expect(sent().brief.groups![0]!.needs).toEqual(['phones', 'shop server']));
  });
  test('groups are pasted from a sheet', async () => {
    const sent = await open();
    await userEvent.click(screen.getByRole('textbox', { name: 'Name of Guests' }));
    await userEvent.paste('Tills\t6\t20\tSummit\nMast\t2\t4\t\nnot a group\n');
    await waitFor(() =>
      expect(
        sent()
          .brief.groups!.slice(2)
          .map(({ id: _id, ...group }) => group),
      ).toEqual([
        { name: 'Tills', now: 6, later: 20, site: 'Summit' },
        { name: 'Mast', now: 2, later: 4 },
      ]),
    );
  });
  test('renaming a site takes its groups along', async () => {
    const sent = await open();
    await retype('Site 1', 'Talstation');
    await waitFor(() =>
      expect(sent().brief).toMatchObject({
        sites: [{ name: 'Talstation', place: '840 m' }],
        groups: [{ site: 'Talstation' }, { site: 'Talstation' }],
      }),
    );
  });
  test('lines are typed one after another, each with Enter', async () => {
    const sent = await open();
    for (const [field, property] of [
      ['Add to objectives', 'objectives'],
      ['Add an outside range', 'outside'],
    ] as const) {
      await userEvent.click(screen.getByRole('textbox', { name: field }));
      await userEvent.keyboard('10.1.0.0/16{Enter}10.2.0.0/16{Enter}');
      expect(screen.getByRole('textbox', { name: field })).toHaveFocus();
      await waitFor(() => expect(sent().brief[property]?.slice(1)).toEqual(['10.1.0.0/16', '10.2.0.0/16']));
    }
  });
  test('separations, outside ranges, rules, schemes and ratios are plain fields', async () => {
    const sent = await open();
    await userEvent.selectOptions(combo('From what'), 'do not reach Ticket desks');
    await waitFor(() => expect(sent().brief).toMatchObject({ separations: [{ who: 'guests', from: 'desks' }] }));
    await retype('Add an outside range', '2001:db8:84::/48');
    await waitFor(() => expect(sent().brief).toMatchObject({ outside: ['198.51.100.0/24', '2001:db8:84::/48'] }));
    await userEvent.click(screen.getByRole('checkbox', { name: /Another private range/ }));
    await waitFor(() => expect(sent().brief).toMatchObject({ rules: { otherPrivate: true } }));
    await retype('Naming scheme', '{kind}-{site}{n}');
    await waitFor(() => expect(sent().brief).toMatchObject({ schemes: { names: '{kind}-{site}{n}' } }));
    expect(await screen.findByText('SW-V2')).toBeInTheDocument();
    await retype('Naming scheme', 'RT-M for the router');
    expect(await screen.findByText(/^Sentences are for people/)).toBeInTheDocument();
    await retype('Naming scheme', '{kind}-{site}{n}');
    await userEvent.selectOptions(combo('Gateway'), 'the last usable address');
    await retype('Addresses kept for equipment', '3');
    await userEvent.selectOptions(combo('DHCP pool'), 'all that is left');
    expect(
      screen.getByText(/gateway 10\.84\.1\.62, equipment 10\.84\.1\.59-61, leases 10\.84\.1\.1-58\./),
    ).toBeInTheDocument();
    await retype('People an access point', '40');
    await waitFor(() => expect(sent().brief).toMatchObject({ ratios: { perAccessPoint: 40 } }));
    expect(follows().getByText('5', { selector: 'b' })).toBeInTheDocument(); // 200 guests: five access points
  });
});

describe('the rules of the lab', () => {
  test('defaults are not stored', async () => {
    const sent = await open();
    await userEvent.selectOptions(combo('After the due date'), 'attempts are taken, marked as late');
    await waitFor(() => expect(sent().policy).toEqual({ attempts: 2, bench: 'plain', late: 'accepted' }));
    await retype('Attempts', '');
    await waitFor(() => expect(sent().policy).toEqual({ bench: 'plain', late: 'accepted' }));
    await userEvent.selectOptions(combo('Copper ports'), 'as in older kit, cables must be right');
    await waitFor(() => expect(sent().policy).toMatchObject({ autoPairing: false }));
  });
  test('a kit has prices beside its numbers, and a missing link may cost everywhere', async () => {
    const sent = await open();
    await userEvent.click(screen.getByRole('button', { name: 'all models, any number' }));
    const dialog = within(await screen.findByRole('dialog'));
    await userEvent.click(dialog.getByRole('button', { name: 'Tick none' }));
    await userEvent.click(dialog.getByRole('checkbox', { name: 'Desktop is in the kit' }));
    await userEvent.type(dialog.getByRole('textbox', { name: 'Price of Desktop' }), '400');
    await userEvent.type(dialog.getByRole('textbox', { name: 'How many of Desktop' }), '3');
    await userEvent.click(dialog.getByRole('button', { name: 'Set the kit' }));
    await waitFor(() => expect(sent().policy).toMatchObject({ kit: { desktop: { cost: 400, most: 3 } } }));
    // The page behind a dialog is there again once the dialog is gone.
    await waitFor(() => expect(screen.queryByRole('dialog')).not.toBeInTheDocument());
    await userEvent.selectOptions(combo('What is missing'), 'costs also where something is asked of it');
    await waitFor(() => expect(sent().policy).toMatchObject({ missing: 'everywhere' }));
  });
  test('which attempt counts, and what students are told before they hand in', async () => {
    const sent = await open();
    await userEvent.selectOptions(combo('Which attempt counts'), 'the best one counts');
    await waitFor(() => expect(sent().policy).toMatchObject({ counts: 'best' }));
    await retype('Self-checks', '51');
    expect(screen.getByText('A number from 1 to 50; leave it empty for none.')).toBeInTheDocument();
    await retype('Self-checks', '3');
    await waitFor(() => expect(sent().policy).toMatchObject({ selfChecks: { most: 3 } }));
    await userEvent.selectOptions(combo('What self-checks tell'), 'whether chosen requirements are met');
    expect(await screen.findByText('None is chosen: a self-check would tell nothing.')).toBeInTheDocument();
    await userEvent.selectOptions(combo('What self-checks tell'), 'the points of each section');
    await userEvent.selectOptions(combo('Which attempt counts'), 'the last one counts');
    await waitFor(() => expect(sent().policy).not.toHaveProperty('counts'));
    await waitFor(() => expect(sent().policy).toMatchObject({ selfChecks: { most: 3 } }));
    await retype('Self-checks', '');
    await waitFor(() => expect(sent().policy).not.toHaveProperty('selfChecks'));
  });
  test('what students may ask while they work, and whether names count', async () => {
    const sent = await open();
    await retype('Tries', '21');
    expect(screen.getByText('A number from 1 to 20; leave it empty for none.')).toBeInTheDocument();
    await retype('Tries', '2');
    await waitFor(() => expect(sent().policy).toMatchObject({ tries: 2 }));
    expect(screen.getByText(/asks for no choice and no number/)).toBeInTheDocument();
    await retype('What a hint costs', '0,5');
    await waitFor(() => expect(sent().policy).toMatchObject({ tries: 2, hintCost: 0.5 }));
    expect(screen.getByRole('list', { name: 'Order of the mark' })).toHaveTextContent(/Each hint.*0.5 points off/);
    await retype('What a hint costs', '0');
    await waitFor(() => expect(sent().policy).toMatchObject({ hintCost: 0 }));
    await retype('What a hint costs', '');
    await waitFor(() => expect(sent().policy).not.toHaveProperty('hintCost'));
    await userEvent.selectOptions(combo('How devices are known'), 'by its name, that of the reference');
    await waitFor(() => expect(sent().policy).toMatchObject({ names: 'exact' }));
    await userEvent.selectOptions(combo('How devices are known'), 'by what it is linked to, whatever its name');
    await waitFor(() => expect(sent().policy).not.toHaveProperty('names'));
  });
  test('where names are prescribed and no text has them, that is said', async () => {
    await open({ ...lab(), policy: { names: 'exact' }, untoldNames: ['RT-V', 'SW-V'] });
    expect(screen.getByText(/2 names of the reference stand in nothing.*RT-V, SW-V/)).toBeInTheDocument();
  });
  test('whom routers believe is a table: what is as usual is not stored, and what cannot be is said', async () => {
    const sent = await open();
    await retype('Distance of routes: OSPF', '90');
    await waitFor(() => expect(sent().policy).toMatchObject({ distances: { ospf: 90 } }));
    await retype('Distance of routes: RIP', '300');
    expect(screen.getByText('A number from 1 to 255; leave it empty for 120.')).toBeInTheDocument();
    expect(sent().policy).toMatchObject({ distances: { ospf: 90 } });
    await retype('Distance of routes: RIP', '');
    await retype('Distance of routes: OSPF', '110');
    await waitFor(() => expect(sent().policy).not.toHaveProperty('distances'));
  });
});
