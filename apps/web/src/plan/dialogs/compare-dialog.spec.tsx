import 'fake-indexeddb/auto';
import { act, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type Plan } from '@sobrin/core/plan';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { createDocumentStore } from '../../documents/document-store';
import { brief, plan } from '../../tests/plans';
import { type Call, serve, show } from '../../tests/render';
import { type PlanStore, PLAN } from '../plan-store';
import { PlanProvider } from '../use-plan';
import CompareDialog from './compare-dialog';
import TableDialog from './table-dialog';

let drawings = 0;
const host = (name: string, address: string): Topology['devices'][string] => ({
  name,
  model: 'desktop',
  at: { x: 0, y: 0 },
  interfaces: { e0: { on: { kind: 'port', port: 'e0' }, v4: { addresses: [address] } } },
});
const drawing = (...hosts: Topology['devices'][string][]): Topology => ({
  ...emptyTopology(),
  devices: Object.fromEntries(hosts.map((host, at) => [`d${at}`, host])),
});

async function open(topology: Topology, document: Plan = plan(), dialog: 'compare' | 'table' = 'compare') {
  const id = `drawing-${++drawings}`;
  const calls = serve({
    [`GET documents/${id}`]: { body: { id, revision: 3, document: topology } },
    [`POST documents/${id}/changes`]: { body: { revision: 4, merged: null } },
  });
  const store: PlanStore = createDocumentStore({ document, revision: 0 }, PLAN, {
    post: () => new Promise(() => {}),
    keep: () => Promise.resolve(),
    newId: () => '1',
    later: () => {},
  });
  const notices: string[] = [];
  show(
    <PlanProvider
      store={store}
      setting={{ brief, title: 'Season Opening', showsResults: true, laysOut: true, drawingId: id, sharedId: null }}
    >
      {dialog === 'compare' ? (
        <CompareDialog drawingId={id} onClose={() => {}} />
      ) : (
        <TableDialog drawingId={id} onClose={() => {}} onTold={(text) => notices.push(text)} />
      )}
    </PlanProvider>,
  );
  await screen.findByRole('dialog');
  return { store, calls, notices };
}
const sent = (calls: Call[]) => JSON.stringify(calls.find((call) => call.method === 'POST')?.body);

test('what differs stands in sentences, and one difference is taken over into the plan', async () => {
  const { store } = await open(drawing(host('DESK-1', '10.84.1.2/26'), host('TILL', '10.84.1.9/26')));
  expect(await screen.findByText('2 differences')).toBeInTheDocument();
  const till = screen.getByText(/^TILL uses 10\.84\.1\.9; the plan does not know it/).closest('li')!;
  await userEvent.click(within(till).getByRole('button', { name: 'as drawn' }));
  expect(store.getState().document.addresses!['10.84.1.9']).toEqual({ name: 'TILL' });
  expect(screen.getByText('1 difference')).toBeInTheDocument();
  await userEvent.click(screen.getByRole('button', { name: 'free it in the plan' }));
  expect(screen.getByText('Plan and drawing agree')).toBeInTheDocument();
});

test('all addresses that only the drawing has are taken at once, as one step to undo', async () => {
  const { store } = await open(
    drawing(
      host('DESK-1', '10.84.1.2/26'),
      host('DESK-2', '10.84.1.3/26'),
      host('TILL', '10.84.1.9/26'),
      host('CAM', '10.84.0.9/24'),
    ),
  );
  await userEvent.click(await screen.findByRole('button', { name: 'Take the 2 drawn addresses into the plan' }));
  expect(screen.getByText('Plan and drawing agree')).toBeInTheDocument();
  act(() => store.getState().undo());
  expect(store.getState().document).toEqual(plan());
});

test('the drawing takes what the plan says, and it is saved', async () => {
  const { calls } = await open(drawing(host('DESK-1', '10.84.1.2/26'), host('DESK-2', '10.84.1.7/26')));
  await userEvent.click(await screen.findByRole('button', { name: 'as planned' }));
  expect(screen.getByText('Plan and drawing agree')).toBeInTheDocument();
  await waitFor(() => expect(sent(calls)).toContain('10.84.1.3/26'));
});

test('a plan is built from a drawing that was made without one, and what is inconsistent is said before', async () => {
  const { store } = await open(
    drawing(
      host('DESK-1', '10.84.1.2/26'),
      host('DESK-2', '10.84.1.3/25'),
      host('DESK-3', '10.84.1.4/25'),
      host('CAM', '10.84.2.4/24'),
    ),
    { blocks: {} },
  );
  expect(await screen.findByRole('region', { name: 'Inconsistent' })).toHaveTextContent(
    'DESK-1 has 10.84.1.2/26, most of its neighbours /25.',
  );
  await userEvent.click(screen.getByRole('button', { name: 'Build the plan from the drawing' }));
  const built = store.getState().document;
  expect(Object.values(built.blocks).map((block) => block.prefix)).toContain('10.84.2.0/24');
  expect(built.addresses).toMatchObject({ '10.84.1.2': { name: 'DESK-1' }, '10.84.2.4': { name: 'CAM' } });
});

test('nothing drawn, and a drawing that cannot be opened, are said', async () => {
  await open(drawing());
  expect(await screen.findByText('Nothing is drawn yet')).toBeInTheDocument();
  await open(drawing(host('A', 'no address')), { blocks: {} });
  expect(await screen.findByText('No address in the drawing can be read')).toBeInTheDocument();
});

test('the address table goes into the legend of the drawing, beside what stands there', async () => {
  const { calls, notices } = await open({ ...drawing(), legend: 'Cable KR-7 is spare.' }, plan(), 'table');
  await userEvent.click(await screen.findByRole('button', { name: 'Put it into the drawing’s legend' }));
  await waitFor(() => expect(sent(calls)).toMatch(/Cable KR-7 is spare\..*Tickets.*10\.84\.1\.0\/26/));
  expect(notices).toEqual(['The address table stands in the legend of the drawing now.']);
});
