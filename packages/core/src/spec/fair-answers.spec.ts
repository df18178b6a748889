import { demoLab } from '../tests/topologies';
import { type Topology, emptyTopology } from '../topology';
import { type LabFile, checkSubmission } from '.';

/**
 * Answers that look nothing like the reference, or are wrong in one thing, each with what a fair instructor takes off for
 * it: written down before any of it was judged. Beside them are the 54 hand-ins of the demo (spec.spec.ts).
 */
type Change = (topology: Topology) => void;
type Losses = Readonly<Record<string, number>>;

const all =
  (...changes: Change[]): Change =>
  (topology) => {
    for (const change of changes) change(topology);
  };
const mirrored: Change = ({ devices }) => {
  for (const { at } of Object.values(devices)) at.x = -at.x;
};
const withoutLinks: Change = (topology) => void (topology.links = {});
const oneName: Change = ({ devices }) => {
  for (const device of Object.values(devices)) device.name = 'X';
};
const turnedLinks: Change = ({ links }) => {
  for (const link of Object.values(links)) [link.a, link.b] = [link.b, link.a];
};
const threeRouters: Change = ({ devices }) => {
  for (const n of [1, 2, 3]) devices[`more${n}`] = { name: `MORE-${n}`, model: 'border-router', at: { x: n, y: n } };
};
const oneSite =
  (site: string): Change =>
  (topology) => {
    for (const device of Object.values(topology.devices)) device.site = site;
    topology.sites = { [site]: topology.sites[site]! };
  };
const facesOf = ({ devices }: Topology) =>
  Object.values(devices).flatMap((device) => Object.values(device.interfaces ?? {}));
const without =
  (family: 'v4' | 'v6'): Change =>
  (topology) => {
    for (const face of facesOf(topology)) delete face[family];
    for (const { settings } of Object.values(topology.devices))
      if (settings) delete settings[`gateway${family === 'v4' ? 4 : 6}`];
  };
const inIpv6: Change = (topology) => {
  for (const face of facesOf(topology)) {
    const [own] = face.v4?.addresses ?? [];
    delete face.v4;
    if (own !== undefined) face.v6 = { addresses: [`fd5e:7a3c:90b1:1::${own.split('/')[0]!.split('.').pop()!}/64`] };
  }
  for (const { settings } of Object.values(topology.devices)) {
    if (settings?.gateway4 !== undefined) settings.gateway6 = 'fd5e:7a3c:90b1:1::1';
    if (settings) delete settings.gateway4;
  }
};
const addressed =
  (id: string, ...addresses: string[]): Change =>
  ({ devices }) =>
    void (devices[id]!.interfaces!.e0!.v4 = { addresses });
const leased =
  (id: string): Change =>
  ({ devices }) =>
    void (devices[id]!.interfaces!.e0!.v4 = { dhcp: true });
const labelled = ({ devices }: Topology, id: string, port: string): void => {
  const ports = (devices[id]!.ports ??= {});
  ports[port] = { ...ports[port], label: port };
};
/** Plugs the cable of a host in at a port of another switch, which is labelled. */
const pluggedInto =
  (host: string, device: string, port: string): Change =>
  (topology) => {
    const link = Object.values(topology.links).find(({ a, b }) => a.device === host || b.device === host)!;
    link[link.a.device === host ? 'b' : 'a'] = { device, port };
    labelled(topology, device, port);
  };
/** Half of the hosts of a switch hang on a second one behind it. */
const twoSwitches: Change = (topology) => {
  const { devices, links } = topology;
  devices.SW2 = { ...structuredClone(devices.SW!), name: 'SW-2', settings: { hostname: 'SW-2' } };
  const hosts = Object.values(links).filter(
    ({ a, b }) => [a, b].some((end) => end.device === 'SW') && ![a, b].some((end) => end.device === 'RT'),
  );
  for (const link of hosts.slice(0, 5)) for (const end of [link.a, link.b]) if (end.device === 'SW') end.device = 'SW2';
  links.between = { a: { device: 'SW', port: 'u2' }, b: { device: 'SW2', port: 'u2' }, medium: 'crossover' };
  for (const id of ['SW', 'SW2']) labelled(topology, id, 'u2');
};
/** The two subnets of the valley change places, with all that is in them. */
const exchangedSubnets: Change = ({ devices }) => {
  const moved = (text: string): string => {
    const [, last, length] = /^10\.84\.1\.(\d+)(\/\d+)?$/.exec(text) ?? [];
    if (last === undefined) return text;
    const to = Number(last) < 64 ? Number(last) + 64 : Number(last) - 64;
    return `10.84.1.${to}${length === undefined ? '' : to < 64 ? '/26' : '/27'}`;
  };
  for (const { interfaces, settings } of Object.values(devices)) {
    for (const { v4 } of Object.values(interfaces ?? {})) if (v4?.addresses) v4.addresses = v4.addresses.map(moved);
    if (settings?.gateway4 !== undefined) settings.gateway4 = moved(settings.gateway4);
    for (const route of settings?.routes ?? []) if (route.prefix.startsWith('10.84.1.')) route.prefix = '10.84.1.0/24';
  }
};
const ring: Change = (topology) => {
  const role = { kind: 'switched' as const, mode: 'trunk' as const, allowed: [10, 20, 30] };
  for (const id of ['SW1', 'SW3']) topology.devices[id]!.ports!.u4 = { label: 'u4', role };
  topology.links.ring = { a: { device: 'SW1', port: 'u4' }, b: { device: 'SW3', port: 'u4' }, medium: 'crossover' };
};
const role =
  (device: string, port: string, allowed: number[]): Change =>
  ({ devices }) => {
    devices[device]!.ports![port]!.role = { kind: 'switched', mode: 'trunk', allowed };
  };
const withoutLink =
  (one: string, other: string): Change =>
  ({ links }) => {
    for (const [id, { a, b }] of Object.entries(links))
      if ([a, b].every((end) => end.device === one || end.device === other)) delete links[id];
  };

const ANSWERS: readonly [lab: string, answer: string, change: Change, losses: Losses][] = [
  ['valley-lan', 'in mirror image', mirrored, {}],
  ['valley-lan', 'with the ends of links swapped', turnedLinks, {}],
  [
    'valley-lan',
    'devices without links',
    withoutLinks,
    { 1.6: 1, 2.1: 2, 2.2: 1, 2.3: 2, 2.4: 1, 2.5: 1, 2.6: 1, 2.7: 1, 4.1: 2, 4.2: 3, 4.3: 2, 4.4: 1, 4.5: 1 },
  ],
  ['valley-lan', 'one name for all', oneName, { 1.4: 1, 1.5: 1 }],
  ['valley-lan', 'three routers more', threeRouters, { 1.6: 1 }],
  ['valley-lan', 'two small switches for one large', twoSwitches, { 1.2: 1 }],
  [
    'valley-lan',
    'a wrong mask that works by luck',
    addressed('DESK-1', '10.84.1.11/25'),
    { 3.2: 2, 3.3: 0.2, '3.10': 0.1 },
  ],
  [
    'valley-lan',
    'IPv6 only',
    inIpv6,
    {
      3.1: 2,
      3.2: 2,
      3.3: 2,
      3.4: 2,
      3.5: 1,
      3.6: 2,
      3.7: 1,
      3.8: 1,
      3.9: 1,
      '3.10': 1,
      4.1: 2,
      4.2: 3,
      4.3: 2,
      4.4: 1,
      4.5: 1,
    },
  ],
  ['three-stations', 'in mirror image, turned', all(mirrored, turnedLinks), {}],
  ['three-stations', 'everything in one site', oneSite('valley'), { 1.3: 2 }],
  ['three-stations', 'subnets exchanged between two groups', exchangedSubnets, { 3.1: 0.23 }],
  [
    'three-stations',
    'a host on another switch with everything else consistent',
    pluggedInto('DESK-1', 'SWM2', 'p11'),
    { 2.4: 0.07, 4.1: 0.07, 4.4: 0.75, 4.6: 0.5 },
  ],
  [
    'three-stations',
    'dynamic for static',
    leased('DESK-1'),
    { 3.1: 0.23, 3.8: 2, 3.9: 1, '3.10': 0.1, 3.11: 0.04, 4.1: 0.07, 4.4: 0.75, 4.6: 0.5 },
  ],
  ['three-stations', 'an address twice', addressed('DESK-2', '10.84.1.11/26'), { 3.8: 2, 4.1: 0.14, 4.4: 1.5, 4.6: 1 }],
  ['three-stations', 'three routers more', threeRouters, { 1.2: 1 }],
  // The ring as it should be: whichever side the tree blocks, the other one carries all that goes there.
  [
    'winch-isolation',
    'a ring of switches that the spanning tree breaks',
    all(
      ring,
      role('SW2', 'u2', [10, 20, 30]),
      role('SW1', 'u1', [10, 20, 30]),
      role('SW2', 'u3', [10, 20, 30]),
      role('SW3', 'u1', [10, 20, 30]),
    ),
    {},
  ],
  ['winch-isolation', 'three routers more', threeRouters, {}],
  ['winch-isolation', 'everything in one site', oneSite('middle'), {}],
  [
    'winch-isolation',
    'guests without their filter',
    ({ devices }) => {
      for (const face of Object.values(devices.RT!.interfaces!)) if (face.filterIn4 === 'GUESTS') delete face.filterIn4;
    },
    { 5.3: 3, 5.4: 2 },
  ],
  [
    'winch-isolation',
    'a trunk that forgets the guests',
    role('SW2', 'u3', [10]),
    { 3.3: 2, 3.5: 2, 3.6: 1, 3.7: 0.5, 4.1: 0.5, 4.4: 3, 5.1: 4, 5.3: 3, 5.4: 2, 7.2: 2, 7.3: 1 },
  ],
  ['summit-dual-stack', 'in mirror image', mirrored, {}],
  [
    'summit-dual-stack',
    'IPv4 only',
    without('v6'),
    { 3.1: 1, 3.2: 1, 3.3: 1, 3.4: 2, 3.6: 1, 3.7: 1, 6.1: 3, 6.2: 3, 6.3: 2, 6.4: 2, 7.1: 1, 7.3: 1 },
  ],
  [
    'summit-dual-stack',
    'IPv6 only',
    without('v4'),
    { 3.1: 1, 3.2: 1, 3.3: 1, 3.5: 1, 3.6: 1, 4.1: 3, 4.2: 3, 4.3: 2, 4.4: 2, 7.1: 1, 7.3: 1 },
  ],
  ['summit-dual-stack', 'without one side of the triangle', withoutLink('RTV', 'RTS'), { 2.1: 1 }],
  ['summit-dual-stack', 'one name for all', oneName, { 1.3: 1, 1.4: 1 }],
];

const lossesOf = (lab: LabFile, drawing: Topology): Losses =>
  Object.fromEntries(
    checkSubmission(lab, drawing)
      .requirements.filter(({ points, of }) => points < of)
      .map(({ id, points, of }) => [id, Math.round((of - points) * 100) / 100]),
  );

test.each(ANSWERS)('%s, %s: loses what is fair, and no more', (slug, _answer, change, losses) => {
  const lab = demoLab(slug);
  const drawing = structuredClone(lab.reference);
  change(drawing);
  expect(lossesOf(lab, drawing)).toEqual(losses);
});
test.each(['valley-lan', 'three-stations', 'winch-isolation', 'summit-dual-stack'])(
  '%s, an empty drawing: nothing',
  (slug) => expect(checkSubmission(demoLab(slug), emptyTopology()).points).toBe(0),
);
