import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, render, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { planTree } from '@sobrin/core/plan';
import { MemoryRouter } from 'react-router';
import { type NetworkModel, analyse } from '@sobrin/core/engine';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { type DrawingProps } from '../drawing/drawing-props';
import { sizePage } from '../tests/render';
import { PlanContext } from './plan-of-lab';
import { factsOf } from '../workers/facts';
import { type RequestKind, ANSWERS } from '../workers/engine-requests';
import { type TraceRequest } from '../workers/trace-answer';
import { Bench } from './bench';
import { type BenchStore, createBenchStore } from './bench-store';
import { type HelpLevel } from './help-level';
import { BenchProvider } from './use-bench';

let drawn: DrawingProps;
jest.mock('../drawing/drawing', () => ({
  Drawing: (props: DrawingProps) => {
    drawn = props;
    return null;
  },
}));
const asked: string[] = [];
jest.mock('../workers/use-facts', () => ({
  useEngine: (topology: Topology) => ({
    facts: factsOf(analyse(topology)),
    ask: (kind: RequestKind, wish: unknown) => {
      if (kind === 'trace') asked.push(`${(wish as TraceRequest).from} ${(wish as TraceRequest).to}`);
      return Promise.resolve(
        (ANSWERS[kind] as (model: NetworkModel, wish: unknown) => unknown)(analyse(topology), wish),
      );
    },
  }),
}));
jest.mock('../workers/arranger', () => ({
  startArranger: () => ({ layOut: () => new Promise(() => {}), cancel: () => {} }),
}));
beforeAll(sizePage);
beforeEach(() => {
  asked.length = 0;
  localStorage.clear();
});

const host = (name: string, address: string) => ({
  name,
  model: 'desktop',
  at: { x: 0, y: 0 },
  interfaces: { e0: { on: { kind: 'port' as const, port: 'e0' }, v4: { addresses: [address] } } },
});
/** Two hosts on a straight cable, which does not fit between like ports. */
const wrong = (): Topology => ({
  ...emptyTopology(),
  devices: { a: host('PC-1', '10.84.1.1/26'), b: host('PC-2', '10.84.1.2/26') },
  links: { l: { a: { device: 'a', port: 'e0' }, b: { device: 'b', port: 'e0' }, medium: 'straight' } },
});
function open(telling: HelpLevel, { automatic = true, topology = wrong(), owned = false, at = '/' } = {}): BenchStore {
  const store = createBenchStore(
    { document: topology, revision: 0 },
    { post: () => new Promise(() => {}), keep: () => Promise.resolve(), newId: () => '1', later: () => {} },
  );
  render(
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter initialEntries={[at]}>
        <BenchProvider store={store} id="d">
          <PlanContext value={{ tree: planTree(plan), brief: {} }}>
            <Bench title="Lab" under="" help={telling} automatic={automatic} owned={owned} equipment={{}} lost={null} />
          </PlanContext>
        </BenchProvider>
      </MemoryRouter>
    </QueryClientProvider>,
  );
  return store;
}
const plan = { blocks: { t: { prefix: '10.84.1.0/26', name: 'Tickets', vlan: 10 } } };
test('subnets are taken from the plan by who designs the lab, by key or on coming from the plan; by no student', async () => {
  open('coach', { owned: true });
  await userEvent.keyboard('g');
  expect(await screen.findByRole('dialog', { name: 'From the plan' })).toHaveTextContent('Tickets');
  cleanup();
  open('coach', { owned: true, at: '/?from=plan' });
  expect(await screen.findByRole('dialog', { name: 'From the plan' })).toBeInTheDocument();
  cleanup();
  open('coach', { at: '/?from=plan' });
  await userEvent.keyboard('g');
  expect(screen.queryByRole('dialog')).toBeNull();
});
const type = async (text: string): Promise<void> => {
  await userEvent.keyboard('/');
  await userEvent.paste(text);
  await userEvent.keyboard('{Enter}');
};

test('what could not be done is told until the next thing is done', async () => {
  open('coach');
  await type('address PC-* 10.84.9.1/31');
  await type('address PC-* 10.84.9.1/32');
  expect(await screen.findByText(/^No address for PC-2/)).toBeInTheDocument();
  await type('rename PC-1 DESK-1');
  await waitFor(() => expect(screen.queryByText(/^No address for PC-2/)).toBeNull());
});

describe('how much the bench tells', () => {
  test('a coach tells problems, link states and repairs, and follows packets', async () => {
    const store = open('coach');
    expect(drawn.facts!.l!.state).toBe('crossed');
    await userEvent.click(screen.getByRole('button', { name: '1 problem' }));
    await userEvent.click(screen.getByRole('button', { name: 'Take crossover copper' }));
    expect(store.getState().document.links.l!.medium).toBe('crossover');
    expect(screen.getByText('No problems')).toBeInTheDocument();
    await waitFor(() => expect(screen.queryByRole('presentation')).toBeNull());
    await type('trace PC-1 PC-2');
    expect(asked).toEqual(['a b']);
  });
  test('plain tells link states as equipment shows them and follows packets, but names no problem', async () => {
    open('plain');
    expect(drawn.facts!.l!.state).toBe('crossed');
    expect(drawn.problems!.size).toBe(0);
    expect(screen.queryByRole('contentinfo', { name: 'Problems' })).toBeNull();
    await type('trace PC-1 PC-2');
    expect(asked).toEqual(['a b']);
    expect(await screen.findByRole('complementary', { name: 'Trace' })).toHaveTextContent('not reached');
  });
  test('an examination tells neither: no states, no problems, no packets, no columns for them', async () => {
    open('examination');
    expect(drawn.facts).toBeNull();
    expect(drawn.problems!.size).toBe(0);
    expect(screen.queryByRole('contentinfo', { name: 'Problems' })).toBeNull();
    await type('trace PC-1 PC-2');
    expect(asked).toEqual([]);
    expect(screen.getByText('In this lab the bench does not say who reaches whom.')).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: /^Links/ }));
    expect(within(await screen.findByRole('grid')).queryByText('State and why')).toBeNull();
  });
});

describe('linking by clicking', () => {
  const unlinked = (): Topology => ({ ...wrong(), links: {} });
  const click = (device: string) => act(() => drawn.onSelect!({ devices: [device], links: [], sites: [] }));
  test('goes on from link to link until Escape', async () => {
    const topology = unlinked();
    topology.devices.s = { name: 'SW-1', model: 'access-switch-12', at: { x: 9, y: 9 } };
    const store = open('coach', { topology });
    await userEvent.keyboard('l');
    expect(screen.getByText('Click the first end of the next link')).toBeInTheDocument();
    for (const device of ['a', 's', 'b', 's']) click(device);
    expect(Object.values(store.getState().document.links).map((link) => [link.b.port, link.medium])).toEqual([
      ['p1', 'straight'],
      ['p2', 'straight'],
    ]);
    await userEvent.keyboard('{Escape}');
    expect(screen.queryByText(/Click the/)).toBeNull();
  });
  test('opens the chooser where the lab leaves ports and media to the students', async () => {
    const store = open('coach', { automatic: false, topology: unlinked() });
    act(() => store.getState().select({ devices: ['a'], links: [], sites: [] }));
    await userEvent.keyboard('l');
    click('b');
    expect(await screen.findByRole('dialog')).toHaveTextContent('Link two devices');
    expect(store.getState().document.links).toEqual({});
  });
});

test('what is typed is done: devices are added, addressed, renamed, lined up and duplicated', async () => {
  const store = open('coach', { topology: emptyTopology() });
  const devices = () => Object.values(store.getState().document.devices);
  await type('pc x3');
  expect(devices().map((device) => device.name)).toEqual(['PC-1', 'PC-2', 'PC-3']);
  await type('address PC-* 10.84.1.11/26');
  expect(devices().map((device) => device.interfaces!.e0!.v4!.addresses![0])).toEqual([
    '10.84.1.11/26',
    '10.84.1.12/26',
    '10.84.1.13/26',
  ]);
  await type('align left');
  expect(new Set(devices().map((device) => device.at.x)).size).toBe(1);
  await type('rename PC-1 DESK-1');
  await type('duplicate x2');
  expect(devices().map((device) => device.name)).toEqual(
    expect.arrayContaining(['DESK-1', 'DESK-2', 'DESK-3', 'PC-2', 'PC-3']),
  );
  expect(new Set(devices().map((device) => device.interfaces!.e0!.v4!.addresses![0])).size).toBe(5);
  await type('undo');
  await type('undo');
  expect(devices()).toHaveLength(3);
});
test('keys that would change nothing do nothing', async () => {
  const store = open('coach');
  const before = store.getState().document;
  await userEvent.keyboard('{Delete}{ArrowUp}');
  await userEvent.keyboard('{Control>}d{/Control}');
  expect(store.getState().document).toBe(before);
});
