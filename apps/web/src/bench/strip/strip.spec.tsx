import { act, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { type Reason, analyse } from '@sobrin/core/engine';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { type Facts, factsOf } from '../../workers/facts';
import { createBenchStore } from '../bench-store';
import { type Found } from '../files/drawing-files';
import { Pulse } from '../../ui/pulse';
import { nested } from '../use-problems';
import { textsInto } from './sheet-range';
import { type Listed, SheetStrip } from './strip';
import { sizePage } from '../../tests/render';
import { BenchProvider } from '../use-bench';

const topology: Topology = {
  ...emptyTopology(),
  sites: { v: { name: 'Valley' } },
  devices: {
    s: { name: 'SW-10', model: 'access-switch-12', at: { x: 0, y: 0 }, site: 'v' },
    t: { name: 'SW-9', model: 'access-switch-12', at: { x: 0, y: 0 } },
    h: {
      name: 'DESK-1',
      model: 'desktop',
      at: { x: 0, y: 0 },
      interfaces: { e0: { on: { kind: 'port', port: 'e0' }, v4: { addresses: ['10.84.1.11/26'] } } },
      settings: { gateway4: '10.84.1.1' },
    },
  },
  links: {
    l: {
      a: { device: 's', port: 'p1' },
      b: { device: 'h', port: 'e0' },
      medium: 'crossover',
      cableId: 'KR-1',
      lengthM: 12,
    },
  },
};

function open(showsEngine: boolean, first: Listed | null = null, said: Facts = factsOf(analyse(topology))) {
  const store = createBenchStore(
    { document: topology, revision: 0 },
    { post: () => new Promise(() => {}), keep: () => Promise.resolve(), newId: () => '1', later: () => {} },
  );
  const revealed: string[][] = [];
  const notices: string[] = [];
  const tables: Found[] = [];
  let answer: (facts: Facts) => void = () => undefined;
  function Strip() {
    const [facts, setFacts] = useState(said);
    answer = setFacts;
    const [listed, setListed] = useState<Listed | null>(first);
    return (
      <SheetStrip
        facts={facts}
        showsEngine={showsEngine}
        listed={listed}
        onListed={setListed}
        onReveal={(ids) => revealed.push([...ids])}
        onTell={(text) => notices.push(text)}
        onTable={(found) => tables.push(found)}
      />
    );
  }
  render(
    <BenchProvider store={store} id="d">
      <Strip />
    </BenchProvider>,
  );
  return { store, revealed, notices, tables, answer: (facts: Facts) => act(() => answer(facts)) };
}
const grid = (name: string) => screen.getByRole('grid', { name });
const rows = (name: string): string[] =>
  within(grid(name))
    .getAllByRole('row')
    .slice(1)
    .map((element) =>
      within(element)
        .getAllByRole('gridcell')
        .map((cell) => cell.textContent ?? '')
        .join(' | '),
    );
const openSheet = async (name: RegExp): Promise<void> => {
  await userEvent.click(screen.getByRole('button', { name }));
  await screen.findByRole('grid');
};
beforeAll(sizePage);

describe('sheets', () => {
  test('devices in the order in which people count', async () => {
    open(true);
    await openSheet(/^Devices/);
    expect(rows('Devices')).toEqual([
      'DESK-1 | Desktop |  | 10.84.1.11/26 | 10.84.1.1 |  | on | 1',
      'SW-9 | Access switch 12 + 4 |  |  |  |  | on | 0',
      'SW-10 | Access switch 12 + 4 | Valley |  |  |  | on | 1',
    ]);
  });
  test('links with medium, length, state and the reason; an examination tells neither speed nor state', async () => {
    open(true);
    await openSheet(/^Links/);
    expect(rows('Links')[0]).toMatch(
      /^KR-1 \| SW-10 \| p1 \| DESK-1 \| e0 \| crossover copper \| 12 m \| – \| .*straight/,
    );
  });
  test('what the engine says a moment later is in the sheet that is open already', async () => {
    const { answer } = open(true, null, { ...factsOf(analyse(topology)), links: {} });
    await openSheet(/^Links/);
    expect(rows('Links')[0]).not.toMatch(/straight-through/);
    answer(factsOf(analyse(topology)));
    expect(rows('Links')[0]).toMatch(/straight/);
  });
  test('in an examination', async () => {
    open(false);
    await openSheet(/^Links/);
    expect(rows('Links')).toEqual(['KR-1 | SW-10 | p1 | DESK-1 | e0 | crossover copper | 12 m']);
  });
  test('moving through rows chooses them in the drawing and shows them there', async () => {
    const { store, revealed } = open(true);
    await openSheet(/^Devices/);
    act(() => grid('Devices').focus());
    await userEvent.keyboard('{ArrowDown}');
    expect(store.getState().selection.devices).toEqual(['t']);
    expect(revealed).toEqual([['t']]);
    await userEvent.keyboard('{Shift>}{ArrowDown}{/Shift}');
    expect(store.getState().selection.devices).toEqual(['t', 's']);
  });
  test('typing changes a cell, Escape gives it up, what is worked out stays', async () => {
    const { store } = open(true);
    await openSheet(/^Devices/);
    act(() => grid('Devices').focus());
    await userEvent.keyboard('DESK-9{Enter}');
    expect(store.getState().document.devices.h!.name).toBe('DESK-9');
    await userEvent.keyboard('{Control>}{Home}{/Control}{F2}nothing{Escape}');
    expect(store.getState().document.devices.h!.name).toBe('DESK-9');
    await userEvent.keyboard('{ArrowRight}x');
    expect(within(grid('Devices')).queryByRole('textbox')).toBeNull();
  });
  test('what cannot be is told in a sentence, and the cell stays as it was', async () => {
    const { store, notices } = open(true);
    await openSheet(/^Devices/);
    act(() => grid('Devices').focus());
    await userEvent.keyboard('{ArrowRight}{ArrowRight}Moon{Enter}');
    expect(notices).toEqual(['There is no site “Moon”.']);
    expect(store.getState().document.devices.h).not.toHaveProperty('site');
  });
  test('a table with headings is read by them, with a preview, and lands in no cells', async () => {
    const { store, tables, notices } = open(true);
    await openSheet(/^Devices/);
    const before = store.getState().document;
    act(() => grid('Devices').focus());
    await userEvent.paste(
      'Hostname\tIP address\tSubnet mask\nDESK-1\t10.84.1.20\t255.255.255.192\nNEW\t10.84.1.21\t26\n',
    );
    await waitFor(() => expect(tables).toHaveLength(1));
    expect(store.getState().document).toBe(before);
    const { topology, left } = tables[0]!.read;
    expect(Object.values(topology.devices).map(({ name }) => name)).toContain('NEW');
    expect(JSON.stringify(topology)).toMatch(/10\.84\.1\.20 255\.255\.255\.192.*10\.84\.1\.21\/26/);
    expect(left).toEqual(['The kind of NEW is not said: it was taken as a switch or a host by its links.']);
    expect(notices).toEqual([]);
  });
  test('a column is pasted from a spreadsheet, filled down and emptied, each as one step', async () => {
    const { store } = open(true);
    await openSheet(/^Devices/);
    act(() => grid('Devices').focus());
    const sites = () => ['h', 't', 's'].map((id) => store.getState().document.devices[id]!.site);
    await userEvent.keyboard('{ArrowRight}{ArrowRight}');
    await userEvent.paste('Valley\nValley\n\n');
    await waitFor(() => expect(sites()).toEqual(['v', 'v', undefined]));
    act(() => store.getState().undo());
    expect(sites()).toEqual([undefined, undefined, 'v']);
    await userEvent.keyboard('{Control>}{Home}{/Control}{ArrowRight}{ArrowRight}Valley{Enter}{ArrowUp}');
    await userEvent.keyboard('{Shift>}{ArrowDown}{ArrowDown}{/Shift}{Control>}d{/Control}');
    expect(sites()).toEqual(['v', 'v', 'v']);
    await userEvent.keyboard('{Delete}');
    expect(sites()).toEqual([undefined, undefined, undefined]);
  });
  test('a range is copied as a table', async () => {
    open(true);
    await openSheet(/^Devices/);
    act(() => grid('Devices').focus());
    await userEvent.keyboard('{Shift>}{ArrowDown}{ArrowRight}{/Shift}');
    const copied: Record<string, string> = {};
    fireEvent.copy(grid('Devices'), {
      clipboardData: { setData: (type: string, text: string) => void (copied[type] = text) },
    });
    expect(copied['text/plain']).toBe('DESK-1\tDesktop\nSW-9\tAccess switch 12 + 4');
  });
  test('rows are filtered by words in any cell and put in order by a column', async () => {
    open(true);
    await openSheet(/^Devices/);
    await userEvent.type(screen.getByLabelText('Filter the sheet'), 'access');
    expect(rows('Devices').map((row) => row.split(' | ')[0])).toEqual(['SW-9', 'SW-10']);
    await userEvent.click(screen.getByRole('columnheader', { name: 'Name' }));
    await userEvent.click(screen.getByRole('columnheader', { name: /Name/ }));
    expect(rows('Devices').map((row) => row.split(' | ')[0])).toEqual(['SW-10', 'SW-9']);
    expect(screen.getByRole('columnheader', { name: /Name/ })).toHaveAttribute('aria-sort', 'descending');
  });
  test('a sheet is put in order from a cell by a key', async () => {
    open(true);
    await openSheet(/^Devices/);
    act(() => screen.getByRole('grid').focus());
    await userEvent.keyboard('{F9}');
    expect(screen.getByRole('columnheader', { name: /Name/ })).toHaveAttribute('aria-sort', 'ascending');
    await userEvent.keyboard('{F9}');
    expect(screen.getByRole('columnheader', { name: /Name/ })).toHaveAttribute('aria-sort', 'descending');
  });
  test('columns are chosen', async () => {
    open(true);
    await openSheet(/^Links/);
    await userEvent.click(screen.getByRole('button', { name: 'Choose columns' }));
    await userEvent.click(screen.getByRole('menuitemcheckbox', { name: 'Medium' }));
    await userEvent.keyboard('{Escape}');
    expect(rows('Links')[0]).toMatch(/^KR-1 \| SW-10 \| p1 \| DESK-1 \| e0 \| 12 m/);
  });
  test('the height of the strip is set with the keyboard', async () => {
    open(true);
    await openSheet(/^Devices/);
    const grip = screen.getByRole('separator');
    act(() => grip.focus());
    await userEvent.keyboard('{ArrowUp}{ArrowUp}');
    expect(grip).toHaveAttribute('aria-valuenow', '248');
  });
});

test.each([
  ['one cell fills the range', { top: 0, bottom: 2, left: 1, right: 1 }, 'x', ['0,1 x', '1,1 x', '2,1 x']],
  [
    'a table goes from the corner on',
    { top: 1, bottom: 1, left: 0, right: 0 },
    'a\tb\r\nc\td',
    ['1,0 a', '1,1 b', '2,0 c', '2,1 d'],
  ],
  [
    'a table is repeated while it fits',
    { top: 0, bottom: 4, left: 0, right: 0 },
    'a\nb',
    ['0,0 a', '1,0 b', '2,0 a', '3,0 b'],
  ],
  ['ragged rows leave gaps', { top: 0, bottom: 0, left: 0, right: 0 }, 'a\tb\nc', ['0,0 a', '0,1 b', '1,0 c']],
])('pasting: %s', (_what, range, text, wanted) => {
  expect(textsInto(range, text).map(({ cell, text: each }) => `${cell.row},${cell.column} ${each}`)).toEqual(wanted);
});

describe('the pulse', () => {
  const problem = (text: string): Reason => ({ code: 'NAME_TWICE', text, at: { device: 's' } });
  test('says that all is well', () => {
    render(<Pulse problems={[]} fine="every link comes up" onJump={() => {}} onNext={() => {}} />);
    expect(screen.getByText('No problems')).toBeInTheDocument();
  });
  test('counts problems, lists them, and jumps to the one that is picked', async () => {
    const jumped: string[] = [];
    render(
      <Pulse
        problems={[problem('One.'), problem('Two.')]}
        fine=""
        onJump={(reason) => jumped.push(reason.text)}
        onNext={() => jumped.push('next')}
      />,
    );
    await userEvent.click(screen.getByRole('button', { name: '2 problems' }));
    await userEvent.click(screen.getByRole('button', { name: 'Two.' }));
    await userEvent.click(screen.getByRole('button', { name: /next problem/, hidden: true }));
    expect(jumped).toEqual(['Two.', 'next']);
  });
  test('what only follows from a problem stands under it, and is not counted with the others', async () => {
    const jumped: string[] = [];
    render(
      <Pulse
        problems={[problem('RT-1 is switched off.'), problem('Two.')]}
        following={[[problem('A route is not used.'), problem('PC-1 waits.')], []]}
        fine=""
        onJump={(reason) => jumped.push(reason.text)}
        onNext={() => {}}
      />,
    );
    await userEvent.click(screen.getByRole('button', { name: '2 problems, 2 that follow' }));
    const under = within(screen.getByRole('list', { name: 'What follows from it' }));
    expect(under.getAllByRole('listitem')).toHaveLength(2);
    await userEvent.click(under.getByRole('button', { name: 'PC-1 waits.' }));
    expect(jumped).toEqual(['PC-1 waits.']);
  });
  test('problems are put under what they follow from in the end; what is gone, or goes in a circle, stands for itself', () => {
    const all = ['a', 'b', 'c', 'd'].map(problem);
    const told = (causes: Record<string, string>) =>
      nested(all, causes).map(({ problem: { text }, following }) => [text, ...following.map((each) => each.text)]);
    expect(told({})).toEqual([['a'], ['b'], ['c'], ['d']]);
    expect(told({ b: 'a', c: 'b', d: 'gone' })).toEqual([['a', 'b', 'c'], ['d']]);
    expect(told({ a: 'b', b: 'a' }).flat().sort()).toEqual(['a', 'b', 'c', 'd']);
  });
  test('offers what mends a problem for certain beside it', async () => {
    const mended: string[] = [];
    render(
      <Pulse
        problems={[problem('One.'), problem('Two.')]}
        fine=""
        onJump={() => {}}
        onNext={() => {}}
        repairOf={(reason) => (reason.text === 'Two.' ? 'Call it SW-2' : null)}
        onRepair={(reason) => mended.push(reason.text)}
      />,
    );
    await userEvent.click(screen.getByRole('button', { name: '2 problems' }));
    await userEvent.click(screen.getByRole('button', { name: 'Call it SW-2' }));
    expect(mended).toEqual(['Two.']);
  });
});

test('asked for the links of one device, it shows only them until that is taken away', async () => {
  open(true, { sheet: 'links', devices: ['nobody'] });
  expect(within(grid('Links')).getAllByRole('row')).toHaveLength(1);
  await userEvent.click(screen.getByTestId('CancelIcon'));
  expect(rows('Links')).toHaveLength(1);
});
