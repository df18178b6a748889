import { act, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { type Reason, type Topology, emptyTopology } from '@sobrin/core';
import { factsOf } from '../workers/facts';
import { createBenchStore } from './bench-store';
import { Pulse } from '../ui/pulse';
import { type Listed, SheetStrip } from './strip';
import { BenchProvider } from './use-bench';

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

function open(tells: boolean, first: Listed | null = null) {
  const store = createBenchStore(
    { document: topology, revision: 0 },
    { post: () => new Promise(() => {}), keep: () => Promise.resolve(), newId: () => '1', later: () => {} },
  );
  const revealed: string[][] = [];
  function Strip() {
    const [listed, setListed] = useState<Listed | null>(first);
    return (
      <SheetStrip
        facts={factsOf(topology, {})}
        tells={tells}
        listed={listed}
        onListed={setListed}
        onReveal={(ids) => revealed.push([...ids])}
      />
    );
  }
  render(
    <BenchProvider store={store}>
      <Strip />
    </BenchProvider>,
  );
  return { store, revealed };
}
const rows = (table: string): string[] =>
  within(screen.getByRole('table', { name: table }))
    .getAllByRole('row')
    .slice(1)
    .map((one) => one.textContent ?? '');

test('devices as a table, in the order in which people count', async () => {
  open(true);
  await userEvent.click(screen.getByRole('button', { name: /^Devices/ }));
  expect(rows('Devices')).toEqual([
    'DESK-1Desktop10.84.1.11/2610.84.1.11',
    'SW-9Access switch 12 + 40',
    'SW-10Access switch 12 + 4Valley1',
  ]);
});

test('a row chosen by keyboard is chosen in the drawing and shown there', async () => {
  const { store, revealed } = open(true);
  await userEvent.click(screen.getByRole('button', { name: /^Links/ }));
  act(() => screen.getByRole('row', { name: /KR-1/ }).focus());
  await userEvent.keyboard('{Enter}');
  expect(store.getState().selection.links).toEqual(['l']);
  expect(revealed).toEqual([['s', 'h']]);
});

test('links with medium, length, state and the reason; without the last two where the lab tells nothing', async () => {
  open(true);
  await userEvent.click(screen.getByRole('button', { name: /^Links/ }));
  expect(rows('Links')[0]).toMatch(/^KR-1SW-10p1DESK-1e0crossover copper Cu×12 m–.*straight/);
});
test('an examination tells neither speed nor state', async () => {
  open(false);
  await userEvent.click(screen.getByRole('button', { name: /^Links/ }));
  expect(rows('Links')).toEqual(['KR-1SW-10p1DESK-1e0crossover copper Cu×12 m']);
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
        onJump={(one) => jumped.push(one.text)}
        onNext={() => jumped.push('next')}
      />,
    );
    await userEvent.click(screen.getByRole('button', { name: '2 problems' }));
    await userEvent.click(screen.getByRole('button', { name: 'Two.' }));
    await userEvent.click(screen.getByRole('button', { name: /next problem/, hidden: true }));
    expect(jumped).toEqual(['Two.', 'next']);
  });
});

test('asked for the links of one device, it shows only them until that is taken away', async () => {
  open(true, { sheet: 'links', devices: ['nobody'] });
  expect(rows('Links')).toEqual([]);
  await userEvent.click(screen.getByTestId('CancelIcon'));
  expect(rows('Links')).toHaveLength(1);
});
