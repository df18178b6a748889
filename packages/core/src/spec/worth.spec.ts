import { labOf } from '../tests/labs';
import { Sheet, twoLans } from '../tests/topologies';
import { type Topology, emptyTopology } from '../topology';
import { type Requirement, type Rule, checkSubmission, specProblems } from '.';

const yes: Rule = { kind: 'inBlock', who: 'A', block: '10.84.0.0/16' };
const no: Rule = { kind: 'inBlock', who: 'A', block: '10.99.0.0/16' };
const oneOfTwo: Rule = { kind: 'inBlock', who: 'both', block: '10.84.1.0/24' };

const labWith = (requirements: Partial<Requirement>[], more: object = {}) => {
  const lab = labOf(requirements.map(({ rule = yes }) => rule));
  const [section] = lab.spec.sections;
  return {
    ...lab,
    spec: {
      ...lab.spec,
      sections: [
        {
          ...section!,
          ...more,
          requirements: section!.requirements.map((each, at) => ({ ...each, ...requirements[at] })),
        },
      ],
    },
  };
};
const judged = (requirements: Partial<Requirement>[], drawing: Topology = twoLans(), more: object = {}) =>
  checkSubmission(labWith(requirements, more), drawing);

describe('a deduction', () => {
  test('takes its points off where something is found, and is in no total', () => {
    const result = judged([{}, { rule: no, deduction: true, points: 0.75 }]);
    expect([result.points, result.of, result.requirements[1]!.points]).toEqual([1, 2, -0.75]);
    expect(judged([{}, { deduction: true }])).toMatchObject({ points: 2, of: 2 });
  });
  test('takes a share for a share, and no more than the section has', () => {
    expect(judged([{}, { rule: oneOfTwo, deduction: true, points: 1 }]).requirements[1]!.points).toBe(-0.5);
    expect(judged([{}, { rule: no, deduction: true, points: 9 }]).points).toBe(0);
  });
  test('what is missing is not found', () => {
    expect(judged([{}, { rule: no, deduction: true }], emptyTopology()).requirements[1]).toMatchObject({
      points: 0,
      verdict: 'met',
    });
  });
});

describe('what stands on others', () => {
  test('counts once they are met', () => {
    expect(judged([{}, { standsOn: ['r0'] }]).points).toBe(4);
    const result = judged([{ rule: no }, { standsOn: ['r0'] }, { standsOn: ['r1'] }]);
    expect(result.points).toBe(0);
    expect(result.requirements.map(({ waitsFor }) => waitsFor)).toEqual([undefined, ['r0'], ['r1']]);
    expect(result.requirements[1]!.items[0]!.text).toBe('It counts once r0 is met.');
  });
  test('so does a section as a whole', () => {
    const result = judged([{ rule: no }, {}], twoLans(), { standsOn: ['r0'] });
    expect(result.points).toBe(0);
  });
  test('where it is open whether they are met, so is this', () => {
    const twice = structuredClone(twoLans());
    twice.devices.C = { ...twice.devices.B!, name: 'C' };
    twice.links.c = { a: { device: 'SB', port: 'p2' }, b: { device: 'C', port: 'e0' }, medium: 'straight' };
    const result = judged([{ rule: { kind: 'reach', from: 'A', to: 'B', family: '4' } }, { standsOn: ['r0'] }], twice);
    expect(result.requirements.map(({ verdict }) => verdict)).toEqual(['unjudged', 'unjudged']);
  });
  test('what is not there, and circles, are refused with the place', () => {
    const problems = specProblems(labWith([{ standsOn: ['r1'] }, { standsOn: ['r0', 'r9'] }]));
    expect(problems.map(({ place, text }) => `${place}: ${text}`)).toEqual([
      'sections › 0 › requirements › 0 › standsOn › 0: r0 and r1 stand on one another: neither could ever count.',
      'sections › 0 › requirements › 1 › standsOn › 0: r1 and r0 stand on one another: neither could ever count.',
      'sections › 0 › requirements › 1 › standsOn › 1: There is no requirement "r9" that r1 could stand on.',
    ]);
  });
});

describe('a hurdle', () => {
  test('is told where it is missed, whatever the points', () => {
    expect(judged([{ hurdle: true }, {}]).hurdlesMissed).toEqual([]);
    expect(judged([{}, {}]).hurdlesMissed).toBeUndefined();
    const result = judged([{}, { rule: no, hurdle: true }]);
    expect([result.points, result.hurdlesMissed]).toEqual([2, ['r1 is needed to pass and is not met.']]);
  });
  test('may be a share of a section', () => {
    expect(judged([{}, { rule: no }], twoLans(), { hurdle: 50 }).hurdlesMissed).toEqual([]);
    expect(judged([{}, { rule: no }], twoLans(), { hurdle: 60 }).hurdlesMissed).toEqual([
      'S: 50 % of its points, 60 % are needed to pass.',
    ]);
  });
});

test('whatever is made of requirements, an empty drawing earns nothing', () => {
  for (const drawing of [emptyTopology(), new Sheet().topology])
    expect(judged([{}, { bonus: true }, { deduction: true }, { standsOn: ['r0'] }], drawing).points).toBe(0);
});
