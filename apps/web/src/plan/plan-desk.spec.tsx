import { act, fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type Conflict, type Saved } from '@sobrin/contracts';
import { readPlanTable } from '@sobrin/core/formats';
import { type Plan, type PlanCommand } from '@sobrin/core/plan';
import { ApiError } from '../api/client';
import { createDocumentStore } from '../documents/document-store';
import { type Save } from '../documents/pending';
import { brief, plan } from '../tests/plans';
import { serve, show, sizePage } from '../tests/render';
import { type TableProgress } from './dialogs/use-table-reading';
import { PlanDesk } from './plan-desk';
import { type PlanStore, PLAN } from './plan-store';
import { type PlanSetting, PlanProvider } from './use-plan';

// Workers do not run here: the table is read at once, by the same core.
jest.mock('./dialogs/use-table-reading', () => ({
  useTableReading: (document: Plan, wish: Parameters<typeof readPlanTable>[1] | null): TableProgress => {
    if (!wish) return { reading: null, progress: 0 };
    let ids = 0;
    const work = readPlanTable(document, wish, () => `n${++ids}`);
    let step = work.next();
    while (!step.done) step = work.next();
    return { reading: step.value, progress: 1 };
  },
}));

beforeAll(sizePage);

/** What was kept as a version before it was given up. */
let aside: object[] = [];

function open(
  document: Plan = plan(),
  setting: Partial<PlanSetting> = {},
  post: (save: Save<PlanCommand>) => Promise<Saved<Plan>> = () => new Promise(() => {}),
): PlanStore {
  aside = [];
  const store = createDocumentStore({ document, revision: 0 }, PLAN, {
    post,
    keep: () => Promise.resolve(),
    newId: () => '1',
    later: (run) => void setTimeout(run, 0),
    others: {
      read: () => Promise.resolve({ document, revision: 0 }),
      listen: () => () => undefined,
      setAside: (request) => {
        aside.push(request);
        return Promise.resolve({ revision: 7, left: 0 });
      },
    },
  });
  serve({});
  show(
    <PlanProvider
      store={store}
      setting={{
        brief,
        title: 'Season Opening',
        showsResults: true,
        laysOut: true,
        drawingId: null,
        sharedId: null,
        ...setting,
      }}
    >
      <PlanDesk under="Networks 1 · plan" lost={null} />
    </PlanProvider>,
  );
  return store;
}
const row = (name: RegExp) => screen.getByRole('treeitem', { name });
const blocks = (store: PlanStore) => store.getState().document.blocks;
const choose = (name: RegExp) => userEvent.click(row(name));
const field = (name: string) => screen.getByRole('textbox', { name });
async function retype(name: string, text: string): Promise<void> {
  await userEvent.clear(field(name));
  await userEvent.paste(text);
  await userEvent.keyboard('{Enter}');
}

describe('the tree', () => {
  test('tells each block with prefix, VLAN and what is wrong with it, and is gone through with the keys', async () => {
    const store = open();
    expect(screen.getAllByRole('treeitem').map((element) => element.getAttribute('aria-label'))).toEqual([
      'Ridge, 10.84.0.0/20, fd5e:7a3c:90b1::/48',
      'Valley, 10.84.0.0/22, fd5e:7a3c:90b1::/56',
      'Guests, 10.84.0.0/24, VLAN 90',
      'Tickets, 10.84.1.0/26, fd5e:7a3c:90b1:1::/64, VLAN 10',
      'Middle, 10.84.4.0/22',
    ]);
    screen.getByRole('tree').focus();
    await userEvent.keyboard('{ArrowDown}{ArrowDown}{ArrowDown}{ArrowDown}{ArrowRight}{ArrowDown}');
    expect(store.getState().selection.address).toBe('10.84.1.2');
    await userEvent.keyboard('{ArrowLeft}{ArrowLeft}{ArrowLeft}');
    expect(store.getState().selection.blocks).toEqual(['valley']);
    await userEvent.keyboard('{ArrowLeft}');
    expect(screen.queryByRole('treeitem', { name: /^Tickets/ })).toBeNull();
  });
  test('shows what is looked for', async () => {
    open();
    await userEvent.type(screen.getByRole('textbox', { name: 'Find in the plan' }), 'desk-2');
    expect(screen.getAllByRole('treeitem').map((element) => element.getAttribute('aria-label')!.split(',')[0])).toEqual(
      ['Ridge', 'Valley', 'Tickets', '10.84.1.3'],
    );
  });
  test('says what to do first where nothing is planned', async () => {
    const store = open({ blocks: {} });
    await userEvent.click(screen.getByRole('button', { name: 'Add the root block' }));
    expect(Object.values(blocks(store))).toEqual([{ prefix: '', name: 'Season Opening', standing: 'proposed' }]);
  });
});

describe('one block', () => {
  test('another prefix says what it brings while it is typed, and Escape leaves all as it was', async () => {
    const store = open();
    await choose(/^Tickets/);
    await userEvent.clear(field('Prefix'));
    await userEvent.type(field('Prefix'), '10.84.0.0/26');
    expect(screen.getByText('It lies in Guests, 10.84.0.0/24.')).toBeInTheDocument();
    expect(screen.getByText('2 addresses change: what uses them must be set anew.')).toBeInTheDocument();
    await userEvent.keyboard('{Escape}');
    expect(field('Prefix')).toHaveValue('10.84.1.0/26');
    await retype('Prefix', '10.84.2.0/26');
    expect(blocks(store).tickets!.prefix).toBe('10.84.2.0/26');
    // One goes on in the same field: the next key must not be taken for one of the page.
    expect(field('Prefix')).toHaveFocus();
    expect(Object.keys(store.getState().document.addresses!)).toEqual(['10.84.2.2', '10.84.2.3']);
    await userEvent.click(screen.getByRole('button', { name: 'Undo' }));
    expect(store.getState().document).toEqual(plan());
  });
  test('a prefix that cannot be read is kept, told, and counted as a problem', async () => {
    const store = open();
    await choose(/^Middle/);
    await retype('Prefix', '10.84.4.7/22');
    expect(blocks(store).middle!.prefix).toBe('10.84.4.7/22');
    expect(
      (await screen.findAllByText(/^Middle: "10\.84\.4\.7\/22" is an address inside a block/)).length,
    ).toBeGreaterThan(0);
  });
  test('why it has its size, and all its properties', async () => {
    const store = open();
    await choose(/^Tickets/);
    expect(screen.getByText(/40 later \+ 1 gateway = 41 addresses/)).toBeInTheDocument();
    await retype('VLAN', '20');
    await userEvent.selectOptions(screen.getByLabelText('Standing'), 'decided');
    await userEvent.selectOptions(screen.getByLabelText('Group'), 'Guests, Valley');
    await retype('Gateway', '10.84.1.62');
    expect(blocks(store).tickets).toMatchObject({
      vlan: 20,
      standing: 'decided',
      group: 'guests',
      gateway: '10.84.1.62',
    });
    await retype('VLAN', '5000');
    expect(blocks(store).tickets!.vlan).toBe(20);
  });
  test('the next free address is taken with a name, a range with numbers, and what is wrong is said', async () => {
    const store = open();
    await choose(/^Tickets/);
    await userEvent.type(field('For whom'), 'TILL{Enter}');
    expect(store.getState().document.addresses!['10.84.1.4']).toEqual({ name: 'TILL' });
    await userEvent.type(field('Address or range'), '10.84.1.20-21');
    await userEvent.type(field('For whom'), 'cam{Enter}');
    expect(store.getState().document.addresses).toMatchObject({
      '10.84.1.20': { name: 'cam-1' },
      '10.84.1.21': { name: 'cam-2' },
    });
    await userEvent.type(field('Address or range'), '10.84.1.2');
    await userEvent.type(field('For whom'), 'THIEF{Enter}');
    expect(screen.getByText(/10\.84\.1\.2 is taken by DESK-1/)).toBeInTheDocument();
  });
  test('every address of a small subnet is a cell; a free one is taken with a click, a taken one opened', async () => {
    const store = open();
    await choose(/^Tickets/);
    await userEvent.click(screen.getByRole('button', { name: '10.84.1.9, free' }));
    expect(store.getState().document.addresses!['10.84.1.9']).toEqual({ name: '' });
    expect(screen.getByRole('button', { name: '10.84.1.0, network address' })).toBeDisabled();
    await userEvent.click(screen.getByRole('button', { name: '10.84.1.3, DESK-2' }));
    await retype('Note', 'moved');
    await retype('DNS name', 'desk2.kestrel.example');
    await retype('Role', 'ticket desk');
    const about = { note: 'moved', dns: 'desk2.kestrel.example', role: 'ticket desk' };
    expect(store.getState().document.addresses!['10.84.1.3']).toEqual({ name: 'DESK-2', ...about });
    await userEvent.click(screen.getByRole('button', { name: 'Free this address' }));
    expect(store.getState().document.addresses!['10.84.1.3']).toBeUndefined();
  });
  test('an address of another subnet is asked about before it is taken there', async () => {
    const store = open();
    await choose(/^Tickets/);
    await userEvent.type(field('Address or range'), '10.84.4.9{Enter}');
    const dialog = screen.getByRole('dialog');
    expect(dialog).toHaveTextContent('10.84.4.9 lies in Middle, not in Tickets.');
    await userEvent.click(within(dialog).getByRole('button', { name: 'Cancel' }));
    expect(store.getState().document.addresses!['10.84.4.9']).toBeUndefined();
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
    await userEvent.type(field('Address or range'), '{Enter}');
    await userEvent.click(screen.getByRole('button', { name: 'Take it in Middle' }));
    expect(store.getState().document.addresses!['10.84.4.9']).toEqual({ name: '' });
    expect(blocks(store)[store.getState().selection.blocks[0]!]!.name).toBe('Middle');
  });
  test('a range is set aside and freed', async () => {
    const store = open();
    await choose(/^Tickets/);
    await userEvent.selectOptions(screen.getByLabelText('Set aside for'), 'printers');
    await userEvent.type(field('Range to set aside'), '10.84.1.40-42{Enter}');
    expect(Object.values(store.getState().document.ranges!)).toContainEqual({
      from: '10.84.1.40',
      to: '10.84.1.42',
      use: 'printers',
    });
    await userEvent.click(screen.getByRole('button', { name: 'Free 10.84.1.50 - 10.84.1.62' }));
    expect(store.getState().document.ranges!.pool).toBeUndefined();
  });
});

describe('several blocks', () => {
  test('are merged where they are the halves of one, and decided together', async () => {
    const two = plan();
    two.blocks.shop = { prefix: '10.84.1.64/26', prefix6: 'fd5e:7a3c:90b1::/64', name: 'Shop', site: 'Valley' };
    const store = open(two);
    await choose(/^Tickets/);
    fireEvent.click(row(/^Shop/), { ctrlKey: true });
    expect(screen.getByText(/Tickets becomes 10\.84\.1\.0\/25/)).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: 'Decide' }));
    expect([blocks(store).tickets!.standing, blocks(store).shop!.standing]).toEqual(['decided', 'decided']);
    await userEvent.click(screen.getByRole('button', { name: 'Swap' }));
    expect([blocks(store).tickets!.prefix, blocks(store).shop!.prefix]).toEqual(['10.84.1.64/26', '10.84.1.0/26']);
  });
});

describe('dividing', () => {
  test('by given sizes: what comes of it is shown before', async () => {
    const store = open();
    await choose(/^Valley/);
    await userEvent.keyboard('d');
    const dialog = await screen.findByRole('dialog');
    await userEvent.type(within(dialog).getByRole('textbox', { name: 'Sizes of the parts' }), 'Shop 14, Depot 60');
    expect(within(dialog).getByText('10.84.1.64/26')).toBeInTheDocument();
    await userEvent.click(within(dialog).getByRole('button', { name: 'Add 2 blocks' }));
    expect(
      Object.values(blocks(store))
        .filter((block) => ['Shop', 'Depot'].includes(block.name))
        .map((block) => block.prefix),
    ).toEqual(['10.84.1.128/28', '10.84.1.64/26']);
  });
  test('for all groups that have no subnet yet; students are not offered that', async () => {
    const store = open();
    await userEvent.click(screen.getByRole('button', { name: 'Lay out all groups' }));
    await userEvent.click(await screen.findByRole('button', { name: 'Add 1 block' }));
    expect(Object.values(blocks(store)).find((block) => block.group === 'winch')).toMatchObject({
      prefix: '10.84.4.0/28',
      vlan: 20,
    });
    act(() => store.getState().undo());
    open(plan(), { laysOut: false });
    expect(screen.getAllByRole('button', { name: 'Lay out all groups' })).toHaveLength(1);
  });
});

describe('what may be told', () => {
  test('an instructor sees the sizes and what is wrong; a student in an examination neither', async () => {
    const store = open();
    const numbers = screen.getByRole('region', { name: 'Brief numbers' });
    expect(within(numbers).getByText('/26')).toBeInTheDocument();
    act(() => void store.getState().do('shrink', { kind: 'setBlock', id: 'tickets', set: { prefix: '10.84.1.0/27' } }));
    expect(await screen.findByRole('button', { name: '3 problems' })).toBeInTheDocument(); // too small, a pool beyond it, and Winch has no subnet
  });
  test('not even the size that follows from a number', () => {
    open(plan(), { showsResults: false, laysOut: false });
    const numbers = screen.getByRole('region', { name: 'Brief numbers' });
    expect(within(numbers).queryByText('/26')).toBeNull();
    expect(screen.queryByText(/problem/)).toBeNull();
  });
  test('a student’s "+" gives a block of the group to be sized and placed', async () => {
    const store = open(plan(), { showsResults: false, laysOut: false });
    await userEvent.click(screen.getByRole('button', { name: 'Plan a subnet for Winch' }));
    expect(Object.values(blocks(store)).find((block) => block.group === 'winch')).toEqual({
      prefix: '',
      name: 'Winch',
      site: 'Middle',
      group: 'winch',
      standing: 'proposed',
    });
  });
});

describe('pasting a table', () => {
  test('tells line by line what it would do; the good lines alone can be taken, or all or nothing', async () => {
    const store = open();
    await userEvent.click(screen.getByRole('button', { name: 'Paste a table' }));
    const dialog = await screen.findByRole('dialog');
    await userEvent.click(within(dialog).getByRole('textbox'));
    await userEvent.paste('Device\tIP\nTILL-1\t10.84.1.10\nTILL-2\t10.84.1.2\nBAD\t10.84.1.300');
    expect(within(dialog).getByText('It was DESK-1’s.')).toBeInTheDocument();
    expect(within(dialog).getByRole('button', { name: /All or nothing: 1 refused/ })).toBeDisabled();
    await userEvent.selectOptions(within(dialog).getByLabelText('Column 1 is'), 'note');
    expect(within(dialog).getByRole('row', { name: /added 10\.84\.1\.10$/ })).toBeInTheDocument();
    await userEvent.selectOptions(within(dialog).getByLabelText('Column 1 is'), 'name');
    await userEvent.click(within(dialog).getByRole('button', { name: 'Take the 2 good lines only' }));
    expect(store.getState().document.addresses).toMatchObject({
      '10.84.1.10': { name: 'TILL-1' },
      '10.84.1.2': { name: 'TILL-2' },
    });
  });
});

describe('two people', () => {
  test('both takers of an address are shown; mine gets the next free one, and all else of mine is kept', async () => {
    const theirs = plan();
    theirs.addresses!['10.84.1.9'] = { name: 'THEIRS' };
    const saves: Save<PlanCommand>[] = [];
    let clash = true;
    const store = open(plan(), {}, (save) => {
      saves.push(save);
      if (!clash) return Promise.resolve({ revision: 6, merged: null });
      clash = false;
      const conflict: Conflict<Plan> = {
        message: 'met',
        revision: 5,
        places: ['10.84.1.9'],
        by: ['Zofia Wrona'],
        before: plan(),
        mine: plan(),
        theirs,
      };
      return Promise.reject(new ApiError(409, 'met', [], conflict));
    });
    act(() => {
      store.getState().do('take', {
        kind: 'takeAddresses',
        addresses: { '10.84.1.9': { name: 'MINE' }, '10.84.1.10': { name: 'ALSO' } },
      });
    });
    const dialog = await screen.findByRole('dialog', { name: 'Taken by two' });
    expect(within(dialog).getByRole('row', { name: '10.84.1.9 THEIRS MINE' })).toBeInTheDocument();
    expect(dialog).toHaveTextContent('Zofia Wrona saved others');
    await userEvent.click(within(dialog).getByRole('button', { name: 'Give mine the next free one' }));
    await waitFor(() => expect(saves).toHaveLength(2));
    expect(aside).toMatchObject([{ base: 0, met: true, commands: [{ kind: 'takeAddresses' }] }]);
    expect(saves[1]!.base).toBe(5);
    expect(store.getState().document.addresses).toMatchObject({
      '10.84.1.9': { name: 'THEIRS' },
      '10.84.1.10': { name: 'ALSO' },
      '10.84.1.4': { name: 'MINE' },
    });
  });
  test('what the server has not confirmed is marked until it has', async () => {
    let confirm: (saved: Saved<Plan>) => void = () => {};
    open(plan(), {}, () => new Promise((resolve) => (confirm = resolve)));
    await choose(/^Middle/);
    await retype('VLAN', '77');
    expect(await screen.findByLabelText('not confirmed by the server yet')).toBeInTheDocument();
    await waitFor(() => expect(screen.getByText('Saving')).toBeInTheDocument());
    await act(async () => {
      await new Promise((resolve) => setTimeout(resolve, 20));
      confirm({ revision: 1, merged: null });
    });
    await waitFor(() => expect(screen.queryByLabelText('not confirmed by the server yet')).toBeNull());
  });
});

describe('papers and workings', () => {
  test('the address table with blanks', async () => {
    open();
    await userEvent.click(screen.getByRole('button', { name: 'More' }));
    await userEvent.click(screen.getByRole('menuitem', { name: /Address table/ }));
    const table = await screen.findByRole('table', { name: 'Address table' });
    expect(
      within(table).getByText('10.84.1.1 fd5e:7a3c:90b1:1::1', { normalizer: (text) => text.replace(/\s+/g, ' ') }),
    ).toBeInTheDocument();
    await userEvent.click(screen.getByRole('checkbox', { name: 'Gateway' }));
    expect(within(table).queryByText(/10\.84\.1\.1 /)).toBeNull();
    expect(screen.getByRole('button', { name: 'Print the worksheet as PDF' })).toBeInTheDocument();
  });
  test('the steps to a block, for what is typed, and a practice sheet from a seed', async () => {
    open();
    await choose(/^Tickets/);
    await userEvent.click(screen.getByRole('button', { name: 'all steps' }));
    const dialog = await screen.findByRole('dialog', { name: 'Workings' });
    expect(within(dialog).getByText(/The last address and one more: 10\.84\.1\.64\/26/)).toBeInTheDocument();
    await retype('Address with prefix length or mask', '10.84.3.7 255.255.255.0');
    expect(within(dialog).getByText(/10\.84\.4\.0\/24/)).toBeInTheDocument();
    await retype('Address with prefix length or mask', '10.84.3.7');
    expect(within(dialog).getByText(/Write a prefix length or a mask behind it/)).toBeInTheDocument();
    const first = within(dialog).getAllByRole('listitem')[0]!.textContent;
    await retype('Seed', '2');
    expect(within(dialog).getAllByRole('listitem')[0]!.textContent).not.toBe(first);
  });
});
