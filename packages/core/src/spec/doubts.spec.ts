import { labOf } from '../tests/labs';
import { Sheet, demoLab, twoLans } from '../tests/topologies';
import { type Topology } from '../topology';
import { type LabFile, type Rule, doubtsOf } from '.';

const textsOf = (rules: readonly Rule[], reference: Topology = twoLans(), change: Partial<LabFile> = {}): string[] =>
  doubtsOf({ ...labOf(rules, reference), ...change })
    .filter(({ code }) => code !== 'unused')
    .map(({ text }) => text);
const count = (op: string, n: number, site = 'anywhere', what = 'switch'): Rule => ({
  kind: 'deviceCount',
  what,
  op,
  n,
  site,
});
const both = 'r0 and r1 cannot both be earned';

/** Two desks at two stations, on a switch each; the switches are joined. */
const stations = (): Topology => {
  const { topology } = new Sheet()
    .device('S1', 'access-switch-12', {}, { site: 'v' })
    .device('S2', 'access-switch-12', {}, { site: 's' })
    .host('A', '10.84.1.11/24')
    .host('B', '10.84.1.12/24')
    .cable('S1 p1', 'A e0')
    .cable('S2 p1', 'B e0')
    .cable('S1 u1', 'S2 u1', 'crossover');
  return { ...topology, sites: { v: { name: 'Valley' }, s: { name: 'Summit' } } };
};

describe('two requirements that nobody can earn together', () => {
  test.each<[string, Rule, Rule, string]>([
    ['counts', count('atMost', 2), count('exactly', 3), 'r1 wants 3 or more, r0 2 at the most.'],
    ['a count at a site', count('atLeast', 4, 'v'), count('atMost', 3), 'r0 wants 4 or more, r1 3 at the most.'],
    [
      'reach and apart, of those whom both speak of',
      { kind: 'apart', from: '@hosts', to: 'B' },
      { kind: 'reach', from: 'A', to: '@hosts', service: 'tcp 502' },
      'r0 wants A → B to stop, r1 wants it to arrive.',
    ],
    [
      'all among one another, and one kept apart',
      { kind: 'within', who: '@hosts' },
      { kind: 'apart', from: 'B', to: 'A', what: 'answer' },
      'r1 wants B → A to stop, r0 wants it to arrive.',
    ],
    [
      'VLANs',
      { kind: 'portVlan', who: '@hosts', vlan: 30 },
      { kind: 'portVlan', who: 'A', vlan: 40 },
      'for A r0 wants VLAN 30, r1 VLAN 40.',
    ],
    [
      'lengths',
      { kind: 'prefixLength', who: 'A', length: 24 },
      { kind: 'prefixLength', who: '@hosts', length: 26 },
      'for A r0 wants /24, r1 /26.',
    ],
    [
      'places',
      { kind: 'atSite', who: 'A', site: 'v' },
      { kind: 'atSite', who: '@hosts', site: 's' },
      'for A r0 wants Valley, r1 Summit.',
    ],
    [
      'gateways',
      { kind: 'gatewayIs', who: 'A', address: '10.84.1.1' },
      { kind: 'gatewayIs', who: 'A', address: '10.84.1.2' },
      'for A r0 wants the gateway 10.84.1.1, r1 the gateway 10.84.1.2.',
    ],
    [
      'ways to sign in',
      { kind: 'remote', who: 'S1', by: 'telnet', state: 'on' },
      { kind: 'remote', who: '@network', by: 'telnet', state: 'off' },
      'for S1 r0 wants telnet on, r1 telnet off.',
    ],
    [
      'blocks',
      { kind: 'inBlock', who: '@hosts', block: '10.84.1.0/24' },
      { kind: 'outsideBlock', who: 'B', block: '10.84.0.0/16' },
      'for B r0 wants addresses inside 10.84.1.0/24, r1 outside 10.84.0.0/16.',
    ],
    [
      'blocks beside one another',
      { kind: 'inBlock', who: 'A', block: 'fd00:1::/64' },
      { kind: 'inBlock', who: 'A', block: 'fd00:2::/64' },
      'for A r0 wants addresses inside fd00:1::/64, r1 inside fd00:2::/64.',
    ],
    [
      'cables',
      { kind: 'medium', a: '@network', b: '@network', media: ['crossover'] },
      { kind: 'medium', a: 'S2', b: 'S1', media: ['straight'] },
      'r0 and r1 want other cables between S1 and S2.',
    ],
    [
      'roots',
      { kind: 'treeRoot', who: 'S1' },
      { kind: 'treeRoot', who: 'S2' },
      'a spanning tree has one root, and not both S1 and S2.',
    ],
  ])('%s', (_what, one, other, why) => {
    expect(textsOf([one, other], stations())).toEqual([`${both}: ${why}`]);
  });
  test.each<[string, Rule, Rule]>([
    ['counts that meet', count('atLeast', 2), count('exactly', 3)],
    ['of other kinds', count('atMost', 2), count('exactly', 3, 'anywhere', 'router')],
    ['fewer at a site than anywhere', count('atMost', 1, 'v'), count('exactly', 3)],
    ['there, and not back', { kind: 'apart', from: 'A', to: 'B' }, { kind: 'reach', from: 'B', to: 'A' }],
    [
      'one service apart',
      { kind: 'apart', from: 'A', to: 'B', service: 'tcp 502' },
      { kind: 'reach', from: 'A', to: 'B' },
    ],
    [
      'in another family',
      { kind: 'apart', from: 'A', to: 'B', family: '6' },
      { kind: 'reach', from: 'A', to: 'B', family: '4' },
    ],
    ['of others', { kind: 'portVlan', who: 'A', vlan: 30 }, { kind: 'portVlan', who: 'B', vlan: 40 }],
    [
      'a block within a block',
      { kind: 'inBlock', who: 'A', block: '10.84.0.0/16' },
      { kind: 'inBlock', who: 'A', block: '10.84.1.0/24' },
    ],
    [
      'blocks of two families',
      { kind: 'inBlock', who: 'A', block: '10.84.0.0/16' },
      { kind: 'inBlock', who: 'A', block: 'fd00::/64' },
    ],
    [
      'either cable',
      { kind: 'medium', a: 'S1', b: 'S2', media: ['crossover', 'straight'] },
      { kind: 'medium', a: 'S2', b: 'S1', media: ['straight'] },
    ],
    [
      'cables where there is no link',
      { kind: 'medium', a: 'A', b: 'B', media: ['crossover'] },
      { kind: 'medium', a: 'A', b: 'B', media: ['straight'] },
    ],
    [
      'either of them, or not',
      { kind: 'anyOf', rules: [{ kind: 'apart', from: 'A', to: 'B' }, count('exactly', 2)] },
      { kind: 'reach', from: 'A', to: 'B' },
    ],
    [
      'what is taken as not so',
      { kind: 'not', rule: { kind: 'portVlan', who: 'A', vlan: 30 } },
      { kind: 'portVlan', who: 'A', vlan: 40 },
    ],
  ])('but not: %s', (_what, one, other) => {
    expect(textsOf([one, other], stations())).toEqual([]);
  });
  test('nor one with itself: parts of one sentence', () => {
    const rule: Rule = { kind: 'allOf', rules: [count('atMost', 1), count('exactly', 2)] };
    expect(textsOf([rule])).toEqual(['r0 can never be earned: r0 wants 2 or more, r0 1 at the most.']);
  });
  test('a deduction contradicts nothing: it is taken off where it is found', () => {
    const lab = labOf([
      { kind: 'apart', from: 'A', to: 'B' },
      { kind: 'reach', from: 'A', to: 'B' },
    ]);
    lab.spec.sections[0]!.requirements[0]!.deduction = true;
    expect(doubtsOf(lab).filter(({ code }) => code === 'contradiction')).toEqual([]);
  });
});

test('the same asked twice, however it is written down', () => {
  const rule = { kind: 'private', who: '@hosts' };
  expect(textsOf([rule, { who: '@hosts', kind: 'private' }])).toEqual(['r1 asks the same as r0.']);
});

test('what the kit rules out can never be met, and what it sees to can hardly fail', () => {
  const policy: LabFile['policy'] = { kit: { 'access-switch-12': { most: 2 }, 'border-router': { most: 1 } } };
  expect(
    textsOf(
      [count('exactly', 3), count('atMost', 1, 'anywhere', 'router'), count('atLeast', 1, 'anywhere', 'hub')],
      twoLans(),
      { policy },
    ),
  ).toEqual([
    'r0 can never be met: the kit of the lab has 2 switches.',
    'r1 can hardly fail: the kit of the lab has 1 router.',
    'r2 can never be met: the kit of the lab has no hubs.',
  ]);
});

test('groups that no sentence speaks of', () => {
  const lab = labOf([{ kind: 'private', who: 'both' }]);
  lab.spec.groups.idle = { title: 'the idle', roles: ['A'] };
  lab.spec.groups.around = { title: 'what hangs there', roles: [], select: { behind: 'idle', least: 1 } };
  expect(doubtsOf(lab).map(({ group, text }) => [group, text])).toEqual([
    ['around', 'No sentence speaks of what hangs there.'],
  ]);
});

test.each(['valley-lan', 'three-stations', 'winch-isolation', 'summit-dual-stack', 'season-opening'])(
  'nothing of the spec of %s is in doubt',
  (slug) => expect(doubtsOf(demoLab(slug))).toEqual([]),
);
