import { labOf } from '../tests/labs';
import { filesIn, readJson, twoLans } from '../tests/topologies';
import { readLab } from '../formats';
import { type Topology, emptyTopology } from '../topology';
import {
  type CheckResult,
  type Decision,
  type LabFile,
  type Requirement,
  type Rule,
  type SubmissionFile,
  askedBy,
  checkSubmission,
  decided,
  decisionProblem,
  judge,
  prepareLab,
} from '.';

const inside = (block: string, who = 'both'): Rule => ({ kind: 'inBlock', who, block });
/** Requirements r1, r2, … of one point unless said otherwise. */
function labWith(...requirements: Partial<Requirement>[]): LabFile {
  const lab = labOf(requirements.map(({ rule }) => rule ?? inside('10.84.0.0/16')));
  const [section] = lab.spec.sections;
  return {
    ...lab,
    spec: {
      ...lab.spec,
      sections: [
        {
          ...section!,
          requirements: section!.requirements.map((each, at) => ({ ...each, points: 1, ...requirements[at] })),
        },
      ],
    },
  };
}
const asks = (lab: LabFile, at: number): Requirement => lab.spec.sections[0]!.requirements[at]!;
const ofItem = (lab: LabFile, at: number, item: string, isMet: boolean): Decision => ({
  requirement: asks(lab, at).id,
  item,
  isMet,
  points: null,
  asked: askedBy(asks(lab, at)),
});
const ofWhole = (lab: LabFile, at: number, points: number): Decision => ({
  requirement: asks(lab, at).id,
  item: null,
  isMet: null,
  points,
  asked: askedBy(asks(lab, at)),
});
/** Two desks with one address: who answers is left to chance. */
const doubled = (): Topology => {
  const topology = structuredClone(twoLans());
  topology.devices.B2 = {
    ...structuredClone(topology.devices.B!),
    name: 'B2',
  };
  topology.links.more = { a: { device: 'B2', port: 'e0' }, b: { device: 'SB', port: 'p9' }, medium: 'straight' };
  return topology;
};

describe('what a person decides', () => {
  it('settles a fact that is not certain, and the requirement earns what its facts earn', () => {
    const lab = labWith({ rule: { kind: 'reach', from: 'A', to: 'B', protocol: 'icmp' }, points: 4 });
    const result = checkSubmission(lab, doubled());
    expect(result.requirements[0]).toMatchObject({ verdict: 'unjudged', points: 0 });
    const { key } = result.requirements[0]!.items.find(({ met }) => met === null)!;
    const yes = decided(lab, result, [ofItem(lab, 0, key!, true)]);
    expect(yes.requirements[0]).toMatchObject({ verdict: 'met', points: 4, decided: true });
    expect(yes).toMatchObject({ points: 4, of: 4, sections: [{ points: 4 }] });
    expect(decided(lab, result, [ofItem(lab, 0, key!, false)]).requirements[0]).toMatchObject({ verdict: 'lost' });
  });
  it('gives a requirement other points, and the mark is rounded once, at the end', () => {
    const lab = labWith({ points: 3, rule: inside('10.99.0.0/16') }, { points: 2 });
    const result = checkSubmission(lab, twoLans());
    expect(result.points).toBe(2);
    const changed = decided(lab, result, [ofWhole(lab, 0, 1.26)]);
    expect(changed.requirements[0]).toMatchObject({ verdict: 'partly', points: 1.26, decided: true });
    expect(changed.points).toBe(3);
    expect(decided(lab, result, [ofWhole(lab, 0, 3)]).requirements[0]!.verdict).toBe('met');
    expect(decided(lab, result, [ofWhole(lab, 1, 0)]).requirements[1]!.verdict).toBe('lost');
  });
  it('of the whole outweighs one of a fact', () => {
    const lab = labWith({ rule: inside('10.84.1.0/24'), points: 2, credit: 'share' });
    const result = checkSubmission(lab, twoLans());
    expect(result.points).toBe(1);
    const lost = result.requirements[0]!.items.find(({ met }) => met === false)!.key!;
    expect(decided(lab, result, [ofItem(lab, 0, lost, true)]).points).toBe(2);
    expect(decided(lab, result, [ofItem(lab, 0, lost, true), ofWhole(lab, 0, 0.5)]).points).toBe(0.5);
  });
  it('lets count what stands on it, and holds back what stood on it', () => {
    const lab = labWith({ id: 'base', rule: inside('10.99.0.0/16') }, { id: 'top', standsOn: ['base'], points: 5 });
    const result = checkSubmission(lab, twoLans());
    expect(result.requirements[1]).toMatchObject({ points: 0, waitsFor: ['base'] });
    const counts = decided(lab, result, [ofWhole(lab, 0, 1)]);
    expect(counts.requirements[1]).toMatchObject({ points: 5, verdict: 'met' });
    expect(counts.requirements[1]).not.toHaveProperty('waitsFor');
    const whole = labWith({ id: 'base' }, { id: 'top', standsOn: ['base'], points: 5 });
    const held = decided(whole, checkSubmission(whole, twoLans()), [ofWhole(whole, 0, 0)]);
    expect(held.requirements[1]).toMatchObject({ points: 0, waitsFor: ['base'], verdict: 'lost' });
  });
  it('takes a hurdle, or gives a deduction back', () => {
    const lab = labWith(
      { hurdle: true, rule: inside('10.99.0.0/16') },
      { deduction: true, points: 2, rule: inside('10.99.0.0/16') },
      { points: 6 },
    );
    const result = checkSubmission(lab, twoLans());
    expect(result).toMatchObject({ points: 4, hurdlesMissed: [expect.stringContaining('needed to pass')] });
    expect(decided(lab, result, [ofWhole(lab, 0, 1)])).toMatchObject({ points: 5, hurdlesMissed: [] });
    expect(decided(lab, result, [ofWhole(lab, 1, 0)])).toMatchObject({ points: 6 });
    expect(decided(lab, result, [ofWhole(lab, 1, -0.5)]).requirements[1]).toMatchObject({ verdict: 'partly' });
  });
  it('holds only as long as the same is asked for the same points', () => {
    const lab = labWith({ rule: inside('10.99.0.0/16'), points: 3 });
    const decision = ofWhole(lab, 0, 3);
    for (const [changed, points] of [
      [{ ...asks(lab, 0), points: 4 }, 0],
      [{ ...asks(lab, 0), rule: inside('10.98.0.0/16') }, 0],
      [{ ...asks(lab, 0), wording: 'Another sentence for the same', hints: { that: 'Look again.' } }, 3],
    ] as const) {
      const next = labWith(changed);
      expect(decided(next, checkSubmission(next, twoLans()), [decision]).points).toBe(points);
    }
  });
  it('changes nothing of a result of which nothing is decided', () => {
    for (const slug of ['three-stations', 'winch-isolation', 'season-opening']) {
      const lab = readLab(readJson(`demo/${slug}/lab.json`));
      if (!lab.ok) throw new Error('The demo lab cannot be read.');
      const prepared = prepareLab(lab.value);
      for (const file of filesIn(`demo/${slug}/submissions`).slice(0, 6)) {
        const { topology, plan, answers } = readJson(`demo/${slug}/submissions`, file) as SubmissionFile;
        const result = judge(prepared, { drawing: topology ?? emptyTopology(), plan, ...(answers && { answers }) });
        // Decided as it was judged: the arithmetic is the same one.
        const [first] = lab.value.spec.sections[0]!.requirements;
        const judged = result.requirements.find(({ id }) => id === first!.id)!;
        const same: Decision = {
          requirement: first!.id,
          item: judged.items[0]!.key!,
          isMet: judged.items[0]!.met,
          points: null,
          asked: askedBy(first!),
        };
        const without = ({ requirements, ...rest }: CheckResult) => ({
          ...rest,
          requirements: requirements.map(({ decided: _who, items, ...each }) => ({
            ...each,
            items: items.map(({ decided: _by, ...item }) => item),
          })),
        });
        expect(without(decided(lab.value, result, [same]))).toEqual(without(result));
      }
    }
  });
});

it('refuses in a sentence what cannot be decided', () => {
  const lab = labWith({ points: 3 }, { deduction: true, points: 2 });
  const result = checkSubmission(lab, twoLans());
  const problem = (change: Partial<Decision>) =>
    decisionProblem(result, { requirement: asks(lab, 0).id, item: null, isMet: null, points: null, ...change });
  const item = result.requirements[0]!.items[0]!.key!;
  expect(problem({ points: 3 })).toBeNull();
  expect(problem({ item, isMet: false })).toBeNull();
  expect(problem({ requirement: asks(lab, 1).id, points: -2 })).toBeNull();
  expect(problem({ points: 3.5 })).toContain('0 to 3 points');
  expect(problem({ points: -1 })).toContain('0 to 3 points');
  expect(problem({ points: 0.001 })).toContain('hundredth');
  expect(problem({ points: Number.NaN })).toContain('hundredth');
  expect(problem({})).toContain('by its points');
  expect(problem({ item: 'nothing', isMet: true })).toContain('no such fact');
  expect(problem({ item, points: 1 })).toContain('met or not');
  expect(problem({ requirement: '__proto__', points: 1 })).toContain('no requirement');
  expect(problem({ requirement: asks(lab, 1).id, points: 1 })).toContain('-2 to 0');
});

it('judges with the pairs that a person has pinned, and says so', () => {
  // Two sites alike but for what their desks may do: only a person can say which is which.
  const lab = labWith({ rule: inside('10.84.1.0/24', 'A') });
  const drawing = twoLans();
  const prepared = prepareLab(lab);
  const role = (result: CheckResult) => result.matching.find((match) => match.role === 'A');
  expect(role(judge(prepared, { drawing }))).toMatchObject({ device: 'A' });
  const pinned = judge(prepared, { drawing }, { A: 'B' });
  expect(role(pinned)).toMatchObject({ device: 'B', sure: 'sure', pinned: true });
  expect(pinned.pins).toEqual({ A: 'B' });
  expect(pinned.requirements[0]!.verdict).toBe('lost');
  // What is gone is no pair.
  expect(role(judge(prepared, { drawing }, { A: 'gone', gone: 'B', __proto__: 'B' }))).toMatchObject({ device: 'A' });
});
