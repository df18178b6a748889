import { labOf } from '../../tests/labs';
import { Sheet, demoLab, twoLans } from '../../tests/topologies';
import { type Device, type PortConfig, type Settings, type Topology, emptyTopology } from '../../topology';
import { type Rule, RULE_KINDS, SEARCHED, checkSubmission, ruleKind, searchWords } from '..';
import { type Names, sentenceOf } from '../rule';
import { isLike } from './like';

const winch = demoLab('winch-isolation').reference;
const dual = demoLab('summit-dual-stack').reference;
const stations = demoLab('three-stations').reference;

type Change = (topology: Topology) => void;
const changed = (topology: Topology, ...changes: Change[]): Topology => {
  const copy = structuredClone(topology);
  for (const change of changes) change(copy);
  return copy;
};
const device =
  (id: string, change: (device: Device) => void): Change =>
  (topology) =>
    change(topology.devices[id]!);
const settings = (id: string, more: Settings): Change =>
  device(id, (each) => void (each.settings = { ...each.settings, ...more }));
const trunk = (id: string, port: string, role: object): Change =>
  device(id, (each) => {
    each.ports![port] = { ...each.ports![port], role: { kind: 'switched', mode: 'trunk', ...role } };
  });
const access = (id: string, port: string, accessVlan: number): Change =>
  device(id, (each) => {
    each.ports = {
      ...each.ports,
      [port]: { ...each.ports?.[port], role: { kind: 'switched', mode: 'access', accessVlan } },
    };
  });
const nothing: Change = () => {};
const renamed: Change = (topology) => {
  for (const [at, each] of Object.values(topology.devices).entries()) each.name = `Thing ${at}`;
};
const both =
  (...changes: Change[]): Change =>
  (topology) => {
    for (const change of changes) change(topology);
  };
const security = { maxMacs: 1 };

/** All ports of S1 that nothing is plugged into. */
const unused = (config: PortConfig): Change =>
  device('S1', (each) => {
    const keys = [...Array.from({ length: 11 }, (_, at) => `p${at + 2}`), 'u3', 'u4'];
    each.ports = Object.fromEntries(keys.map((key): [string, PortConfig] => [key, config]));
  });

/** Two routers that share an address at one switch, with a host behind it and one beyond. */
const shared = (): Topology => {
  const vrrp = (priority: number) => [{ group: 1, addresses: ['10.84.1.1'], priority }];
  const router = (address: string, beyond: string, priority: number): Partial<Device> => ({
    interfaces: {
      g0: { on: { kind: 'port', port: 'g0' }, v4: { addresses: [address] }, vrrp: vrrp(priority) },
      g1: { on: { kind: 'port', port: 'g1' }, v4: { addresses: [beyond] } },
    },
  });
  return new Sheet()
    .device('R1', 'border-router', {}, router('10.84.1.2/24', '10.84.2.2/24', 120))
    .device('R2', 'border-router', {}, router('10.84.1.3/24', '10.84.2.3/24', 100))
    .device('S1', 'access-switch-12')
    .device('S2', 'access-switch-12')
    .host('A', '10.84.1.11/24', '10.84.1.1')
    .host('B', '10.84.2.11/24', '10.84.2.2')
    .cable('R1 g0', 'S1 u1')
    .cable('R2 g0', 'S1 u2')
    .cable('R1 g1', 'S2 u1')
    .cable('R2 g1', 'S2 u2')
    .cable('S1 p1', 'A e0')
    .cable('S2 p1', 'B e0').topology;
};
/** The same, sharing an address of the link. */
const sharedIn6 = (): Topology =>
  changed(shared(), (topology) => {
    for (const [at, id] of ['R1', 'R2'].entries()) {
      const face = topology.devices[id]!.interfaces!.g0!;
      face.v6 = { addresses: [`fd5e:7a3c:90b1:1::${at + 2}/64`] };
      face.vrrp = [{ group: 1, addresses: ['fe80::1'], priority: 120 - 20 * at }];
    }
    topology.devices.A!.interfaces!.e0!.v6 = { addresses: ['fd5e:7a3c:90b1:1::11/64'] };
    topology.devices.A!.settings = { gateway6: 'fe80::1' };
  });
/** Two switches with two cables between them that work as one, and hosts. */
const bundled = (): Topology => {
  const sheet = new Sheet();
  for (const id of ['S1', 'S2'])
    sheet.device(
      id,
      'access-switch-12',
      {},
      {
        settings: {
          bundles: { b1: { members: ['u1', 'u2'], protocol: 'active' } },
          spanningTree: { priority: id === 'S1' ? 4096 : 32768 },
        },
      },
    );
  return sheet
    .host('A', '10.84.1.11/24')
    .host('B', '10.84.1.12/24')
    .cable('S1 u1', 'S2 u1', 'crossover')
    .cable('S1 u2', 'S2 u2', 'crossover')
    .cable('S1 p1', 'A e0', 'straight', { lengthM: 20 })
    .cable('S2 p1', 'B e0', 'straight', { lengthM: 30 }).topology;
};
/** Three switches in a ring, of which the first is the root and the last blocks. */
const ring = (): Topology => {
  const sheet = new Sheet();
  for (const [at, id] of ['S1', 'S2', 'S3'].entries())
    sheet
      .device(id, 'access-switch-12', {}, { settings: { spanningTree: { priority: 4096 * (at + 1) } } })
      .host(`H${at + 1}`, `10.84.1.1${at}/24`)
      .cable(`${id} p1`, `H${at + 1} e0`);
  return sheet
    .cable('S1 u1', 'S2 u1', 'crossover')
    .cable('S1 u2', 'S3 u1', 'crossover')
    .cable('S2 u2', 'S3 u2', 'crossover').topology;
};
/** A switch that feeds a camera, and a router that gives leases beside a printer with an address that is typed. */
const fed = (): Topology =>
  new Sheet()
    .device('R', 'border-router', { g0: '10.84.1.1/24' })
    .device('S', 'access-switch-12')
    .device('CAM', 'camera', { e0: '10.84.1.20/24' })
    .device('PC', 'desktop', {}, { interfaces: { e0: { on: { kind: 'port', port: 'e0' }, v4: { dhcp: true } } } })
    .cable('R g0', 'S u1')
    .cable('S p1', 'CAM e0')
    .cable('S p2', 'PC e0').topology;
const pools = (exclusions?: { from: string; to: string }[]): Change =>
  settings('R', { dhcpPools: [{ network: '10.84.1.0/24', router: '10.84.1.1', ...(exclusions && { exclusions }) }] });
const low = [{ from: '10.84.1.1', to: '10.84.1.99' }];
/** A tablet in the wireless network of an access point. */
const joining = (): Topology => {
  const radio = { ssid: 'Ridge', security: 'wpa2' as const, key: 'twelve letters' };
  const sheet = new Sheet()
    .device('AP', 'access-point', {}, { powered: true, settings: { ssids: [{ ...radio, vlan: 30 }] } })
    .device('TB', 'tablet', {}, { ports: { w0: { radio } } });
  sheet.topology.links.air = { a: { device: 'AP', port: 'w0' }, b: { device: 'TB', port: 'w0' }, medium: 'wireless' };
  return sheet.topology;
};
const withRadio = (): Topology => {
  const sheet = new Sheet();
  Object.assign(sheet.topology, changed(fed(), pools(low)));
  return sheet
    .device(
      'AP',
      'access-point',
      {},
      { settings: { ssids: [{ ssid: 'Ridge', security: 'wpa2', key: 'twelve letters' }] } },
    )
    .cable('S p3', 'AP e0').topology;
};
const noted =
  (text: string): Change =>
  (topology) =>
    void (topology.notes = { n: { text, at: { x: 0, y: 0 }, anchor: { kind: 'device', id: 'R' } } });

/** A ring of three routers, each with a host, and a server for names with a page. */
const page: Change = both(
  settings('NEWS', {
    gateway4: '203.0.113.1',
    services: { web: { enabled: true }, dns: { enabled: true } },
    dnsRecords: [{ name: 'news.example', type: 'A', value: '203.0.113.10' }],
  }),
  settings('OFFICE-1', { gateway4: '10.84.40.1', dns: ['203.0.113.10'] }),
);
const phones = (): Topology => {
  const phone = (address: string, extension: string): Partial<Device> => ({
    interfaces: { e0: { on: { kind: 'port', port: 'e0' }, v4: { addresses: [address] } } },
    settings: { telephony: { extension, callServer: '10.84.1.5' } },
  });
  return new Sheet()
    .device('S', 'access-switch-12')
    .device('P1', 'desktop', {}, phone('10.84.1.11/24', '101'))
    .device('P2', 'desktop', {}, phone('10.84.1.12/24', '102'))
    .device('CS', 'server', { e0: '10.84.1.5/24' }, { settings: { services: { calls: { enabled: true } } } })
    .cable('S p1', 'P1 e0')
    .cable('S p2', 'P2 e0')
    .cable('S p3', 'CS e0').topology;
};

/** Of each kind: a reference, a drawing that is right though it is another, and one that is wrong though it looks right. */
const KINDS: [Rule & { kind: string }, reference: Topology, right: Change, wrong: Change][] = [
  [
    { kind: 'vlanExists', who: 'SW1', vlan: 10 },
    winch,
    settings('SW1', { vlans: { 10: 'Seilwinden', 20: 'x' } }),
    both(
      settings('SW1', { vlans: { 20: 'control' } }),
      access('SW1', 'p1', 20),
      access('SW1', 'p2', 20),
      access('SW1', 'p3', 20),
      access('SW1', 'p4', 20),
      trunk('SW1', 'u1', { allowed: [20] }),
    ),
  ],
  [
    { kind: 'vlanExists', who: 'SW1', vlan: 10, name: 'winch' },
    winch,
    settings('SW1', { vlans: { 10: 'WINCH' } }),
    settings('SW1', { vlans: { 10: 'guests', 20: 'winch' } }),
  ],
  [{ kind: 'portVlan', who: 'WINCH-1', vlan: 10 }, winch, renamed, access('SW1', 'p1', 20)],
  [{ kind: 'ownVlan', who: '@hosts' }, bundled(), renamed, access('S2', 'p1', 5)],
  [
    { kind: 'trunk', a: 'SW1', b: 'SW2', vlans: '10, 20' },
    winch,
    trunk('SW1', 'u1', { allowed: 'all' }),
    trunk('SW1', 'u1', { allowed: [10] }),
  ],
  [
    { kind: 'trunk', a: 'SW1', b: 'SW2', vlans: '10,20', op: 'exactly' },
    winch,
    renamed,
    both(trunk('SW1', 'u1', { allowed: 'all' }), trunk('SW2', 'u2', { allowed: 'all' })),
  ],
  [
    { kind: 'nativeVlan', a: 'SW1', b: 'SW2' },
    changed(
      winch,
      trunk('SW1', 'u1', { allowed: 'all', native: 99 }),
      trunk('SW2', 'u2', { allowed: 'all', native: 99 }),
    ),
    both(trunk('SW1', 'u1', { allowed: 'all', native: 98 }), trunk('SW2', 'u2', { allowed: 'all', native: 98 })),
    trunk('SW1', 'u1', { allowed: 'all', native: 98 }),
  ],
  [
    { kind: 'bundle', a: 'S1', b: 'S2' },
    bundled(),
    settings('S2', { bundles: { b1: { members: ['u1', 'u2'], protocol: 'passive' } } }),
    settings('S2', { bundles: {} }),
  ],
  [
    { kind: 'treeRoot', who: 'S1' },
    bundled(),
    settings('S1', { spanningTree: { priority: 8192 } }),
    settings('S2', { spanningTree: { priority: 0 } }),
  ],
  [
    { kind: 'hostPorts', who: 'A', what: 'security' },
    changed(
      bundled(),
      device('S1', (each) => void (each.ports = { p1: { security } })),
    ),
    device('S1', (each) => void (each.ports = { p1: { security: { maxMacs: 2 } } })),
    device('S1', (each) => void (each.ports = { p2: { security } })),
  ],
  [
    { kind: 'hostPorts', who: 'A', what: 'bpduGuard' },
    changed(
      bundled(),
      device('S1', (each) => void (each.ports = { p1: { stp: { bpduGuard: true } } })),
    ),
    renamed,
    device('S1', (each) => void (each.ports = { p1: { stp: { rootGuard: true } } })),
  ],
  [
    { kind: 'unusedOff', who: 'S1' },
    changed(bundled(), unused({ enabled: false })),
    unused({ role: { kind: 'switched', mode: 'access', accessVlan: 999 } }),
    device('S1', (each) => void delete each.ports!.p7),
  ],
  [
    { kind: 'route', who: 'RT', to: '0.0.0.0/0' },
    winch,
    settings('RT', { routes: [{ prefix: '0.0.0.0/0', via: '198.51.100.1', distance: 5 }] }),
    settings('RT', { routes: [{ prefix: '0.0.0.0/1', via: '198.51.100.1' }] }),
  ],
  [
    { kind: 'route', who: 'RTV', to: '10.84.9.0/26', source: 'ospf' },
    dual,
    renamed,
    both(settings('RTV', { routes: [{ prefix: '10.84.9.0/26', via: '10.84.15.10' }] })),
  ],
  [
    { kind: 'mostRoutes', who: 'RTV', n: 0 },
    dual,
    renamed,
    settings('RTV', { routes: [{ prefix: '10.99.0.0/16', via: '10.84.15.2' }] }),
  ],
  [
    { kind: 'adjacency', a: 'RTV', b: 'RTM' },
    dual,
    settings('RTV', { ospf: { routerId: '9.9.9.9', networks: [{ prefix: '10.84.15.0/24', area: 0 }] } }),
    device('RTV', (each) => void (each.interfaces!['b1.f0']!.ospf = { passive: true })),
  ],
  [
    { kind: 'adjacency', a: 'RTV', b: 'RTM', area: 0, family: '4' },
    dual,
    settings('RTV', { ospf: { routerId: '9.9.9.9', networks: [{ prefix: '10.84.15.0/24', area: 0 }] } }),
    (topology) => {
      for (const id of ['RTV', 'RTM', 'RTS'])
        topology.devices[id]!.settings!.ospf!.networks = [{ prefix: '10.84.0.0/16', area: 7 }];
    },
  ],
  [
    { kind: 'routerId', who: 'RTV' },
    dual,
    settings('RTV', { ospf: { routerId: '9.9.9.9', networks: [{ prefix: '10.84.15.0/24', area: 0 }] } }),
    settings('RTS', { ospf6: { routerId: '10.84.0.1' } }),
  ],
  [
    { kind: 'quietToHosts', who: 'RTV' },
    dual,
    settings('RTV', { ospf: { networks: [{ prefix: '10.84.15.0/24', area: 0 }] } }),
    device('RTV', (each) => void (each.interfaces!.g1!.ospf = {})),
  ],
  [
    { kind: 'virtualGateway', who: 'A', routers: '@network' },
    shared(),
    device('R1', (each) => void (each.interfaces!.g0!.vrrp![0]!.priority = 90)),
    device('R2', (each) => void delete each.interfaces!.g0!.vrrp),
  ],
  [
    { kind: 'virtualGateway', who: 'A', routers: '@network', family: '6' },
    sharedIn6(),
    device('R1', (each) => void (each.interfaces!.g0!.vrrp![0]!.priority = 90)),
    settings('A', { gateway6: 'fd5e:7a3c:90b1:1::2' }),
  ],
  [
    { kind: 'translated', from: 'OFFICE-1', to: 'NEWS' },
    winch,
    renamed,
    (topology) => {
      topology.devices.RT!.settings!.nat = [];
      topology.devices.PROV!.settings = { routes: [{ prefix: '10.0.0.0/8', via: '198.51.100.2' }] };
      delete topology.devices.RT!.interfaces!.g0!.filterOut4;
    },
  ],
  [
    { kind: 'filterSize', who: 'RT', n: 3 },
    winch,
    device(
      'RT',
      (each) =>
        void (each.settings!.filters!.UNUSED = {
          family: 4,
          rules: Array.from({ length: 9 }, () => each.settings!.filters!.GUESTS!.rules[0]!),
        }),
    ),
    device('RT', (each) => void each.settings!.filters!.GUESTS!.rules.push(each.settings!.filters!.GUESTS!.rules[2]!)),
  ],
  [
    { kind: 'lease', who: 'GUEST-1' },
    winch,
    renamed,
    device('GUEST-1', (each) => void (each.interfaces!.e0!.v4 = { addresses: ['10.84.30.100/24'] })),
  ],
  [
    { kind: 'lease', who: 'GUEST-1', family: '4', from: 'RT', tells: 'router' },
    winch,
    renamed,
    device('RT', (each) => void delete each.settings!.dhcpPools![0]!.router),
  ],
  [
    { kind: 'poolCovers', who: 'GUEST-1', n: 100 },
    winch,
    device('RT', (each) => void (each.settings!.dhcpPools![0] = { network: '10.84.30.0/24', router: '10.84.30.1' })),
    device(
      'RT',
      (each) => void (each.settings!.dhcpPools![0]!.exclusions = [{ from: '10.84.30.120', to: '10.84.30.180' }]),
    ),
  ],
  [
    { kind: 'resolves', who: 'OFFICE-1', name: 'news.example', page: 'http' },
    changed(winch, page),
    renamed,
    settings('NEWS', {
      services: { web: { enabled: false }, dns: { enabled: true } },
      dnsRecords: [{ name: 'news.example', type: 'A', value: '203.0.113.10' }],
    }),
  ],
  [
    { kind: 'call', from: 'P1', to: 'P2' },
    phones(),
    settings('P2', { telephony: { extension: '777', callServer: '10.84.1.5' } }),
    settings('P2', { telephony: { extension: '102', callServer: '10.84.1.6' } }),
  ],
  [
    { kind: 'remote', who: 'RT', by: 'ssh', state: 'on' },
    changed(winch, settings('RT', { management: { ssh: true, users: [{ name: 'ops', password: 'x' }] } })),
    settings('RT', { management: { ssh: true, telnet: true, users: [{ name: 'admin', password: 'other' }] } }),
    settings('RT', { management: { ssh: true } }),
  ],
  [
    { kind: 'remote', who: 'RT', by: 'telnet', state: 'off' },
    changed(winch, settings('RT', { management: { ssh: true } })),
    settings('RT', { management: { ssh: false, telnet: false } }),
    settings('RT', { management: { ssh: true, telnet: true } }),
  ],
  [
    { kind: 'signsIn', from: 'CTRL-1', to: 'RT', by: 'ssh' },
    changed(winch, settings('RT', { management: { ssh: true, users: [{ name: 'ops', password: 'x' }] } })),
    renamed,
    settings('RT', { management: { telnet: true, users: [{ name: 'ops', password: 'x' }] } }),
  ],
  [
    { kind: 'noProblems', what: ['duplex'] },
    bundled(),
    device('A', (each) => void (each.name = 'B')),
    device('S1', (each) => void (each.ports = { p1: { speed: 100, duplex: 'full' } })),
  ],
  [
    { kind: 'masksAgree', who: 'WINCH-1' },
    winch,
    both(
      renamed,
      // What is wrong at another one is not wrong here.
      device('WINCH-2', (each) => void (each.interfaces!.e0!.v4 = { addresses: ['10.84.10.3/24'] })),
    ),
    device('WINCH-1', (each) => void (each.interfaces!.e0!.v4 = { addresses: ['10.84.10.2/24'] })),
  ],
  [
    { kind: 'masksAgree', who: 'RT' },
    winch,
    renamed,
    device('RT', (each) => void (each.interfaces!['g1.10']!.v4 = { addresses: ['10.84.10.1/27'] })),
  ],
  [
    { kind: 'namePattern', who: 'WINCH-1', pattern: 'WINCH-#' },
    winch,
    device('WINCH-1', (each) => void (each.name = 'winch-017')),
    device('WINCH-1', (each) => void (each.name = 'WINCH-A')),
  ],
  [
    { kind: 'networkCount', what: 'subnets', op: 'exactly', n: 3 },
    dual,
    renamed,
    device('TILL-1', (each) => void (each.interfaces!.e0!.v4 = { addresses: ['10.99.0.5/24'] })),
  ],
  [
    { kind: 'shape', who: 'RTV', shape: 'ring' },
    changed(dual, (topology) => {
      for (const id of ['SWV', 'SWM', 'SWS']) {
        for (const [key, link] of Object.entries(topology.links))
          if (link.a.device === id || link.b.device === id) delete topology.links[key];
      }
    }),
    renamed,
    (topology) => {
      const [key] = Object.entries(topology.links).find(
        ([, { a, b }]) => [a.device, b.device].sort().join() === 'RTM,RTS',
      )!;
      delete topology.links[key];
    },
  ],
  [
    { kind: 'parallel', a: 'S1', b: 'S2', n: 2 },
    bundled(),
    nothing,
    (topology) => void delete topology.links['S1-u2-S2-u2'],
  ],
  [
    { kind: 'cableLength', a: 'S1', b: 'A', most: 90 },
    bundled(),
    (topology) => void (topology.links['S1-p1-A-e0']!.lengthM = 89),
    (topology) => void (topology.links['S1-p1-A-e0']!.lengthM = 91),
  ],
  [
    { kind: 'inRange', who: 'WINCH-1', range: '10.84.10.2-10.84.10.5' },
    winch,
    device('WINCH-1', (each) => void (each.interfaces!.e0!.v4 = { addresses: ['10.84.10.4/28'] })),
    device('WINCH-1', (each) => void (each.interfaces!.e0!.v4 = { addresses: ['10.84.10.6/28'] })),
  ],
  [
    { kind: 'familyPresent', who: 'SHOP', family: '6' },
    dual,
    device('SHOP', (each) => void (each.interfaces!.e0!.v6 = { slaac: true })),
    device('SHOP', (each) => void (each.interfaces!.e0!.v6 = { addresses: ['fe80::40/64'] })),
  ],
  [
    { kind: 'hops', from: 'DESK-1', to: 'WEATHER', n: 3 },
    dual,
    renamed,
    (topology) => {
      const [key] = Object.entries(topology.links).find(
        ([, { a, b }]) => [a.device, b.device].sort().join() === 'RTS,RTV',
      )!;
      delete topology.links[key];
      topology.devices.RTV!.interfaces!['b1.f0']!.ospf = { passive: true };
      topology.devices.RTV!.interfaces!['b1.f0']!.ospf6 = { passive: true };
    },
  ],
  [
    { kind: 'survives', from: 'DESK-1', to: 'WEATHER', what: 'link', of: 'routers' },
    dual,
    renamed,
    device('RTV', (each) => void (each.interfaces!['b2.f0']!.ospf = { passive: true })),
  ],
  [
    { kind: 'pathThrough', from: 'DESK-1', to: 'SHOP', via: 'RTV', way: 'avoid', family: '4' },
    dual,
    renamed,
    device('DESK-1', (each) => void (each.interfaces!.e0!.v4 = { addresses: ['10.84.1.11/28'] })),
  ],
  [
    { kind: 'reach', from: 'OFFICE-1', to: 'NEWS', service: 'tcp 80' },
    changed(winch, page),
    renamed,
    settings('NEWS', { services: { web: { enabled: true, port: 8080 } } }),
  ],
  [
    { kind: 'apart', from: 'GUEST-1', to: 'OFFICE-1', service: 'tcp 80' },
    winch,
    renamed,
    device(
      'RT',
      (each) =>
        void each.settings!.filters!.GUESTS!.rules.unshift({
          action: 'permit',
          proto: 'tcp',
          src: { kind: 'any' },
          dst: { kind: 'any' },
          dstPorts: { op: 'eq', from: 80 },
        }),
    ),
  ],
  [
    { kind: 'wireless', who: 'AP', security: 'wpa2' },
    new Sheet().device(
      'AP',
      'access-point',
      {},
      { settings: { ssids: [{ ssid: 'Ridge', security: 'wpa2', key: 'twelve letters' }] } },
    ).topology,
    settings('AP', { ssids: [{ ssid: 'Kamm', security: 'wpa3', key: 'twelve letters' }] }),
    settings('AP', { ssids: [{ ssid: 'Ridge', security: 'open' }] }),
  ],
  [
    { kind: 'blockedPort', who: 'S3', to: 'S2' },
    ring(),
    both(
      renamed,
      settings('S2', { spanningTree: { priority: 12288 } }),
      settings('S3', { spanningTree: { priority: 16384 } }),
    ),
    both(settings('S2', { spanningTree: { priority: 12288 } }), settings('S3', { spanningTree: { priority: 8192 } })),
  ],
  [
    { kind: 'filterPlace', from: 'GUEST-1', to: 'OFFICE-1', near: 'source', family: '4' },
    winch,
    renamed,
    device('RT', ({ interfaces }) => {
      const [guests, office] = Object.values(interfaces!).filter(({ v4 }) =>
        v4?.addresses?.some((text) => /^10\.84\.(30|40)\./.test(text)),
      ) as [NonNullable<Device['interfaces']>[string], NonNullable<Device['interfaces']>[string]];
      delete guests.filterIn4;
      delete office.filterIn4;
    }),
  ],
  [
    { kind: 'interfaceKind', who: 'RT', on: 'sub' },
    winch,
    renamed,
    device('RT', ({ interfaces }) => {
      for (const each of Object.values(interfaces!)) if (each.on.kind === 'sub') delete each.v4;
    }),
  ],
  [
    { kind: 'pairing', a: 'S1', b: 'S2' },
    ring(),
    nothing,
    ({ links }) => void (links['S1-u1-S2-u1']!.medium = 'straight'),
  ],
  [
    { kind: 'portUsed', who: 'S1', to: 'S2', port: 'u#' },
    ring(),
    ({ links }) => void (links['S1-u1-S2-u1']!.a.port = 'u3'),
    ({ links }) => void (links['S1-u1-S2-u1']!.a.port = 'p9'),
  ],
  [
    { kind: 'labelAgrees', who: 'SWV1' },
    stations,
    device('SWV1', ({ ports }) => void (ports!.p1!.label = 'P1 to DESK-1')),
    device('SWV1', ({ ports }) => void (ports!.p1!.label = 'p11')),
  ],
  [
    { kind: 'fedByCable', who: 'CAM' },
    fed(),
    ({ links }) => void (links['S-p1-CAM-e0']!.a.port = 'p7'),
    device('CAM', (each) => void (each.powered = true)),
  ],
  [
    { kind: 'gatewayIs', who: 'DESK-1', address: '10.84.1.1' },
    stations,
    renamed,
    settings('DESK-1', { gateway4: '10.84.1.2' }),
  ],
  [
    { kind: 'gatewayIs', who: 'SHOP', address: 'link-local' },
    changed(dual, settings('SHOP', { gateway6: 'fe80::1' })),
    settings('SHOP', { gateway6: 'fe80::9' }),
    settings('SHOP', { gateway6: 'fd5e:7a3c:90b1:1::1' }),
  ],
  [
    { kind: 'outsidePools', who: 'CAM', family: '4' },
    changed(fed(), pools(low)),
    both(pools([{ from: '10.84.1.20', to: '10.84.1.20' }]), renamed),
    pools([{ from: '10.84.1.1', to: '10.84.1.9' }]),
  ],
  [
    { kind: 'poolCovers', who: 'PC', n: 100, family: '4' },
    changed(fed(), pools(low)),
    pools(),
    pools([{ from: '10.84.1.1', to: '10.84.1.200' }]),
  ],
  [
    { kind: 'noted', who: 'R', text: '*leases*' },
    changed(fed(), noted('Gives leases.')),
    noted('All LEASES come\nfrom here'),
    noted('Here'),
  ],
  [
    { kind: 'linksNamed', a: 'R', b: 'S' },
    changed(fed(), ({ links }) => void (links['R-g0-S-u1']!.label = 'Trunk')),
    ({ links }) => void (links['R-g0-S-u1']!.label = 'To the switch'),
    ({ links }) => void (links['R-g0-S-u1']!.label = ' '),
  ],
  [
    { kind: 'tableStands', groups: ['CAM'] },
    changed(
      fed(),
      access('S', 'p1', 10),
      access('S', 'u1', 10),
      (topology) => void (topology.legend = 'VLAN 10: 10.84.1.0/24'),
    ),
    (topology) => {
      delete topology.legend;
      topology.notes = { n: { text: 'Cameras | 10.84.1.0/24 | 10', at: { x: 0, y: 0 } } };
    },
    (topology) => void (topology.legend = 'VLAN 20: 10.84.1.0/24'),
  ],
  [
    { kind: 'probe', at: 'SW3', vlan: 30, does: 'lease', block: '10.84.30.0/24' },
    changed(winch, access('SW3', 'p9', 30)),
    both(renamed, access('SW3', 'p10', 30)),
    device('RT', (each) => void (each.settings!.dhcpPools = [{ network: '10.84.40.0/24', router: '10.84.40.1' }])),
  ],
  [
    { kind: 'probe', at: 'SW3', port: 'p1', does: 'apart', to: 'WINCH-1' },
    winch,
    renamed,
    both(access('SW3', 'p1', 10), trunk('SW3', 'u1', { allowed: 'all' }), trunk('SW2', 'u3', { allowed: 'all' })),
  ],
  [
    // An address that the laptop makes itself is given as well (RFC 4862).
    { kind: 'probe', at: 'SWV', port: 'p9', does: 'lease', family: '6', block: 'fd5e:7a3c:90b1:1::/64' },
    dual,
    renamed,
    device('RTV', (each) => void (each.interfaces!.g1!.v6!.ra = { send: false })),
  ],
  [{ kind: 'probe', at: 'S', does: 'reach', to: 'CAM' }, fed(), pools(), access('S', 'p9', 20)],
  [
    { kind: 'probe', at: 'S', port: 'p9', does: 'refused' },
    changed(
      fed(),
      device('S', (each) => void (each.ports = { p9: { enabled: false } })),
    ),
    both(
      device('S', (each) => void (each.ports = {})),
      access('S', 'p9', 999),
    ),
    device('S', (each) => void (each.ports = { p9: { label: 'p9' } })),
  ],
  [
    { kind: 'probe', at: 'AP', radio: 'Ridge', does: 'lease' },
    withRadio(),
    settings('AP', { ssids: [{ ssid: 'Ridge', security: 'wpa3', key: 'other letters' }] }),
    settings('AP', { ssids: [{ ssid: 'Rigde', security: 'wpa2', key: 'twelve letters' }] }),
  ],
  [
    { kind: 'wireless', who: 'AP', security: 'wpa2', vlan: 30, joined: 'TB' },
    joining(),
    device('AP', (each) => void (each.settings!.ssids![0]!.ssid = each.settings!.ssids![0]!.ssid.trim())),
    settings('AP', { ssids: [{ ssid: 'Ridge', security: 'wpa2', key: 'twelve letters', vlan: 20 }] }),
  ],
  [
    { kind: 'wireless', who: 'AP', security: 'open', joined: 'TB' },
    joining(),
    renamed,
    device(
      'TB',
      (each) => void (each.ports = { w0: { radio: { ssid: 'Rigde', security: 'wpa2', key: 'twelve letters' } } }),
    ),
  ],
  [
    { kind: 'voiceVlan', who: 'CAM', vlan: 30 },
    changed(
      fed(),
      device(
        'S',
        (each) =>
          void (each.ports = { p1: { role: { kind: 'switched', mode: 'access', accessVlan: 10, voiceVlan: 30 } } }),
      ),
    ),
    // The data beside it may be of any VLAN.
    device(
      'S',
      (each) =>
        void (each.ports = { p1: { role: { kind: 'switched', mode: 'access', accessVlan: 20, voiceVlan: 30 } } }),
    ),
    device('S', (each) => void (each.ports = { p1: { role: { kind: 'switched', mode: 'access', accessVlan: 30 } } })),
  ],
  [
    { kind: 'asGiven', what: 'addresses', who: '@hosts' },
    stations,
    both(
      renamed,
      device('DESK-1', (each) => void (each.interfaces!.e0!.v4!.addresses = ['10.84.1.11 /26 '.replace(' /', '/')])),
    ),
    device('DESK-1', (each) => void (each.interfaces!.e0!.v4!.addresses = ['10.84.1.15/26'])),
  ],
  [
    { kind: 'asGiven', what: 'addresses', who: 'DESK-1' },
    stations,
    settings('DESK-2', { gateway4: '10.84.1.9' }),
    device('DESK-1', (each) => void each.interfaces!.e0!.v4!.addresses!.push('10.84.1.16/26')),
  ],
  [
    { kind: 'asGiven', what: 'cables', who: 'S' },
    fed(),
    ({ links }) => {
      // Drawn from the other end it is the same cable.
      const link = links['R-g0-S-u1']!;
      [link.a, link.b] = [link.b, link.a];
    },
    ({ links }) => void (links['S-p1-CAM-e0']!.medium = 'crossover'),
  ],
  [
    { kind: 'asGiven', what: 'ports', who: 'S', beyond: 'free' },
    fed(),
    (topology) => {
      topology.links['S-p1-CAM-e0']!.medium = 'crossover';
      topology.devices.more = { ...topology.devices.PC!, name: 'More', model: 'printer' };
      topology.links.more = { a: { device: 'S', port: 'p9' }, b: { device: 'more', port: 'e0' }, medium: 'straight' };
    },
    ({ links }) => void (links['S-p1-CAM-e0']!.a.port = 'p8'),
  ],
  [
    { kind: 'asGiven', what: 'vlans', who: '@network' },
    changed(fed(), access('S', 'p1', 10), settings('S', { vlans: { 10: 'Cameras' } })),
    both(settings('S', { vlans: { 10: 'cameras' } }), access('S', 'p5', 1), renamed),
    access('S', 'p5', 20),
  ],
  [
    { kind: 'networksReach' },
    stations,
    both(renamed, ({ devices }) => {
      devices.alone = { ...devices['DESK-1']!, name: 'Alone' };
    }),
    settings('RTM', { routes: [] }),
  ],
  [
    { kind: 'forEach', who: '@networks', rule: { kind: 'oneSubnet', who: '@each', family: '4' } },
    stations,
    renamed,
    device('DESK-1', (each) => void (each.interfaces!.e0!.v4!.addresses = ['10.84.9.15/27'])),
  ],
  [
    { kind: 'legible', who: '@all' },
    stations,
    renamed,
    device('DESK-1', (each) => void (each.at = { ...stations.devices['DESK-2']!.at })),
  ],
];

describe('each kind', () => {
  test.each(KINDS)(
    '%j is met by what is right though another, and lost by what is wrong though alike',
    (rule, reference, right, wrong) => {
      const judge = (drawing: Topology) => checkSubmission(labOf([rule], reference, 'all'), drawing).requirements[0]!;
      const whole = judge(reference);
      expect([whole.verdict, whole.items.filter(({ met }) => met !== true).map(({ text }) => text)]).toEqual([
        'met',
        [],
      ]);
      const other = judge(changed(reference, right));
      expect([other.verdict, other.items.filter(({ met }) => met !== true).map(({ text }) => text)]).toEqual([
        'met',
        [],
      ]);
      const drawn = changed(reference, wrong);
      const lost = judge(drawn);
      expect(lost.verdict).toBe('lost');
      // A mistake in what is judged never changes who is judged.
      const { matching } = checkSubmission(labOf([rule], reference, 'all'), drawn);
      const kept = matching.filter(({ role }) => Object.hasOwn(drawn.devices, role.split('/')[0]!));
      expect(kept.filter(({ role, device }) => device !== role)).toEqual([]);
      for (const { text, met } of lost.items) {
        expect(text).toMatch(/^\S.*\.$/s);
        expect(met === true || text.length > 8).toBe(true);
      }
      expect(lost.sentence).toMatch(/^\S.*\.$/s);
    },
  );
  test('kinds are offered once each, in the order of their families', () => {
    expect(new Set(RULE_KINDS.map(({ kind }) => kind)).size).toBe(RULE_KINDS.length);
    for (const { kind } of RULE_KINDS) expect(ruleKind(kind)!.title).toMatch(/^[A-Z]/);
  });
});

test.each([
  ['WINCH-17', 'winch-#', true],
  ['WINCH-', 'WINCH-#', false],
  ['SW-V2', 'SW-?#', true],
  ['SW-V2b', 'SW-?#', false],
  ['anything at all', '*', true],
  ['aXbXc', 'a*b*c', true],
  ['a'.repeat(200), `${'a*'.repeat(39)}b`, false],
])('%s is like %s: %s', (text, pattern, wanted) => expect(isLike(text, pattern)).toBe(wanted));

test('what is drawn costs no more than is allowed, by the prices of the kit', () => {
  const lab = (kit: object) => ({
    ...labOf([{ kind: 'kitCost', most: 1000 }], stations, 'all'),
    policy: { kit: kit as Record<string, { cost?: number }> },
  });
  const drawing = new Sheet().device('S', 'access-switch-12').device('A', 'desktop').device('B', 'desktop').topology;
  const judge = (kit: object, topology = drawing) => {
    const { verdict, items } = checkSubmission(lab(kit), topology).requirements[0]!;
    return [verdict, items[0]!.text];
  };
  const dear = { 'access-switch-12': { cost: 200.5 }, desktop: { cost: 399.75 } };
  expect(judge(dear)).toEqual(['met', 'What is drawn costs 1000, at most 1000 is allowed.']);
  expect(judge({ ...dear, desktop: { cost: 400 } })[0]).toBe('lost');
  expect(judge({ desktop: { cost: 1 } })).toEqual(['unjudged', 'The kit says no price of Access switch 12 + 4.']);
  expect(judge(dear, new Sheet().topology)[0]).toBe('lost');
});

test('what came with the starter is to be left as it was, wherever it stands', () => {
  const starter = fed();
  const judge = (deduction: boolean, ...changes: Change[]) => {
    const lab = { ...labOf([{ kind: 'starterKept' }], stations, 'all'), starter };
    lab.spec.sections[0]!.requirements[0]!.deduction = deduction;
    const { verdict, points, items } = checkSubmission(lab, changed(starter, ...changes)).requirements[0]!;
    return [verdict, points, items.filter(({ met }) => met === false).map(({ text }) => text)];
  };
  const moved = device('PC', (each) => void (each.at = { x: 400, y: 90 }));
  const more: Change = ({ devices }) => void (devices.more = { ...devices.PC!, name: 'More' });
  // It came with the starter: keeping it earns nothing, breaking it costs.
  expect(judge(false, moved, more)).toEqual(['notApplying', 0, []]);
  expect(judge(true, moved, more)).toEqual(['met', 0, []]);
  expect(judge(true, renamed)).toEqual(['lost', -2, expect.arrayContaining(['R was changed.']) as string[]]);
  expect(
    judge(false, ({ devices, links }) => {
      delete devices.PC;
      delete links['S-p2-PC-e0'];
    }),
  ).toEqual(['lost', 0, ['PC is gone.', 'A link of the starter is gone.']]);
});

test('what a person is to see waits for them, and no drawing shows it', () => {
  const judge = (topology: Topology) =>
    checkSubmission(labOf([{ kind: 'signedOff', what: 'the page of the shop opens' }], stations, 'all'), topology)
      .requirements[0]!;
  for (const drawing of [stations, new Sheet().topology])
    expect(judge(drawing)).toMatchObject({
      verdict: 'unjudged',
      points: 0,
      sentence: 'A person has seen that the page of the shop opens.',
    });
});

test('without a reference each local network is one of the drawing, and hosts of different ones reach one another', () => {
  const lans = twoLans();
  const judge = (rule: Rule, drawing: Topology) =>
    checkSubmission(labOf([rule], emptyTopology(), 'all'), drawing).requirements[0]!;
  const each: Rule = { kind: 'forEach', who: '@networks', rule: { kind: 'oneSubnet', who: '@each', family: '4' } };
  expect(judge(each, lans).items.map(({ met }) => met)).toEqual([true, true]);
  expect(judge(each, emptyTopology()).verdict).toBe('lost');
  const reach: Rule = { kind: 'networksReach', family: '4' };
  expect(judge(reach, lans).verdict).toBe('met');
  const cut = changed(lans, settings('B', { gateway4: '10.84.2.99' }));
  expect(judge(reach, cut).verdict).toBe('lost');
  const one = changed(lans, ({ devices, links }) => {
    delete devices.B;
    for (const [id, { a, b }] of Object.entries(links)) if ([a, b].some((end) => end.device === 'B')) delete links[id];
  });
  expect(judge(reach, one)).toMatchObject({
    verdict: 'lost',
    items: [{ text: 'There are fewer than two local networks with hosts.' }],
  });
  // One that nobody cabled is on no network: it reaches nobody.
  const loose = changed(lans, ({ devices }) => void (devices.C = { ...devices.B!, name: 'C' }));
  expect(judge(reach, loose).verdict).toBe('lost');
});

test('only what the kit has, and no more of it than it has', () => {
  const lab = {
    ...labOf([{ kind: 'kitOnly' }], stations, 'all'),
    policy: { kit: { 'access-switch-12': { most: 1 }, desktop: {} } },
  };
  const drawing = new Sheet().device('S', 'access-switch-12').device('A', 'desktop').device('B', 'desktop').topology;
  const judge = (topology: Topology) => checkSubmission(lab, topology).requirements[0]!;
  expect(judge(drawing).verdict).toBe('met');
  expect(
    judge(changed(drawing, (topology) => void (topology.devices.T = topology.devices.S!))).items.map(
      ({ text }) => text,
    ),
  ).toContain('2 of Access switch 12 + 4: the kit has 1.');
  expect(
    judge(
      changed(
        drawing,
        device('A', (each) => void (each.model = 'laptop')),
      ),
    ).verdict,
  ).toBe('lost');
});

test('words that people look for kinds by are of kinds that there are', () => {
  const kinds = new Set(RULE_KINDS.map(({ kind }) => kind));
  expect(SEARCHED.filter((kind) => !kinds.has(kind))).toEqual([]);
  expect([searchWords('translated').includes('nat'), searchWords('constructor')]).toEqual([true, '']);
});

const counting = RULE_KINDS.flatMap((kind) => {
  const [name] = Object.entries(kind.slots).find(([, { type }]) => type === 'number') ?? [];
  return name === undefined ? [] : [[kind.kind, kind, name] as const];
});
test.each(counting)('one is said of one: %s', (_name, kind, slot) => {
  const names: Names = {
    ref: (ref) => ref,
    site: (id) => id,
    group: (id) => id,
    task: (id) => id,
    secret: (full) => full,
  };
  const said = (n: number): string => sentenceOf(kind.words({ ...(kind.fresh as object), [slot]: n }, names));
  expect(said(1)).not.toMatch(/\b1 (?!is\b)[a-z]+(?<!s)s\b|\bthere are (?:exactly|at (?:least|most)) 1\b/i);
  expect(said(2)).toContain('2');
});
