import { labOf } from '../tests/labs';
import { smallBrief, smallPlan } from '../tests/plans';
import { twoLans } from '../tests/topologies';
import { type Topology } from '../topology';
import { type LabFile, type Rule, checkSubmission, choicesOf, findingsFor, specProblems, withoutPersons } from '.';

const asking = (rule: Rule): LabFile => ({
  ...labOf([rule]),
  tasks: [
    { id: 't1', text: 'Draw it.' },
    { id: 't2', text: 'How many?' },
  ],
});
const judged = (rule: Rule, answer?: string, drawing: Topology = twoLans()) =>
  checkSubmission(asking(rule), drawing, undefined, answer === undefined ? {} : { t2: answer }).requirements[0]!;

describe('what is written under a task', () => {
  const rule: Rule = { kind: 'answerIs', task: 't2', accepted: '1022 | one thousand and twenty-two' };
  test.each([
    ['1022', 'met'],
    [' 1,022. ', 'met'],
    ['1’022', 'met'],
    ['One thousand and  twenty-two', 'met'],
    ['1024', 'lost'],
    ['10.22', 'lost'],
    ['0 or 1 or 1022', 'lost'],
    ['', 'lost'],
    ['   ', 'lost'],
  ])('“%s” is %s', (answer, verdict) => expect(judged(rule, answer).verdict).toBe(verdict));
  test('students read which task it is, and never the answer', () => {
    const result = checkSubmission(asking(rule), twoLans(), undefined, { t2: '7' });
    expect(result.requirements[0]!.sentence).toBe(
      'What is written under task 2 is 1022 | one thousand and twenty-two.',
    );
    const [finding] = findingsFor(result, 'what');
    expect(finding!.sentence).toBe('What is written under task 2 is as asked.');
    expect(JSON.stringify(finding)).not.toMatch(/1022/);
  });
  test('a task that is not there, and no answer at all to compare with, are told where they stand', () => {
    expect(specProblems(asking({ ...rule, task: 'gone' }))).toMatchObject([
      { place: expect.stringMatching(/task$/) as string },
    ]);
    expect(specProblems(asking({ ...rule, accepted: ' | ' }))).toMatchObject([
      { place: expect.stringMatching(/accepted$/) as string },
    ]);
  });
});

describe('an answer that is chosen', () => {
  const rule: Rule = { kind: 'answerChosen', task: 't2', choices: 'hub | switch | router', right: 'switch' };
  test.each([
    ['switch', 'met'],
    ['Switch', 'met'],
    ['hub', 'lost'],
    ['hub | switch | router', 'lost'],
    ['', 'lost'],
  ])('“%s” is %s', (answer, verdict) => expect(judged(rule, answer).verdict).toBe(verdict));
  test('what is right must be one of the choices, and there must be some; students find the choices, not the right one', () => {
    const place = (change: object) => specProblems(asking({ ...rule, ...change })).map((problem) => problem.place);
    expect(place({})).toEqual([]);
    expect(place({ right: 'bridge' })).toEqual([expect.stringMatching(/right$/)]);
    expect(place({ choices: 'switch' })).toEqual([expect.stringMatching(/choices$/)]);
    expect(choicesOf(asking(rule).spec)).toEqual({ t2: ['hub', 'switch', 'router'] });
    const [finding] = findingsFor(checkSubmission(asking(rule), twoLans(), undefined, { t2: 'hub' }), 'what');
    expect(finding!.sentence).toBe('Under task 2, of hub, switch, router the right one is chosen.');
  });
  test('a task has one list of choices, also inside of what is combined', () => {
    const other: Rule = { kind: 'not', rule: { ...rule, choices: 'hub | switch' } };
    const problems = specProblems({
      ...asking(rule),
      spec: { ...asking({ kind: 'allOf', rules: [rule, other] }).spec },
    });
    expect(problems.map(({ text }) => text)).toEqual([
      'r0 offers other choices under its task than a requirement before: hub | switch | router.',
    ]);
  });
});

describe('an answer that is a number', () => {
  const rule: Rule = { kind: 'answerNumber', task: 't2', value: '1250', within: '50' };
  test.each([
    ['1250', 'met'],
    ['1,200', 'met'],
    ['1’300 Mb/s', 'met'],
    ['1.3 Gb/s', 'lost'],
    ['1301', 'lost'],
    ['-1250', 'lost'],
    ['about 1250', 'lost'],
    ['1250 or 9', 'met'],
    ['many', 'lost'],
  ])('“%s” is %s', (answer, verdict) => expect(judged(rule, answer).verdict).toBe(verdict));
  test('exactly, where nothing is said of how far off it may be; with halves as well', () => {
    const exact: Rule = { kind: 'answerNumber', task: 't2', value: '2.5' };
    expect(['2,5', '2.50', '2.6', '25'].map((answer) => judged(exact, answer).verdict)).toEqual([
      'met',
      'met',
      'lost',
      'lost',
    ]);
    expect(specProblems(asking({ ...exact, value: 'two' }))).toHaveLength(1);
    expect(specProblems(asking({ ...exact, within: 'a little' }))).toHaveLength(1);
  });
});

test('an answer is computed of the plan that the student handed in, whatever the reference has', () => {
  const rule: Rule = { kind: 'answerPlanned', task: 't2', what: 'broadcast', group: 'tickets' };
  const lab = { ...asking(rule), brief: smallBrief() };
  const own = smallPlan();
  own.blocks.tickets!.prefix = '10.84.3.64/26';
  const verdict = (answer: string, plan = own) =>
    checkSubmission(lab, twoLans(), plan, { t2: answer }).requirements[0]!.verdict;
  expect(verdict('10.84.3.127')).toBe('met');
  expect(verdict('10.84.1.63')).toBe('lost');
  expect(verdict('10.84.3.127', { blocks: {} })).toBe('lost');
});

describe('a computed answer', () => {
  const own = (): Topology => {
    const drawing = twoLans();
    drawing.devices.A!.interfaces!.e0!.v4!.addresses = ['10.84.5.130/25'];
    return drawing;
  };
  const of = (what: string, source: 'own' | 'reference'): Rule => ({
    kind: 'answerComputed',
    task: 't2',
    what,
    who: 'A',
    of: source,
  });
  test.each([
    ['network', 'own', '10.84.5.128/25'],
    ['network', 'own', '10.84.5.128'],
    ['broadcast', 'own', '10.84.5.255'],
    ['first', 'own', '10.84.5.129'],
    ['last', 'own', '10.84.5.254/25'],
    ['hosts', 'own', '126'],
    ['mask', 'own', '255.255.255.128'],
    ['mask', 'own', '/25'],
    ['broadcast', 'reference', '10.84.1.255'],
    ['hosts', 'reference', '254'],
  ] as const)('%s, %s: %s', (what, source, answer) => {
    expect(judged(of(what, source), answer, own()).verdict).toBe('met');
    expect(judged(of(what, source), '10.84.9.9', own()).verdict).toBe('lost');
    expect(judged(of(what, source), undefined, own()).verdict).toBe('lost');
  });
  test('of what is not drawn nothing is computed', () => {
    const { A: _gone, ...devices } = own().devices;
    expect(judged(of('hosts', 'own'), '126', { ...own(), devices, links: {} }).verdict).toBe('lost');
  });
});

test('an answer that a person reads waits for them, idea by idea', () => {
  const rule: Rule = { kind: 'answerRead', task: 't2', ideas: 'less broadcast | easier to filter' };
  const { verdict, items, points } = judged(rule, 'Because there is less broadcast.');
  expect([verdict, points]).toEqual(['unjudged', 0]);
  expect(items.map(({ text, theirText }) => [text, theirText])).toEqual([
    ['less broadcast: “Because there is less broadcast.”', 'Idea 1: “Because there is less broadcast.”'],
    ['easier to filter: “Because there is less broadcast.”', 'Idea 2: “Because there is less broadcast.”'],
  ]);
  expect(judged(rule).verdict).toBe('lost');
});

test('answers are part of what is judged only where they are asked for', () => {
  const hash = (rule: Rule, answer: string): string =>
    checkSubmission(asking(rule), twoLans(), undefined, { t2: answer }).submissionHash;
  const question: Rule = { kind: 'answerIs', task: 't2', accepted: '7' };
  const other: Rule = { kind: 'private', who: 'A' };
  expect(hash(question, '7')).not.toBe(hash(question, '8'));
  expect(hash(other, '7')).toBe(hash(other, '8'));
});

test('a reference is asked no questions: what is left of the spec is what it can earn', () => {
  const question: Rule = { kind: 'answerIs', task: 't2', accepted: '7' };
  const lab = asking({ kind: 'private', who: 'A' });
  lab.spec.sections[0]!.requirements.push(
    { id: 'q', points: 5, rule: question },
    { id: 'n', points: 5, rule: { kind: 'not', rule: question } },
  );
  const { points, of } = checkSubmission({ ...lab, spec: withoutPersons(lab.spec) }, lab.reference);
  expect([points, of]).toEqual([2, 2]);
});
