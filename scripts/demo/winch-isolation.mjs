// VLANs over trunks, a router on a stick, filters, translation and leases: who may command a winch, and who may not.
import { cable, host, netSwitch, router, sheet } from './draw.mjs';
import * as m from './student.mjs';

export const slug = 'winch-isolation';

const reference = sheet('Winch Isolation', 'Maren Osterkamp', 'VLAN 10 winch control, 20 control desks, 30 guests, 40 office. Guests get leases and go outside only; the winches take orders from the desks alone.');
reference.sites = {
  middle: { name: 'Middle Station', kind: 'lan' },
  outside: { name: 'North Pass', kind: 'provider' },
};
const VLANS = { 10: 'winch', 20: 'control', 30: 'guests', 40: 'office' };
const any = { kind: 'any' };
const prefix = (text) => ({ kind: 'prefix', prefix: text });
const rule = (action, src, dst, note) => ({ action, proto: 'ip', src, dst, ...(note && { note }) });
const GUEST_RULES = [
  rule('permit', any, prefix('10.84.30.1/32'), 'the gateway itself'),
  rule('deny', any, prefix('10.84.0.0/16'), 'nothing else inside'),
  rule('permit', any, any),
];
const sub = (vlan, address, more = {}) => ({ [`g1.${vlan}`]: { on: { kind: 'sub', port: 'g1', vlan }, v4: { addresses: [address] }, ...more } });
const outsideRouter = router('North Pass', 'border-router', 'outside', 40, 60, { g0: '198.51.100.1/30', g1: '203.0.113.1/24' });
reference.devices = {
  PROV: outsideRouter,
  NEWS: host('NEWS', 'server', 'outside', 90, 230, '203.0.113.10/24', '203.0.113.1'),
  RT: {
    name: 'RT-M', model: 'border-router', site: 'middle', at: { x: 560, y: 60 },
    interfaces: {
      g0: { on: { kind: 'port', port: 'g0' }, v4: { addresses: ['198.51.100.2/30'] }, natSide: 'outside', filterOut4: 'DOOR' },
      ...sub(10, '10.84.10.1/28', { filterOut4: 'WINCH' }),
      ...sub(20, '10.84.20.1/28'),
      ...sub(30, '10.84.30.1/24', { filterIn4: 'GUESTS', natSide: 'inside' }),
      ...sub(40, '10.84.40.1/26', { natSide: 'inside' }),
    },
    settings: {
      hostname: 'RT-M',
      routes: [{ prefix: '0.0.0.0/0', via: '198.51.100.1' }],
      filters: {
        WINCH: { family: 4, rules: [rule('permit', prefix('10.84.20.0/28'), any, 'the control desks')] },
        GUESTS: { family: 4, rules: GUEST_RULES },
        DOOR: { family: 4, rules: [rule('permit', prefix('10.84.30.0/24'), any, 'guests'), rule('permit', prefix('10.84.40.0/26'), any, 'office')] },
      },
      nat: [{ kind: 'overload', sources: ['10.84.30.0/24', '10.84.40.0/26'], outsideInterface: 'g0' }],
      dhcpPools: [{ network: '10.84.30.0/24', ranges: [{ from: '10.84.30.100', to: '10.84.30.199' }], router: '10.84.30.1' }],
    },
  },
};
/** Each switch with its hosts: name, model, VLAN, last part of the address; none for a lease. */
const SWITCHES = [
  { id: 'SW1', name: 'SW-M1', x: 250, hosts: [['WINCH-1', 'controller', 10, 2], ['WINCH-2', 'controller', 10, 3], ['WINCH-3', 'controller', 10, 4], ['WINCH-4', 'controller', 10, 5], ['CTRL-1', 'desktop', 20, 2]] },
  { id: 'SW2', name: 'SW-M2', x: 610, hosts: [['CTRL-2', 'desktop', 20, 3], ['OFFICE-1', 'desktop', 40, 2], ['OFFICE-2', 'desktop', 40, 3], ['PRINT', 'printer', 40, 4]] },
  { id: 'SW3', name: 'SW-M3', x: 920, hosts: [['GUEST-1', 'laptop', 30], ['GUEST-2', 'laptop', 30], ['GUEST-3', 'laptop', 30]] },
];
const LENGTHS = { 10: 28, 20: 28, 40: 26 };
const STEP = 66;
const trunk = (allowed) => ({ role: { kind: 'switched', mode: 'trunk', allowed } });
for (const { id, name, x, hosts } of SWITCHES) {
  reference.devices[id] = { ...netSwitch(name, 'access-switch-12', 'middle', x + 20, 250), settings: { hostname: name, vlans: VLANS } };
  for (const [at, [host_, model, vlan, last]] of hosts.entries()) {
    const where = [host_, model, 'middle', x + at * STEP, 400];
    reference.devices[host_] = last === undefined
      ? { ...host(...where, '', ''), interfaces: { e0: { on: { kind: 'port', port: 'e0' }, v4: { dhcp: true } } }, settings: {} }
      : host(...where, `10.84.${vlan}.${last}/${LENGTHS[vlan]}`, `10.84.${vlan}.1`);
    cable(reference, `${id}-${at + 1}`, `${id} p${at + 1}`, `${host_} e0`, 'straight', { cableId: `KR-3${id.at(-1)}${at + 1}` });
    reference.devices[id].ports[`p${at + 1}`].role = { kind: 'switched', mode: 'access', accessVlan: vlan };
  }
}
cable(reference, 'door', 'PROV g0', 'RT g0', 'crossover', { cableId: 'KR-300' });
cable(reference, 'news', 'PROV g1', 'NEWS e0', 'crossover', { cableId: 'KR-301' });
cable(reference, 'stick', 'RT g1', 'SW2 u1', 'straight', { cableId: 'KR-302' });
cable(reference, 'west', 'SW2 u2', 'SW1 u1', 'crossover', { cableId: 'KR-303' });
cable(reference, 'east', 'SW2 u3', 'SW3 u1', 'crossover', { cableId: 'KR-304' });
const trunks = { 'SW2 u1': [10, 20, 30, 40], 'SW2 u2': [10, 20], 'SW1 u1': [10, 20], 'SW2 u3': [30], 'SW3 u1': [30] };
for (const [text, allowed] of Object.entries(trunks)) {
  const [id, port] = text.split(' ');
  Object.assign(reference.devices[id].ports[port], trunk(allowed));
}
const hostsOf = (vlan) => SWITCHES.flatMap(({ hosts }) => hosts.filter((host) => host[2] === vlan).map(([name]) => name));
const GROUPS = [
  { id: 'winch', vlan: 10, title: 'the winch controllers', later: 10 },
  { id: 'control', vlan: 20, title: 'the control desks', later: 10 },
  { id: 'guests', vlan: 30, title: 'the guests', later: 100 },
  { id: 'office', vlan: 40, title: 'the office', later: 40 },
];

const requirement = (id, points, rule_, more = {}) => ({ id, points, credit: 'share', rule: rule_, ...more });
const spec = {
  groups: {
    switches: { title: 'the switches', roles: SWITCHES.map((device) => device.id) },
    core: { title: 'router and switches', roles: ['RT', ...SWITCHES.map((device) => device.id)] },
    ...Object.fromEntries(GROUPS.map(({ id, vlan, title }) => [id, { title, roles: hostsOf(vlan) }])),
    station: { title: 'the hosts of the station', roles: GROUPS.flatMap((group) => hostsOf(group.vlan)) },
  },
  sections: [
    { id: 'components', title: 'Components', requirements: [
      requirement('1.1', 2, { kind: 'rightKind', who: '@all' }),
      requirement('1.2', 1, { kind: 'deviceCount', what: 'switch', op: 'exactly', n: 3, site: 'middle' }, { credit: 'all' }),
      requirement('1.3', 1, { kind: 'namesUnique', who: '@all' }, { credit: 'all' }),
      requirement('1.4', 1, { kind: 'hostnameIsName', who: 'core' }),
    ] },
    { id: 'cabling', title: 'Cabling', requirements: [
      requirement('2.1', 2, { kind: 'linked', a: 'switches', b: 'station' }),
      requirement('2.2', 2, { kind: 'linked', a: 'core', b: 'core' }),
      requirement('2.3', 2, { kind: 'linksUp', who: '@all' }),
      requirement('2.4', 1, { kind: 'portsLabelled', who: 'core' }),
    ] },
    { id: 'addressing', title: 'Addressing', requirements: [
      ...GROUPS.map(({ id, later, title }, at) => requirement(`3.${at + 1}`, 2, { kind: 'allOf', rules: [
        { kind: 'oneSubnet', who: id, family: '4' },
        { kind: 'roomFor', who: id, n: later, block: '10.84.0.0/16' },
      ] }, { wording: `One subnet of its own holds ${title}, with room for ${later} hosts.` })),
      requirement('3.5', 2, { kind: 'noOverlap', groups: GROUPS.map((group) => group.id) }, { credit: 'all' }),
      requirement('3.6', 1, { kind: 'uniqueAddresses', who: 'station', family: '4' }, { credit: 'all' }),
      requirement('3.7', 2, { kind: 'gateway', who: 'station', router: 'RT' }),
    ] },
    { id: 'connectivity', title: 'Connectivity', requirements: [
      requirement('4.1', 2, { kind: 'reachesGateway', who: 'station' }),
      requirement('4.2', 3, { kind: 'reach', from: 'control', to: 'winch', family: '4' }),
      requirement('4.3', 2, { kind: 'within', who: 'office', family: '4' }),
      requirement('4.4', 3, { kind: 'reach', from: 'guests', to: 'NEWS', family: '4' }),
      requirement('4.5', 2, { kind: 'reach', from: 'office', to: 'NEWS', family: '4' }),
    ] },
    { id: 'separation', title: 'Separation', requirements: [
      requirement('5.1', 4, { kind: 'apart', from: 'guests', to: 'winch', family: '4' }, { task: 't5', hints: { that: 'Somebody reaches the winches who must not.', where: 'Look at what the router lets in from the VLAN of the guests.' } }),
      requirement('5.2', 3, { kind: 'apart', from: 'office', to: 'winch', family: '4' }),
      requirement('5.3', 3, { kind: 'apart', from: 'guests', to: 'office', family: '4' }),
      requirement('5.4', 2, { kind: 'apart', from: 'guests', to: 'control', family: '4' }),
    ] },
    { id: 'documentation', title: 'Documentation', requirements: [requirement('6.1', 1, { kind: 'titled' })] },
    { id: 'operation', title: 'Operation', requirements: [
      requirement('7.1', 2, { kind: 'allOf', rules: GROUPS.map(({ vlan }) => ({ kind: 'vlanExists', who: 'switches', vlan })) }, { wording: 'The VLANs 10, 20, 30 and 40 are there on every switch.' }),
      requirement('7.2', 2, { kind: 'lease', who: 'guests', from: 'RT' }),
      requirement('7.3', 2, { kind: 'allOf', rules: ['guests', 'office'].map((from) => ({ kind: 'translated', from, to: 'NEWS' })) }, { wording: 'What guests and the office send to NEWS arrives there from the address of the provider’s link.' }),
    ] },
  ],
};

export const lab = {
  format: 'sobrin-lab', version: 9, title: 'Winch Isolation',
  brief: {
    scenario: 'Guests of the Middle Station get wireless laptops of the house and the office its own network. The four winches of the cableway hang on the same switches, and nobody but the two control desks may reach them. The provider North Pass gives one address, 198.51.100.2.',
    objectives: ['Keep four groups apart with VLANs over trunks.', 'Route between them on one router port, and filter what must not pass.', 'Lease addresses to guests and translate what goes outside.'],
    groups: GROUPS.map(({ id, title, later, vlan }) => ({ id, name: title.replace(/^the /, ''), now: hostsOf(vlan).length, later, site: 'Middle Station' })),
    outside: ['198.51.100.0/30', '203.0.113.0/24'],
    sites: [{ name: 'Middle Station', place: '1510 m' }, { name: 'North Pass', place: 'the provider' }],
    separations: [
      { id: 's1', text: 'The winch controllers take orders from the control desks only.' },
      { id: 's2', text: 'Guests reach nothing inside but their gateway.' },
    ],
    schemes: { names: 'RT-M for the router, SW-M1 to SW-M3 for the switches; hosts by their work and a number, such as WINCH-1', addresses: 'The third part of an address is the number of the VLAN; the router has the first usable address.' },
  },
  tasks: [
    { id: 't0', text: 'Draw the Middle Station with the border router RT-M, three access switches, 4 winch controllers, 2 desktops of the control desk (CTRL-1, CTRL-2), 3 laptops of guests, and the office with 2 desktops and a printer. Outside stand the provider’s border router North Pass (198.51.100.1 at the door) and the server NEWS behind it (203.0.113.10/24). Cable them, label the ports of routers and switches, give these their names as hostnames, and the drawing a title.' },
    { id: 't1', text: 'Create the VLANs 10 for the winch controllers, 20 for the control desks, 30 for the guests and 40 for the office on the switches, and put every host into its own. Each VLAN is one subnet of **10.84.0.0/16** that holds the later number of hosts.' },
    { id: 't2', text: 'Make trunks between the switches and to the router, and give the router an address in every VLAN: it is the gateway there.' },
    { id: 't3', text: 'Lease addresses from 10.84.30.100 to 10.84.30.199 to the guests. Nobody else is leased any.' },
    { id: 't4', text: 'Translate guests and office to the address of the provider’s link. NEWS must answer them.' },
    { id: 't5', text: 'Filter: only the control desks reach the winches, also not the office; guests reach nobody inside but their gateway.' },
  ],
  plan: { blocks: {
    root: { prefix: '10.84.0.0/16', name: 'Kestrel Ridge', standing: 'decided' },
    ...Object.fromEntries(GROUPS.map(({ id, vlan, title }) => [id, { prefix: `10.84.${vlan}.0/${LENGTHS[vlan] ?? 24}`, name: title.replace(/^the /, ''), vlan, group: id, standing: 'decided', site: 'Middle Station' }])),
  }, addresses: Object.fromEntries(SWITCHES.flatMap(({ hosts }) => hosts.flatMap(([name, , vlan, last]) => (last === undefined ? [] : [[`10.84.${vlan}.${last}`, { name }]])))) },
  reference, spec,
  policy: { bench: 'plain', vlanDatabase: 'created', attempts: 3, selfChecks: { most: 3 }, hintCost: 0.5, late: 'refused', rounding: 0.5 },
};

const GERMAN = Object.fromEntries([
  ['RT-M', 'R-Mitte'], ['North Pass', 'Anbieter'], ['NEWS', 'Nachrichten'], ['SW-M1', 'S1'], ['SW-M2', 'S2'], ['SW-M3', 'S3'],
  ...[1, 2, 3, 4].map((n) => [`WINCH-${n}`, `Winde ${n}`]), ...[1, 2].map((n) => [`CTRL-${n}`, `Leitstand ${n}`]),
  ...[1, 2].map((n) => [`OFFICE-${n}`, `Büro ${n}`]), ['PRINT', 'Drucker'], ...[1, 2, 3].map((n) => [`GUEST-${n}`, `Gast ${n}`]),
]);
const GERMAN_SITES = { 'Middle Station': 'Mittelstation', 'North Pass': 'Anbieter' };
const settings = (device, change) => (drawing) => change(drawing.devices[device].settings);
const face = (device, key, change) => (drawing) => change(drawing.devices[device].interfaces[key]);
const accessVlan = (device, port, vlan) => m.port(device, port, { role: { kind: 'switched', mode: 'access', accessVlan: vlan } });
const allow = (device, port, allowed, more = {}) => m.port(device, port, { role: { ...trunk(allowed).role, ...more } });

export const submissions = [
  { student: 'Samir Haddadin', names: GERMAN, sites: GERMAN_SITES, layout: 'mirrored' },
  { student: 'Yrsa Dahlgaard', layout: 'turned' },
  // The trunk to the guests' switch carries the office's VLAN instead of theirs.
  { student: 'Jamila Conteh', layout: 'wide', mistakes: [allow('SW2', 'u3', [40])] },
  // One winch stands in the office's VLAN.
  { student: 'Kasper Lindqvist', mistakes: [accessVlan('SW1', 'p3', 40)] },
  // The guests' filter permits everything in its first line: what follows is never asked.
  { student: 'Leilani Kahale', layout: 'mirrored', mistakes: [settings('RT', (config) => void config.filters.GUESTS.rules.unshift(rule('permit', any, any)))] },
  // The office was forgotten in the translation.
  { student: 'Mateusz Gawron', names: GERMAN, sites: GERMAN_SITES, mistakes: [settings('RT', (config) => void (config.nat[0].sources = ['10.84.30.0/24']))] },
  // Leases tell a way out that nobody has.
  { student: 'Nadia Qureshi', mistakes: [settings('RT', (config) => void (config.dhcpPools[0].router = '10.84.30.2'))] },
  // Native VLANs differ on one trunk, and two VLANs run together there.
  { student: 'Pilar Echeverría', layout: 'turned', mistakes: [allow('SW2', 'u2', [10, 20], { native: 20 }), allow('SW1', 'u1', [10, 20], { native: 10 })] },
  // The winches' filter looks at what comes from them instead of what goes to them.
  { student: 'Quentin Marchal', mistakes: [face('RT', 'g1.10', (config) => { config.filterIn4 = config.filterOut4; delete config.filterOut4; })] },
  // No way out.
  { student: 'Rosalba Ferri', layout: 'wide', mistakes: [m.routes('RT', [])] },
  // The interface for the control desks takes frames of another VLAN.
  { student: 'Tamsin Pryce', mistakes: [face('RT', 'g1.20', (config) => void (config.on.vlan = 21))] },
  // The control VLAN was not created where the second desk stands, and the outside is taken for the inside.
  { student: 'Uchenna Eze', layout: 'mirrored', mistakes: [
    settings('SW2', (config) => { config.vlans = { ...config.vlans }; delete config.vlans[20]; }),
    face('RT', 'g0', (config) => void (config.natSide = 'inside')),
  ] },
];
