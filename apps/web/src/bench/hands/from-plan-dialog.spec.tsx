import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type PlanOfLab, type PlanWish } from '@sobrin/core/editing';
import { type Plan, emptyPlan, planTree } from '@sobrin/core/plan';
import { type Policy } from '@sobrin/core/spec';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { fill } from '../../tests/bench';
import FromPlanDialog from './from-plan-dialog';

const plan: Plan = {
  blocks: {
    tickets: { prefix: '10.84.1.0/26', name: 'Tickets', site: 'Valley', group: 'tickets', vlan: 10 },
    servers: { prefix: '10.84.1.64/28', name: 'Servers', site: 'Valley', vlan: 20 },
    winch: { prefix: '10.84.4.0/28', name: 'Winch', site: 'Middle', vlan: 50 },
  },
};
const brief = { groups: [{ id: 'tickets', name: 'Tickets', now: 16, later: 40, site: 'Valley' }] };
const at = { x: 0, y: 0 };
const standing: Topology = {
  ...emptyTopology(),
  sites: { v: { name: 'Valley' }, m: { name: 'Middle' } },
  devices: {
    r: { name: 'RT-1', model: 'border-router', at, site: 'v' },
    s: { name: 'SW-1', model: 'access-switch-12', at, site: 'v' },
    t: { name: 'SW-2', model: 'access-switch-12', at, site: 'm' },
  },
  links: { l: { a: { device: 'r', port: 'g0' }, b: { device: 's', port: 'u1' }, medium: 'straight' } },
};
function open(topology = emptyTopology(), chosen: string[] = [], kit?: Policy['kit'], of = plan): PlanWish[] {
  const taken: PlanWish[] = [];
  const lab: PlanOfLab = { tree: planTree(of), brief };
  render(
    <FromPlanDialog
      topology={topology}
      plan={lab}
      chosen={chosen}
      kit={kit}
      onClose={() => {}}
      onTake={(wish) => taken.push(wish)}
    />,
  );
  return taken;
}
const put = () => userEvent.click(screen.getByRole('button', { name: 'Put on the sheet' }));

test('an empty sheet gets a router, a switch and hosts of the first site; what comes of it is said', async () => {
  const taken = open();
  expect(screen.getByRole('checkbox', { name: 'Take Winch' })).not.toBeChecked();
  expect(screen.getByRole('checkbox', { name: 'Take Tickets' })).toBeChecked();
  await userEvent.click(screen.getByRole('checkbox', { name: 'Take Servers' }));
  expect(screen.getByRole('status')).toHaveTextContent(/RT-1 is the gateway of Tickets\..*Tickets: 2 desktops/);
  await fill('New hosts of Tickets', '3');
  await userEvent.selectOptions(screen.getByLabelText('Addresses of the hosts of Tickets'), 'fixed');
  await put();
  expect(taken.at(-1)).toEqual({
    subnets: [{ node: 'tickets', count: 3, model: 'desktop', addressing: 'fixed' }],
    router: { model: 'border-router' },
    switch: { model: 'access-switch-12' },
    leases: true,
  });
});

test('what stands and what is chosen is taken first, and the subnets of its site', async () => {
  const taken = open(standing, ['s']);
  expect(screen.getByLabelText('Gateways at')).toHaveDisplayValue('RT-1');
  expect(screen.getByLabelText('Hosts plugged into')).toHaveDisplayValue('SW-1');
  await userEvent.click(screen.getByRole('checkbox', { name: 'The router gives leases' }));
  await put();
  expect(taken[0]).toMatchObject({ router: { device: 'r' }, switch: { device: 's' }, leases: false });
  expect(taken[0]!.subnets.map(({ node }) => node)).toEqual(['tickets', 'servers']);
});

test('hosts that do not fit are told before anything is done', async () => {
  open(standing, ['s']);
  await fill('New hosts of Tickets', '20');
  expect(await screen.findByText(/SW-1 has no free port for \d+ more hosts of Tickets/)).toBeInTheDocument();
  await fill('New hosts of Tickets', '99');
  expect(screen.getByLabelText('New hosts of Tickets')).toHaveAccessibleDescription('0 to 48');
});

test('a lab’s kit offers what it has', () => {
  open(emptyTopology(), [], { 'l3-switch': {}, laptop: {} });
  const options = (label: string) =>
    within(screen.getByLabelText(label))
      .getAllByRole('option')
      .map((each) => each.textContent);
  expect(options('Gateways at')).toEqual(['a new layer-3 switch 16 + 4', 'nowhere yet']);
  expect(options('Hosts plugged into')).toEqual(['the router itself']);
  expect(options('Kind of the hosts of Tickets')).toEqual(['Laptop']);
});

test('a plan without subnets says what is missing', () => {
  open(emptyTopology(), [], undefined, emptyPlan());
  expect(screen.getByText('The plan has no subnets yet')).toBeInTheDocument();
});
