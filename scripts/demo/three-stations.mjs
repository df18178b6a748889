// Routing over the pylon fibres: 3 routers, 6 switches, 30 hosts, static routes.
import { cable, host, netSwitch, router, sheet } from './draw.mjs';
import * as m from './student.mjs';

export const slug = 'three-stations';

const reference = sheet('Three Stations', 'Maren Osterkamp', 'Beaded lines are single-mode fibre on the pylons, plain lines straight-through copper. Each switch is one subnet.');
reference.sites = { valley: { name: 'Valley Station', kind: 'lan' }, middle: { name: 'Middle Station', kind: 'lan' }, summit: { name: 'Summit Station', kind: 'lan' } };

const FIBRE = { modules: { b1: 'fibre-sm', b2: 'fibre-sm' } };
reference.devices = {
  RTV: router('RT-V', 'border-router', 'valley', 300, 60, { f1: '10.84.15.1/30', g1: '10.84.1.1/26', g2: '10.84.1.65/27' }, { settings: { routes: [{ prefix: '10.84.4.0/22', via: '10.84.15.2' }, { prefix: '10.84.8.0/22', via: '10.84.15.2' }] } }),
  RTM: router('RT-M', 'modular-router', 'middle', 760, 60, { 'b1/f0': '10.84.15.2/30', 'b2/f0': '10.84.15.5/30', g1: '10.84.4.1/28', g2: '10.84.4.65/26' }, { ...FIBRE, settings: { routes: [{ prefix: '10.84.0.0/22', via: '10.84.15.1' }, { prefix: '10.84.8.0/22', via: '10.84.15.6' }] } }),
  RTS: router('RT-S', 'modular-router', 'summit', 1150, 60, { 'b1/f0': '10.84.15.6/30', g1: '10.84.9.1/27', g2: '10.84.9.33/29' }, { ...FIBRE, settings: { routes: [{ prefix: '0.0.0.0/0', via: '10.84.15.5' }] } }),
};
/** Each switch with its subnet and hosts. */
const LANS = [
  { id: 'SWV1', name: 'SW-V1', site: 'valley', router: 'RTV g1', base: '10.84.1', length: 26, gateway: 1, group: 'tickets', title: 'ticket desks and turnstiles', later: 40, block: '10.84.0.0/22', hosts: [['DESK-1', 'desktop', 11], ['DESK-2', 'desktop', 12], ['DESK-3', 'desktop', 13], ['DESK-4', 'desktop', 14], ['TURN-1', 'turnstile', 21], ['TURN-2', 'turnstile', 22], ['TURN-3', 'turnstile', 23]] },
  { id: 'SWV2', name: 'SW-V2', site: 'valley', router: 'RTV g2', base: '10.84.1', length: 27, gateway: 65, group: 'shop', title: 'shop and staff', later: 24, block: '10.84.0.0/22', hosts: [['SHOP', 'server', 66], ['OFFICE-1', 'desktop', 70], ['OFFICE-2', 'desktop', 71], ['PRINT', 'printer', 80]] },
  { id: 'SWM1', name: 'SW-M1', site: 'middle', router: 'RTM g1', base: '10.84.4', length: 28, gateway: 1, group: 'winch', title: 'winch control', later: 10, block: '10.84.4.0/22', hosts: [['WINCH-1', 'controller', 2], ['WINCH-2', 'controller', 3], ['WINCH-3', 'controller', 4], ['WINCH-4', 'controller', 5], ['CTRL', 'desktop', 6]] },
  { id: 'SWM2', name: 'SW-M2', site: 'middle', router: 'RTM g2', base: '10.84.4', length: 26, gateway: 65, group: 'cameras', title: 'cameras and workshop', later: 40, block: '10.84.4.0/22', hosts: [['CAM-1', 'camera', 66], ['CAM-2', 'camera', 67], ['CAM-3', 'camera', 68], ['CAM-4', 'camera', 69], ['WORK', 'laptop', 70]] },
  { id: 'SWS1', name: 'SW-S1', site: 'summit', router: 'RTS g1', base: '10.84.9', length: 27, gateway: 1, group: 'tills', title: 'tills and rescue post', later: 20, block: '10.84.8.0/22', hosts: [['TILL-1', 'till', 11], ['TILL-2', 'till', 12], ['TILL-3', 'till', 13], ['RESCUE-1', 'desktop', 20], ['RESCUE-2', 'laptop', 21]] },
  { id: 'SWS2', name: 'SW-S2', site: 'summit', router: 'RTS g2', base: '10.84.9', length: 29, gateway: 33, group: 'mast', title: 'the weather mast', later: 4, block: '10.84.8.0/22', hosts: [['MAST-1', 'sensor', 34], ['MAST-2', 'sensor', 35], ['MAST-3', 'sensor', 36], ['WEATHER', 'server', 37]] },
];
cable(reference, 'pylon1', 'RTV f1', 'RTM b1/f0', 'sm-fibre', { lengthM: 2100, cableId: 'KR-100' });
cable(reference, 'pylon2', 'RTM b2/f0', 'RTS b1/f0', 'sm-fibre', { lengthM: 1800, cableId: 'KR-101' });
// A station stands as two floors: under its router the first switch with its hosts, below them the second one, whose
// cable runs down a shaft beside the hosts of the first.
const STEP = 62;
const LEFT = { valley: 40, middle: 600, summit: 1036 };
const ROUTER_WIDTH = { valley: 137, middle: 144, summit: 144 };
const shaftOf = (site) => LEFT[site] + LANS.find((lan) => lan.site === site).hosts.length * STEP + 6;
for (const [nth, lan] of LANS.entries()) {
  const lower = nth % 2 === 1;
  const shaft = shaftOf(lan.site);
  const first = lower ? shaft - lan.hosts.length * STEP + 40 : LEFT[lan.site];
  const width = Math.max(170, (lan.hosts.length + 1) * 30);
  const middle = first + (lan.hosts.length * STEP - 22) / 2;
  const x = lower ? Math.max(middle - width / 2, shaft + 24 - width) : Math.max(middle - width / 2, shaft - ROUTER_WIDTH[lan.site] + 70 - width);
  const [switchY, hostY] = lower ? [470, 600] : [180, 310];
  reference.devices[lan.id] = netSwitch(lan.name, 'access-switch-12', lan.site, Math.round(x), switchY);
  cable(reference, `up-${lan.id}`, lan.router, `${lan.id} u1`, 'straight', { cableId: `KR-1${nth + 1}0`, ...(lower && { bends: [{ x: shaft, y: 250 }] }) });
  for (const [at, [name, kind, last]] of lan.hosts.entries()) {
    reference.devices[name] = host(name, kind, lan.site, first + at * STEP, hostY, `${lan.base}.${last}/${lan.length}`, `${lan.base}.${lan.gateway}`);
    cable(reference, `${lan.id}-${at + 1}`, `${lan.id} p${at + 1}`, `${name} e0`, 'straight', { cableId: `KR-1${nth + 1}${at + 1}` });
  }
}
for (const [id, site] of [['RTV', 'valley'], ['RTM', 'middle'], ['RTS', 'summit']]) reference.devices[id].at.x = shaftOf(site) + 24 - ROUTER_WIDTH[site];
const hostNames = LANS.flatMap((lan) => lan.hosts.map(([name]) => name));
const routerOf = (lan) => lan.router.split(' ')[0];

const requirement = (id, points, rule, more = {}) => ({ id, points, credit: 'share', rule, ...more });
const spec = {
  groups: {
    routers: { title: 'the routers', roles: ['RTV', 'RTM', 'RTS'] },
    switches: { title: 'the switches', roles: LANS.map((lan) => lan.id) },
    core: { title: 'routers and switches', roles: ['RTV', 'RTM', 'RTS', ...LANS.map((lan) => lan.id)] },
    hosts: { title: 'the hosts', roles: hostNames },
    addressed: { title: 'routers and hosts', roles: ['RTV', 'RTM', 'RTS', ...hostNames] },
    desks: { title: 'the ticket desks', roles: ['DESK-1', 'DESK-2', 'DESK-3', 'DESK-4'] },
    till: { title: 'the tills', roles: ['TILL-1', 'TILL-2', 'TILL-3'] },
    rescue: { title: 'the rescue post', roles: ['RESCUE-1', 'RESCUE-2'] },
    cams: { title: 'the cameras', roles: ['CAM-1', 'CAM-2', 'CAM-3', 'CAM-4'] },
    controllers: { title: 'the winch controllers', roles: ['WINCH-1', 'WINCH-2', 'WINCH-3', 'WINCH-4'] },
    sensors: { title: 'the sensors of the mast', roles: ['MAST-1', 'MAST-2', 'MAST-3'] },
    ...Object.fromEntries(LANS.map((lan) => [lan.group, { title: lan.title, roles: lan.hosts.map(([name]) => name) }])),
    'valley-core': { title: 'the network devices of the Valley', roles: ['RTV', 'SWV1', 'SWV2'] },
    'middle-core': { title: 'the network devices of the Middle', roles: ['RTM', 'SWM1', 'SWM2'] },
    'summit-core': { title: 'the network devices of the Summit', roles: ['RTS', 'SWS1', 'SWS2'] },
  },
  sections: [
    { id: 'components', title: 'Components', requirements: [
      requirement('1.1', 3, { kind: 'rightKind', who: '@all' }),
      requirement('1.2', 1, { kind: 'deviceCount', what: 'router', op: 'exactly', n: 3, site: 'anywhere' }, { credit: 'all' }),
      requirement('1.3', 2, { kind: 'allOf', rules: [
        { kind: 'atSite', who: 'valley-core', site: 'valley' }, { kind: 'atSite', who: 'middle-core', site: 'middle' }, { kind: 'atSite', who: 'summit-core', site: 'summit' },
      ] }, { credit: 'all', wording: 'The network devices stand at their stations.' }),
      requirement('1.4', 1, { kind: 'namesUnique', who: '@all' }, { credit: 'all' }),
      requirement('1.5', 1, { kind: 'hostnameIsName', who: 'core' }),
      requirement('1.6', 1, { kind: 'powered', who: '@all' }, { credit: 'all' }),
    ] },
    { id: 'cabling', title: 'Cabling', requirements: [
      requirement('2.1', 2, { kind: 'linked', a: 'routers', b: 'routers' }),
      requirement('2.2', 2, { kind: 'medium', a: 'routers', b: 'routers', media: ['sm-fibre'] }),
      requirement('2.3', 2, { kind: 'linked', a: 'routers', b: 'switches' }),
      requirement('2.4', 2, { kind: 'linked', a: 'switches', b: 'hosts' }),
      requirement('2.5', 2, { kind: 'linksUp', who: '@all' }),
      requirement('2.6', 1, { kind: 'speed', a: 'routers', b: 'switches', mbps: 1000 }),
      requirement('2.7', 1, { kind: 'duplexAgrees', who: 'core' }, { credit: 'all' }),
      requirement('2.8', 1, { kind: 'portsLabelled', who: 'core' }),
      requirement('2.9', 1, { kind: 'labelAgrees', who: 'core' }),
    ] },
    { id: 'addressing', title: 'Addressing', requirements: [
      ...LANS.map((lan, at) => requirement(`3.${at + 1}`, 2, { kind: 'allOf', rules: [
        { kind: 'oneSubnet', who: lan.group, family: '4' },
        { kind: 'roomFor', who: lan.group, n: lan.later, block: lan.block },
      ] }, { wording: `One subnet inside ${lan.block} holds ${lan.title}, with room for ${lan.later} hosts.` })),
      requirement('3.7', 2, { kind: 'noOverlap', groups: LANS.map((lan) => lan.group) }, { credit: 'all' }),
      requirement('3.8', 2, { kind: 'uniqueAddresses', who: 'addressed', family: '4' }, { credit: 'all' }),
      requirement('3.9', 1, { kind: 'usable', who: 'hosts', family: '4' }, { credit: 'all' }),
      requirement('3.10', 3, { kind: 'allOf', rules: LANS.map((lan) => ({ kind: 'gateway', who: lan.group, router: routerOf(lan) })) }, { wording: 'The gateway of every host is the router of its station, in its own subnet.' }),
      requirement('3.11', 1, { kind: 'masksAgree', who: 'hosts' }),
    ] },
    { id: 'connectivity', title: 'Connectivity', requirements: [
      requirement('4.1', 2, { kind: 'reachesGateway', who: 'hosts' }),
      requirement('4.2', 3, { kind: 'reach', from: 'till', to: 'SHOP', family: '4' }),
      requirement('4.3', 3, { kind: 'reach', from: 'OFFICE-1', to: 'cams', family: '4' }),
      requirement('4.4', 3, { kind: 'reach', from: 'desks', to: 'SHOP', family: '4' }),
      requirement('4.5', 2, { kind: 'reach', from: 'CTRL', to: 'controllers', family: '4' }),
      requirement('4.6', 2, { kind: 'reach', from: 'rescue', to: 'desks', family: '4' }),
      requirement('4.7', 2, { kind: 'reach', from: 'OFFICE-2', to: 'sensors', family: '4' }),
      requirement('4.8', 1, { kind: 'pathThrough', from: 'till', to: 'SHOP', via: 'RTM' }),
    ] },
    { id: 'documentation', title: 'Documentation', requirements: [requirement('5.1', 1, { kind: 'titled' })] },
  ],
};

export const lab = {
  format: 'sobrin-lab', version: 9, title: 'Three Stations',
  brief: {
    scenario: 'Valley, Middle and Summit Station of the Kestrel Ridge cableway get one network. Single-mode fibre runs up the pylons; every station has its own router and two switches. The tills on the summit book on the shop server in the valley, and the office watches the cameras of the middle station.',
    objectives: ['Size six subnets for the later numbers.', 'Connect three routers over the pylon fibres.', 'Write static routes so that every station reaches every other, there and back.'],
    groups: LANS.map((lan) => ({ id: lan.group, name: lan.title, now: lan.hosts.length, later: lan.later, site: reference.sites[lan.site].name })),
    outside: ['198.51.100.0/24'],
    sites: [{ name: 'Valley Station', place: '840 m' }, { name: 'Middle Station', place: '1510 m' }, { name: 'Summit Station', place: '2240 m' }],
    separations: [{ id: 's1', text: 'The winch controllers take orders from the control desk only (a later lab).' }],
    schemes: { names: 'RT-V, RT-M and RT-S for the routers; SW-V1, SW-V2, SW-M1 and so on for the switches; hosts by their work and a number, such as CAM-1', addresses: 'The router has the first usable address of each subnet.' },
  },
  tasks: [
    { id: 't1', text: 'Draw 3 routers, 6 access switches and 30 hosts at their stations, all of them switched on. Routers of Middle and Summit Station are modular and need fibre transceivers; the one in the valley is a border router. Routers and switches carry their names as hostnames, and the drawing has a title.\n\n- **Valley Station:** on one switch 4 desktops at the ticket desks and 3 turnstiles; on the other the server SHOP, a printer and the office with 2 desktops\n- **Middle Station:** on one switch 4 winch controllers and the desktop CTRL that commands them; on the other 4 cameras and the laptop of the workshop\n- **Summit Station:** on one switch 3 tills, and a desktop and a laptop of the rescue post; on the other 3 sensors of the weather mast and the server WEATHER' },
    { id: 't2', text: 'Cable them: single-mode fibre from router to router up the pylons, copper at 1000 Mb/s from each router to its two switches, and from the switches to their hosts. Both ends of a link agree on duplex. Label the ports of routers and switches.' },
    { id: 't3', text: 'Give each switch one subnet that holds the later number of hosts and its gateway, inside the block of its station: **10.84.0.0/22** for the Valley, **10.84.4.0/22** for the Middle, **10.84.8.0/22** for the Summit.' },
    { id: 't4', text: 'Write the static routes. Every host must reach its gateway and every other station; from the summit to the valley the way leads through the router of the Middle Station.' },
  ],
  plan: { blocks: {
    root: { prefix: '10.84.0.0/20', name: 'Kestrel Ridge', standing: 'decided' },
    valley: { prefix: '10.84.0.0/22', name: 'Valley Station', standing: 'decided', site: 'Valley Station' },
    middle: { prefix: '10.84.4.0/22', name: 'Middle Station', standing: 'decided', site: 'Middle Station' },
    summit: { prefix: '10.84.8.0/22', name: 'Summit Station', standing: 'decided', site: 'Summit Station' },
    links: { prefix: '10.84.15.0/24', name: 'Links between routers', standing: 'decided' },
    pylon1: { prefix: '10.84.15.0/30', name: 'Link RT-V - RT-M', use: 'link', standing: 'decided' },
    pylon2: { prefix: '10.84.15.4/30', name: 'Link RT-M - RT-S', use: 'link', standing: 'decided' },
    ...Object.fromEntries(LANS.map((lan) => [lan.group, { prefix: `${lan.base}.${lan.gateway - 1}/${lan.length}`, name: lan.title, group: lan.group, standing: 'decided', site: reference.sites[lan.site].name }])),
  }, addresses: {
    ...Object.fromEntries(LANS.flatMap((lan) => lan.hosts.map(([name, , last]) => [`${lan.base}.${last}`, { name }]))),
    '10.84.15.1': { name: 'RT-V' }, '10.84.15.2': { name: 'RT-M' }, '10.84.15.5': { name: 'RT-M' }, '10.84.15.6': { name: 'RT-S' },
  } },
  reference, spec,
  policy: { bench: 'plain', attempts: 2, late: 'refused', rounding: 0.5 },
};

const GERMAN = Object.fromEntries([
  ['RT-V', 'R-Tal'], ['RT-M', 'R-Mitte'], ['RT-S', 'R-Gipfel'], ['SW-V1', 'S1'], ['SW-V2', 'S2'], ['SW-M1', 'S3'], ['SW-M2', 'S4'], ['SW-S1', 'S5'], ['SW-S2', 'S6'],
  ...[1, 2, 3, 4].map((n) => [`DESK-${n}`, `Kasse ${n}`]), ...[1, 2, 3].map((n) => [`TURN-${n}`, `Dreh ${n}`]), ['SHOP', 'Laden'], ['OFFICE-1', 'Büro A'], ['OFFICE-2', 'Büro B'], ['PRINT', 'Drucker'],
  ...[1, 2, 3, 4].map((n) => [`WINCH-${n}`, `Winde ${n}`]), ['CTRL', 'Leitstand'], ...[1, 2, 3, 4].map((n) => [`CAM-${n}`, `Kam ${n}`]), ['WORK', 'Werkstatt'],
  ...[1, 2, 3].map((n) => [`TILL-${n}`, `Rest ${n}`]), ['RESCUE-1', 'Rettung 1'], ['RESCUE-2', 'Rettung 2'], ...[1, 2, 3].map((n) => [`MAST-${n}`, `Wetter ${n}`]), ['WEATHER', 'Wetterrechner'],
]);
const GERMAN_SITES = { 'Valley Station': 'Talstation', 'Middle Station': 'Mittelstation', 'Summit Station': 'Gipfel' };
const PLAIN = Object.fromEntries([...['RT-V', 'RT-M', 'RT-S'].map((name, at) => [name, `router${at + 1}`]), ...LANS.map((lan, at) => [lan.name, `sw${at + 1}`]), ...hostNames.map((name, at) => [name, `node${at + 1}`])]);

export const submissions = [
  { student: 'Samir Haddadin', names: GERMAN, sites: GERMAN_SITES, layout: 'turned' },
  { student: 'Yrsa Dahlgaard', names: PLAIN, sites: { 'Valley Station': 'A', 'Middle Station': 'B', 'Summit Station': 'C' }, layout: 'mirrored' },
  // The route back from the Middle ends at /24: it misses nothing of guests, but the shop and the desks live in 10.84.1.0/24.
  { student: 'Jamila Conteh', layout: 'wide', mistakes: [m.routes('RTM', [{ prefix: '10.84.0.0/24', via: '10.84.15.1' }, { prefix: '10.84.8.0/22', via: '10.84.15.6' }])] },
  // No return route from the Summit at all.
  { student: 'Kasper Lindqvist', mistakes: [m.routes('RTS', [])] },
  // The cameras got a /28: too small for forty, and it overlaps nothing by luck.
  { student: 'Leilani Kahale', layout: 'mirrored', mistakes: [...[1, 2, 3, 4].map((n) => m.address(`CAM-${n}`, `10.84.4.${65 + n}/28`)), m.address('WORK', '10.84.4.70/28'), m.routerAddress('RTM', 'g2', '10.84.4.65/28')] },
  // Forwarding was switched off on the middle router.
  { student: 'Mateusz Gawron', names: GERMAN, sites: GERMAN_SITES, mistakes: [m.forwardingOff('RTM')] },
  // Multi-mode fibre between Middle and Summit.
  { student: 'Nadia Qureshi', mistakes: [m.medium('pylon2', 'mm-fibre')] },
  // Two tills with one address; SW-M1's uplink is not labelled at the switch; the legend is missing.
  { student: 'Pilar Echeverría', layout: 'turned', mistakes: [m.address('TILL-3', '10.84.9.12/27'), m.unlabelled('SWM1', 'u1'), m.noLegend] },
  // A till with the gateway of the mast: outside its own subnet; the shop switch runs at a slow port.
  { student: 'Quentin Marchal', mistakes: [m.gateway('TILL-1', '10.84.9.33'), m.replug('up-SWV2', 'b', 'p12')] },
  // The tills' subnet was typed /26 and swallows the mast's; it works by luck.
  { student: 'Rosalba Ferri', layout: 'wide', mistakes: [
    ...[['TILL-1', 11], ['TILL-2', 12], ['TILL-3', 13], ['RESCUE-1', 20], ['RESCUE-2', 21]].map(([name, last]) => m.address(name, `10.84.9.${last}/26`)),
  ] },
  // Duplex set by hand at both ends, and not alike; a second cable in a port that is taken; SW-S1 drawn at the Middle.
  { student: 'Tamsin Pryce', mistakes: [m.port('SWV1', 'u1', { speed: 1000, duplex: 'full' }), m.port('RTV', 'g1', { speed: 1000, duplex: 'half' }), m.replug('SWM1-5', 'a', 'p4'), m.site('SWS1', 'middle')] },
  // A router and a switch with one name; the office prefix left out; the mast server has the network address.
  { student: 'Uchenna Eze', names: PLAIN, layout: 'mirrored', mistakes: [m.rename('RTS', 'SW-S1'), m.address('OFFICE-1', '10.84.1.70'), m.address('WEATHER', '10.84.9.32/29')] },
];
