import { readFileSync } from 'node:fs';
import path from 'node:path';
import { type NetworkModel, analyse, optionsOf } from '../../engine';
import { seeded, tilesJoined, unvaried } from '../../faults';
import { labOf } from '../../tests/labs';
import { twoLans } from '../../tests/topologies';
import { Topology, shapeProblems } from '../../topology';
import { judgeByRequirements, prepareLab } from '../check';
import { withProposals } from '../drafting';
import { specHash } from '../judging';
import { type LabFile, type Spec } from '../schema';
import { type Drill, drill, scoreOf } from '.';

const demo = (slug: string): LabFile =>
  JSON.parse(readFileSync(path.resolve(__dirname, '../../../../../demo', slug, 'lab.json'), 'utf8')) as LabFile;

/** The spec with proposals taken one after the other, each the one that notices most of what is still missed. */
function withAllProposals(lab: LabFile, { faults, proposals, groups }: Drill): { spec: Spec; share: number } {
  const missed = new Set(faults.flatMap(({ outcome }, at) => (outcome === 'missed' ? at : [])));
  const harmful = faults.filter(({ outcome }) => outcome !== 'harmless').length;
  const taken: Drill['proposals'][number][] = [];
  for (;;) {
    const [best] = proposals
      .map((proposal) => ({ proposal, news: proposal.notices.filter((at) => missed.has(at)).length }))
      .filter(({ news }) => news > 0)
      .sort((a, b) => b.news - a.news);
    if (!best) break;
    taken.push(best.proposal);
    for (const at of best.proposal.notices) missed.delete(at);
  }
  const chosen = taken.map((each) => ({ ...each, why: '' }));
  const spec = withProposals(lab.spec, { groups, faults: [], noticed: [], proposals: [] }, chosen);
  return { spec, share: 1 - missed.size / harmful };
}

describe.each(['valley-lan', 'winch-isolation', 'summit-dual-stack', 'three-stations'])('%s', (slug) => {
  const lab = demo(slug);
  const found = drill(lab, { faults: 40, variations: 2, pairs: 6, failures: false });
  test('the spec notices at least nine of ten mistakes that do harm once its proposals are taken', () => {
    const { share } = withAllProposals(lab, found);
    expect(share).toBeGreaterThanOrEqual(0.9);
  });
  test('no right drawing of the same network loses a point for what students are told nothing of', () => {
    expect(found.variations.length).toBeGreaterThan(8);
    expect(found.variations.filter(({ requirements }) => requirements.length)).toEqual([]);
  });
  test('the reference earns all, an empty sheet nothing, and what is left out costs', () => {
    expect(found.points).toBe(found.of);
    const points = new Map(found.halves.map(({ what, points }) => [what, points]));
    expect(points.get('an empty sheet')).toBe(0);
    expect(points.get('without addresses')).toBeLessThan(found.of);
    expect(points.get('without any cable')).toBeLessThan(found.of / 1.5);
  });
});

test('what a proposal is said to notice it does notice when it is taken', () => {
  const lab = demo('winch-isolation');
  const bounds = { faults: 60, variations: 0, pairs: 0, failures: false };
  const before = drill(lab, bounds);
  const { spec } = withAllProposals(lab, before);
  const after = drill({ ...lab, spec }, bounds);
  for (const [at, fault] of before.faults.entries())
    if (fault.outcome === 'missed' && fault.proposal !== null)
      expect([fault.text, after.faults[at]!.outcome]).toEqual([fault.text, 'noticed']);
  expect(after.score.all).toBeGreaterThan(before.score.all);
});

describe('a spec that asks for little', () => {
  const lab = labOf([{ kind: 'namesUnique', who: '@all' }], twoLans());
  const found = drill({ ...lab, tasks: [] }, { faults: 400, variations: 2, pairs: 4 });
  const outcomeOf = (operator: string): string[] =>
    found.faults.filter((fault) => fault.operator === operator).map(({ outcome }) => outcome);
  test('misses nearly everything, and says by kind what', () => {
    expect(outcomeOf('duplicateName')).toContain('noticed');
    expect(new Set(outcomeOf('missingLink'))).toEqual(new Set(['missed']));
    expect(found.score.all).toBeLessThan(0.2);
    expect(found.score.kinds.find(({ operator }) => operator === 'missingLink')).toMatchObject({ noticed: 0 });
  });
  test('each miss has a sentence that would notice it, where there is one', () => {
    const missed = found.faults.filter(({ operator }) => operator === 'missingLink');
    for (const { proposal } of missed) expect(found.proposals.map(({ id }) => id)).toContain(proposal);
  });
  test('mistakes of craft are never harmless, although everything works', () => {
    const craft = found.faults.filter(({ operator }) =>
      ['hostnameDiffers', 'unlabelledPort', 'wrongSite'].includes(operator),
    );
    expect(craft.filter(({ outcome }) => outcome === 'harmless')).toEqual([]);
    const luck = found.faults.filter(({ works }) => works);
    for (const { outcome } of luck) expect(outcome).toBe('missed');
  });
});

test('places that nothing tells apart are tried once, and counted', () => {
  const found = drill(demo('valley-lan'), { faults: 400, variations: 0, pairs: 0, failures: false });
  const missing = found.faults.filter(({ operator }) => operator === 'missingDevice');
  // Four ticket desks that are alike in all but name and address are one place.
  expect(missing.map(({ times }) => times)).toContain(4);
  expect(missing.reduce((sum, { times }) => sum + times, 0)).toBe(12);
});

test('what is outside belongs to the lab: nobody makes mistakes there', () => {
  const lab = demo('winch-isolation');
  const outside = Object.entries(lab.reference.devices).flatMap(([id, { site }]) =>
    lab.reference.sites[site ?? '']?.kind === 'provider' ? id : [],
  );
  const found = drill(lab, { faults: 400, variations: 0, pairs: 0, failures: false });
  expect(outside.length).toBeGreaterThan(0);
  expect(found.faults.flatMap(({ places }) => places.flatMap(({ device }) => device ?? []))).not.toEqual(
    expect.arrayContaining([outside[0]]),
  );
});

test('what a person said is meant so is no false alarm; what judges stays the same', () => {
  const lab = demo('winch-isolation');
  const strict: LabFile = {
    ...lab,
    tasks: [],
    brief: {},
    spec: {
      groups: lab.spec.groups,
      sections: [
        {
          id: 's',
          title: 'S',
          requirements: [{ id: '1.1', points: 1, rule: { kind: 'portVlan', who: '@hosts', vlan: 10 } }],
        },
      ],
    },
  };
  const bounds = { faults: 0, variations: 1, pairs: 0, failures: false };
  const vlan = strict.spec.sections[0]!.requirements[0]!.rule;
  const host = Object.entries(lab.reference.devices).find(([, { name }]) => name === 'WINCH-1')![0];
  strict.spec.sections[0]!.requirements[0]!.rule = { ...vlan, who: host };
  const alarms = drill(strict, bounds).variations.filter(({ requirements }) => requirements.length);
  expect(alarms.map(({ operator }) => operator)).toEqual(['otherVlans']);
  const meant = { ...strict, spec: { ...strict.spec, meant: [{ way: 'otherVlans', requirement: '1.1' }] } };
  expect(drill(meant, bounds).variations.filter(({ requirements }) => requirements.length)).toEqual([]);
  expect(specHash(meant)).toBe(specHash(strict));
});

test('the same seed is the same drill, and one that is ended keeps what it has', () => {
  const bounds = { faults: 30, variations: 1, pairs: 4, failures: false };
  const lab = demo('valley-lan');
  expect(JSON.stringify(drill(lab, { ...bounds, seed: 5 }))).toBe(JSON.stringify(drill(lab, { ...bounds, seed: 5 })));
  const ended = drill(lab, { ...bounds, onStep: (done) => done < 10 });
  expect(ended.faults).toHaveLength(10);
  expect(ended.variations).toEqual([]);
});

test('where a mistake counts once the drill says what each costs then', () => {
  const lab = demo('winch-isolation');
  const once = drill(
    { ...lab, policy: { ...lab.policy, followThrough: 'on' } },
    { faults: 24, variations: 0, pairs: 0, failures: false },
  );
  const priced = once.faults.filter(({ costOnce }) => costOnce !== undefined);
  expect(priced.length).toBeGreaterThan(10);
  for (const { costOnce, cost } of priced) expect(costOnce).toBeLessThanOrEqual(cost + 0.5);
  expect(priced.some(({ costOnce, cost }) => costOnce! < cost)).toBe(true);
});

test('each kind of mistake counts once, however often it was planted, and none stands at 0 behind a good average', () => {
  const fault = (operator: string, outcome: 'noticed' | 'missed' | 'harmless') => ({
    operator,
    title: operator,
    outcome,
  });
  const score = scoreOf([
    ...Array.from({ length: 9 }, () => fault('a', 'noticed')),
    fault('b', 'missed'),
    fault('c', 'harmless'),
  ]);
  expect(score.all).toBe(0.5);
  expect(score.kinds.map(({ operator, noticed, missed }) => [operator, noticed, missed])).toEqual([
    ['a', 9, 0],
    ['b', 0, 1],
    ['c', 0, 0],
  ]);
});

test.each(['valley-lan', 'winch-isolation', 'three-stations'])(
  'hosts of %s that are alike are judged in one tile as they are one by one',
  (slug) => {
    const lab = demo(slug);
    const { topology } = tilesJoined(unvaried(lab.reference), seeded(1));
    expect(Object.keys(topology.devices).length).toBeLessThan(Object.keys(lab.reference.devices).length);
    expect(shapeProblems(Topology, topology)).toEqual([]);
    const [before, after] = [lab.reference, topology].map((drawing) => analyse(drawing, optionsOf(lab.policy)));
    const namesIn = ({ instances }: NetworkModel): string[] => [...instances.values()].map(({ name }) => name).sort();
    expect(namesIn(after!)).toEqual(namesIn(before!));
    const prepared = prepareLab(lab);
    const { points, of } = judgeByRequirements(prepared, { drawing: topology, plan: lab.plan });
    expect(points).toBe(judgeByRequirements(prepared, { drawing: lab.reference, plan: lab.plan }).points);
    expect(points).toBeLessThanOrEqual(of);
  },
);
