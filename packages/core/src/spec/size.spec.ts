import { labOf } from '../tests/labs';
import { Sheet, demoLab, twoLans } from '../tests/topologies';
import { type Topology, emptyTopology } from '../topology';
import { type Rule, checkSubmission } from '.';
import { tooLarge } from './size';

/** A chain of routers that tell one another of all their subnets by OSPF. */
function routers(n: number): Topology {
  const sheet = new Sheet();
  for (let at = 0; at < n; at++) {
    const [x, y] = [at >> 8, at & 255];
    sheet.device(`R${at}`, 'border-router', { g0: `10.${x}.${y}.1/30`, g1: `10.${x}.${y}.129/30` });
    sheet.topology.devices[`R${at}`]!.settings = { ospf: { networks: [{ prefix: '10.0.0.0/8', area: 0 }] } };
    if (at) sheet.cable(`R${at - 1} g1`, `R${at} g0`, 'crossover');
  }
  return sheet.topology;
}
/** Switches in a row, with all VLANs over their trunks. */
function switches(n: number): Topology {
  const sheet = new Sheet();
  for (let at = 0; at < n; at++) {
    sheet.device(`S${at}`, 'access-switch-12');
    sheet.topology.devices[`S${at}`]!.ports = {
      u1: { role: { kind: 'switched', mode: 'trunk', allowed: Array.from({ length: 4000 }, (_, vlan) => vlan + 1) } },
    };
  }
  return sheet.topology;
}

test.each<[string, Topology, RegExp]>([
  [
    '5,000 routers of one area',
    routers(5000),
    /5000 devices and 10000 addresses, .*5000 routers that tell one another/,
  ],
  ['500 switches with 4,000 VLANs', switches(500), /4000 VLANs on 500 switches: together more than can be judged\./],
])('%s are not judged: every requirement says so and waits for a person', (_what, drawing, why) => {
  const { points, of, requirements, remarks, sections } = checkSubmission(
    labOf([
      { kind: 'reach', from: 'A', to: 'B' },
      { kind: 'deviceCount', what: 'switch', site: 'anywhere', op: 'atLeast', n: 1 },
    ]),
    drawing,
  );
  expect([points, of, sections[0]!.points]).toEqual([0, 4, 0]);
  expect(requirements.map(({ verdict, points: won }) => [verdict, won])).toEqual([
    ['unjudged', 0],
    ['unjudged', 0],
  ]);
  for (const { items } of requirements) expect(items[0]!.text).toMatch(why);
  expect(remarks![0]!.text).toMatch(why);
});
test('what labs are made of is far below: the demo, 1,000 hosts, 100 routers', () => {
  for (const slug of ['valley-lan', 'winch-isolation', 'summit-dual-stack', 'three-stations'])
    expect(tooLarge(demoLab(slug).reference)).toBeNull();
  expect(tooLarge(routers(100))).toBeNull();
  const hosts = new Sheet();
  for (let at = 0; at < 1000; at++) hosts.host(`H${at}`, `10.0.${at >> 8}.${at & 255}/16`);
  expect(tooLarge(hosts.topology)).toBeNull();
  expect(tooLarge(twoLans())).toBeNull();
});

describe('many hosts that nobody counted before', () => {
  const hosts = (n: number): Topology => {
    const sheet = new Sheet();
    for (let at = 0; at < n; at++) sheet.host(`H${at}`, `10.0.${at >> 8}.${at & 255}/16`);
    return sheet.topology;
  };
  const judge = (rule: Rule, drawing: Topology) =>
    checkSubmission(labOf([rule], emptyTopology()), drawing).requirements[0]!;
  const pairwise: Rule[] = [
    { kind: 'reach', from: '@hosts', to: '@hosts' },
    { kind: 'within', who: '@hosts' },
    { kind: 'apart', from: '@hosts', to: '@hosts' },
    { kind: 'pathThrough', from: '@hosts', to: '@hosts', via: '@hosts' },
  ];
  test.each(pairwise)('%j: more pairs than can be judged wait for a person', (rule) => {
    const { verdict, items } = judge(rule, hosts(3000));
    expect(verdict).toBe('unjudged');
    expect(items).toHaveLength(1);
    expect(items[0]!.text).toMatch(/^3000 × 3000 pairs are asked: at most \d+ are judged\.$/);
  });
  test('of many that all fail each is lost, and nobody stands for pairs of others', () => {
    const { verdict, items } = judge(pairwise[0]!, hosts(60));
    expect(verdict).toBe('lost');
    expect(items).toHaveLength(60);
    expect(items.reduce((sum, { weight = 1 }) => sum + weight, 0)).toBe(60 * 59);
  });
  test('what looks at each of them by itself is judged', () => {
    for (const rule of [
      { kind: 'masksAgree', who: '@hosts' },
      { kind: 'uniqueAddresses', who: '@hosts' },
    ] satisfies Rule[])
      expect(judge(rule, hosts(1500)).items.length).toBeGreaterThanOrEqual(1499);
  });
});
