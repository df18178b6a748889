import { type Plan } from '../plan';
import { plan, smallBrief, smallPlan } from '../tests/plans';
import { filesIn, readJson, twoLans } from '../tests/topologies';
import { readLabText, readSubmissionText } from '../formats';
import { emptyTopology } from '../topology';
import {
  type LabFile,
  type RequirementResult,
  type Rule,
  checkSubmission,
  namesOf,
  requirementWords,
  sentenceOf,
  specHash,
} from '.';

const lab = (...rules: Rule[]): LabFile => ({
  format: 'sobrin-lab',
  version: 9,
  title: 'test',
  brief: smallBrief(),
  tasks: [],
  plan: smallPlan(),
  reference: emptyTopology(),
  policy: {},
  spec: {
    groups: {},
    sections: [
      {
        id: 's',
        title: 'S',
        requirements: rules.map((rule, at) => ({ id: `r${at}`, points: 3, credit: 'share', rule })),
      },
    ],
  },
});
const judged = (rule: Rule, document: Plan): RequirementResult =>
  checkSubmission(lab(rule), emptyTopology(), document).requirements[0]!;

describe('each kind of rule on plans is met by a sound plan, lost by its mistake, and not earned with nothing', () => {
  test.each<[Rule & { kind: string }, (document: Plan) => void, RegExp]>([
    [
      { kind: 'planRoom', group: 'tickets' },
      (plan) => void (plan.blocks.tickets!.prefix = '10.84.1.0/27'),
      /30 usable addresses; 41 are needed later/,
    ],
    [{ kind: 'planRoom', group: '@groups' }, (plan) => void delete plan.blocks.winch, /no subnet for Winch/],
    [
      { kind: 'planBlock', name: 'Ticket*', size: 'exactly', length: 26 },
      (plan) => void (plan.blocks.tickets!.prefix = '10.84.1.0/25'),
      /10\.84\.1\.0\/25, wanted is of exactly \/26/,
    ],
    [
      { kind: 'planBlock', name: 'winch*', size: 'atLeast', length: 64, family: '6' },
      (plan) => void delete plan.blocks.winch!.prefix6,
      /has no IPv6 prefix/,
    ],
    [
      { kind: 'planBlock', name: 'Tick*', size: 'atMost', length: 26 },
      (plan) => void (plan.blocks.tickets!.name = 'Desks'),
      /no block named Tick\*/,
    ],
    [
      { kind: 'planSmallest', group: '@groups', bits: 1 },
      (plan) => void (plan.blocks.winch!.prefix = '10.84.4.0/24'),
      /a \/24; a \/28 is the smallest/,
    ],
    [
      { kind: 'planInside', group: '@groups', block: '10.84.0.0/20' },
      (plan) => void (plan.blocks.winch!.prefix = '10.99.4.0/28'),
      /lies outside 10\.84\.0\.0\/20/,
    ],
    [
      { kind: 'planInside', group: '@groups', block: 'fd5e:7a3c:90b1::/48' },
      (plan) => void delete plan.blocks.winch!.prefix6,
      /no IPv6 subnet/,
    ],
    [
      { kind: 'planFamily6', group: '@groups' },
      (plan) => void (plan.blocks.winch!.prefix6 = 'fd5e:7a3c:90b1:100::/80'),
      /\/80/,
    ],
    [
      { kind: 'planVlans', group: '@groups' },
      (plan) => void (plan.blocks.tickets!.vlan = 90),
      /VLAN 90 is also that of (Guests|Tickets)/,
    ],
    [{ kind: 'planVlans', group: 'winch' }, (plan) => void delete plan.blocks.winch!.vlan, /has no VLAN/],
    [{ kind: 'planSites' }, (plan) => void (plan.blocks.winch!.prefix = '10.84.1.64/28'), /but also/],
    [
      { kind: 'planSound', what: 'overlaps' },
      (plan) => void (plan.blocks.x = { prefix: '10.84.1.0/28', name: 'Shop' }),
      /is a subnet itself/,
    ],
    [
      { kind: 'planSound', what: 'nesting' },
      (plan) => void (plan.blocks.x = { prefix: '10.99.1.0/28', name: 'Shop' }),
      /in no other block/,
    ],
    [
      { kind: 'planSound', what: 'provider' },
      (plan) => void (plan.blocks.x = { prefix: '198.51.100.0/28', name: 'Shop' }),
      /provider/,
    ],
    [
      { kind: 'planSound', what: 'private' },
      (plan) => void (plan.blocks.x = { prefix: '127.16.0.0/28', name: 'Shop' }),
      /172 meant/,
    ],
    [
      { kind: 'planSound', what: 'gateways' },
      (plan) => void (plan.blocks.winch!.gateway = '10.84.4.9'),
      /not the first usable/,
    ],
    [
      { kind: 'planSound', what: 'addresses' },
      (plan) => void (plan.addresses!['10.84.1.63'] = { name: 'X' }),
      /broadcast/,
    ],
  ])('%j', (rule, spoil, wanted) => {
    expect(judged(rule, smallPlan())).toMatchObject({ points: 3, verdict: 'met' });
    const spoilt = judged(rule, plan(spoil));
    expect(spoilt.points).toBeLessThan(3);
    expect(
      spoilt.items
        .filter((item) => item.met === false)
        .map((item) => item.text)
        .join('\n'),
    ).toMatch(wanted);
    expect(judged(rule, { blocks: {} }).points).toBe(0);
    expect(judged(rule, { blocks: { root: { prefix: '10.84.0.0/20', name: 'Ridge' } } }).points).toBe(0);
  });
  test('plan and drawing agree: met by both, lost by a stray address, nothing for one of the two alone', () => {
    const rule: Rule = { kind: 'planDrawn' };
    const drawing = twoLans();
    const drawn = checkSubmission(lab(rule), drawing, smallPlan()).requirements[0]!;
    expect(drawn.verdict).toBe('lost');
    expect(drawn.items[0]!.places[0]!.device).toBeDefined();
    expect(judged(rule, smallPlan()).points).toBe(0);
    expect(checkSubmission(lab(rule), drawing, { blocks: {} }).requirements[0]!.points).toBe(0);
  });
  test('a subnet that names no group is found by its name; findings point at blocks', () => {
    const named = plan((plan) => void delete plan.blocks.winch!.group);
    expect(judged({ kind: 'planRoom', group: 'winch' }, named).verdict).toBe('met');
    expect(judged({ kind: 'planRoom', group: 'winch' }, named).items[0]!.places).toEqual([{ block: 'winch' }]);
  });
  test('the words speak of groups, and a spec that names no group of the brief is refused', () => {
    const file = lab({ kind: 'planRoom', group: 'winch' }, { kind: 'planVlans', group: '@groups' });
    const words = file.spec.sections[0]!.requirements.map((each) => sentenceOf(requirementWords(each, namesOf(file))));
    expect(words).toEqual([
      'The plan has a subnet with room for the later number of Winch.',
      'The plan puts every group into a VLAN that no other subnet of the site has.',
    ]);
    const read = readLabText(JSON.stringify(lab({ kind: 'planRoom', group: 'ghosts' })));
    expect(read).toMatchObject({ ok: false, error: [{ text: 'The brief has no group "ghosts".' }] });
  });
  test('the brief’s numbers make results stale only where plans are judged by them', () => {
    const other = (lab: LabFile): LabFile => ({ ...lab, brief: { ...lab.brief, groups: [] } });
    const [plans, drawings] = [lab({ kind: 'planSites' }), lab({ kind: 'titled' })];
    expect(specHash(other(plans))).not.toBe(specHash(plans));
    expect(specHash(other(drawings))).toBe(specHash(drawings));
    expect(specHash({ ...plans, brief: { ...plans.brief, scenario: 'other words' } })).toBe(specHash(plans));
  });
});

describe('demo lab season-opening', () => {
  const read = readLabText(JSON.stringify(readJson('demo', 'season-opening', 'lab.json')));
  if (!read.ok) throw new Error(JSON.stringify(read.error));
  /** What each student's mistakes must cost, and nothing else. */
  const lose: Record<string, string[]> = {
    'caoimhe-daly': [], // another way than the reference's
    'dilnoza-yusupova': ['1.1'], // sized for today
    'farid-benali': ['2.1', '2.2', '2.4', '3.1', '4.2'], // the provider's range inside
    'hoang-minh-thu': ['1.1', '1.2', '2.1', '2.2', '2.3', '2.5', '4.1', '4.2'], // shop inside the desks, VLAN twice, no hut
    'imre-szalai': ['2.1', '3.2', '4.1', '4.2'], // 127 for 172, no IPv6
    'oskar-thorsen': ['2.2', '3.3', '3.4', '4.1'], // no order, a gateway off the scheme, an address outside, long prefixes
  };
  test('the instructor’s own plan has full marks, no plan has none', () => {
    const own = checkSubmission(read.value, read.value.reference, read.value.plan);
    expect(own.requirements.filter(({ verdict, bonus }) => verdict !== 'met' && !bonus)).toEqual([]);
    expect(own.points).toBe(own.of);
    expect(checkSubmission(read.value, emptyTopology()).points).toBe(0);
  });
  test('six plans are handed in', () => {
    expect(
      filesIn('demo', 'season-opening', 'submissions')
        .map((name) => name.replace('.json', ''))
        .sort(),
    ).toEqual(Object.keys(lose));
  });
  test.each(Object.entries(lose))('%s loses exactly what the mistakes are worth', (name, wanted) => {
    const submission = readSubmissionText(
      JSON.stringify(readJson('demo', 'season-opening', 'submissions', `${name}.json`)),
    );
    if (!submission.ok) throw new Error(JSON.stringify(submission.error));
    const { topology = emptyTopology(), plan } = submission.value;
    const result = checkSubmission(read.value, topology, plan);
    expect(result.requirements.filter(({ verdict, bonus }) => verdict !== 'met' && !bonus).map(({ id }) => id)).toEqual(
      wanted,
    );
    // For whoever draws there is a bonus: one drew two networks, the other forgot a gateway there.
    expect(result.requirements.filter(({ bonus }) => bonus).map(({ points }) => points)).toEqual(
      ({ 'caoimhe-daly': [1, 2], 'dilnoza-yusupova': [1, 1.6] } as Record<string, number[]>)[name] ?? [0, 0],
    );
  });
});
