import { Sheet, demoLab, twoLans } from '../../tests/topologies';
import { type Topology } from '../../topology';
import { cableBetween } from '../../editing';
import { type Counts, type Shape, analyse, countsOf } from '..';

const counts = (drawing: Topology): Counts => countsOf(analyse(drawing));
/** Switches S1 to Sn, cabled as told by pairs of numbers. */
function switches(n: number, ...pairs: [number, number][]): Topology {
  const sheet = new Sheet();
  for (let at = 1; at <= n; at++) sheet.device(`S${at}`, 'access-switch-12');
  const used = new Map<number, number>();
  const port = (id: number): string => {
    used.set(id, (used.get(id) ?? 0) + 1);
    return `S${id} p${used.get(id)}`;
  };
  for (const [a, b] of pairs) sheet.cable(port(a), port(b), 'crossover');
  return sheet.topology;
}

test('devices by class, kind and site, links by medium', () => {
  const counted = counts(demoLab('three-stations').reference);
  expect(counted).toMatchObject({ devices: 39, links: 38, byMedium: { straight: 36, 'sm-fibre': 2 } });
  expect(counted.byClass).toEqual({ end: 30, intermediary: 9 });
  expect(counted.byKind).toMatchObject({ router: 3, switch: 6, camera: 4 });
  expect(counted.bySite).toEqual({ 'Middle Station': 13, 'Summit Station': 12, 'Valley Station': 14 });
});

test('local networks and wide-area links are told with what is counted', () => {
  const counted = counts(demoLab('three-stations').reference);
  expect(counted.localNetworks.map((network) => network.n)).toEqual([6, 6, 3]);
  expect(counted.wideLinks.map((link) => link.n)).toEqual([2, 2, 2]);
  // Three sites on one cloud: three legs, three pairs, one cloud.
  const cloud = new Sheet().device('W', 'wan-cloud');
  for (const at of [1, 2, 3]) cloud.device(`R${at}`, 'border-router');
  const keys = [...analyse(cloud.topology).instances.get('W')!.ports.keys()];
  for (const at of [1, 2, 3]) cloud.cable(`W ${keys[at - 1]}`, `R${at} g0`, 'straight');
  expect(counts(cloud.topology).wideLinks.map((link) => link.n)).toEqual([3, 3, 1]);
});

/** Named shapes: the kinds of the devices by their letters, and who is linked with whom. */
const SHAPES: [name: Shape, what: string, links: string][] = [
  ['single', 'one switch', 'S1'],
  ['single', 'one router', 'R1'],
  ['point to point', 'two switches', 'S1-S2'],
  ['point to point', 'two routers', 'R1-R2'],
  ['point to point', 'two hosts on one cable', 'P1-P2'],
  ['point to point', 'a switch with one host', 'S1-P1'],
  ['star', 'a switch with two hosts', 'S1-P1 S1-P2'],
  ['star', 'a switch with five hosts', 'S1-P1 S1-P2 S1-P3 S1-P4 S1-P5'],
  ['star', 'a hub with three hosts', 'H1-P1 H1-P2 H1-P3'],
  ['star', 'a switch between two switches', 'S1-S2 S1-S3'],
  ['star', 'three switches at one', 'S1-S2 S1-S3 S1-S4'],
  ['star', 'four routers at one switch', 'S1-R1 S1-R2 S1-R3 S1-R4'],
  ['bus', 'three hosts on one segment', 'B1-P1 B1-P2 B1-P3'],
  ['bus', 'three routers on one segment', 'B1-R1 B1-R2 B1-R3'],
  ['bus', 'two hosts on one segment', 'B1-P1 B1-P2'],
  ['line', 'three routers in a row', 'R1-R2 R2-R3'],
  ['line', 'four switches in a row', 'S1-S2 S2-S3 S3-S4'],
  ['line', 'five routers in a row, each with a host', 'R1-R2 R2-R3 R3-R4 R4-R5 R1-P1 R5-P5'],
  ['extended star', 'three switches at one, each with one behind it', 'S1-S2 S1-S3 S1-S4 S2-S5 S3-S6 S4-S7'],
  ['extended star', 'two switches at a router, each with two behind it', 'R1-S1 R1-S2 S1-S3 S1-S4 S2-S5 S2-S6'],
  ['tree', 'a row with branches', 'S1-S2 S2-S3 S3-S4 S4-S5 S1-S6 S2-S7 S5-S8'],
  ['tree', 'three levels', 'S1-S2 S1-S3 S2-S4 S2-S5 S3-S6 S4-S7 S5-S8'],
  ['ring', 'three switches in a ring', 'S1-S2 S2-S3 S3-S1'],
  ['ring', 'four routers in a ring', 'R1-R2 R2-R3 R3-R4 R4-R1'],
  ['ring', 'five switches in a ring, with hosts', 'S1-S2 S2-S3 S3-S4 S4-S5 S5-S1 S1-P1 S3-P2'],
  ['full mesh', 'each of four with each', 'R1-R2 R1-R3 R1-R4 R2-R3 R2-R4 R3-R4'],
  ['full mesh', 'each of five with each', 'S1-S2 S1-S3 S1-S4 S1-S5 S2-S3 S2-S4 S2-S5 S3-S4 S3-S5 S4-S5'],
  ['partial mesh', 'a ring of four with one way across', 'R1-R2 R2-R3 R3-R4 R4-R1 R1-R3'],
  ['partial mesh', 'a ring with a tail', 'S1-S2 S2-S3 S3-S1 S3-S4'],
  ['point to point', 'two cables side by side count once', 'S1-S2 S1-S2'],
];
const MODELS: Record<string, string> = {
  S: 'access-switch-44',
  R: 'modular-router',
  H: 'hub',
  B: 'shared-segment',
  P: 'desktop',
  A: 'access-point',
  L: 'laptop',
  G: 'home-gateway',
  F: 'firewall',
};
/** A drawing of devices by letter and number, plugged into one another at the first ports that fit. */
function drawn(links: string): Topology {
  const { topology } = new Sheet();
  const device = (id: string): string => {
    topology.devices[id] ??= {
      name: id,
      model: MODELS[id[0]!]!,
      at: { x: 0, y: 0 },
      // Routers have too few ports of their own for a mesh.
      ...(id.startsWith('R') && { modules: { b1: 'switch-8', b2: 'switch-8' } }),
    };
    return id;
  };
  for (const [at, pair] of links.split(' ').entries()) {
    const [a, b] = pair.split('-').map(device) as [string, string | undefined];
    const cable = b && cableBetween(topology, { device: a }, { device: b });
    if (cable) topology.links[`l${at}`] = cable;
    else if (b) throw new Error(`${pair} does not fit`);
  }
  return topology;
}

test.each(SHAPES)('%s: %s', (shape, _what, links) => {
  expect(counts(drawn(links)).shapes.map((found) => found.shape)).toEqual([shape]);
});

describe('labs counted by hand', () => {
  const numbers = (drawing: Topology) => {
    const { devices, links, media, intermediaries, localNetworks, shapes } = counts(drawing);
    return [
      devices,
      links,
      media,
      intermediaries.map(({ n }) => n).join(' '),
      localNetworks.map(({ n }) => n).join(' '),
      shapes.map(({ shape }) => shape).join(', '),
    ];
  };
  // Devices, links, kinds of media; intermediaries without and with wireless ones, and with firewalls; broadcast domains,
  // IPv4 subnets and sites with hosts; shapes.
  test.each<[string, Topology, unknown[]]>([
    ['the valley station', demoLab('valley-lan').reference, [13, 12, 1, '2 2 2', '1 1 1', 'line']],
    ['three stations', demoLab('three-stations').reference, [39, 38, 2, '9 9 9', '6 6 3', 'extended star']],
    ['two lans', twoLans(), [5, 4, 1, '3 3 3', '2 2 0', 'line']],
    ['one hub, no address', drawn('H1-P1 H1-P2 H1-P3'), [4, 3, 1, '1 1 1', '1 0 0', 'star']],
    ['a bus', drawn('B1-P1 B1-P2 B1-P3'), [4, 3, 1, '1 1 1', '1 0 0', 'bus']],
    ['a router between two switches', drawn('R1-S1 R1-S2 S1-P1 S1-P2 S2-P3'), [6, 5, 1, '3 3 3', '2 0 0', 'line']],
    ['a wireless office', drawn('S1-A1 S1-A2 S1-P1 R1-S1'), [5, 4, 1, '2 4 4', '1 0 0', 'star']],
    // One desktop stands at the port to the provider: its network is another one.
    ['a home', drawn('G1-P1 G1-P2'), [3, 2, 1, '0 1 1', '2 0 0', 'star']],
    ['behind a firewall', drawn('R1-F1 F1-S1 S1-P1'), [4, 3, 1, '2 2 3', '1 0 0', 'line']],
    ['two islands', drawn('S1-P1 S1-P2 S2-P3 S2-P4'), [6, 4, 1, '2 2 2', '2 0 0', 'star, star']],
    ['nothing cabled', drawn('S1 P1 P2'), [3, 0, 0, '1 1 1', '0 0 0', 'single']],
  ])('%s', (_what, drawing, wanted) => {
    expect(numbers(drawing)).toEqual(wanted);
  });
});

test('devices are counted by site and class', () => {
  expect(counts(demoLab('three-stations').reference).bySiteAndClass).toEqual({
    'Middle Station': { end: 10, intermediary: 3 },
    'Summit Station': { end: 9, intermediary: 3 },
    'Valley Station': { end: 11, intermediary: 3 },
  });
});

test('parts that do not hang together are shapes of their own', () => {
  const counted = counts(switches(5, [1, 2], [3, 4], [4, 5]));
  expect(counted.shapes.map(({ devices, shape }) => `${devices.join(' ')}: ${shape}`)).toEqual([
    'S1 S2: point to point',
    'S3 S4 S5: star',
  ]);
});

test('the longest way, and what everything hangs on', () => {
  const counted = counts(twoLans());
  expect(counted.longestPath).toHaveLength(5);
  expect(new Set([counted.longestPath[0], counted.longestPath[4]])).toEqual(new Set(['A', 'B']));
  expect(counted.singlePoints).toEqual({
    devices: ['R', 'SA', 'SB'],
    links: ['R-g0-SA-u1', 'R-g1-SB-u1'],
  });
  const ring = counts(switches(4, [1, 2], [2, 3], [3, 4], [4, 1]));
  expect(ring.singlePoints).toEqual({ devices: [], links: [] });
  // Two cables side by side: neither is one that everything hangs on.
  expect(counts(switches(2, [1, 2], [1, 2])).singlePoints.links).toEqual([]);
});

test('an empty drawing has nothing to count', () => {
  expect(counts(switches(0))).toMatchObject({
    devices: 0,
    links: 0,
    shapes: [],
    longestPath: [],
    singlePoints: { devices: [], links: [] },
  });
});
