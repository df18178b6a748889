import { twoLans } from '../tests/topologies';
import { labOf } from '../tests/labs';
import { type Requirement, type Rule, checkSubmission, selfCheckOf } from '.';

const device: Rule = { kind: 'rightKind', who: '@all' };
const lengths: Rule = { kind: 'prefixLength', who: 'A', length: 26 };
const asked: Rule = { kind: 'answerIs', task: 't1', accepted: 'hub' };
const seen: Rule = { kind: 'signedOff', what: 'that the till prints' };

function labWith(...requirements: Partial<Requirement>[]) {
  const lab = labOf([]);
  lab.tasks = [{ id: 't1', text: 'What is it?' }];
  lab.spec.sections = [
    {
      id: 's',
      title: 'Network',
      requirements: requirements.map((each, at) => ({ id: `r${at}`, points: 2, rule: device, ...each })),
    },
  ];
  return lab;
}
const tell = (lab: ReturnType<typeof labWith>, policy: { most: number; requirements?: string[] }) =>
  selfCheckOf(checkSubmission(lab, twoLans(), undefined, { t1: 'hub' }), lab.spec, policy);

test('sums by section hold no question, sign-off, deduction or bonus, alone or inside of others', () => {
  const lab = labWith(
    {},
    { rule: lengths, points: 3 },
    { rule: asked, points: 5 },
    { rule: { kind: 'anyOf', rules: [device, seen] }, points: 7 },
    { rule: lengths, points: 11, deduction: true },
    { points: 13, bonus: true },
  );
  expect(tell(lab, { most: 1 })).toEqual({ sections: [{ title: 'Network', points: 2, of: 5 }] });
});

test('a section of questions alone is not there', () => {
  expect(tell(labWith({ rule: asked }), { most: 1 })).toEqual({ sections: [] });
});

test('of chosen requirements the sentence and the verdict are told; what may not be told is not, though it is chosen', () => {
  const lab = labWith({}, { rule: lengths }, { rule: asked }, { rule: seen }, { deduction: true });
  expect(tell(lab, { most: 1, requirements: ['r1', 'r2', 'r3', 'r4', 'gone'] })).toEqual({
    requirements: [{ sentence: expect.stringContaining('/26') as string, verdict: 'lost' }],
  });
});
