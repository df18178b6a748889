// The first lab: one switch, one router, addressing.
import { cable, host, netSwitch, router, sheet } from './draw.mjs';
import * as m from './student.mjs';

export const slug = 'valley-lan';

const reference = sheet('Valley Station LAN', 'Maren Osterkamp', 'Solid lines are straight-through copper. Address of the provider: 198.51.100.0/30.');
reference.sites = {
  valley: { name: 'Valley Station', kind: 'lan' },
  outside: { name: 'North Pass', kind: 'provider' },
};
const SUBNET = (last) => `10.84.1.${last}/26`;
const GATEWAY = '10.84.1.1';
reference.devices = {
  CL: { name: 'North Pass', model: 'provider-cloud', site: 'outside', at: { x: 40, y: 60 }, interfaces: { g0: { on: { kind: 'port', port: 'g0' }, v4: { addresses: ['198.51.100.1/30'] } } }, settings: { forwarding: { v4: false } } },
  RT: router('RT-V', 'border-router', 'valley', 560, 60, { g0: '198.51.100.2/30', g1: SUBNET(1) }, { settings: { routes: [{ prefix: '0.0.0.0/0', via: '198.51.100.1' }] } }),
  SW: netSwitch('SW-V', 'access-switch-20', 'valley', 455, 190),
};
const HOSTS = [
  ['DESK-1', 'desktop', 11], ['DESK-2', 'desktop', 12], ['DESK-3', 'desktop', 13], ['DESK-4', 'desktop', 14],
  ['TURN-1', 'turnstile', 21], ['TURN-2', 'turnstile', 22], ['TURN-3', 'turnstile', 23],
  ['SHOP', 'server', 40], ['PRINT', 'printer', 41], ['OFFICE', 'laptop', 42],
];
for (const [at, [name, kind, last]] of HOSTS.entries()) reference.devices[name] = host(name, kind, 'valley', 300 + at * 62, 340, SUBNET(last), GATEWAY);
cable(reference, 'out', 'CL g0', 'RT g0', 'straight', { cableId: 'KR-001' });
cable(reference, 'up', 'RT g1', 'SW u1', 'straight', { cableId: 'KR-002' });
for (const [at, [name]] of HOSTS.entries()) cable(reference, `h${at + 1}`, `SW p${at + 1}`, `${name} e0`, 'straight', { cableId: `KR-0${10 + at}` });

const requirement = (id, points, rule, more = {}) => ({ id, points, credit: 'share', rule, ...more });
const spec = {
  groups: {
    desks: { title: 'the ticket desks', roles: ['DESK-1', 'DESK-2', 'DESK-3', 'DESK-4'] },
    turnstiles: { title: 'the turnstiles', roles: ['TURN-1', 'TURN-2', 'TURN-3'] },
    core: { title: 'router and switch', roles: ['RT', 'SW'] },
    lan: { title: 'the hosts of the station', roles: HOSTS.map(([name]) => name) },
    inside: { title: 'router and hosts', roles: ['RT', ...HOSTS.map(([name]) => name)] },
  },
  sections: [
    { id: 'components', title: 'Components', requirements: [
      requirement('1.1', 2, { kind: 'rightKind', who: '@all' }),
      requirement('1.2', 1, { kind: 'deviceCount', what: 'switch', op: 'exactly', n: 1, site: 'valley' }, { credit: 'all' }),
      requirement('1.3', 1, { kind: 'accessPorts', who: 'SW', n: 12 }, { credit: 'all' }),
      requirement('1.4', 1, { kind: 'namesUnique', who: '@all' }, { credit: 'all' }),
      requirement('1.5', 1, { kind: 'hostnameIsName', who: 'core' }, { credit: 'all' }),
      requirement('1.6', 1, { kind: 'connected', who: '@all' }, { credit: 'all' }),
    ] },
    { id: 'cabling', title: 'Cabling', requirements: [
      requirement('2.1', 2, { kind: 'linked', a: 'SW', b: 'lan' }),
      requirement('2.2', 1, { kind: 'linked', a: 'RT', b: 'SW' }, { credit: 'all' }),
      requirement('2.3', 2, { kind: 'linksUp', who: '@all' }),
      requirement('2.4', 1, { kind: 'speed', a: 'RT', b: 'SW', mbps: 1000 }, { credit: 'all' }),
      requirement('2.5', 1, { kind: 'medium', a: 'SW', b: 'lan', media: ['straight'] }, { credit: 'all' }),
      requirement('2.6', 1, { kind: 'portsLabelled', who: 'core' }),
      requirement('2.7', 1, { kind: 'labelAgrees', who: 'core' }),
    ] },
    { id: 'addressing', title: 'Addressing', requirements: [
      requirement('3.1', 2, { kind: 'inBlock', who: 'lan', block: '10.84.1.0/26' }),
      requirement('3.2', 2, { kind: 'roomFor', who: 'lan', n: 40, block: '10.84.0.0/22' }, { credit: 'all' }),
      requirement('3.3', 2, { kind: 'oneSubnet', who: 'lan', family: '4' }),
      requirement('3.4', 2, { kind: 'gateway', who: 'lan', router: 'RT' }),
      requirement('3.5', 1, { kind: 'firstUsable', router: 'RT', who: 'lan' }, { credit: 'all' }),
      requirement('3.6', 2, { kind: 'uniqueAddresses', who: 'inside', family: '4' }, { credit: 'all' }),
      requirement('3.7', 1, { kind: 'usable', who: 'inside', family: '4' }, { credit: 'all' }),
      requirement('3.8', 1, { kind: 'outsideBlock', who: 'lan', block: '198.51.100.0/24' }),
      requirement('3.9', 1, { kind: 'private', who: 'lan' }),
      requirement('3.10', 1, { kind: 'masksAgree', who: 'lan' }),
    ] },
    { id: 'connectivity', title: 'Connectivity', requirements: [
      requirement('4.1', 2, { kind: 'reachesGateway', who: 'lan' }),
      requirement('4.2', 3, { kind: 'reach', from: 'desks', to: 'SHOP', family: '4' }),
      requirement('4.3', 2, { kind: 'reach', from: 'turnstiles', to: 'SHOP', family: '4' }),
      requirement('4.4', 1, { kind: 'reach', from: 'OFFICE', to: 'PRINT', family: '4' }, { credit: 'all' }),
      requirement('4.5', 1, { kind: 'pathThrough', from: 'desks', to: 'PRINT', via: 'SW' }),
    ] },
    { id: 'documentation', title: 'Documentation', requirements: [requirement('5.1', 1, { kind: 'titled' }, { credit: 'all' })] },
  ],
};

export const lab = {
  format: 'sobrin-lab', version: 9, title: 'Valley Station LAN',
  brief: {
    scenario: 'The cableway company of Kestrel Ridge opens its rebuilt valley station. Four ticket desks, three turnstiles, the shop and the station office share one network; the provider North Pass hands out 198.51.100.0/30 at the door.',
    objectives: ['Choose and cable one switch and one router.', 'Give every host an address, prefix length and gateway from the plan.', 'Show that the desks and the turnstiles reach the shop server.'],
    groups: [{ id: 'station', name: 'Ticket desks, turnstiles, shop and office', now: 10, later: 40, needs: ['internet', 'printing', 'shop server'], site: 'Valley Station' }],
    outside: ['198.51.100.0/24'],
    sites: [{ name: 'Valley Station', place: '840 m, car park and ticket hall' }, { name: 'North Pass', place: 'the provider' }],
    schemes: { names: 'RT-V for the router and SW-V for the switch; hosts by their work and a number, such as DESK-1', addresses: 'The router has the first usable address.' },
  },
  tasks: [
    { id: 't1', text: 'Draw the border router RT-V, one access switch with at least 12 access ports, and the ten hosts of the station: four desktops at the ticket desks, three turnstiles, the shop server SHOP, the office laptop OFFICE and the printer PRINT. Outside the station stands the provider cloud North Pass. Router and switch carry their names as hostnames, and the drawing has a title.' },
    { id: 't2', text: 'Cable them: straight-through copper from the switch to every host and to the router, and from the router to the provider. Between router and switch the link runs at 1000 Mb/s. Label the ports of router and switch.' },
    { id: 't3', text: 'Address the hosts from 10.84.1.0/26, one subnet in the block of the station, 10.84.0.0/22. It must hold 40 hosts and the gateway, which is the router.' },
    { id: 't4', text: 'Show that every ticket desk and turnstile reaches the shop server, and that the office reaches the printer; what the desks print goes over the switch.' },
  ],
  plan: { blocks: {
    root: { prefix: '10.84.0.0/22', name: 'Valley Station', standing: 'decided', site: 'Valley Station' },
    lan: { prefix: '10.84.1.0/26', name: 'Station LAN', standing: 'decided', site: 'Valley Station', group: 'station', purpose: 'ticket desks, turnstiles, shop, office' },
    spare: { prefix: '10.84.1.64/26', name: 'Room to double the LAN', standing: 'kept-free', site: 'Valley Station' },
  }, addresses: Object.fromEntries(HOSTS.map(([name, , last]) => [`10.84.1.${last}`, { name }])) },
  reference, spec,
  policy: { bench: 'coach', attempts: 3, late: 'refused', rounding: 0.5 },
};

const GERMAN = {
  'RT-V': 'R-Tal', 'SW-V': 'Verteiler', 'North Pass': 'Anbieter', 'DESK-1': 'Kasse A', 'DESK-2': 'Kasse B', 'DESK-3': 'Kasse C', 'DESK-4': 'Kasse D',
  'TURN-1': 'Dreh 1', 'TURN-2': 'Dreh 2', 'TURN-3': 'Dreh 3', SHOP: 'Laden', PRINT: 'Drucker', OFFICE: 'Büro',
};
const NUMBERS = Object.fromEntries(['North Pass', 'RT-V', 'SW-V', ...HOSTS.map(([name]) => name)].map((name, at) => [name, at === 0 ? 'net' : at === 1 ? 'r1' : at === 2 ? 's1' : `h${at - 2}`]));

export const submissions = [
  { student: 'Eero Lahtinen', names: GERMAN, sites: { 'Valley Station': 'Talstation', 'North Pass': 'Draussen' }, layout: 'mirrored' },
  { student: 'Oskar Thorsen', names: NUMBERS, sites: { 'Valley Station': 'Bottom' }, layout: 'turned' },
  // A copied ticket desk kept the address of the first.
  { student: 'Adaeze Okonjo', mistakes: [m.address('DESK-4', SUBNET(11))] },
  // A stray space came with a pasted address, and the office has no gateway.
  { student: 'Anselm Brückner', layout: 'wide', mistakes: [m.address('TURN-2', '10.84.1. 22/26'), m.gateway('OFFICE')] },
  // The shop server got the broadcast address.
  { student: 'Bojana Ristić', mistakes: [m.address('SHOP', SUBNET(63))] },
  // Sized for today: a /28 everywhere holds fourteen, not forty-one.
  { student: 'Caoimhe Daly', layout: 'mirrored', mistakes: [
    ...HOSTS.map(([name], at) => m.address(name, `10.84.1.${at + 2}/28`)), m.routerAddress('RT', 'g1', '10.84.1.1/28'),
  ] },
  // 18 typed for 10 on one desk: no private range; and a port of the switch left off.
  { student: 'Dilnoza Yusupova', mistakes: [m.address('DESK-2', '18.84.1.12/26'), m.port('SW', 'p9', { enabled: false })] },
  // Crossover cable to a turnstile; the router is cabled to a slow port.
  { student: 'Farid Benali', layout: 'turned', names: NUMBERS, mistakes: [m.medium('h5', 'crossover'), m.replug('up', 'b', 'p20')] },
  // The gateway typed at the printer is the switch's neighbour, not the router; an unlabelled port; no title.
  { student: 'Greta Holzapfel', mistakes: [m.gateway('PRINT', '10.84.1.2'), m.unlabelled('SW', 'u1'), m.untitled] },
  // One port in another VLAN; two devices of the same name.
  { student: 'Hoang Minh Thu', layout: 'wide', mistakes: [m.port('SW', 'p3', { role: { kind: 'switched', mode: 'access', accessVlan: 30 } }), m.rename('TURN-3', 'TURN-2')] },
  // The inside uses the provider's range.
  { student: 'Ilse Haverkamp', mistakes: [
    ...HOSTS.flatMap(([name, , last]) => [m.address(name, `198.51.100.${last + 64}/26`), m.gateway(name, '198.51.100.65')]), m.routerAddress('RT', 'g1', '198.51.100.65/26'),
  ] },
  // A second switch stands about unconnected, the hostname was never set right, and the office laptop is plugged in nowhere.
  { student: 'Imre Szalai', layout: 'mirrored', mistakes: [
    m.extra('SX', netSwitch('SW-X', 'access-switch-12', 'valley', 900, 190)), m.hostname('RT', 'router'), m.unplug('h10'),
  ] },
];
