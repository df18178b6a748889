import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { planTree } from '@sobrin/core/plan';
import { type Device, type Topology, emptyTopology, readTopology } from '@sobrin/core/topology';
import { type BenchStore } from '../bench-store';
import { fill, openInspector } from '../../tests/bench';

const at = { x: 0, y: 0 };
const drawing = (): Topology => ({
  ...emptyTopology(),
  devices: {
    r: { name: 'RT-1', model: 'border-router', at },
    s: { name: 'SW-1', model: 'access-switch-12', at },
    c: { name: 'L3-1', model: 'l3-switch', at },
    h: { name: 'PC-1', model: 'laptop', at },
    v: { name: 'SHOP', model: 'server', at },
    a: { name: 'AP-1', model: 'access-point', at },
    f: { name: 'FW-1', model: 'firewall', at },
    w: { name: 'WD-1', model: 'wired-device', at },
    p: { name: 'PP-1', model: 'patch-panel-24', at },
  },
});
const open = (id: string): BenchStore => openInspector(drawing(), { devices: [id] });
/** The device as it is stored; the whole drawing must be one that can be read. */
function device(store: BenchStore, id: string): Device {
  const { document } = store.getState();
  const read = readTopology(document);
  if (!read.ok) throw new Error(read.error[0]!.text);
  return document.devices[id]!;
}
const press = (name: string | RegExp) => userEvent.click(screen.getByRole('button', { name }));
const choose = (label: string | RegExp, value: string) => userEvent.selectOptions(screen.getByLabelText(label), value);

describe('a switch', () => {
  test('gets VLANs with names; a number that is none stays in the field with what is wrong', async () => {
    const store = open('s');
    await press(/^VLANs/);
    await press('Add a VLAN');
    await userEvent.keyboard('4095{Enter}');
    expect(screen.getByLabelText('VLAN 1: number')).toHaveAccessibleDescription(/1 to 4094/);
    expect(screen.getByLabelText('VLAN 1: number')).toHaveValue('4095');
    expect(device(store, 's').settings).toBeUndefined();
    await fill('VLAN 1: number', '20');
    await fill('VLAN 1: name', 'Tickets');
    expect(device(store, 's').settings).toEqual({ vlans: { 20: 'Tickets' } });
    await press('Remove VLAN 1');
    expect(device(store, 's').settings ?? {}).toEqual({});
  });
  test('gets VLANs with the keyboard alone: Enter begins the next line, and a line that moves keeps the focus', async () => {
    const store = open('s');
    await press(/^VLANs/);
    await press('Add a VLAN');
    await userEvent.keyboard('20{Tab}Tickets{Enter}{Enter}');
    expect(screen.getByLabelText('VLAN 2: number')).toHaveFocus();
    await userEvent.keyboard('10{Enter}'); // stands before 20 now
    expect(screen.getByLabelText('VLAN 1: number')).toHaveFocus();
    await userEvent.keyboard('{Tab}Boards{Enter}');
    expect(device(store, 's').settings).toEqual({ vlans: { 10: 'Boards', 20: 'Tickets' } });
    await fill('VLAN 1: number', '30');
    expect(screen.getByLabelText('VLAN 2: number')).toHaveFocus();
    expect(device(store, 's').settings).toEqual({ vlans: { 20: 'Tickets', 30: 'Boards' } });
  });
  test('ports are access ports of a VLAN, trunks of several, and go back to nothing stored', async () => {
    const store = open('s');
    await press('Show the free ports p1 to p12');
    await press('Settings of p1');
    await fill('VLAN of p1', '20');
    expect(device(store, 's').ports!.p1!.role).toEqual({ kind: 'switched', mode: 'access', accessVlan: 20 });
    await choose('Role of p1', 'trunk');
    await fill('VLANs that p1 carries', '10, 20-22');
    await fill('Native VLAN of p1', '99');
    expect(device(store, 's').ports!.p1!.role).toMatchObject({
      mode: 'trunk',
      allowed: [10, 20, 21, 22],
      native: 99,
    });
    expect(screen.getByLabelText('VLANs that p1 carries')).toHaveValue('10, 20-22');
  });
  test('a port set back to a plain access port leaves nothing behind', async () => {
    const store = open('s');
    await press('Show the free ports p1 to p12');
    await press('Settings of p2');
    await choose('Role of p2', 'trunk');
    await choose('Role of p2', 'access');
    expect(device(store, 's').ports ?? {}).toEqual({});
  });
  test('bundles name their ports, and one that does not exist is told', async () => {
    const store = open('s');
    await press(/^Bundles/);
    await press('Add a bundle');
    await userEvent.keyboard('u1, x9{Enter}');
    expect(screen.getByLabelText('Bundle 1: ports')).toHaveAccessibleDescription('There is no port “x9”.');
    await fill('Bundle 1: ports', 'u1, u2');
    await choose('Bundle 1: forming', 'passive');
    expect(device(store, 's').settings!.bundles).toEqual({ b1: { members: ['u1', 'u2'], protocol: 'passive' } });
  });
  test('takes its part in the spanning tree, and the default is not stored', async () => {
    const store = open('s');
    await press(/^Spanning tree/);
    await choose('Bridge priority', '4096');
    expect(device(store, 's').settings!.spanningTree).toEqual({ priority: 4096 });
    await choose('Bridge priority', '32768');
    expect(device(store, 's').settings?.spanningTree).toBeUndefined();
  });
});

describe('interfaces', () => {
  test('a sub-interface of a router and a VLAN interface of a switch are added, addressed and removed', async () => {
    const store = open('r');
    await press(/^Sub-interfaces/);
    await choose('Port of the new interface', 'g1');
    await fill('VLAN of the new interface', '4095');
    expect(screen.getByLabelText('VLAN of the new interface')).toHaveAccessibleDescription(/1 to 4094/);
    expect(device(store, 'r').interfaces).toBeUndefined();
    await fill('VLAN of the new interface', '30');
    expect(screen.getByLabelText('Address of g1.30')).toHaveFocus();
    await userEvent.keyboard('10.84.3.1/27{Enter}');
    expect(device(store, 'r').interfaces).toEqual({
      'g1.30': { on: { kind: 'sub', port: 'g1', vlan: 30 }, v4: { addresses: ['10.84.3.1/27'] } },
    });
    await press('Remove g1.30');
    expect(device(store, 'r').interfaces ?? {}).toEqual({});
  });
  test('a VLAN interface stays without an address, since adding it was the wish', async () => {
    const store = open('c');
    await press(/^VLAN interfaces/);
    await fill('VLAN of the new interface', '10');
    expect(device(store, 'c').interfaces).toEqual({ vlan10: { on: { kind: 'svi', vlan: 10 } } });
  });
  test('addresses by DHCP and by SLAAC take the place of typed ones', async () => {
    const store = open('h');
    await fill('Address of e0', '10.84.1.11/26');
    await press('Settings of e0');
    await choose('IPv4 of e0', 'dhcp');
    await choose('Automatic IPv6 of e0', 'slaac');
    expect(device(store, 'h').interfaces!.e0).toEqual({
      on: { kind: 'port', port: 'e0' },
      v4: { dhcp: true },
      v6: { slaac: true },
    });
    await choose('IPv4 of e0', 'typed');
    await choose('Automatic IPv6 of e0', 'off');
    expect(device(store, 'h').interfaces ?? {}).toEqual({});
  });
  test('a router relays DHCP and has sides for address translation', async () => {
    const store = open('r');
    await press('Settings of g0');
    await fill('DHCP relay of g0', '10.84.1.66');
    await choose('NAT side of g0', 'inside');
    await choose('Router advertisements on g0', 'managed');
    expect(device(store, 'r').interfaces!.g0).toMatchObject({
      relays: ['10.84.1.66'],
      natSide: 'inside',
      v6: { ra: { managed: true } },
    });
  });
});

describe('routing and services', () => {
  test('OSPF by networks and areas, RIP by networks, static routes by next hop or interface', async () => {
    const store = open('r');
    await fill('Address of g0', '10.84.1.1/26');
    await press(/^Static routes/);
    await press('Add a route');
    await userEvent.keyboard('0.0.0.0/0{Enter}');
    await fill('Route 1: next hop', 'g0');
    await press(/^OSPF o/);
    await press(/^Networks of OSPF/);
    await press('Add a network');
    await userEvent.keyboard('10.84.0.0/20{Enter}');
    await fill('Network 1: area', '1');
    await choose('Default route told by OSPF', 'always');
    expect(device(store, 'r').settings).toEqual({
      routes: [{ prefix: '0.0.0.0/0', interface: 'g0' }],
      ospf: { networks: [{ prefix: '10.84.0.0/20', area: 1 }], defaultOriginate: 'always' },
    });
  });
  test('a DHCP pool gives out ranges and showsEngine gateway and name server', async () => {
    const store = open('r');
    await press(/^DHCP pools/);
    await press('Add a pool');
    await userEvent.keyboard('10.84.1.0/26{Enter}');
    await fill('Pool 1: gives out', '10.84.1.20-40');
    await press(/^Pool 1 tells/);
    await press('Add an option');
    await userEvent.keyboard('10.84.1.1{Enter}');
    expect(device(store, 'r').settings!.dhcpPools).toEqual([
      { network: '10.84.1.0/26', ranges: [{ from: '10.84.1.20', to: '10.84.1.40' }], router: '10.84.1.1' },
    ]);
  });
  test('a server answers names and runs services', async () => {
    const store = open('v');
    await press(/^Names/);
    await press('Add a name');
    await userEvent.keyboard('shop.kestrel.example{Enter}');
    await fill('Name 1: value', '10.84.1.66');
    await press(/^Services/);
    await choose('Web pages', 'on');
    expect(device(store, 'v').settings).toEqual({
      dnsRecords: [{ name: 'shop.kestrel.example', type: 'A', value: '10.84.1.66' }],
      services: { web: { enabled: true } },
    });
  });
  test('address translation: many behind one address, and a port let in', async () => {
    const store = open('r');
    await press(/^Address translation/);
    await press('Add a rule');
    await fill('Translation 1: of', '10.84.0.0/20');
    await fill('Translation 1: leaving by', 'g0');
    await press('Add a rule');
    await choose('Translation 2: kind', 'portForward');
    await fill('Translation 2: inside', '10.84.1.66');
    await fill('Translation 2: inside port', '80');
    expect(device(store, 'r').settings!.nat).toEqual([
      { kind: 'overload', sources: ['10.84.0.0/20'], outsideInterface: 'g0' },
      { kind: 'portForward', inside: '10.84.1.66', insidePort: 80 },
    ]);
  });
});

describe('what several routers or both families do', () => {
  test('a virtual router with its addresses and priority, and an MTU, on an interface', async () => {
    const store = open('r');
    await press('Settings of g0');
    await press(/^Virtual routers on g0/);
    await press('Add a virtual router');
    await userEvent.keyboard('300{Enter}');
    expect(screen.getByLabelText('Virtual router 1: number')).toHaveAccessibleDescription(/1 to 255/);
    await fill('Virtual router 1: number', '10');
    await fill('Virtual router 1: addresses', '10.84.1.1 fe80::1');
    await fill('Virtual router 1: priority', '120');
    await fill('MTU of g0', '67');
    expect(screen.getByLabelText('MTU of g0')).toBeInvalid();
    await fill('MTU of g0', '1400');
    expect(device(store, 'r').interfaces!.g0).toEqual({
      on: { kind: 'port', port: 'g0' },
      mtu: 1400,
      vrrp: [{ group: 10, addresses: ['10.84.1.1', 'fe80::1'], priority: 120 }],
    });
    await press('Remove virtual router 1');
    await fill('MTU of g0', '');
    expect(device(store, 'r').interfaces ?? {}).toEqual({});
  });
  test('OSPFv3 by its id and by areas on interfaces, beside OSPF', async () => {
    const store = open('r');
    await press(/^OSPFv3/);
    await fill('OSPFv3 router id', '1.1.1.1');
    await press('Settings of g0');
    await fill('OSPFv3 area of g0', '0');
    await fill('OSPFv3 cost of g0', '70');
    await choose('OSPFv3 on g0', 'passive');
    expect(screen.queryByLabelText('OSPF area of g0')).toBeNull();
    expect(device(store, 'r').settings).toEqual({ ospf6: { routerId: '1.1.1.1' } });
    expect(device(store, 'r').interfaces!.g0!.ospf6).toEqual({ area: 0, cost: 70, passive: true });
  });
  test('DHCPv6 pools tell servers for names and no gateway; a pool keeps an address for a device by its name or MAC', async () => {
    const store = open('r');
    await press(/^DHCPv6 pools/);
    await press('Add a v6 pool');
    await userEvent.keyboard('fd84:1::/64{Enter}');
    await press(/^V6 pool 1 tells/);
    await press('Add an option');
    await userEvent.keyboard('fd84:1::53{Enter}');
    expect(within(screen.getByLabelText('Option 1: what')).queryByText('is the gateway')).toBeNull();
    await press(/^V6 pool 1 keeps/);
    await press('Add a reservation');
    await userEvent.keyboard('nobody{Enter}');
    expect(screen.getByLabelText('Reservation 1: MAC address')).toHaveAccessibleDescription(/no MAC address/);
    await fill('Reservation 1: MAC address', 'PC-1');
    await fill('Reservation 1: address', 'fd84:1::99');
    expect(device(store, 'r').settings!.dhcp6Pools).toEqual([
      {
        network: 'fd84:1::/64',
        dns: ['fd84:1::53'],
        reservations: [{ mac: expect.stringMatching(/^02(:[0-9a-f]{2}){5}$/) as string, address: 'fd84:1::99' }],
      },
    ]);
  });
});

describe('zones of a firewall', () => {
  test('have names and interfaces, and policies say what passes; what speaks of a zone goes with it', async () => {
    const store = open('f');
    await press(/^Zones/);
    await press(/^Zones of the firewall/);
    await press('Add a zone');
    await userEvent.keyboard('inside{Enter}');
    await fill('Zone 1: interfaces', 'g0, x9');
    expect(screen.getByLabelText('Zone 1: interfaces')).toHaveAccessibleDescription('There is no interface “x9” here.');
    await fill('Zone 1: interfaces', 'g0');
    await press('Add a zone');
    await userEvent.keyboard('outside{Enter}');
    await fill('Zone 2: interfaces', 'g1');
    await press(/^What passes between them/);
    await press('Add a policy');
    await choose('Policy 1: from', 'zone-1');
    expect(device(store, 'f').settings!.firewall).toEqual({
      zones: { 'zone-1': { name: 'inside', interfaces: ['g0'] }, 'zone-2': { name: 'outside', interfaces: ['g1'] } },
      policies: [{ from: 'zone-1', to: 'zone-2', action: 'permit' }],
    });
    await choose('Policy 1: decision', 'deny');
    await press('Remove zone 2');
    expect(device(store, 'f').settings!.firewall).toEqual({
      zones: { 'zone-1': { name: 'inside', interfaces: ['g0'] } },
      policies: [],
    });
    await press('Remove zone 1');
    expect(device(store, 'f').settings ?? {}).toEqual({});
  });
});

describe('who may speak at a port', () => {
  test('so many addresses, those that are listed, and what is done with others', async () => {
    const store = open('s');
    await press('Show the free ports p1 to p12');
    await press('Settings of p1');
    // A port of a bridge sends nothing of its own, so it has no address to be set.
    expect(screen.queryByLabelText('MAC address of p1')).toBeNull();
    await choose('Who may speak at p1', 'some');
    expect(device(store, 's').ports!.p1!.security).toEqual({ maxMacs: 1 });
    await fill('Addresses listed at p1', '02-00-5E-00-00-0A');
    await fill('How many addresses p1 lets in', '');
    await choose('When others speak at p1', 'restrict');
    expect(device(store, 's').ports!.p1!.security).toEqual({
      allowed: ['02:00:5e:00:00:0a'],
      onViolation: 'restrict',
    });
    await fill('Addresses listed at p1', 'ours');
    expect(screen.getByLabelText('Addresses listed at p1')).toBeInvalid();
    await choose('Who may speak at p1', 'all');
    expect(device(store, 's').ports ?? {}).toEqual({});
  });
  test('a port has the MAC address that is typed, as it is stored', async () => {
    const store = open('h');
    await press('Settings of e0');
    expect(screen.getByLabelText('MAC address of e0')).toHaveAttribute('placeholder', expect.stringMatching(/^02:/));
    await fill('MAC address of e0', '0200.5e00.000a');
    expect(device(store, 'h').ports!.e0!.mac).toBe('02:00:5e:00:00:0a');
  });
});

describe('cabling and plain devices', () => {
  test('a plain wired device has as many ports as one likes', async () => {
    const store = open('w');
    await fill('Number of ports', '49');
    expect(screen.getByLabelText('Number of ports')).toHaveAccessibleDescription(/1 to 48/);
    await fill('Number of ports', '3');
    expect(screen.getByRole('button', { name: 'Settings of e2' })).toBeVisible();
    expect(device(store, 'w').model).toBe('wired-device-3');
    await fill('Number of ports', '1');
    expect(device(store, 'w').model).toBe('wired-device');
    expect(store.getState().document.models ?? {}).toEqual({});
  });
  test('a panel has neither power nor addresses, and its ports say what they are wired to', async () => {
    open('p');
    await press('Show the free ports p1 to p24');
    await press('Settings of p7');
    expect(screen.getByText(/at the rear/)).toHaveTextContent('r7 at the rear');
    for (const label of ['Power', 'Hostname', 'Address of p7', 'Speed of p7'])
      expect(screen.queryByLabelText(label)).toBeNull();
  });
});

describe('filters', () => {
  test('rules are typed as people write them, put on an interface and switched off for a moment', async () => {
    const store = open('r');
    await press(/^Filters/);
    await press('Add a filter');
    const rule = within(screen.getByRole('group', { name: 'filter-1 rule 1' }));
    await userEvent.selectOptions(rule.getByLabelText(/decision/), 'deny');
    await userEvent.selectOptions(rule.getByLabelText(/protocol/), 'tcp');
    await fill('filter-1 rule 1: from', '10.84.1.0/26');
    await fill('filter-1 rule 1: to', 'the shop');
    expect(screen.getByLabelText('filter-1 rule 1: to')).toBeInvalid();
    await fill('filter-1 rule 1: to', '10.84.1.66');
    await fill('filter-1 rule 1: port', '443');
    await choose('filter-1 rule 1 is', 'off');
    expect(device(store, 'r').settings!.filters).toEqual({
      'filter-1': {
        family: 4,
        rules: [
          {
            action: 'deny',
            proto: 'tcp',
            src: { kind: 'prefix', prefix: '10.84.1.0/26' },
            dst: { kind: 'prefix', prefix: '10.84.1.66/32' },
            dstPorts: { op: 'eq', from: 443 },
            enabled: false,
          },
        ],
      },
    });
    await press('Settings of g0');
    await choose(/IPv4 filter for what comes in by g0/, 'filter-1');
    expect(device(store, 'r').interfaces!.g0!.filterIn4).toBe('filter-1');
  });
  test('rules are added below and taken away', async () => {
    const store = open('r');
    await press(/^Filters/);
    await press('Add a filter');
    await press('Add a rule');
    expect(screen.getByLabelText('filter-1 rule 2: decision')).toHaveFocus();
    await choose('filter-1 rule 2: decision', 'deny');
    expect(device(store, 'r').settings!.filters!['filter-1']!.rules.map((rule) => rule.action)).toEqual([
      'permit',
      'deny',
    ]);
    await press('Remove filter-1 rule 1');
    expect(device(store, 'r').settings!.filters!['filter-1']!.rules.map((rule) => rule.action)).toEqual(['deny']);
  });
});

describe('wireless and remote access', () => {
  test('an access point sends out networks, and a laptop joins one', async () => {
    const store = open('a');
    await press(/^Wireless networks/);
    await press('Add a network');
    await userEvent.keyboard('guests{Enter}');
    await choose('Network 1: security', 'wpa3');
    await fill('Network 1: key', 'kestrel-1');
    expect(device(store, 'a').settings!.ssids).toEqual([{ ssid: 'guests', security: 'wpa3', key: 'kestrel-1' }]);
  });
  test('a radio takes network, security and key', async () => {
    const store = open('h');
    await press('Settings of w0');
    await fill('Network of w0', 'guests');
    await choose('Security of w0', 'open');
    expect(device(store, 'h').ports!.w0!.radio).toEqual({ ssid: 'guests', security: 'open' });
  });
  test('who signs in, and how', async () => {
    const store = open('s');
    await press(/^Remote access/);
    await choose('ssh', 'on');
    await choose('Password for changing settings', 'hashed');
    await press(/^Users/);
    await press('Add a user');
    await userEvent.keyboard('maren{Enter}');
    expect(device(store, 's').settings!.management).toEqual({
      ssh: true,
      privileged: 'hashed',
      users: [{ name: 'maren' }],
    });
  });
});

describe('what a device is', () => {
  test('changes its model among those of its kind', async () => {
    const store = open('s');
    await choose('Model', 'access-switch-44');
    expect(device(store, 's').model).toBe('access-switch-44');
    expect(within(screen.getByLabelText('Model')).queryByText('Desktop')).toBeNull();
  });
  test('a host stands for several, and a number that is none stays in the field', async () => {
    const store = open('h');
    await fill('How many like hosts', '0');
    expect(screen.getByLabelText('How many like hosts')).toBeInvalid();
    await fill('How many like hosts', '12');
    expect(Object.keys(device(store, 'h').members!)).toHaveLength(12);
  });
  test('is pinned for arranging', async () => {
    const store = open('s');
    await choose('When the drawing is arranged', 'pinned');
    expect(device(store, 's').pinned).toBe(true);
  });
});

test('a note is written, hung on a device and placed again', async () => {
  const drawn = { ...drawing(), notes: { n: { text: '', at: { x: 5, y: 5 } } } };
  const store = openInspector(drawn, { notes: ['n'] });
  await userEvent.type(screen.getByLabelText('Text of the note'), 'the root');
  await userEvent.tab();
  await choose('What the note hangs on', 'device s');
  expect(store.getState().document.notes!.n).toMatchObject({ text: 'the root', anchor: { kind: 'device', id: 's' } });
  await choose('What the note hangs on', '');
  expect(store.getState().document.notes!.n).not.toHaveProperty('anchor');
  await press('Remove this note');
  expect(store.getState().document.notes ?? {}).toEqual({});
});

test('VLANs are taken from the plan: a number of it brings its name along', async () => {
  const tree = planTree({ blocks: { t: { prefix: '10.84.1.0/26', name: 'Tickets', vlan: 20 } } });
  const store = openInspector(drawing(), { devices: ['s'] }, { plan: { tree, brief: {} } });
  await press(/^VLANs/);
  await press('Add a VLAN');
  expect(document.querySelector('datalist option')).toHaveValue('20');
  await userEvent.keyboard('20{Enter}');
  expect(device(store, 's').settings).toEqual({ vlans: { 20: 'Tickets' } });
});
