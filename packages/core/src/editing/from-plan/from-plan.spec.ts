import { analyse, problemsOf } from '../../engine';
import { type Brief, type Plan, compareWithDrawing, planTree } from '../../plan';
import { smallBrief, smallPlan } from '../../tests/plans';
import { type Topology, applyBatch, emptyTopology, readTopology } from '../../topology';
import type { PlanOfLab } from '../next-addresses';
import {
  type PlanWish,
  type SubnetWish,
  type TakenFromPlan,
  likelyWishes,
  standsFor,
  subnetsOf,
  takeFromPlan,
} from '.';

const planOf = (change: { plan?: (plan: Plan) => void; brief?: (brief: Brief) => void } = {}): PlanOfLab => {
  const [plan, brief] = [smallPlan(), smallBrief()];
  change.plan?.(plan);
  change.brief?.(brief);
  return { tree: planTree(plan), brief };
};
const some = (node: string, more: Partial<SubnetWish> = {}): SubnetWish => ({
  node,
  count: 2,
  model: 'desktop',
  addressing: 'automatic',
  ...more,
});
const ANEW: Omit<PlanWish, 'subnets'> = {
  router: { model: 'border-router' },
  switch: { model: 'access-switch-12' },
  leases: true,
};
/** What becomes of a drawing; it can be read, and the commands are one step that can be taken back. */
function take(wish: PlanWish, on = emptyTopology(), plan = planOf()): TakenFromPlan & { drawing: Topology } {
  let ids = 0;
  const taken = takeFromPlan(on, plan, wish, (name) => `${name.toLowerCase().replace(/\W/g, '')}-${++ids}`);
  const done = applyBatch(on, 'from the plan', taken.commands);
  if (!done.ok) throw new Error(done.error);
  const drawing = done.value.document;
  expect(readTopology(drawing)).toEqual({ ok: true, value: drawing });
  return { ...taken, drawing };
}
const named = (drawing: Topology, name: string) =>
  Object.values(drawing.devices).find((device) => device.name === name)!;
/** The pairs that do not reach one another, in either family. */
function apart(drawing: Topology): string[] {
  const { reach } = analyse(drawing);
  const targets = reach.targets();
  return targets.flatMap(({ device }) =>
    targets.flatMap((target) =>
      target.device === device || reach.ask(device, target).answer === 'yes'
        ? []
        : `${device} to ${target.device} by IPv${target.address.family}`,
    ),
  );
}

describe('two subnets on an empty sheet', () => {
  const { drawing, done, left, devices } = take({ ...ANEW, subnets: [some('tickets'), some('guests')] });
  test('are a router, a switch and hosts that reach one another in both families, without a problem', () => {
    expect(left).toEqual([]);
    expect(devices).toHaveLength(6);
    expect(Object.keys(drawing.links)).toHaveLength(5);
    expect(problemsOf(analyse(drawing))).toEqual([]);
    expect(apart(drawing)).toEqual([]);
    expect(
      analyse(drawing)
        .reach.targets()
        .some(({ address }) => address.family === 6),
    ).toBe(true);
  });
  test('have gateways and pools as the plan has them, on a trunk that carries their VLANs', () => {
    const router = named(drawing, 'RT-1');
    const addresses = Object.values(router.interfaces!).map(({ on, v4, v6 }) => [on, v4?.addresses, v6?.addresses]);
    expect(addresses).toEqual([
      [{ kind: 'sub', port: 'g0', vlan: 10 }, ['10.84.1.1/26'], ['fd5e:7a3c:90b1:1::1/64']],
      [{ kind: 'sub', port: 'g0', vlan: 90 }, ['10.84.0.1/24'], ['fd5e:7a3c:90b1::1/64']],
    ]);
    expect(router.settings!.dhcpPools).toEqual([
      {
        network: '10.84.1.0/26',
        exclusions: [
          { from: '10.84.1.2', to: '10.84.1.2' },
          { from: '10.84.1.3', to: '10.84.1.3' },
        ],
        router: '10.84.1.1',
      },
      { network: '10.84.0.0/24', ranges: [{ from: '10.84.0.100', to: '10.84.0.254' }], router: '10.84.0.1' },
    ]);
    const bridge = named(drawing, 'SW-1');
    expect(bridge.settings!.vlans).toEqual({ 10: 'Tickets', 90: 'Guests' });
    const [trunk] = Object.values(drawing.links).filter(({ a }) => drawing.devices[a.device]!.name === 'RT-1');
    expect(bridge.ports![trunk!.b.port]!.role).toEqual({ kind: 'switched', mode: 'trunk', allowed: [10, 90] });
  });
  test('stand at the site that the plan names, and it is told what was done', () => {
    expect(Object.values(drawing.sites).map(({ name }) => name)).toEqual(['Valley']);
    expect(new Set(Object.values(drawing.devices).map(({ site }) => site)).size).toBe(1);
    expect(done).toEqual([
      'RT-1 is the gateway of Tickets, Guests',
      'RT-1 gives leases for Tickets, Guests',
      'Tickets: 2 desktops, set to automatic',
      'Guests: 2 desktops, set to automatic',
    ]);
  });
  test('taken once more add nothing but the hosts: what stands is kept', () => {
    const [router, bridge] = ['RT-1', 'SW-1'].map(
      (name) => Object.entries(drawing.devices).find(([, device]) => device.name === name)![0],
    );
    const wish = { router: { device: router! }, switch: { device: bridge! }, leases: true };
    const again = take({ ...wish, subnets: [some('tickets', { count: 0 }), some('guests', { count: 0 })] }, drawing);
    expect([again.commands, again.left]).toEqual([[], []]);
    const more = take({ ...wish, subnets: [some('tickets', { count: 1 })] }, drawing);
    expect(Object.keys(more.drawing.devices)).toHaveLength(7);
    expect(more.drawing.devices[router!]).toEqual(drawing.devices[router!]);
    expect(apart(more.drawing)).toEqual([]);
  });
});

test('fixed addresses are those that the plan has next, with the gateway; drawing and plan agree', () => {
  const plan = planOf();
  const { drawing } = take({ ...ANEW, leases: false, subnets: [some('tickets', { addressing: 'fixed' })] });
  expect(named(drawing, 'PC-1')).toMatchObject({
    interfaces: { e0: { v4: { addresses: ['10.84.1.4/26'] }, v6: { addresses: ['fd5e:7a3c:90b1:1::2/64'] } } },
    settings: { gateway4: '10.84.1.1', gateway6: 'fd5e:7a3c:90b1:1::1' },
  });
  expect(named(drawing, 'RT-1').settings?.dhcpPools).toBeUndefined();
  expect(apart(drawing)).toEqual([]);
  const differing = compareWithDrawing(plan.tree, plan.brief, drawing).map(({ kind }) => kind);
  expect(new Set(differing)).toEqual(new Set(['onlyDrawn', 'onlyPlanned'])); // neither a wrong one nor one given twice
});

test('a switch that routes has interfaces of VLANs, and hosts are plugged into it', () => {
  const { drawing, left } = take({
    router: { model: 'l3-switch' },
    switch: null,
    leases: true,
    subnets: [some('tickets'), some('guests')],
  });
  expect(left).toEqual([]);
  expect(Object.values(named(drawing, 'L3-1').interfaces!).map(({ on }) => on)).toEqual([
    { kind: 'svi', vlan: 10 },
    { kind: 'svi', vlan: 90 },
  ]);
  expect(Object.keys(drawing.devices)).toHaveLength(5);
  expect(apart(drawing)).toEqual([]);
});

test('desks of a group with telephones are plugged into them, with the VLAN for voice at the same port', () => {
  const plan = planOf({
    brief: ({ groups }) => (groups![0]!.needs = ['phones']),
    plan: ({ blocks }) => {
      blocks.voice = {
        prefix: '10.84.2.0/26',
        prefix6: 'fd5e:7a3c:90b1:2::/64',
        name: 'Phones',
        purpose: 'phones',
        site: 'Valley',
        vlan: 60,
      };
    },
  });
  const subnets = [some('tickets'), some('voice', { model: 'phone' })];
  const { drawing, left } = take({ ...ANEW, subnets }, emptyTopology(), plan);
  expect(left).toEqual([]);
  const kinds = Object.values(drawing.links).map(({ a, b }) =>
    [a, b].map(({ device }) => drawing.devices[device]!.name.slice(0, 2)).join('–'),
  );
  expect(kinds).toEqual(['RT–SW', 'PH–SW', 'PH–SW', 'PC–PH', 'PC–PH']);
  const roles = Object.values(named(drawing, 'SW-1').ports!).map(({ role }) => role);
  expect(roles.filter((role) => role?.kind === 'switched' && role.mode === 'access')).toEqual([
    { kind: 'switched', mode: 'access', accessVlan: 10, voiceVlan: 60 },
    { kind: 'switched', mode: 'access', accessVlan: 10, voiceVlan: 60 },
  ]);
  expect(problemsOf(analyse(drawing))).toEqual([]);
  expect(apart(drawing)).toEqual([]);
});

test('where the plan says that a server gives IPv6 addresses, it does', () => {
  const plan = planOf({ plan: ({ blocks }) => (blocks.tickets!.automatic = false) });
  const { drawing } = take({ ...ANEW, subnets: [some('tickets')] }, emptyTopology(), plan);
  expect(named(drawing, 'RT-1').settings!.dhcp6Pools).toEqual([{ network: 'fd5e:7a3c:90b1:1::/64' }]);
  expect(named(drawing, 'PC-1').interfaces!.e0!.v6).toEqual({ dhcp: 'stateful' });
  expect(apart(drawing)).toEqual([]);
});

test('of a gateway that two routers share each has an address of its own', () => {
  const plan = planOf({ brief: (brief) => (brief.schemes = { virtualRouter: true }) });
  const first = take({ ...ANEW, subnets: [some('tickets')] }, emptyTopology(), plan);
  const bridge = Object.entries(first.drawing.devices).find(([, { name }]) => name === 'SW-1')![0];
  const wish = { router: { model: 'border-router' }, switch: { device: bridge }, leases: false };
  const { drawing, left } = take({ ...wish, subnets: [some('tickets', { count: 0 })] }, first.drawing, plan);
  expect(left).toEqual([]);
  const own = ['RT-1', 'RT-2'].map((name) => Object.values(named(drawing, name).interfaces!)[0]!);
  expect(own.map(({ v4 }) => v4!.addresses)).toEqual([['10.84.1.4/26'], ['10.84.1.5/26']]);
  expect(own.map(({ vrrp }) => vrrp!.map(({ addresses }) => addresses))).toEqual([
    [['10.84.1.1', 'fd5e:7a3c:90b1:1::1']],
    [['10.84.1.1', 'fd5e:7a3c:90b1:1::1']],
  ]);
  expect(apart(drawing)).toEqual([]);
});

describe('what does not go is told, and the rest is done', () => {
  test('hosts for which the switch has no port are not added', () => {
    const { drawing, left } = take({ ...ANEW, subnets: [some('tickets', { count: 20 })] });
    expect(left).toEqual(['SW-1 has no free port for 5 more hosts of Tickets: they are not added.']);
    expect(Object.keys(drawing.devices)).toHaveLength(17);
    expect(apart(drawing)).toEqual([]);
  });
  test('a gateway that another router has stays there', () => {
    const first = take({ ...ANEW, subnets: [some('tickets')] });
    const { left } = take({ ...ANEW, subnets: [some('tickets', { count: 0 })] }, first.drawing);
    expect(left).toEqual([
      '10.84.1.1, the gateway of Tickets, is at RT-1 already.',
      'fd5e:7a3c:90b1:1::1, the gateway of Tickets, is at RT-1 already.',
    ]);
  });
  test('a second subnet without a VLAN finds no place at the port', () => {
    const plan = planOf({
      plan: ({ blocks }) => {
        delete blocks.tickets!.vlan;
        delete blocks.guests!.vlan;
      },
    });
    const { drawing, left } = take(
      { ...ANEW, subnets: [some('tickets'), some('guests', { count: 0 })] },
      emptyTopology(),
      plan,
    );
    expect(left).toEqual(['RT-1 g0 carries 10.84.1.1/26 already: give Guests a VLAN in the plan.']);
    expect(apart(drawing)).toEqual([]);
  });
  test('hosts of a second subnet without a VLAN are not put into the first one', () => {
    const plan = planOf({
      plan: ({ blocks }) => {
        delete blocks.tickets!.vlan;
        delete blocks.guests!.vlan;
      },
    });
    const wish = { ...ANEW, subnets: [some('tickets'), some('guests')] };
    expect(take(wish, emptyTopology(), plan).devices).toHaveLength(4);
    const { devices, left } = take({ ...wish, router: null, leases: false }, emptyTopology(), plan);
    expect(devices).toHaveLength(3);
    expect(left).toEqual(['Guests has no VLAN in the plan: its hosts would stand in the subnet of Tickets.']);
  });
  test('hosts without a switch are asked for one', () => {
    const { left, devices } = take({ ...ANEW, switch: null, subnets: [some('tickets')] });
    expect(left).toEqual(['Tickets: choose a switch that its hosts are plugged into.']);
    expect(devices).toHaveLength(1);
  });
});

describe('what is proposed', () => {
  const plan = planOf();
  test('are the subnets that hosts are in, each with a few of those that it lacks', () => {
    expect(subnetsOf(plan).map(({ id }) => id)).toEqual(['guests', 'tickets', 'winch']);
    const wishes = likelyWishes(emptyTopology(), plan, subnetsOf(plan));
    expect(wishes.map(({ model, count, addressing }) => `${count} ${model} ${addressing}`)).toEqual([
      '1 access-point automatic',
      '2 desktop automatic',
      '2 controller automatic',
    ]);
  });
  test('is leases where the plan sets a pool aside, in either family; servers have fixed addresses otherwise', () => {
    const servers = (ranges: Plan['ranges']) => {
      const there = planOf({
        plan: (each) => {
          each.blocks.winch!.name = 'Winch servers';
          each.ranges = ranges;
        },
      });
      return likelyWishes(emptyTopology(), there, [there.tree.nodes.get('winch')!])[0]!.addressing;
    };
    expect(servers({})).toBe('fixed');
    const six = { from: 'fd5e:7a3c:90b1:100::100', to: 'fd5e:7a3c:90b1:100::1ff', use: 'pool' } as const;
    expect(servers({ six })).toBe('automatic');
  });
  test('is nothing more where all hosts of a group stand', () => {
    const { drawing } = take({ ...ANEW, subnets: [some('winch', { count: 4, addressing: 'fixed' })] });
    const winch = plan.tree.nodes.get('winch')!;
    expect(likelyWishes(drawing, plan, [winch])[0]!.count).toBe(0);
  });
  test('gateways stand at what forwards, hosts are plugged into what bridges', () => {
    const { drawing } = take({ ...ANEW, subnets: [some('tickets')] });
    const { routers, switches } = standsFor(drawing);
    expect([routers, switches].map((ids) => ids.map((id) => drawing.devices[id]!.name))).toEqual([['RT-1'], ['SW-1']]);
  });
});
