import { Sheet, demoLab, twoLans } from '../../tests/topologies';
import { type Topology } from '../../topology';
import { type Counts, analyse, countsOf } from '..';

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

test.each([
  ['single', 1, []],
  [
    'line',
    4,
    [
      [1, 2],
      [2, 3],
      [3, 4],
    ],
  ],
  [
    'star',
    4,
    [
      [1, 2],
      [1, 3],
      [1, 4],
    ],
  ],
  [
    'extended star',
    7,
    [
      [1, 2],
      [1, 3],
      [1, 4],
      [2, 5],
      [3, 6],
      [4, 7],
    ],
  ],
  [
    'tree',
    8,
    [
      [1, 2],
      [2, 3],
      [3, 4],
      [4, 5],
      [1, 6],
      [2, 7],
      [5, 8],
    ],
  ],
  [
    'ring',
    4,
    [
      [1, 2],
      [2, 3],
      [3, 4],
      [4, 1],
    ],
  ],
  [
    'full mesh',
    4,
    [
      [1, 2],
      [1, 3],
      [1, 4],
      [2, 3],
      [2, 4],
      [3, 4],
    ],
  ],
  [
    'partial mesh',
    4,
    [
      [1, 2],
      [2, 3],
      [3, 4],
      [4, 1],
      [1, 3],
    ],
  ],
] as [string, number, [number, number][]][])('network devices make a %s', (shape, n, pairs) => {
  expect(counts(switches(n, ...pairs)).shapes.map((shape) => shape.shape)).toEqual([shape]);
});

test('parts that do not hang together are shapes of their own', () => {
  const counted = counts(switches(5, [1, 2], [3, 4], [4, 5]));
  expect(counted.shapes.map(({ devices, shape }) => `${devices.join(' ')}: ${shape}`)).toEqual([
    'S1 S2: line',
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
