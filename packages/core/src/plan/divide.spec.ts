import fc from 'fast-check';
import { formatPrefix, overlaps, parsePrefix, sizeOf } from '../address';
import { good, plan, refusal, smallBrief, smallPlan } from '../tests/plans';
import { runs } from '../tests/runs';
import {
  type Block,
  type Brief,
  type LayoutOptions,
  type Plan,
  divideBySizes,
  divideEqually,
  layOutGroups,
  planProblems,
  planTree,
  subnetNeeds,
} from '.';

describe('dividing a block', () => {
  const root = (): Plan => ({
    blocks: { root: { prefix: '10.84.0.0/20', prefix6: 'fd5e:7a3c:90b1::/48', name: 'Ridge' } },
  });
  const prefixes = (blocks: readonly Block[]): string[] => blocks.map((block) => block.prefix);
  test('into equal parts, in both families; what is over stays free', () => {
    const done = good(divideEqually(planTree(root()), 'root', 3));
    expect(done.blocks.map((block) => [block.prefix, block.prefix6, block.standing])).toEqual([
      ['10.84.0.0/22', 'fd5e:7a3c:90b1::/50', 'proposed'],
      ['10.84.4.0/22', 'fd5e:7a3c:90b1:4000::/50', 'proposed'],
      ['10.84.8.0/22', 'fd5e:7a3c:90b1:8000::/50', 'proposed'],
    ]);
    expect(done.free[4].map(formatPrefix)).toEqual(['10.84.12.0/22']);
  });
  test('into parts of given sizes, hosts or lengths, with names', () => {
    const done = good(divideBySizes(planTree(root()), 'root', 'Guests 200, Tickets: 40\n/28; Link /30'));
    expect(done.blocks.map((block) => [block.name, block.prefix])).toEqual([
      ['Guests', '10.84.0.0/24'],
      ['Tickets', '10.84.1.0/26'],
      ['Ridge 3', '10.84.1.64/28'],
      ['Link', '10.84.1.80/30'],
    ]);
    expect(done.waste.inside).toBe(254n - 200n + (62n - 40n));
  });
  test('beside what is there already', () => {
    const tree = planTree(smallPlan());
    expect(prefixes(good(divideBySizes(tree, 'valley', 'Shop 14, Staff 100')).blocks)).toEqual([
      '10.84.1.64/28',
      '10.84.1.128/25',
    ]);
  });
  test.each([
    [() => divideEqually(planTree(smallPlan()), 'valley', 4), /is divided already/],
    [() => divideEqually(planTree(smallPlan()), 'winch', 1000), /2 to 256 parts/],
    [() => divideEqually(planTree(smallPlan()), 'winch', 32), /has 16 addresses: it cannot be split into 32 parts/],
    [
      () => divideBySizes(planTree(smallPlan()), 'winch', '40'),
      /no room left for a \/26: the largest free block is 10\.84\.4\.0\/28/,
    ],
    [() => divideBySizes(planTree(smallPlan()), 'winch', 'Tickets'), /"Tickets" has no size/],
    [() => divideBySizes(planTree(smallPlan()), 'winch', ' '), /Write the sizes/],
    [() => divideBySizes(planTree(smallPlan()), 'winch', '/33'), /at most 32 bits/],
  ])('what does not go is said with what to do: %#', (divide, wanted) => {
    expect(refusal(divide())).toMatch(wanted);
  });

  const options: LayoutOptions = { grow: false, bySite: false, align: null, vlanFrom: 10 };
  test('for all groups: largest first, without gaps, numbered, and what is wasted is said', () => {
    const done = good(layOutGroups(planTree(root()), 'root', smallBrief(), options));
    expect(done.blocks.map((block) => [block.group, block.prefix, block.prefix6, block.vlan])).toEqual([
      ['guests', '10.84.0.0/24', 'fd5e:7a3c:90b1:1::/64', 10],
      ['tickets', '10.84.1.0/26', 'fd5e:7a3c:90b1::/64', 20],
      ['winch', '10.84.1.64/28', 'fd5e:7a3c:90b1:2::/64', 30],
    ]);
    expect(done.waste).toEqual({ inside: 45n + 21n + 3n, alignment: 0n, growth: 0n, sites: 0n });
  });
  test('with a block for each site, room to grow beside each, and the sound plan that comes of it', () => {
    const done = good(layOutGroups(planTree(root()), 'root', smallBrief(), { ...options, bySite: true, grow: true }));
    expect(done.blocks.map((block) => [block.name, block.prefix])).toEqual([
      ['Valley', '10.84.0.0/22'],
      ['Guests', '10.84.0.0/24'],
      ['room for Guests', '10.84.1.0/24'],
      ['Tickets', '10.84.2.0/26'],
      ['room for Tickets', '10.84.2.64/26'],
      ['Winch', '10.84.4.0/28'],
      ['room for Winch', '10.84.4.16/28'],
    ]);
    expect(done.waste.growth).toBe(256n + 64n + 16n);
    expect(done.waste.sites).toBe(1024n - 2n * (256n + 64n));
    const document: Plan = {
      blocks: { ...root().blocks, ...Object.fromEntries(done.blocks.map((block, at) => [`b${at}`, block])) },
    };
    expect(planProblems(document, smallBrief())).toEqual([]);
  });
  test('each subnet in its own /24 wastes what is said', () => {
    const done = good(layOutGroups(planTree(root()), 'root', smallBrief(), { ...options, align: 24 }));
    expect(prefixes(done.blocks)).toEqual(['10.84.0.0/26', '10.84.1.0/24', '10.84.2.0/28']);
    expect(done.waste.alignment).toBe(256n - 64n + (256n - 16n));
  });
  test('a group that has its subnet is left alone; sites that have their block are filled', () => {
    const document = plan((plan) => void delete plan.blocks.winch);
    const done = good(layOutGroups(planTree(document), 'root', smallBrief(), { ...options, bySite: true }));
    expect(done.blocks.map((block) => [block.name, block.prefix, block.prefix6])).toEqual([
      ['Winch', '10.84.4.0/28', 'fd5e:7a3c:90b1:100::/64'],
    ]);
    expect(refusal(layOutGroups(planTree(smallPlan()), 'root', smallBrief(), options))).toMatch(
      /has its subnet already/,
    );
    expect(refusal(layOutGroups(planTree(root()), 'root', {}, options))).toMatch(/no groups yet/);
  });
  test('ranges for equipment and leases follow the brief’s address scheme', () => {
    const brief: Brief = { ...smallBrief(), schemes: { infrastructure: 4, pool: 'half' } };
    const done = good(layOutGroups(planTree(root()), 'root', brief, options));
    const inWinch = done.ranges.slice(-2);
    // 10 hosts, a gateway and 4 for equipment need a /27: .65 is the gateway, .66-.69 equipment, the upper half of what is left is leased
    expect(inWinch).toEqual([
      { from: '10.84.1.66', to: '10.84.1.69', use: 'infrastructure' },
      { from: '10.84.1.83', to: '10.84.1.94', use: 'pool' },
    ]);
  });
  test('a block that is too small is named with the largest that is free', () => {
    const tiny: Plan = { blocks: { root: { prefix: '10.84.0.0/25', name: 'Tiny' } } };
    expect(refusal(layOutGroups(planTree(tiny), 'root', smallBrief(), options))).toMatch(
      /Tiny has no room left for Guests, a \/24: the largest free block is 10\.84\.0\.0\/25/,
    );
  });
  test('whatever the numbers, subnets hold their group, do not overlap, and take no more space than the sum of the smallest sizes', () => {
    const group = fc.record({ later: fc.integer({ min: 1, max: 300 }), site: fc.constantFrom('A', 'B', 'C') });
    fc.assert(
      fc.property(
        fc.array(group, { minLength: 1, maxLength: 9 }),
        fc.boolean(),
        fc.boolean(),
        (groups, bySite, grow) => {
          const brief: Brief = {
            groups: groups.map(({ later, site }, at) => ({ id: `g${at}`, name: `G${at}`, now: 1, later, site })),
          };
          const big: Plan = { blocks: { root: { prefix: '10.0.0.0/12', name: 'Root' } } };
          const done = good(layOutGroups(planTree(big), 'root', brief, { ...options, bySite, grow }));
          const subnets = done.blocks.filter((block) => block.group !== undefined);
          const spaces = done.blocks
            .filter((block) => block.group !== undefined || block.standing === 'kept-free')
            .map((block) => good(parsePrefix(block.prefix)));
          expect(subnets).toHaveLength(groups.length);
          for (const [at, space] of spaces.entries())
            for (const other of spaces.slice(at + 1)) expect(overlaps(space, other)).toBe(false);
          for (const subnet of subnets) {
            const need = subnetNeeds(brief).find((each) => each.key === subnet.group)!;
            expect(good(parsePrefix(subnet.prefix)).length).toBe(need.length);
          }
          if (!bySite) {
            const total = spaces.reduce((sum, space) => sum + sizeOf(space), 0n);
            const end = spaces.reduce(
              (last, space) => (space.value + sizeOf(space) > last ? space.value + sizeOf(space) : last),
              0n,
            );
            expect(end - good(parsePrefix('10.0.0.0/12')).value).toBe(total);
          }
        },
      ),
      { numRuns: runs(40) },
    );
  });
});
