import fc from 'fast-check';
import { labOf } from '../../tests/labs';
import { demoLab, twoLans } from '../../tests/topologies';
import { canonicalJson, emptyTopology, shapeProblems } from '../../topology';
import {
  LabFile,
  type Draft,
  type Proposal,
  type Spec,
  checkSubmission,
  draftOf,
  specProblems,
  withProposals,
} from '..';
import { mostPlanted } from './planted';
import { spread } from './take';

const bare = (slug: string): LabFile => ({ ...demoLab(slug), spec: { groups: {}, sections: [] } });
const ticked = ({ proposals }: Draft): Proposal[] => proposals.filter(({ leftOut }) => leftOut === undefined);
const textsOf = (proposals: readonly Proposal[]): string[] => proposals.map(({ sentence }) => sentence);
const rulesOf = ({ sections }: Spec): string[] =>
  sections.flatMap(({ requirements }) => requirements.map(({ rule }) => canonicalJson(rule)));

const drafts = new Map(['valley-lan', 'winch-isolation', 'season-opening'].map((slug) => [slug, draftOf(bare(slug))]));

describe.each([...drafts])('a draft of %s', (slug, draft) => {
  const lab = bare(slug);
  const spec = withProposals(lab.spec, draft, ticked(draft), 40);
  const drafted = { ...lab, spec };

  test('is a sound spec of the points that were asked for, all of which the reference earns', () => {
    expect(shapeProblems(LabFile.properties.spec, spec)).toEqual([]);
    expect(specProblems(drafted)).toEqual([]);
    const { points, of } = checkSubmission(drafted, lab.reference, lab.plan);
    expect([points, of]).toEqual([40, 40]);
  });
  test('has nothing that an empty drawing earns, nothing twice, and a reason for whatever it leaves out', () => {
    expect(checkSubmission(drafted, emptyTopology()).points).toBe(0);
    expect(new Set(rulesOf(spec)).size).toBe(rulesOf(spec).length);
    expect(new Set(textsOf(draft.proposals)).size).toBe(draft.proposals.length);
    for (const { leftOut, why } of draft.proposals) expect([why, leftOut ?? 'taken'].every(Boolean)).toBe(true);
  });
  test('notices at least 70 % of the mistakes that were planted', () => {
    const noticed = new Set(ticked(draft).flatMap(({ notices }) => notices));
    expect(draft.faults.length).toBeGreaterThan(15);
    expect(noticed.size / draft.faults.length).toBeGreaterThanOrEqual(0.7);
  });
});

test('a draft is the same each time, and asks nothing again of a lab that has it', () => {
  const [lab, draft] = [bare('valley-lan'), drafts.get('valley-lan')!];
  const spec = withProposals(lab.spec, draft, ticked(draft));
  const again = draftOf({ ...lab, spec });
  const has = new Set(rulesOf(spec));
  expect(again.proposals.filter(({ rule }) => has.has(canonicalJson(rule)))).toEqual([]);
  expect(again.groups).toEqual({});
  expect(again.faults).toEqual(draft.faults);
  expect(again.noticed).toEqual([...new Set(ticked(draft).flatMap(({ notices }) => notices))].sort((a, b) => a - b));
});

describe('what is ticked', () => {
  const winch = drafts.get('winch-isolation')!;
  const sentences = textsOf(ticked(winch));

  test('who is kept apart, as the brief says it, and who is not', () => {
    const said = ticked(winch).filter(({ why }) => why.includes('the control desks only'));
    expect(textsOf(said).join(' ')).toMatch(/The office must not reach the winch controllers/);
    expect(textsOf(said).join(' ')).toMatch(/The control desks can reach the winch controllers/);
  });
  test('what tasks and brief tell, by group: VLANs, trunks, room, translation', () => {
    expect(sentences).toEqual(
      expect.arrayContaining([
        expect.stringMatching(/^All of: The VLAN of the winch controllers is 10; and .* office is 40\.$/),
        'The links between the switches and RT-M carry at least the VLANs 10, 20, 30, 40.',
        expect.stringMatching(/The subnet of the guests has room for 100 hosts/),
        expect.stringMatching(/Packets from the office to NEWS arrive with a translated source address/),
      ]),
    );
  });
  test('not what students are told nowhere, nor what says no more than another sentence of its section', () => {
    const left = new Map(winch.proposals.map(({ sentence, leftOut }) => [sentence, leftOut]));
    expect(left.get('At the links of every network device both ends agree on speed and duplex.')).toBe(
      'students are told it nowhere: duplex',
    );
    expect([...left.values()].filter((text) => text?.startsWith('it says no more than “')).length).toBeGreaterThan(3);
  });
  test('what of a plan is asked only where a task has students make one', () => {
    expect(ticked(winch).filter(({ family }) => family === 'plan')).toEqual([]);
    expect(ticked(drafts.get('season-opening')!).every(({ family }) => family === 'plan')).toBe(true);
  });
});

test('beside a spec only what it does not notice is ticked, or what students are told and nothing tries', () => {
  const draft = draftOf(demoLab('valley-lan'));
  const noticed = new Set(draft.noticed);
  expect(noticed.size).toBeGreaterThan(60);
  for (const { notices } of ticked(draft))
    expect(notices.length === 0 || notices.some((fault) => !noticed.has(fault))).toBe(true);
  expect(draft.proposals.map(({ leftOut }) => leftOut)).toContain('the spec notices all of it already');
});

test.each(['__proto__', 'constructor', '(a+)+$', '…', 'x'.repeat(80)])(
  'a group of the brief may be called %s',
  (name) => {
    const lab = labOf([], twoLans());
    const { groups, proposals } = draftOf({
      ...lab,
      brief: { groups: [{ id: 'g', name, now: 1, later: 9 }] },
      plan: { blocks: { b: { prefix: '0.0.0.0/0', name, group: 'g' } } },
    });
    for (const id of Object.keys(groups)) expect(id).toMatch(/^[a-z0-9-]+$/);
    expect(proposals.length).toBeGreaterThan(5);
  },
);

test('in large drawings fewer mistakes are tried, and never none', () => {
  expect([0, 39, 125, 400, 5000, 1e6].map(mostPlanted)).toEqual([160, 160, 160, 50, 12, 12]);
});

test('points come to their total, in whole ones where there is one for each', () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: 1, max: 9 }), { minLength: 1, maxLength: 60 }),
      fc.integer({ min: 1, max: 200 }),
      (weights, total) => {
        const points = spread(weights, total);
        expect(points.reduce((sum, each) => sum + each, 0)).toBe(total);
        const unit = total >= weights.length ? 1 : 0.5;
        for (const each of points) expect(each % unit).toBe(0);
        if (total >= weights.length / 2) expect(Math.min(...points)).toBeGreaterThanOrEqual(unit);
      },
    ),
  );
});
