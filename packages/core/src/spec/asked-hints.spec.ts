import { labOf } from '../tests/labs';
import { twoLans } from '../tests/topologies';
import { type Requirement, hintedIn, hintsToAsk, prepareLab } from '.';

const hints = { what: 'It is the mask of REF-R.', that: 'Somebody cannot be reached.', where: 'Look at REF-A.' };
const labWith = (...requirements: Omit<Requirement, 'points'>[]) => {
  const reference = twoLans();
  for (const [id, device] of Object.entries(reference.devices)) device.name = `REF-${id}`;
  const lab = labOf([], reference);
  lab.spec.sections[0]!.requirements = requirements.map((each) => ({ points: 1, ...each }));
  return lab;
};
const rule = { kind: 'private', who: 'A' };

test('a requirement with hints is known by its task, or by the task under which it asks; deductions are not told of', () => {
  const { spec } = labWith(
    { id: 'a', rule, hints, task: 't2' },
    { id: 'b', rule: { kind: 'answerIs', task: 't1', accepted: '7' }, hints: { that: 'Count again.' } },
    { id: 'c', rule, hints: { where: 'There.' } },
    { id: 'd', rule },
    { id: 'e', rule, hints, deduction: true },
  );
  expect(hintedIn(spec)).toEqual([
    { requirement: 'a', task: 't2', hints: 3 },
    { requirement: 'b', task: 't1', hints: 1 },
    { requirement: 'c', hints: 1 },
  ]);
});

test('hints come in the order of what they tell, without names that only the reference has', () => {
  const told = hintsToAsk(prepareLab(labWith({ id: 'a', rule, hints })), 'a');
  expect(told).toEqual([
    'Somebody cannot be reached.',
    expect.stringMatching(/^Look at (a|an) /) as string,
    expect.stringMatching(/^It is the mask of (a|an) /) as string,
  ]);
  expect(told.join()).not.toMatch(/REF-/);
  expect(hintsToAsk(prepareLab(labWith()), 'a')).toEqual([]);
});
