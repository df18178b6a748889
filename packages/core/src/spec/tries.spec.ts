import { labOf } from '../tests/labs';
import { type Rule, type Spec, type Tried, isRightUnder, settledAnswer, triableTasks, triedBefore } from '.';

const number: Rule = { kind: 'answerNumber', task: 't1', value: '62', within: '1' };
const chosen: Rule = { kind: 'answerChosen', task: 't2', choices: 'hub | switch', right: 'switch' };
const read: Rule = { kind: 'answerRead', task: 't3', ideas: 'less broadcast' };
const specOf = (...rules: Rule[]): Spec => labOf(rules).spec;

test('choices and numbers can be tried; what a person reads, what is combined, and what takes points off cannot', () => {
  const spec = specOf(number, chosen, read, { kind: 'not', rule: { ...number, task: 't4' } });
  spec.sections[0]!.requirements.push({ id: 'd', points: 1, deduction: true, rule: { ...number, task: 't5' } });
  expect(triableTasks(spec)).toEqual(['t1', 't2']);
  expect(isRightUnder(spec, 't3', 'less broadcast')).toBeNull();
  expect(isRightUnder(spec, 't4', '62')).toBeNull();
  expect(isRightUnder(spec, '__proto__', '62')).toBeNull();
});

test('a try says what the check will say', () => {
  const spec = specOf(number, chosen);
  expect(['62', ' 63 hosts', '64', 'many', ''].map((answer) => isRightUnder(spec, 't1', answer))).toEqual([
    true,
    true,
    false,
    false,
    false,
  ]);
  expect(['Switch', 'hub'].map((answer) => isRightUnder(spec, 't2', answer))).toEqual([true, false]);
});

test('where two ask under one task, both must be right', () => {
  const spec = specOf(number, { ...number, value: '63' });
  expect(['62', '63', '64'].map((answer) => isRightUnder(spec, 't1', answer))).toEqual([true, true, false]);
});

test('an answer holds once all tries are used: the right one of them, else the last', () => {
  const tried = (...answers: string[]): Tried[] => answers.map((answer) => ({ answer, right: answer === '62' }));
  expect(settledAnswer([], 2)).toBeUndefined();
  expect(settledAnswer(tried('60'), 2)).toBeUndefined();
  expect(settledAnswer(tried('60', '61'), 2)).toBe('61');
  expect(settledAnswer(tried('62', '61'), 2)).toBe('62');
  // A lab that allows fewer tries afterwards settles what was tried oftener.
  expect(settledAnswer(tried('60', '61', '59'), 2)).toBe('59');
  expect(triedBefore(tried('60'), ' 60 ')).toMatchObject({ right: false });
  expect(triedBefore(tried('60'), '6 0')).toBeUndefined();
});
