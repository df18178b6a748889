// An open design: brief and groups, no single right plan. Students hand in an address plan.
import { builtCore } from '../lib/root.mjs';
import { cable, host, netSwitch, router, sheet } from './draw.mjs';

const core = builtCore('address', 'plan');

export const slug = 'season-opening';

const GROUPS = [
  ['tickets', 'Ticket desks and turnstiles', 16, 40, 'Valley Station', ['servers']],
  ['shop', 'Shop', 3, 14, 'Valley Station', ['internet', 'printing', 'own server']],
  ['staff', 'Staff office', 8, 24, 'Valley Station', ['internet', 'phones', 'printing']],
  ['guests-v', 'Guests of the valley', 60, 200, 'Valley Station', ['internet', 'wireless']],
  ['winch', 'Winch controllers', 4, 10, 'Middle Station', []],
  ['control', 'Control desk', 2, 4, 'Middle Station', ['servers']],
  ['workshop', 'Workshop', 9, 24, 'Middle Station', ['internet']],
  ['cameras', 'Cameras', 10, 40, 'Middle Station', ['own server']],
  ['guests-s', 'Guests of the summit', 40, 180, 'Summit Station', ['internet', 'wireless']],
  ['tills', 'Restaurant tills', 6, 20, 'Summit Station', ['servers']],
  ['mast', 'Weather mast', 2, 4, 'Summit Station', []],
  ['rescue', 'Rescue post', 1, 4, 'Summit Station', ['internet', 'phones']],
  ['hut', 'Hut', 2, 6, 'Col Refuge', ['internet']],
];

const brief = {
  scenario: [
    'The cableway of **Kestrel Ridge** opens its season with four places on one network: *Valley*, *Middle* and *Summit Station*, and *Col Refuge* on a radio link. The company has written down who works where, how many they are now, and how many they will be in three years.',
    '',
    'Before anything is bought, the management wants to see an address plan that holds for those three years:',
    '',
    '- every group in a subnet of its own, large enough for *later*',
    '- each place in one block, so that routers need one line for it',
    '- IPv4 and IPv6 side by side',
  ].join('\n'),
  objectives: ['Size subnets from the later numbers.', 'Lay a plan out from the top down, in both families.', 'Keep what the provider hands out away from the inside.'],
  groups: GROUPS.map(([id, name, now, later, site, needs]) => ({ id, name, now, later, site, ...(needs.length && { needs }) })),
  separations: [
    { id: 's1', who: 'guests-v', from: '@inside' },
    { id: 's2', who: 'guests-s', from: '@inside' },
    { id: 's3', who: 'winch', from: '@others', text: 'but the control desk' },
    { id: 's4', who: 'cameras', from: '@outside' },
  ],
  outside: ['198.51.100.0/24', '2001:db8:84::/48'],
  sites: [
    { name: 'Valley Station', place: '840 m, car park and ticket hall' },
    { name: 'Middle Station', place: '1510 m, winch house' },
    { name: 'Summit Station', place: '2240 m, restaurant and rescue post' },
    { name: 'Col Refuge', place: '2390 m, one hut on a radio link' },
  ],
  schemes: { names: '{kind}-{site}{n}', addresses: 'The gateway has the first usable address of its subnet.', gateway: 'first', infrastructure: 0, pool: 'none' },
  resources: [{ id: 'rfc1918', title: 'RFC 1918: addresses for private networks', address: 'https://www.rfc-editor.org/rfc/rfc1918' }],
};

const withRoot = () => ({ root: { prefix: '10.84.0.0/20', prefix6: 'fd5e:7a3c:90b1::/48', name: 'Kestrel Ridge', standing: 'decided' } });
const ids = () => {
  let at = 0;
  return () => `b${++at}`;
};

/** A plan laid out by core: the root block and what the groups of the brief come to. */
function laidOut(options) {
  const plan = { blocks: withRoot() };
  const done = core.layOutGroups(core.planTree(plan), 'root', brief, { grow: false, bySite: true, align: null, vlanFrom: 10, ...options });
  if (!done.ok) throw new Error(done.error);
  const newId = ids();
  for (const block of done.value.blocks) plan.blocks[newId()] = { ...block };
  return plan;
}

const blockFor = (plan, group) => Object.values(plan.blocks).find((block) => block.group === group);

/** Gives the hosts that are there now an address each, from the first behind the gateway on. */
function withHosts(plan, counts) {
  const tree = core.planTree(plan);
  plan.addresses = {};
  for (const [group, [stem, from, count]] of Object.entries(counts)) {
    const [node] = [...tree.nodes.values()].filter((node) => node.block.group === group);
    for (let at = 0; at < count; at++) {
      const value = node.space[4].value + BigInt(from + at);
      plan.addresses[core.formatAddress({ family: 4, value })] = { name: `${stem}-${at + 1}` };
    }
  }
  return plan;
}

const own = laidOut({ grow: true });
for (const block of Object.values(own.blocks)) if (block.standing === 'proposed' && block.site !== 'Summit Station') block.standing = 'decided';
withHosts(own, { tickets: ['DESK', 11, 9], shop: ['SHOP', 2, 3], staff: ['OFFICE', 4, 8], winch: ['WINCH', 2, 4], control: ['CTRL', 2, 2], workshop: ['WORK', 5, 9], cameras: ['CAM', 10, 10], tills: ['TILL', 5, 6], mast: ['MAST', 2, 2], hut: ['HUT', 2, 2] });
own.ranges = {
  r1: { from: core.formatAddress({ family: 4, value: core.planTree(own).nodes.get(Object.keys(own.blocks).find((id) => own.blocks[id].group === 'guests-v')).space[4].value + 32n }), to: core.formatAddress({ family: 4, value: core.planTree(own).nodes.get(Object.keys(own.blocks).find((id) => own.blocks[id].group === 'guests-v')).space[4].value + 250n }), use: 'pool', name: 'guest leases' },
};

const requirement = (id, points, rule, more = {}) => ({ id, points, credit: 'share', task: 't1', rule, ...more });
const spec = {
  groups: {},
  sections: [
    { id: 'room', title: 'Room', requirements: [
      requirement('1.1', 6, { kind: 'planRoom', group: '@groups' }),
      requirement('1.2', 2, { kind: 'planSmallest', group: '@groups', bits: 2 }),
    ] },
    { id: 'order', title: 'Order', requirements: [
      requirement('2.1', 2, { kind: 'planInside', group: '@groups', block: '10.84.0.0/20' }),
      requirement('2.2', 3, { kind: 'planSites' }),
      requirement('2.3', 2, { kind: 'planSound', what: 'overlaps' }, { credit: 'all' }),
      requirement('2.4', 1, { kind: 'planSound', what: 'nesting' }, { credit: 'all' }),
      requirement('2.5', 2, { kind: 'planVlans', group: '@groups' }),
    ] },
    { id: 'rules', title: 'Rules of the customer', requirements: [
      requirement('3.1', 2, { kind: 'planSound', what: 'provider' }, { credit: 'all' }),
      requirement('3.2', 1, { kind: 'planSound', what: 'private' }, { credit: 'all' }),
      requirement('3.3', 1, { kind: 'planSound', what: 'gateways' }, { credit: 'all' }),
      requirement('3.4', 1, { kind: 'planSound', what: 'addresses' }, { credit: 'all' }),
    ] },
    { id: 'six', title: 'IPv6', requirements: [
      requirement('4.1', 2, { kind: 'planFamily6', group: '@groups' }, { task: 't2' }),
      requirement('4.2', 1, { kind: 'planInside', group: '@groups', block: 'fd5e:7a3c:90b1::/48' }, { task: 't2' }),
    ] },
    { id: 'drawn', title: 'For whoever draws', requirements: [
      requirement('5.1', 1, { kind: 'forEach', who: '@networks', rule: { kind: 'oneSubnet', who: '@each', family: '4' } }, { task: 't4', bonus: true }),
      requirement('5.2', 2, { kind: 'networksReach', family: '4' }, { task: 't4', bonus: true }),
    ] },
  ],
};

export const lab = {
  format: 'sobrin-lab', version: 9, title: 'Season Opening',
  brief,
  tasks: [
    { id: 't1', text: 'Lay out an IPv4 plan in **10.84.0.0/20**: a block for each place, in it a subnet and a VLAN for each group.' },
    { id: 't2', text: 'Put an IPv6 subnet from **fd5e:7a3c:90b1::/48** beside each.' },
    { id: 't3', text: 'Say in a few sentences where you left room to grow, and why there.' },
    { id: 't4', text: 'For up to three points more, draw two local networks of the Valley Station or more, with a few hosts each and what joins them: one subnet for each local network, and any two hosts of different ones reach one another.' },
  ],
  plan: own,
  reference: { format: 'sobrin-topology', version: 4, title: 'Season Opening', author: 'Maren Osterkamp', sites: {}, devices: {}, links: {} },
  spec,
  policy: { bench: 'plain', attempts: 3, late: 'refused', rounding: 0.5 },
};

/** A plan by hand: places as quarters of the block, subnets in the order of the brief. */
function byHand() {
  const places = { 'Valley Station': ['10.84.0', 0], 'Middle Station': ['10.84.4', 1], 'Summit Station': ['10.84.8', 2], 'Col Refuge': ['10.84.12', 3] };
  const plan = { blocks: withRoot() };
  for (const [name, [start, at]] of Object.entries(places))
    plan.blocks[`p${at}`] = { prefix: `${start}.0/22`, prefix6: `fd5e:7a3c:90b1:${at}00::/56`.replace(':000::', '::'), name, site: name, standing: 'decided' };
  for (const [at, site] of Object.keys(places).entries()) {
    const done = core.divideBySizes(core.planTree(plan), `p${at}`, GROUPS.filter((row) => row[4] === site).map((row) => `${row[1]} ${row[3] + (row[5].includes('wireless') ? 9 : 2)}`).join('\n'));
    if (!done.ok) throw new Error(done.error);
    for (const [nth, block] of done.value.blocks.entries()) {
      const [group] = GROUPS.filter((row) => row[4] === site)[nth];
      plan.blocks[group] = { ...block, group, vlan: 10 * (GROUPS.findIndex((row) => row[0] === group) + 1), standing: 'decided' };
    }
  }
  return plan;
}
const changed = (plan, change) => {
  change(plan);
  return plan;
};

/** What some drew besides: the ticket hall and the shop, each at its switch, with a router between them. */
function hall(plan, author) {
  const drawing = sheet('Season Opening', author, 'Ticket hall and shop');
  drawing.sites = { valley: { name: 'Valley Station', kind: 'lan' } };
  const tree = core.planTree(plan);
  const space = (group) => [...tree.nodes.values()].find(({ block }) => block.group === group).space[4];
  const at = (group, last) => core.formatAddress({ family: 4, value: space(group).value + BigInt(last) });
  const on = (group, last) => `${at(group, last)}/${space(group).length}`;
  drawing.devices.rt = router('RT-V', 'border-router', 'valley', 300, 40, { g0: on('tickets', 1), g1: on('shop', 1) });
  for (const [nth, [group, names]] of [['tickets', ['DESK-1', 'DESK-2', 'DESK-3']], ['shop', ['SHOP-1', 'SHOP-2']]].entries()) {
    drawing.devices[`sw${nth}`] = netSwitch(`SW-V${nth + 1}`, 'access-switch-12', 'valley', 140 + nth * 320, 170);
    cable(drawing, `up${nth}`, `rt g${nth}`, `sw${nth} u1`);
    for (const [place, name] of names.entries()) {
      drawing.devices[name] = host(name, 'desktop', 'valley', 60 + nth * 340 + place * 80, 300, on(group, 11 + place), at(group, 1));
      cable(drawing, `${name}-c`, `sw${nth} p${place + 1}`, `${name} e0`);
    }
  }
  return drawing;
}

export const submissions = [
  // Another way than the reference, and just as right: quarters for the places.
  { student: 'Caoimhe Daly', plan: byHand(), topology: hall(byHand(), 'Caoimhe Daly') },
  // Sized for today.
  { student: 'Dilnoza Yusupova', plan: changed(laidOut({}), (plan) => {
    blockFor(plan, 'tickets').prefix = blockFor(plan, 'tickets').prefix.replace(/\/\d+$/, '/27');
    blockFor(plan, 'cameras').prefix = blockFor(plan, 'cameras').prefix.replace(/\/\d+$/, '/28');
    blockFor(plan, 'guests-s').prefix = blockFor(plan, 'guests-s').prefix.replace(/\/\d+$/, '/26');
  }), // and one who drew has a host without a way out
  topology: changed(hall(laidOut({}), 'Dilnoza Yusupova'), ({ devices }) => void delete devices['SHOP-2'].settings.gateway4) },
  // The guests got what the provider hands out.
  { student: 'Farid Benali', plan: changed(laidOut({}), (plan) => {
    blockFor(plan, 'guests-v').prefix = '198.51.100.0/24';
    blockFor(plan, 'guests-v').prefix6 = '2001:db8:84:1::/64';
  }) },
  // The shop lies inside the ticket desks; two groups in one VLAN; a place without a subnet.
  { student: 'Hoang Minh Thu', plan: changed(byHand(), (plan) => {
    plan.blocks.shop.prefix = plan.blocks.tickets.prefix.replace(/\/\d+$/, '/28');
    plan.blocks.staff.vlan = plan.blocks.tickets.vlan;
    delete plan.blocks.hut;
  }) },
  // 127 typed for 172, and no IPv6 at all.
  { student: 'Imre Szalai', plan: changed(laidOut({}), (plan) => {
    for (const block of Object.values(plan.blocks)) {
      delete block.prefix6;
      block.prefix = block.prefix.replace(/^10\.84\.(\d+)\./, (_, third) => `127.29.${64 + Number(third)}.`);
    }
  }) },
  // Assigned from below as need arose: no places, gateways here and there, long IPv6 prefixes.
  { student: 'Oskar Thorsen', plan: changed(laidOut({ bySite: false, align: 25 }), (plan) => {
    blockFor(plan, 'tickets').gateway = core.formatAddress({ family: 4, value: core.parsePrefix(blockFor(plan, 'tickets').prefix).value.value + 20n });
    for (const block of Object.values(plan.blocks)) if (block.group && block.prefix6) block.prefix6 = block.prefix6.replace('/64', '/80');
    plan.addresses = { '10.84.31.7': { name: 'DESK-1' } };
  }) },
];
