import { plan, smallBrief, smallPlan } from '../../tests/plans';
import {
  type Brief,
  type Plan,
  type PlanProblemCode,
  PLAN_PROBLEMS,
  freeIn,
  nextFreeIn,
  planProblems,
  planTree,
} from '..';

describe('what is wrong in a plan is named once, with where and what to do', () => {
  const codes = (document: Plan, brief: Brief = smallBrief()): PlanProblemCode[] =>
    planProblems(document, brief).map((problem) => problem.code);
  test('nothing in a sound one', () => {
    expect(planProblems(smallPlan(), smallBrief())).toEqual([]);
  });
  test('nor is the block of a site that is as large as the only subnet in it', () => {
    const plan = smallPlan();
    plan.blocks.tickets!.site = 'Valley';
    plan.blocks.whole = { prefix: plan.blocks.tickets!.prefix, name: 'Valley station', site: 'Valley' };
    expect(planProblems(plan, smallBrief()).filter(({ code }) => code === 'OVERLAP')).toEqual([]);
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
  describe('the phones of a site', () => {
    const brief = (): Brief => ({
      ...smallBrief(),
      groups: smallBrief().groups!.map((group) => (group.id === 'tickets' ? { ...group, needs: ['phones'] } : group)),
    });
    const withPhones = (prefix?: string) =>
      plan((plan) => {
        if (prefix) plan.blocks.voice = { prefix, name: 'Voice', site: 'Valley', purpose: 'phones', vlan: 30 };
      });
    test('without a subnet are told, and so is one too small for them', () => {
      expect(planProblems(withPhones(), brief())).toMatchObject([
        { code: 'GROUP_WITHOUT_SUBNET', text: 'Phones at Valley: no subnet yet, and 41 addresses are needed later.' },
      ]);
      expect(planProblems(withPhones('10.84.2.0/28'), brief())).toMatchObject([
        { code: 'TOO_SMALL', at: { block: 'voice' }, text: expect.stringMatching(/Take a \/26/) as string },
      ]);
      expect(codes(withPhones('10.84.2.0/26'), brief())).toEqual([]);
    });
    test('are not those of another site, and a group’s block is nobody’s phones', () => {
      const elsewhere = withPhones('10.84.5.0/26');
      elsewhere.blocks.voice!.site = 'Middle';
      expect(codes(elsewhere, brief())).toEqual(['GROUP_WITHOUT_SUBNET']);
      const taken = withPhones('10.84.2.0/26');
      taken.blocks.voice!.group = 'tickets';
      expect(codes(taken, brief())).toContain('GROUP_WITHOUT_SUBNET');
    });
  });
  test('a subnet with both ends usable has room for two more, and they may be addresses and gateways', () => {
    const ends = plan((plan) => {
      Object.assign(plan.blocks.winch!, { prefix: '10.84.4.0/29', ends: 'usable', gateway: '10.84.4.0' });
      plan.addresses!['10.84.4.7'] = { name: 'WINCH-8' };
    });
    const brief = smallBrief();
    brief.groups![2]!.later = 7;
    expect(codes(ends, brief)).toEqual([]);
    brief.groups![2]!.later = 8;
    expect(codes(ends, brief)).toEqual(['TOO_SMALL']);
    delete ends.blocks.winch!.ends;
    brief.groups![2]!.later = 4;
    expect(codes(ends, brief)).toEqual(['GATEWAY', 'ADDRESS_UNUSABLE']);
  });
  test('a subnet that is being vacated is its group’s no more, and nothing of it is offered', () => {
    const vacated = plan((plan) => void (plan.blocks.winch!.standing = 'being-vacated'));
    expect(codes(vacated)).toEqual(['GROUP_WITHOUT_SUBNET']);
    const tree = planTree(vacated);
    expect(nextFreeIn(tree, tree.nodes.get('winch')!, 4, smallBrief())).toBeNull();
    // It is in use all the same: nobody else gets its space.
    expect(freeIn(tree, 'middle', 4)!.next(28)).not.toMatchObject({ value: tree.nodes.get('winch')!.space[4]!.value });
  });
});
