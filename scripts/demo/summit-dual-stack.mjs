// Both families over the pylons: OSPF in both versions, addresses that hosts make themselves, a longer way that stands by.
import { cable, host, netSwitch, sheet } from './draw.mjs';

export const slug = 'summit-dual-stack';

const reference = sheet('Summit Dual Stack', 'Maren Osterkamp', 'Between the routers IPv6 has addresses of the link only. Hosts make theirs of what their router advertises; servers have theirs typed. The way over the back of the ridge costs 50.');
reference.sites = { valley: { name: 'Valley Station', kind: 'lan' }, middle: { name: 'Middle Station', kind: 'lan' }, summit: { name: 'Summit Station', kind: 'lan' } };
const AREA = 0;
const pylon = (port, address, cost) => ({
  [port.replace('/', '.')]: {
    on: { kind: 'port', port }, v4: { addresses: [address] }, v6: { enabled: true },
    ospf: { ...(cost && { cost }) }, ospf6: { area: AREA, ...(cost && { cost }) },
  },
});
const lanFace = (n) => ({
  g1: {
    on: { kind: 'port', port: 'g1' }, v4: { addresses: [`10.84.${n}.1/26`] }, v6: { addresses: [`fd5e:7a3c:90b1:${n}::1/64`] },
    ospf: { passive: true }, ospf6: { area: AREA, passive: true },
  },
});
const BACK = 50;
/** Each station: its router with the addresses of its pylons, and its hosts; a server has a typed IPv6 address. */
const STATIONS = [
  { id: 'RTV', name: 'RT-V', site: 'valley', n: 1, x: 40, pylons: { ...pylon('b1/f0', '10.84.15.1/30'), ...pylon('b2/f0', '10.84.15.9/30', BACK) }, hosts: [['DESK-1', 'desktop', 11], ['DESK-2', 'desktop', 12], ['SHOP', 'server', 40]] },
  { id: 'RTM', name: 'RT-M', site: 'middle', n: 4, x: 420, pylons: { ...pylon('b1/f0', '10.84.15.2/30'), ...pylon('b2/f0', '10.84.15.5/30') }, hosts: [['OFFICE-1', 'desktop', 11], ['OFFICE-2', 'laptop', 12]] },
  { id: 'RTS', name: 'RT-S', site: 'summit', n: 9, x: 760, pylons: { ...pylon('b1/f0', '10.84.15.6/30'), ...pylon('b2/f0', '10.84.15.10/30', BACK) }, hosts: [['TILL-1', 'till', 11], ['TILL-2', 'till', 12], ['RESCUE', 'laptop', 20], ['WEATHER', 'server', 40]] },
];
const STEP = 66;
for (const { id, name, site, n, x, pylons, hosts } of STATIONS) {
  const routerId = `10.84.0.${n}`;
  reference.devices[id] = {
    name, model: 'modular-router', site, at: { x: x + 60, y: 100 }, modules: { b1: 'fibre-sm', b2: 'fibre-sm' },
    interfaces: { ...pylons, ...lanFace(n) },
    settings: { hostname: name, ospf: { routerId, networks: [{ prefix: '10.84.0.0/16', area: AREA }] }, ospf6: { routerId } },
  };
  const sw = id.replace('RT', 'SW');
  reference.devices[sw] = netSwitch(name.replace('RT', 'SW'), 'access-switch-12', site, x + 50, 240);
  cable(reference, `up-${sw}`, `${id} g1`, `${sw} u1`, 'straight', { cableId: `KR-4${n}0` });
  for (const [at, [name_, model, last]] of hosts.entries()) {
    const added = host(name_, model, site, x + 10 + at * STEP, 390, `10.84.${n}.${last}/26`, `10.84.${n}.1`);
    const isServer = model === 'server';
    added.interfaces.e0.v6 = isServer ? { addresses: [`fd5e:7a3c:90b1:${n}::${last}/64`] } : { slaac: true };
    if (isServer) added.settings.gateway6 = `fd5e:7a3c:90b1:${n}::1`;
    reference.devices[name_] = added;
    cable(reference, `${sw}-${at + 1}`, `${sw} p${at + 1}`, `${name_} e0`, 'straight', { cableId: `KR-4${n}${at + 1}` });
  }
}
cable(reference, 'pylon1', 'RTV b1/f0', 'RTM b1/f0', 'sm-fibre', { lengthM: 2100, cableId: 'KR-400' });
cable(reference, 'pylon2', 'RTM b2/f0', 'RTS b1/f0', 'sm-fibre', { lengthM: 1800, cableId: 'KR-401' });
cable(reference, 'ridge', 'RTV b2/f0', 'RTS b2/f0', 'sm-fibre', { lengthM: 5200, cableId: 'KR-402', bends: [{ x: 176, y: 40 }, { x: 900, y: 40 }] });

const hostsOf = (site) => STATIONS.find((station) => station.site === site).hosts.map(([name]) => name);
const ALL_HOSTS = STATIONS.flatMap((station) => station.hosts.map(([name]) => name));
const LANS = STATIONS.map(({ site, n }) => ({ id: `${site}-hosts`, site, n, title: `the hosts of ${reference.sites[site].name}` }));
const requirement = (id, points, rule, more = {}) => ({ id, points, credit: 'share', rule, ...more });
const spec = {
  groups: {
    routers: { title: 'the routers', roles: STATIONS.map((station) => station.id) },
    switches: { title: 'the switches', roles: STATIONS.map((station) => station.id.replace('RT', 'SW')) },
    core: { title: 'routers and switches', roles: STATIONS.flatMap((station) => [station.id, station.id.replace('RT', 'SW')]) },
    ...Object.fromEntries(LANS.map(({ id, site, title }) => [id, { title, roles: hostsOf(site) }])),
    hosts: { title: 'the hosts', roles: ALL_HOSTS },
    tills: { title: 'the tills', roles: ['TILL-1', 'TILL-2'] },
    desks: { title: 'the ticket desks', roles: ['DESK-1', 'DESK-2'] },
    office: { title: 'the office', roles: ['OFFICE-1', 'OFFICE-2'] },
  },
  sections: [
    { id: 'components', title: 'Components', requirements: [
      requirement('1.1', 2, { kind: 'rightKind', who: '@all' }),
      requirement('1.2', 1, { kind: 'deviceCount', what: 'router', op: 'exactly', n: 3, site: 'anywhere' }, { credit: 'all' }),
      requirement('1.3', 1, { kind: 'namesUnique', who: '@all' }, { credit: 'all' }),
      requirement('1.4', 1, { kind: 'hostnameIsName', who: 'core' }),
    ] },
    { id: 'cabling', title: 'Cabling', requirements: [
      requirement('2.1', 3, { kind: 'linked', a: 'routers', b: 'routers' }),
      requirement('2.2', 1, { kind: 'medium', a: 'routers', b: 'routers', media: ['sm-fibre'] }),
      requirement('2.3', 2, { kind: 'linked', a: 'switches', b: 'hosts' }),
      requirement('2.4', 2, { kind: 'linksUp', who: '@all' }),
    ] },
    { id: 'addressing', title: 'Addressing', requirements: [
      ...LANS.map(({ id, title }, at) => requirement(`3.${at + 1}`, 2, { kind: 'allOf', rules: [
        { kind: 'oneSubnet', who: id, family: '4' }, { kind: 'oneSubnet', who: id, family: '6' },
      ] }, { wording: `In each family one subnet holds ${title}.` })),
      requirement('3.4', 2, { kind: 'uniqueAddresses', who: 'hosts', family: '6' }, { credit: 'all' }),
      requirement('3.5', 1, { kind: 'uniqueAddresses', who: 'hosts', family: '4' }, { credit: 'all' }),
      requirement('3.6', 1, { kind: 'noOverlap', groups: LANS.map((lan) => lan.id) }, { credit: 'all' }),
      requirement('3.7', 1, { kind: 'familyPresent', who: 'hosts', family: '6' }),
    ] },
    ...['4', '6'].map((family) => ({ id: `ipv${family}`, title: `Connectivity over IPv${family}`, requirements: [
      requirement(`${family}.1`, 3, { kind: 'reach', from: 'tills', to: 'SHOP', family }),
      requirement(`${family}.2`, 3, { kind: 'reach', from: 'desks', to: 'WEATHER', family }),
      requirement(`${family}.3`, 2, { kind: 'reach', from: 'office', to: 'SHOP', family }),
      requirement(`${family}.4`, 2, { kind: 'reach', from: 'RESCUE', to: 'office', family }),
    ] })),
    { id: 'operation', title: 'Operation', requirements: [
      requirement('7.1', 2, { kind: 'pathThrough', from: 'tills', to: 'SHOP', via: 'RTM' }),
      requirement('7.2', 1, { kind: 'titled' }),
      requirement('7.3', 2, { kind: 'adjacency', a: 'routers', b: 'routers' }),
      requirement('7.4', 1, { kind: 'routerId', who: 'routers' }),
      requirement('7.5', 1, { kind: 'quietToHosts', who: 'routers' }),
    ] },
  ],
};

export const lab = {
  format: 'sobrin-lab', version: 9, title: 'Summit Dual Stack',
  brief: {
    scenario: 'The three stations of Kestrel Ridge speak IPv6 beside IPv4. A third fibre over the back of the ridge stands by in case a pylon fails; as long as none does, everything goes by way of the Middle Station. Nobody types an IPv6 address at a desk or a till.',
    objectives: ['Run OSPF for both families over three fibres.', 'Let hosts make their IPv6 addresses, and type those of servers.', 'Set the costs so that the long way stands by.'],
    groups: LANS.map(({ id, site, title }) => ({ id, name: title.replace(/^the /, ''), now: hostsOf(site).length, later: 40, site: reference.sites[site].name })),
    sites: [{ name: 'Valley Station', place: '840 m' }, { name: 'Middle Station', place: '1510 m' }, { name: 'Summit Station', place: '2240 m' }],
    schemes: { names: 'RT-V, RT-M, RT-S and SW-V, SW-M, SW-S for the network devices; hosts by their work and a number, such as TILL-1', addresses: 'The router has the first address of each subnet, in both families.' },
  },
  tasks: [
    { id: 't1', text: 'Draw three modular routers, at each station an access switch, and the hosts: 2 desktops of the ticket desks and the server SHOP in the valley; a desktop and a laptop of the office at the Middle Station; 2 tills, the laptop RESCUE and the server WEATHER on the summit. Network devices carry their names as hostnames, and the drawing has a title. Join the three routers over single-mode fibre: two pylons and the ridge. Each switch hangs on the router of its station.' },
    { id: 't2', text: 'Give every station one subnet in each family, out of **10.84.0.0/20** and **fd5e:7a3c:90b1::/48**, and every router an id.' },
    { id: 't3', text: 'Let routers exchange their routes by OSPF for IPv4 and for IPv6, without talking to hosts.' },
    { id: 't4', text: 'Show over both families that the tills reach the shop server by way of the Middle Station, the ticket desks the server WEATHER, the office the shop server, and RESCUE the office.' },
  ],
  plan: { blocks: {
    root: { prefix: '10.84.0.0/20', name: 'Kestrel Ridge', standing: 'decided' },
    root6: { prefix: 'fd5e:7a3c:90b1::/48', name: 'Kestrel Ridge', standing: 'decided' },
    ...Object.fromEntries(LANS.flatMap(({ id, site, n, title }) => [
      [id, { prefix: `10.84.${n}.0/26`, name: title.replace(/^the /, ''), group: id, standing: 'decided', site: reference.sites[site].name }],
      [`${id}6`, { prefix: `fd5e:7a3c:90b1:${n}::/64`, name: title.replace(/^the /, ''), group: id, standing: 'decided', site: reference.sites[site].name }],
    ])),
    ...Object.fromEntries([['pylon1', 0], ['pylon2', 4], ['ridge', 8]].map(([id, last]) => [id, { prefix: `10.84.15.${last}/30`, name: id === 'ridge' ? 'Link over the ridge' : `Link of ${id.replace('pylon', 'pylon ')}`, use: 'link', standing: 'decided' }])),
  }, addresses: Object.fromEntries(STATIONS.flatMap(({ n, hosts }) => hosts.map(([name, , last]) => [`10.84.${n}.${last}`, { name }]))) },
  reference, spec,
  policy: { bench: 'plain', attempts: 3, late: 'refused', rounding: 0.5 },
};

const FRENCH = Object.fromEntries([
  ['RT-V', 'R-Vallée'], ['RT-M', 'R-Milieu'], ['RT-S', 'R-Sommet'], ['SW-V', 'C1'], ['SW-M', 'C2'], ['SW-S', 'C3'],
  ['DESK-1', 'Guichet 1'], ['DESK-2', 'Guichet 2'], ['SHOP', 'Boutique'], ['OFFICE-1', 'Bureau 1'], ['OFFICE-2', 'Bureau 2'],
  ['TILL-1', 'Caisse 1'], ['TILL-2', 'Caisse 2'], ['RESCUE', 'Secours'], ['WEATHER', 'Météo'],
]);
const FRENCH_SITES = { 'Valley Station': 'Vallée', 'Middle Station': 'Milieu', 'Summit Station': 'Sommet' };
const face = (device, key, change) => (drawing) => change(drawing.devices[device].interfaces[key]);
const settings = (device, change) => (drawing) => change(drawing.devices[device].settings);

export const submissions = [
  { student: 'Quentin Marchal', names: FRENCH, sites: FRENCH_SITES, layout: 'mirrored' },
  { student: 'Leilani Kahale', layout: 'turned' },
  // OSPF for IPv6 in another area at the summit's ends of both ways: nobody there hears of anybody.
  { student: 'Jamila Conteh', layout: 'wide', mistakes: ['b1.f0', 'b2.f0'].map((key) => face('RTS', key, (config) => void (config.ospf6.area = 1))) },
  // Timers that were typed at one end only, on both ways to the summit.
  { student: 'Kasper Lindqvist', mistakes: ['b1.f0', 'b2.f0'].map((key) => face('RTS', key, (config) => void (config.ospf = { ...config.ospf, hello: 5, dead: 20 }))) },
  // The middle router does not pass IPv6 on, and everybody still sends it there.
  { student: 'Mateusz Gawron', names: FRENCH, sites: FRENCH_SITES, mistakes: [settings('RTM', (settings) => void (settings.forwarding = { v6: false }))] },
  // Two routers have one id: they are no neighbours of each other.
  { student: 'Nadia Qureshi', layout: 'mirrored', mistakes: [settings('RTS', (settings) => { settings.ospf.routerId = '10.84.0.4'; settings.ospf6.routerId = '10.84.0.4'; })] },
  // The summit's network was never told to the others over IPv6.
  { student: 'Pilar Echeverría', layout: 'turned', mistakes: [face('RTS', 'g1', (config) => void delete config.ospf6)] },
  // The valley's router is silent, so its desks have no IPv6 address.
  { student: 'Rosalba Ferri', layout: 'wide', mistakes: [face('RTV', 'g1', (config) => void (config.v6.ra = { send: false }))] },
  // A prefix of 80 bits: no host can make an address of it.
  { student: 'Samir Haddadin', mistakes: [face('RTM', 'g1', (config) => void (config.v6.addresses = ['fd5e:7a3c:90b1:4::1/80']))] },
  // The pylon is passive instead of the network of the hosts.
  { student: 'Tamsin Pryce', layout: 'mirrored', mistakes: [face('RTM', 'b2.f0', (config) => { config.ospf.passive = true; config.ospf6.passive = true; })] },
  // The cost of the ridge was forgotten: the long way is the short one.
  { student: 'Uchenna Eze', layout: 'turned', mistakes: ['RTV', 'RTS'].map((id) => face(id, 'b2.f0', (config) => { delete config.ospf.cost; delete config.ospf6.cost; })) },
  // The shop has the address and the way out of the summit's server.
  { student: 'Yrsa Dahlgaard', mistakes: [face('SHOP', 'e0', (config) => void (config.v6.addresses = ['fd5e:7a3c:90b1:9::40/64'])), settings('SHOP', (config) => void (config.gateway6 = 'fd5e:7a3c:90b1:9::1'))] },
];
