import { Sheet, twoLans } from '../../tests/topologies';
import { type Topology, KIT } from '../../topology';
import { analyse, fittingMedium, portUses, problemsOf, suggestLink } from '..';

const codes = (topology: Topology): string[] => problemsOf(analyse(topology)).map((problem) => problem.code);

test('a sound drawing has no problems', () => expect(codes(twoLans())).toEqual([]));

test.each<[string, (topology: Topology) => void, string]>([
  ['a name that is there twice', (t) => void (t.devices.B!.name = 'A'), 'NAME_TWICE'],
  ['a device without a name', (t) => void (t.devices.B!.name = ' '), 'NO_NAME'],
  [
    'an address that is there twice',
    (t) => void (t.devices.B!.interfaces!.e0!.v4!.addresses = ['10.84.1.11/24']),
    'DUPLICATE_ADDRESS',
  ],
  [
    'the network address on a host',
    (t) => void (t.devices.B!.interfaces!.e0!.v4!.addresses = ['10.84.2.0/24']),
    'ADDRESS_NOT_USABLE',
  ],
  [
    'the broadcast address on a host',
    (t) => void (t.devices.B!.interfaces!.e0!.v4!.addresses = ['10.84.2.255/24']),
    'ADDRESS_NOT_USABLE',
  ],
  [
    'an address that cannot be read',
    (t) => void (t.devices.B!.interfaces!.e0!.v4!.addresses = ['10.84.2.300/24']),
    'ADDRESS_UNREADABLE',
  ],
  ['a gateway outside the subnet', (t) => void (t.devices.B!.settings!.gateway4 = '10.84.9.1'), 'GATEWAY_OUTSIDE'],
  ['a port that is switched off', (t) => void (t.devices.SB!.ports = { p1: { enabled: false } }), 'PORT_OFF'],
  ['a hostname that differs', (t) => void (t.devices.R!.settings = { hostname: 'RT' }), 'HOSTNAME_DIFFERS'],
  [
    'a mask that differs from its neighbours',
    (t) => void (t.devices.B!.interfaces!.e0!.v4!.addresses = ['10.84.2.11/25']),
    'PREFIX_DIFFERS',
  ],
  ['a host without a gateway', (t) => void delete t.devices.B!.settings, 'NO_GATEWAY'],
  [
    'a gateway that is nobody’s address',
    (t) => void (t.devices.B!.settings!.gateway4 = '10.84.2.254'),
    'GATEWAY_NOT_ROUTER',
  ],
  [
    'the same subnet on two wires',
    (t) => {
      t.devices.B!.interfaces!.e0!.v4!.addresses = ['10.84.1.12/24'];
      delete t.devices.B!.settings;
    },
    'SUBNET_TWICE',
  ],
  [
    'a pool for a subnet the server does not stand in',
    (t) => void (t.devices.R!.settings = { dhcpPools: [{ network: '10.84.9.0/24' }] }),
    'POOL_FOREIGN',
  ],
  ['open telnet', (t) => void (t.devices.SA!.settings = { management: { telnet: true } }), 'TELNET_OPEN'],
  [
    'a device that is connected to nothing',
    (t) => void (t.devices.X = { name: 'X', model: 'hub', at: { x: 0, y: 0 } }),
    'NOT_CONNECTED',
  ],
  ['a device without power', (t) => void (t.devices.SB!.powered = false), 'NO_POWER'],
])('%s is told', (_what, change, code) => {
  const topology = structuredClone(twoLans());
  change(topology);
  expect(codes(topology)).toContain(code);
});

test('of a tile that became fifteen hosts, those without a cable are told', () => {
  const topology = structuredClone(twoLans());
  const [id, host] = Object.entries(topology.devices).find(([, { model }]) => model === 'desktop')!;
  const [link] = Object.values(topology.links).filter(({ a, b }) => a.device === id || b.device === id);
  host.members = Object.fromEntries(Array.from({ length: 15 }, (_each, at) => [`m${at + 1}`, {}]));
  Object.assign(link!.a.device === id ? link!.a : link!.b, { member: 'm1' });
  const told = problemsOf(analyse(topology)).filter(({ code }) => code === 'NOT_CONNECTED');
  expect(told.map(({ text }) => text)).toEqual([expect.stringMatching(/and 10 more are connected to nothing\.$/)]);
});

test('without power the device is told once, not every link of it', () => {
  const topology = structuredClone(twoLans());
  topology.devices.SB!.powered = false;
  expect(codes(topology).filter((code) => code === 'NO_POWER')).toHaveLength(1);
});

describe('what is told once, and only where it holds', () => {
  const problemTexts = (topology: Topology, options = {}): string[] =>
    problemsOf(analyse(topology, options)).map((problem) => problem.text);
  const pair = (a: number[] | 'all', b: number[] | 'all'): Topology =>
    new Sheet()
      .device('S', 'access-switch-12', {}, { ports: { u1: { role: { kind: 'switched', mode: 'trunk', allowed: a } } } })
      .device('T', 'access-switch-12', {}, { ports: { u1: { role: { kind: 'switched', mode: 'trunk', allowed: b } } } })
      .cable('S u1', 'T u1').topology;
  test('many unconnected devices are one problem, and none while nothing is cabled', () => {
    const { topology } = new Sheet().device('A', 'hub').device('B', 'hub').host('C', '10.0.0.1/24');
    expect(problemTexts(topology)).toEqual([]);
    const cabled = structuredClone(twoLans());
    for (let at = 1; at <= 6; at++) cabled.devices[`X${at}`] = { name: `X${at}`, model: 'hub', at: { x: 0, y: 0 } };
    expect(problemTexts(cabled)).toEqual(['X1, X2, X3, X4 and 2 more are connected to nothing.']);
  });
  test('trunks that let different VLANs through say which, at which end', () => {
    expect(problemTexts(pair([10, 20], [10]))).toEqual(['S u1 carries VLAN 20, T u1 at the other end does not.']);
    expect(problemTexts(pair([10], [10, 30]))).toEqual(['T u1 carries VLAN 30, S u1 at the other end does not.']);
    expect(problemTexts(pair('all', [10]))).toEqual([]);
  });
  test('a VLAN that was not created matters only where it must be', () => {
    const topology = pair('all', 'all');
    topology.devices.S!.ports!.p1 = { role: { kind: 'switched', mode: 'access', accessVlan: 20 } };
    expect(problemTexts(topology)).toEqual([]);
    expect(problemTexts(topology, { vlanPolicy: 'created' })).toEqual([
      'S p1 is in VLAN 20, which does not exist on S: create it.',
    ]);
    topology.devices.S!.settings = { vlans: { 20: 'Tickets' } };
    expect(problemTexts(topology, { vlanPolicy: 'created' })).toEqual([]);
  });
  test('a pool that a relay asks is in its place', () => {
    const topology = structuredClone(twoLans());
    topology.devices.A!.settings = { gateway4: '10.84.1.1', dhcpPools: [{ network: '10.84.2.0/24' }] };
    topology.devices.R!.interfaces!.g1!.relays = ['10.84.1.11'];
    expect(problemTexts(topology)).toEqual([]);
  });
  test('a subnet inside another on a different wire', () => {
    const topology = structuredClone(twoLans());
    topology.devices.R!.interfaces!.g0!.v4!.addresses = ['10.84.1.1/16'];
    topology.devices.A!.interfaces!.e0!.v4!.addresses = ['10.84.1.11/16'];
    expect(problemTexts(topology)).toContainEqual(
      expect.stringMatching(/10\.84\.2\.0\/24 at .* lies inside 10\.84\.0\.0\/16/),
    );
  });
});

describe('suggesting a link', () => {
  const sheet = () =>
    new Sheet()
      .device('R', 'border-router')
      .device('S', 'access-switch-12')
      .device('T', 'access-switch-12')
      .host('H', '10.0.0.1/24');
  const end = (device: string) => ({ device });

  test('a host takes a slow port of the switch, and the router a fast one', () => {
    const { topology } = sheet();
    expect(suggestLink(topology, end('S'), end('H'))).toEqual({
      a: { device: 'S', port: 'p1' },
      b: { device: 'H', port: 'e0' },
      medium: 'straight',
    });
    expect(suggestLink(topology, end('R'), end('S'))).toEqual({
      a: { device: 'R', port: 'g0' },
      b: { device: 'S', port: 'u1' },
      medium: 'straight',
    });
  });
  test('taken ports are left out, and what is suggested comes up', () => {
    const { topology } = sheet().cable('S u1', 'T u1').cable('S p1', 'H e0');
    expect(suggestLink(topology, end('S'), end('T'))).toEqual({
      a: { device: 'S', port: 'u2' },
      b: { device: 'T', port: 'u2' },
      medium: 'straight',
    });
    expect(suggestLink(topology, end('S'), end('H'))).toBeNull();
    expect(
      portUses(topology, 'S')
        .filter((use) => !use.free)
        .map((use) => use.facts.key),
    ).toEqual(['p1', 'u1']);
  });
  test('like ports that find no pairing by themselves need a crossover cable', () => {
    const { topology } = sheet().host('G', '10.0.0.2/24');
    const link = suggestLink(topology, end('H'), end('G'))!;
    expect(link.medium).toBe('crossover');
    topology.links.x = link;
    expect(analyse(topology).layer1.links.get('x')!.up).toBe(true);
    expect(
      fittingMedium(
        { key: 'a', connector: 'copper', speeds: [100], pairing: 'mdi' },
        { key: 'b', connector: 'sm-fibre', speeds: [1000] },
      ),
    ).toBeNull();
  });
});

describe('a suggested link comes up, for any two models of the kit', () => {
  const models = Object.keys(KIT);
  test.each(models)('%s and every other', (model) => {
    for (const other of models) {
      const { topology } = new Sheet()
        .device('X', model, {}, { powered: true })
        .device('Y', other, {}, { powered: true });
      for (const id of ['X', 'Y']) {
        const bays = Object.entries(KIT[topology.devices[id]!.model]!.bays ?? {}).filter(([, bay]) =>
          bay.accepts.includes('power'),
        );
        if (bays.length) topology.devices[id]!.modules = Object.fromEntries(bays.map(([bay]) => [bay, 'power']));
      }
      const link = suggestLink(topology, { device: 'X' }, { device: 'Y' });
      if (!link) continue;
      topology.links.l = link;
      if (link.medium === 'serial') topology.devices.X!.ports = { [link.a.port]: { clockEnd: true } };
      if (link.medium === 'wireless')
        for (const [id, port] of [
          ['X', link.a.port],
          ['Y', link.b.port],
        ] as const)
          topology.devices[id]!.ports = { [port]: { radio: { ssid: 'col-air', security: 'wpa2', key: 'pylon-air' } } };
      const state = analyse(topology).layer1.links.get('l')!;
      // Through a panel it comes up as soon as something is plugged in at the other side.
      const passive = [model, other].filter((id) => KIT[id]!.class === 'passive').length;
      const code = [undefined, 'CHANNEL_OPEN', 'CHANNEL_SPARE'][passive];
      expect([other, state.up, state.reason?.code]).toEqual([other, !passive, code]);
    }
  });
});

test('a host whose cable is wrong is told once: its gateway is no mistake of its own', () => {
  const topology = structuredClone(twoLans());
  const link = Object.values(topology.links).find(({ a, b }) => [a.device, b.device].includes('A'))!;
  link.medium = 'crossover';
  expect(codes(topology)).toEqual(['WRONG_PAIRING']);
});
