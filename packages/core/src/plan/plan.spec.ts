import fc from 'fast-check';
import { formatAddress, formatPrefix, overlaps, parsePrefix, sizeOf } from '../address';
import { meetingPlaces } from '../changes';
import { plan, smallBrief, smallPlan } from '../tests/plans';
import { runs } from '../tests/runs';
import {
  type Block,
  type Brief,
  type LayoutOptions,
  type Plan,
  type PlanCommand,
  type PlannedChange,
  type PlanProblemCode,
  PLAN_PROBLEMS,
  addressTable,
  applyPlanCommand,
  applyPlanCommands,
  changePrefix,
  divideBySizes,
  divideEqually,
  fillOf,
  freeIn,
  layOutGroups,
  legendText,
  meetingWords,
  mergeBlocks,
  nameByScheme,
  nextFreeIn,
  planProblems,
  planTree,
  readPlan,
  rebase,
  separationWords,
  siteNeeds,
  subnetNeeds,
  swapBlocks,
  switchesFor,
  totalNeeds,
  withLegend,
} from '.';

const good = <T>(result: { ok: true; value: T } | { ok: false; error: unknown }): T => {
  if (!result.ok) throw new Error(JSON.stringify(result.error));
  return result.value;
};
const refusal = (result: { ok: true } | { ok: false; error: string }): string => (result.ok ? 'taken' : result.error);
const after = (document: Plan, ...commands: PlanCommand[]): Plan =>
  good(applyPlanCommands(document, 'test', commands)).document;

describe('the tree follows from the prefixes', () => {
  test('blocks lie in the smallest block that holds them, in order of their addresses, in both families', () => {
    const tree = planTree(smallPlan());
    expect(tree.order).toEqual(['root', 'valley', 'guests', 'tickets', 'middle', 'winch']);
    expect(
      [...tree.nodes.values()].map((node) => [node.id, node.depth, node.parents[4], node.parents[6]]).sort(),
    ).toEqual([
      ['guests', 2, 'valley', 'valley'],
      ['middle', 1, 'root', 'root'],
      ['root', 0, null, null],
      ['tickets', 2, 'valley', 'valley'],
      ['valley', 1, 'root', 'root'],
      ['winch', 2, 'middle', 'middle'],
    ]);
  });
  test('a plan of IPv6 alone, and blocks that cannot be read, which come last', () => {
    const tree = planTree({
      blocks: {
        bad: { prefix: '10.84.1.7/24', name: 'typed wrong' },
        sub: { prefix: 'fd5e:7a3c:90b1:5::/64', name: 'sub' },
        all: { prefix: 'fd5e:7a3c:90b1::/48', name: 'all' },
      },
    });
    expect(tree.order).toEqual(['all', 'sub', 'bad']);
    expect(tree.nodes.get('sub')!.parent).toBe('all');
  });
  test('reading a changed plan with the help of the one before gives the same as reading it anew', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 62 }), { maxLength: 20 }), (lasts) => {
        let document = smallPlan();
        let tree = planTree(document);
        for (const last of lasts) {
          const key = `10.84.1.${last}`;
          document = after(
            document,
            document.addresses?.[key]
              ? { kind: 'freeAddresses', addresses: [key] }
              : { kind: 'takeAddresses', addresses: { [key]: { name: 'x' } } },
          );
          tree = planTree(document, tree);
        }
        expect(tree).toEqual(planTree(document));
      }),
      { numRuns: runs(20) },
    );
  });
});

describe('how full', () => {
  const brief = smallBrief();
  const fill = (document: Plan, id: string) => {
    const tree = planTree(document);
    const { divided, taken, of, reserved } = fillOf(tree, tree.nodes.get(id)!, brief)!;
    return { divided, taken: Number(taken), of: Number(of), reserved: Number(reserved) };
  };
  test('a divided block is measured by what is divided out of it', () => {
    expect(fill(smallPlan(), 'valley')).toEqual({ divided: true, taken: 256 + 64, of: 1024, reserved: 0 });
    const kept = plan(
      (plan) => void (plan.blocks.spare = { prefix: '10.84.2.0/24', name: 'spare', standing: 'kept-free' }),
    );
    expect(fill(kept, 'valley').taken).toBe(256 + 64);
  });
  test('a subnet by addresses in use and its gateway against usable ones; ranges are set aside', () => {
    expect(fill(smallPlan(), 'tickets')).toEqual({ divided: false, taken: 3, of: 62, reserved: 0 });
    expect(fill(smallPlan(), 'guests')).toEqual({ divided: false, taken: 1, of: 254, reserved: 155 });
  });
  test.each<[string, Partial<Block>, number]>([
    ['a /30 for a link', { prefix: '10.84.15.0/30', use: 'link' }, 2],
    ['a /31 for a link, RFC 3021', { prefix: '10.84.15.0/31', use: 'link' }, 2],
    ['a /32', { prefix: '10.84.15.0/32', use: 'loopback' }, 1],
    ['a pool for address translation uses all', { prefix: '10.84.15.0/29', use: 'translation' }, 8],
    ['unless it is set otherwise', { prefix: '10.84.15.0/29', use: 'translation', ends: 'kept' }, 6],
    ['a subnet of hosts with its ends set usable', { prefix: '10.84.15.0/29', ends: 'usable' }, 8],
  ])('%s', (_what, block, usable) => {
    expect(fill({ blocks: { x: { prefix: '', name: 'x', ...block } } }, 'x').of).toBe(usable);
  });
  test('the next free address passes over gateway, ranges, what is taken, and what a drawing uses', () => {
    const tree = planTree(
      plan((plan) => void (plan.ranges!.eq = { from: '10.84.1.4', to: '10.84.1.9', use: 'infrastructure' })),
    );
    const node = tree.nodes.get('tickets')!;
    const next = (used?: ReadonlySet<bigint>): string =>
      formatAddress(nextFreeIn(tree, node, 4, brief, undefined, used)!);
    expect(next()).toBe('10.84.1.10');
    expect(next(new Set([0x0a54010an]))).toBe('10.84.1.11');
    const last: Brief = { ...brief, schemes: { gateway: 'last' } };
    expect(formatAddress(nextFreeIn(tree, node, 4, last)!)).toBe('10.84.1.1');
    const full = planTree({
      blocks: { x: { prefix: '10.84.15.0/30', name: 'x' } },
      addresses: { '10.84.15.2': { name: 'a' } },
    });
    expect(nextFreeIn(full, full.nodes.get('x')!, 4, brief)).toBeNull();
  });
});

describe('what follows from a brief', () => {
  test('hosts, gateway and access points make the addresses, and the smallest prefix holds them', () => {
    const needs = subnetNeeds(smallBrief());
    expect(needs.map((need) => [need.name, need.now.value, need.later.value, need.length, need.room])).toEqual([
      ['Tickets', 17, 41, 26, 21],
      ['Guests', 60 + 3 + 1, 200 + 8 + 1, 24, 45],
      ['Winch', 5, 11, 28, 3],
    ]);
    expect(needs[0]!.later.words).toBe(
      '40 later + 1 gateway = 41 addresses: 2^5 − 2 = 30 is too few, 2^6 − 2 = 62 fits',
    );
    expect(needs[1]!.ports).toMatchObject({ now: 3, later: 8, words: 'one for each access point' });
  });
  test('a later number below the present one does not shrink a subnet; equipment and an own server count', () => {
    const [need] = subnetNeeds({
      groups: [{ id: 'a', name: 'A', now: 30, later: 5, needs: ['own server'] }],
      schemes: { infrastructure: 4 },
    });
    expect(need!.later.value).toBe(30 + 1 + 1 + 4);
    expect(need!.later.words).toContain('30 later + 1 server of its own + 1 gateway + 4 for equipment = 36 addresses');
  });
  test('phones stand in a VLAN of their own at each site and take no port', () => {
    const brief: Brief = {
      groups: [
        { id: 'a', name: 'A', now: 8, later: 20, needs: ['phones'], site: 'Valley' },
        { id: 'b', name: 'B', now: 2, later: 3, needs: ['phones'], site: 'Valley' },
        { id: 'c', name: 'C', now: 5, later: 5, site: 'Middle' },
      ],
    };
    const voice = subnetNeeds(brief).filter((need) => !need.group);
    expect(voice.map((need) => [need.site, need.later.value, need.ports.later])).toEqual([['Valley', 24, 0]]);
    const [valley, middle] = siteNeeds(brief);
    expect(valley!.vlans).toEqual({ value: 3, words: '2 groups and one for the phones, a VLAN each' });
    expect(valley!.ports).toEqual({ now: 10, later: 23 });
    expect(middle!.vlans.value).toBe(1);
    expect(totalNeeds([valley!, middle!])).toMatchObject({ ports: 28, vlans: 4, switches: 2 });
  });
  test.each([
    [0, [], 0],
    [11, [['access-switch-12', 1]], 1],
    [13, [['access-switch-20', 1]], 7],
    [44, [['access-switch-44', 1]], 0],
    [
      50,
      [
        ['access-switch-44', 1],
        ['access-switch-12', 1],
      ],
      6,
    ],
    [88, [['access-switch-44', 2]], 0],
    [
      100,
      [
        ['access-switch-44', 2],
        ['access-switch-12', 1],
      ],
      0,
    ],
  ])('%i ports are few and small access switches of the kit', (ports, wanted, left) => {
    const choice = switchesFor(ports);
    expect(choice.switches.map((device) => [device.model, device.count])).toEqual(wanted);
    expect(choice.left).toBe(left);
  });
  test('the uplink carries the ports at the stated oversubscription', () => {
    const [site] = siteNeeds({
      groups: [{ id: 'a', name: 'A', now: 10, later: 48, site: 'X' }],
      ratios: { oversubscription: 4 },
    });
    expect(site!.uplink).toEqual({ value: 1200, words: '48 ports × 100 Mb/s ÷ 4 = 1200 Mb/s', link: '10 Gb/s' });
  });
  test('separations and name schemes in words', () => {
    const brief = smallBrief();
    expect(separationWords({ who: 'guests', from: '@inside' }, brief)).toBe('Guests reach nothing inside.');
    expect(separationWords({ who: 'winch', from: 'guests' }, brief)).toBe('Winch do not reach Guests.');
    expect(separationWords({ text: 'as typed' }, brief)).toBe('as typed');
    expect(separationWords({ who: 'winch', from: '@others', text: 'but Guests' }, brief)).toBe(
      'Winch reach no other group (but Guests).',
    );
    expect(nameByScheme('{kind}-{site}{nn}', { kind: 'SW', site: 'valley', group: '', n: 3 })).toBe('SW-V03');
    expect(nameByScheme('DESK-{n} {unknown}', { kind: 'PC', site: '', group: '', n: 3 })).toBe('DESK-3 {unknown}');
  });
});

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

describe('moving, resizing, merging and swapping', () => {
  const made = (document: Plan, change: PlannedChange): Plan => after(document, ...change.commands);
  const said = (change: PlannedChange): string =>
    change.consequences
      .map((consequence) => (consequence.warns ? `! ${consequence.text}` : consequence.text))
      .join('\n');
  test('a block moves with the blocks, ranges and addresses in it, and undo brings all back', () => {
    const start = plan((plan) => void (plan.blocks.tickets!.gateway = '10.84.1.1'));
    const change = good(changePrefix(planTree(start), 'valley', '10.84.8.0/22'));
    const done = made(start, change);
    expect(done.blocks.tickets).toMatchObject({
      prefix: '10.84.9.0/26',
      gateway: '10.84.9.1',
      prefix6: 'fd5e:7a3c:90b1:1::/64',
    });
    expect(Object.keys(done.addresses!)).toEqual(['10.84.9.2', '10.84.9.3']);
    expect(done.ranges!.pool).toMatchObject({ from: '10.84.8.100', to: '10.84.8.254' });
    expect(said(change)).toBe(
      [
        'Valley moves from 10.84.0.0/22 to 10.84.8.0/22.',
        '2 blocks in it move along.',
        '2 addresses change: what uses them must be set anew.',
        '1 range moves along.',
        'It lies in Ridge, 10.84.0.0/20.',
      ].join('\n'),
    );
    const applied = good(applyPlanCommands(start, 'move', change.commands));
    expect(good(applyPlanCommand(applied.document, applied.inverse)).document).toEqual(start);
  });
  test('what would collide or fall out is said before', () => {
    const tree = planTree(smallPlan());
    expect(said(good(changePrefix(tree, 'tickets', '10.84.0.0/26')))).toMatch(/It lies in Guests/);
    expect(said(good(changePrefix(tree, 'guests', '10.84.0.0/23')))).toMatch(
      /grows from 10\.84\.0\.0\/24 to 10\.84\.0\.0\/23: 256 → 512 addresses\.[^]*! It takes space of Tickets\./,
    );
    expect(said(good(changePrefix(tree, 'valley', '10.84.0.0/24')))).toMatch(
      /! 1 block no longer lies in it: Tickets\.[^]*! 2 addresses in use are left outside/,
    );
    expect(refusal(changePrefix(tree, 'valley', '10.84.0.7/24'))).toMatch(/is an address inside a block/);
    expect(refusal(changePrefix(tree, 'valley', '10.84.0.0/22'))).toMatch(/already/);
  });
  test('into a smaller place only what fits goes along', () => {
    const start = smallPlan();
    const change = good(changePrefix(planTree(start), 'valley', '10.84.12.0/24'));
    expect(said(change)).toMatch(/! 3 things in it do not fit into the new size and stay where they are/);
    expect(made(start, change).blocks.tickets!.prefix).toBe('10.84.1.0/26');
  });
  test('an address that somebody has in the new place stays with them', () => {
    const start = plan((plan) => void (plan.addresses!['10.84.2.2'] = { name: 'OTHER' }));
    const change = good(changePrefix(planTree(start), 'tickets', '10.84.2.0/26'));
    expect(said(change)).toMatch(/! 1 address of the new place is in use already and stays with who has it/);
    expect(made(start, change).addresses).toMatchObject({
      '10.84.2.2': { name: 'OTHER' },
      '10.84.1.2': { name: 'DESK-1' },
      '10.84.2.3': { name: 'DESK-2' },
    });
  });
  test('two blocks of a size swap with all that is in them', () => {
    const start = plan((plan) => {
      plan.blocks.shop = { prefix: '10.84.1.64/26', prefix6: 'fd5e:7a3c:90b1:2::/64', name: 'Shop' };
      plan.addresses!['10.84.1.70'] = { name: 'TILL' };
    });
    const done = made(start, good(swapBlocks(planTree(start), 'tickets', 'shop')));
    expect([done.blocks.tickets!.prefix, done.blocks.shop!.prefix, done.blocks.shop!.prefix6]).toEqual([
      '10.84.1.64/26',
      '10.84.1.0/26',
      'fd5e:7a3c:90b1:1::/64',
    ]);
    expect(done.addresses).toEqual({
      '10.84.1.66': { name: 'DESK-1' },
      '10.84.1.67': { name: 'DESK-2' },
      '10.84.1.6': { name: 'TILL' },
    });
    expect(refusal(swapBlocks(planTree(start), 'tickets', 'winch'))).toMatch(/only blocks of the same size/);
  });
  test('neighbours that make one block merge; others do not', () => {
    const start = plan((plan) => {
      plan.blocks.shop = { prefix: '10.84.1.64/26', name: 'Shop', vlan: 30 };
      delete plan.blocks.tickets!.prefix6;
    });
    const change = good(mergeBlocks(planTree(start), ['tickets', 'shop']));
    expect(said(change)).toMatch(/Tickets becomes 10\.84\.1\.0\/25; Shop goes\.\n! They were in VLANs 10 and 30/);
    expect(made(start, change).blocks).toMatchObject({ tickets: { prefix: '10.84.1.0/25', vlan: 10 } });
    expect(refusal(mergeBlocks(planTree(start), ['tickets', 'winch']))).toMatch(/not the two halves of one block/);
  });
});

describe('what is wrong in a plan is named once, with where and what to do', () => {
  const codes = (document: Plan, brief: Brief = smallBrief()): PlanProblemCode[] =>
    planProblems(document, brief).map((problem) => problem.code);
  test('nothing in a sound one', () => {
    expect(planProblems(smallPlan(), smallBrief())).toEqual([]);
  });
  const cases: [PlanProblemCode, (document: Plan, brief: Brief) => void, RegExp][] = [
    ['PREFIX_UNREADABLE', (plan) => void (plan.blocks.winch!.prefix = '10.84.4.0 /28'), /There is a space/],
    [
      'OVERLAP',
      (plan) => void (plan.blocks.x = { prefix: '10.84.1.0/26', name: 'Copy', site: 'Valley' }),
      /Copy|Tickets/,
    ],
    [
      'TWO_SITES',
      (plan) => void (plan.blocks.zz = { prefix: '10.84.1.0/26', name: 'Copy', site: 'Middle' }),
      /is at Valley \(Tickets\) and at Middle \(Copy\)/,
    ],
    [
      'SUBNET_DIVIDED',
      (plan) => void (plan.blocks.x = { prefix: '10.84.1.0/28', name: 'Shop' }),
      /lies inside Tickets, which is a subnet itself/,
    ],
    ['OUTSIDE_PARENT', (plan) => void (plan.blocks.winch!.prefix = '10.84.2.0/28'), /Winch/],
    [
      'OUTSIDE_PARENT',
      (plan) => void (plan.blocks.winch!.prefix6 = 'fd5e:7a3c:90b1:7::/64'),
      /its IPv4 prefix lies in Middle, its IPv6 prefix in Valley/,
    ],
    [
      'OUTSIDE_ROOT',
      (plan) => void (plan.blocks.x = { prefix: '10.90.0.0/26', name: 'Shop' }),
      /Shop \(10\.90\.0\.0\/26\) lies in no other block/,
    ],
    [
      'PROVIDER_RANGE',
      (plan) => void (plan.blocks.x = { prefix: '198.51.100.64/26', name: 'Edge' }),
      /Edge: 198\.51\.100\.64\/26 meets 198\.51\.100\.0\/24, which is handed out by the provider/,
    ],
    ['NOT_PRIVATE', (plan) => void (plan.blocks.x = { prefix: '127.29.64.0/26', name: 'Typo' }), /172 meant\?/],
    [
      'PRIVATE_LIKE_PROVIDER',
      (_one, brief) => Object.assign(brief, { outside: ['10.200.0.0/16'], rules: { otherPrivate: true } }),
      /same private range as the provider’s \(10\.0\.0\.0\/8\)/,
    ],
    [
      'TOO_SMALL',
      (plan) => void (plan.blocks.tickets!.prefix = '10.84.1.0/27'),
      /has 30 usable addresses, but 40 later \+ 1 gateway = 41 addresses\. Take a \/26/,
    ],
    [
      'GROUP_WITHOUT_SUBNET',
      (plan) => void delete plan.blocks.winch,
      /Winch at Middle: no subnet yet, and 11 addresses/,
    ],
    [
      'POINT_TO_POINT',
      (plan) =>
        void (plan.blocks.x = {
          prefix: '10.84.4.64/31',
          name: 'Pair',
          use: 'hosts',
          site: 'Middle',
          automatic: false,
        }),
      /two addresses, for the two ends of a link/,
    ],
    ['VLAN_TWICE', (plan) => void (plan.blocks.tickets!.vlan = 90), /VLAN 90 is given to Guests and to Tickets/],
    ['SITE_OF_GROUP', (plan) => void (plan.blocks.winch!.group = 'tickets'), /its group is at Valley/],
    [
      'GATEWAY',
      (plan) => void (plan.blocks.tickets!.gateway = '10.84.1.62'),
      /is not the first usable address, which is 10\.84\.1\.1/,
    ],
    ['GATEWAY', (plan) => void (plan.blocks.tickets!.gateway = '10.84.2.1'), /lies outside 10\.84\.1\.0\/26/],
    ['GATEWAY', (plan) => void (plan.blocks.tickets!.gateway = '10.84.1.63'), /is the broadcast address/],
    [
      'ADDRESS_TWICE',
      (plan) => void (plan.addresses!['10.84.1.9'] = { name: 'DESK-1' }),
      /DESK-1 has two addresses in Tickets: 10\.84\.1\.2 and 10\.84\.1\.9/,
    ],
    [
      'ADDRESS_OUTSIDE',
      (plan) => void (plan.addresses!['10.84.7.9'] = { name: 'LOST' }),
      /10\.84\.7\.9 \(LOST\) lies in no subnet/,
    ],
    [
      'ADDRESS_UNUSABLE',
      (plan) => void (plan.addresses!['10.84.1.63'] = { name: 'LOST' }),
      /broadcast address of Tickets/,
    ],
    ['ADDRESS_IN_POOL', (plan) => void (plan.addresses!['10.84.0.120'] = { name: 'TAB' }), /DHCP pool of Guests/],
    [
      'ADDRESS_KEPT_FREE',
      (plan) => {
        plan.blocks.x = { prefix: '10.84.2.0/24', name: 'Spare', standing: 'kept-free' };
        plan.addresses!['10.84.2.9'] = { name: 'LOST' };
      },
      /kept free/,
    ],
    [
      'RANGE_UNREADABLE',
      (plan) => void (plan.ranges!.x = { from: '10.84.1.20', to: '10.84.1.300', use: 'kept' }),
      /300 .* is more than 255/,
    ],
    [
      'RANGE_BEYOND',
      (plan) => void (plan.ranges!.x = { from: '10.84.1.20', to: '10.84.1.90', use: 'kept' }),
      /runs beyond its last address 10\.84\.1\.63/,
    ],
    [
      'RANGES_MEET',
      (plan) => void (plan.ranges!.x = { from: '10.84.0.90', to: '10.84.0.110', use: 'printers' }),
      /overlap/,
    ],
    ['NOT_64', (plan) => void (plan.blocks.tickets!.prefix6 = 'fd5e:7a3c:90b1:1::/80'), /is no \/64/],
  ];
  test.each(cases)('%s %#', (code, spoil, wanted) => {
    const [document, brief] = [smallPlan(), smallBrief()];
    spoil(document, brief);
    const found = planProblems(document, brief).filter((problem) => problem.code === code);
    expect(found.map((problem) => problem.text).join('\n')).toMatch(wanted);
    expect(found.length).toBeGreaterThan(0);
    expect(found.every((problem) => Object.keys(problem.at).length > 0 || code === 'RANGES_MEET')).toBe(true);
  });
  test('every code there is has a case above', () => {
    expect(PLAN_PROBLEMS.filter((code) => !cases.some(([mistake]) => mistake === code))).toEqual([]);
  });
  test('two subnets of one group hold it together, each with a gateway of its own', () => {
    const two = (prefix: string): PlanProblemCode[] =>
      codes(
        plan((plan) => {
          plan.blocks.tickets!.prefix = '10.84.1.0/27';
          plan.blocks.more = { prefix, name: 'More tickets', site: 'Valley', group: 'tickets', vlan: 11 };
        }),
      );
    expect(two('10.84.1.32/28')).toEqual([]); // 30 + 14 for 40 hosts and two gateways
    expect(two('10.84.1.32/29')).toEqual(['TOO_SMALL']);
  });
  test('what is no mistake is not called one', () => {
    expect(codes(plan((plan) => void (plan.blocks.winch!.vlan = 10)))).toEqual([]); // another site, with routers between
    expect(
      codes(plan((plan) => void (plan.blocks.x = { prefix: '10.84.15.0/31', name: 'Link', use: 'link' }))),
    ).toEqual([]);
    expect(
      codes(plan((plan) => void (plan.blocks.x = { prefix: '198.51.100.8/29', name: 'NAT', use: 'translation' }))),
    ).not.toContain('PROVIDER_RANGE');
    expect(
      codes(
        plan((plan) => void (plan.blocks.tickets!.prefix6 = 'fd5e:7a3c:90b1:1::/80')),
        { ...smallBrief() },
      ),
    ).toEqual(['NOT_64']);
    expect(
      codes(
        plan((plan) => Object.assign(plan.blocks.tickets!, { prefix6: 'fd5e:7a3c:90b1:1::/80', automatic: false })),
      ),
    ).toEqual([]);
    expect(codes(plan((plan) => void (plan.blocks.tickets!.gateway6 = 'fe80::1')))).toEqual([]);
    expect(
      codes(
        plan((plan) => void (plan.blocks.x = { prefix: '192.0.2.0/24', name: 'Public' })),
        { ...smallBrief(), rules: { privateOnly: false } },
      ),
    ).toEqual(['OUTSIDE_ROOT']);
  });
});

describe('changes of a plan', () => {
  const take = (address: string, name: string): PlanCommand => ({
    kind: 'takeAddresses',
    addresses: { [address]: { name } },
  });
  const print = (command: PlanCommand, document = smallPlan()) => {
    const { reads, writes } = good(applyPlanCommand(document, command));
    return { reads, writes };
  };
  test('an address that somebody has is never given to another', () => {
    expect(refusal(applyPlanCommand(smallPlan(), take('10.84.1.2', 'THIEF')))).toBe('10.84.1.2 is taken by DESK-1.');
    expect(refusal(applyPlanCommand(smallPlan(), take('fd5e::0001', 'X')))).toMatch(/is written fd5e::1/);
    expect(refusal(applyPlanCommand(smallPlan(), { kind: 'freeAddresses', addresses: ['10.84.1.9'] }))).toMatch(
      /not in the plan any more/,
    );
  });
  test('two takers of one address meet; takers of two do not', () => {
    expect(meetingPlaces(print(take('10.84.1.9', 'A')), print(take('10.84.1.9', 'B')))).toEqual([
      ['addresses', '10.84.1.9'],
    ]);
    expect(meetingPlaces(print(take('10.84.1.9', 'A')), print(take('10.84.1.10', 'B')))).toEqual([]);
  });
  test('two blocks put into the same space meet, whatever their ids; blocks apart do not', () => {
    const add = (id: string, prefix: string): PlanCommand => ({ kind: 'addBlock', id, block: { prefix, name: id } });
    const meet = (a: PlanCommand, b: PlanCommand): string[] =>
      meetingPlaces(print(a), print(b)).map((path) => meetingWords(path, smallPlan()));
    expect(meet(add('a', '10.84.2.0/24'), add('b', '10.84.2.64/26'))).toEqual(['10.84.2.0/24']);
    expect(meet(add('b', '10.84.2.64/26'), add('a', '10.84.2.0/24'))).toEqual(['10.84.2.64/26']);
    expect(meet(add('a', '10.84.2.0/24'), add('b', '10.84.3.0/24'))).toEqual([]);
    expect(meet(add('a', 'fd5e:7a3c:90b1:7::/64'), add('b', 'fd5e:7a3c:90b1:7::/64'))).toEqual([
      'fd5e:7a3c:90b1:7::/64',
    ]);
    expect(meet(add('a', '10.84.2.0/24'), { kind: 'setBlock', id: 'winch', set: { prefix: '10.84.2.0/28' } })).toEqual([
      '10.84.2.0/24',
    ]);
    expect(
      meet({ kind: 'setBlock', id: 'winch', set: { name: 'x' } }, { kind: 'setBlock', id: 'winch', set: { vlan: 7 } }),
    ).toEqual([]);
    expect(
      meet(
        { kind: 'setBlock', id: 'winch', set: { name: 'x' } },
        { kind: 'setBlock', id: 'winch', set: { name: 'y' } },
      ),
    ).toEqual(['name of Winch']);
    expect(
      meet({ kind: 'setBlock', id: 'winch', set: { name: 'x' } }, { kind: 'removeBlocks', ids: ['winch'] }),
    ).toEqual(['name of Winch', 'Winch']);
  });
  test('undoing the removal of a block claims its space again', () => {
    const removed = good(applyPlanCommand(smallPlan(), { kind: 'removeBlocks', ids: ['winch'] }));
    const back = print(removed.inverse, removed.document);
    const other = print(
      { kind: 'addBlock', id: 'new', block: { prefix: '10.84.4.0/27', name: 'new' } },
      removed.document,
    );
    expect(meetingPlaces(back, other).length).toBeGreaterThan(0);
  });
  test('any sequence undone in reverse brings back the plan to the letter', () => {
    const anyCommand: fc.Arbitrary<PlanCommand> = fc.oneof(
      fc.integer({ min: 2, max: 40 }).map((last) => take(`10.84.1.${last}`, 'X')),
      fc
        .integer({ min: 2, max: 40 })
        .map((last): PlanCommand => ({ kind: 'freeAddresses', addresses: [`10.84.1.${last}`] })),
      fc.constantFrom('root', 'tickets', 'winch').map((id): PlanCommand => ({ kind: 'removeBlocks', ids: [id] })),
      fc
        .constantFrom('tickets', 'winch')
        .map((id): PlanCommand => ({ kind: 'setBlock', id, set: { vlan: null, name: 'other' } })),
      fc.constant<PlanCommand>({ kind: 'setRange', id: 'pool', set: null }),
      fc.integer({ min: 0, max: 3 }).map((at): PlanCommand => ({
        kind: 'addBlock',
        id: `n${at}`,
        block: { prefix: `10.84.${at + 8}.0/24`, name: 'n' },
      })),
    );
    fc.assert(
      fc.property(fc.array(anyCommand, { maxLength: 20 }), (commands) => {
        let document = smallPlan();
        const inverses: PlanCommand[] = [];
        for (const command of commands) {
          const done = applyPlanCommand(document, command);
          if (!done.ok) continue;
          document = done.value.document;
          expect(readPlan(document).ok).toBe(true);
          inverses.unshift(done.value.inverse);
        }
        for (const inverse of inverses) document = good(applyPlanCommand(document, inverse)).document;
        expect(document).toEqual(smallPlan());
      }),
      { numRuns: runs(30) },
    );
  });
  test('20,000 addresses are taken and given back at once without copying the plan 20,000 times', () => {
    const addresses = Object.fromEntries(
      Array.from({ length: 20_000 }, (_, at) => [`10.84.${16 + (at >> 8)}.${at & 255}`, { name: `h${at}` }]),
    );
    const done = good(applyPlanCommand(smallPlan(), { kind: 'takeAddresses', addresses }));
    expect(Object.keys(done.document.addresses!)).toHaveLength(20_002);
    expect(good(applyPlanCommand(done.document, done.inverse)).document).toEqual(smallPlan());
  });
  test.each([
    [{ blocks: {}, addresses: { '10.84.1.300': { name: '' } } }, /300/],
    [{ blocks: {}, addresses: { 'fd5e:0::1': { name: '' } } }, /is written fd5e::1 here/],
    [{ blocks: { 'a b': { prefix: '', name: '' } } }, /"a b" has a form that ids do not have/],
    [{ blocks: { a: { prefix: '', name: '', colour: 'red' } } }, /"colour" is not known here/],
  ])('a plan that does not hold together is refused: %#', (value, wanted) => {
    const read = readPlan(value);
    expect(read.ok ? '' : read.error[0]!.text).toMatch(wanted);
  });
});

describe('the table for paper and drawing', () => {
  test('has group, VLAN, subnet, gateway, pool and a colour for each VLAN', () => {
    const lines = addressTable(planTree(smallPlan()), smallBrief());
    expect(
      lines.map((line) => [line.name, line.vlan, line.tone, line.subnet, line.subnet6, line.gateway, line.pool]),
    ).toEqual([
      ['Guests', 90, 3, '10.84.0.0/24', 'fd5e:7a3c:90b1::/64', '10.84.0.1', '10.84.0.100 - 10.84.0.254'],
      ['Tickets', 10, 1, '10.84.1.0/26', 'fd5e:7a3c:90b1:1::/64', '10.84.1.1', ''],
      ['Winch', 50, 2, '10.84.4.0/28', 'fd5e:7a3c:90b1:100::/64', '10.84.4.1', ''],
    ]);
  });
  test('goes into a legend once, beside what stands there', () => {
    const text = legendText(planTree(smallPlan()), smallBrief());
    expect(text).toContain('Tickets · VLAN 10 · 10.84.1.0/26 · fd5e:7a3c:90b1:1::/64 · gateway 10.84.1.1');
    const once = withLegend('Solid lines are copper.', text);
    expect(withLegend(once, text)).toBe(once);
    expect(withLegend(once, '')).toBe('Solid lines are copper.');
    expect(freeIn(planTree(smallPlan()), 'valley', 4)!.all.map(formatPrefix)).toEqual([
      '10.84.1.64/26',
      '10.84.1.128/25',
      '10.84.2.0/23',
    ]);
  });
});

describe('changes that met others', () => {
  const mine: PlanCommand[] = [
    { kind: 'takeAddresses', addresses: { '10.84.1.9': { name: 'MINE' }, '10.84.1.10': { name: 'ALSO MINE' } } },
    { kind: 'addBlock', id: 'm', block: { prefix: '10.84.2.0/26', name: 'My shop' } },
    { kind: 'setBlock', id: 'winch', set: { vlan: 51 } },
  ];
  test('go onto the other version but for what both took, which is shown with both takers and has the next free one instead', () => {
    const theirs = plan((plan) => {
      plan.addresses!['10.84.1.9'] = { name: 'THEIRS' };
      plan.blocks.t = { prefix: '10.84.2.0/25', name: 'Their store', site: 'Valley' };
      plan.blocks.u = { prefix: '10.84.2.0/27', name: 'Their shelf' };
    });
    const done = rebase(theirs, mine, smallBrief());
    expect(done.met).toEqual([
      { what: '10.84.1.9', mine: 'MINE', theirs: 'THEIRS' },
      { what: '10.84.2.0/26', mine: 'My shop', theirs: 'Their shelf' },
    ]);
    const both = after(theirs, ...done.kept, ...done.instead);
    expect(both.addresses).toMatchObject({
      '10.84.1.9': { name: 'THEIRS' },
      '10.84.1.10': { name: 'ALSO MINE' },
      '10.84.1.4': { name: 'MINE' },
    });
    expect([both.blocks.winch!.vlan, both.blocks.m!.prefix]).toEqual([51, '10.84.2.64/26']);
  });
  test('that met nobody all go', () => {
    const done = rebase(smallPlan(), mine, smallBrief());
    expect([done.met, done.instead]).toEqual([[], []]);
    expect(after(smallPlan(), ...done.kept)).toEqual(after(smallPlan(), ...mine));
  });
});
