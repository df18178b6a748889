import {
  type ClassRow,
  type HintsView,
  type StudentLabView,
  type SubmissionView,
  type TriesView,
} from '@sobrin/contracts';
import { type Policy } from '@sobrin/core/spec';
import { randomUUID } from 'node:crypto';
import { refusal, useDemo } from '../tests/demo';
import { type Person } from '../tests/application';

const demo = useDemo();
const TITLE = 'Valley Station LAN';
/** Three times the connections that the server has for all requests. */
const AT_ONCE = 30;

/** A lab that asks for a number and a choice, with hints, made final. */
async function asking(rules: Partial<Policy>): Promise<string> {
  const { id, revision, spec, policy } = await demo.labOf(TITLE);
  const { tries: _tries, hintCost: _cost, counts: _counts, ...rest } = policy;
  const [first, ...others] = spec.sections;
  const requirements = [
    ...first!.requirements.filter(({ id: each }) => !each.startsWith('ask-')),
    { id: 'ask-number', points: 1, rule: { kind: 'answerNumber', task: 't3', value: '62' } },
    {
      id: 'ask-choice',
      points: 1,
      rule: { kind: 'answerChosen', task: 't2', choices: 'hub | switch | router', right: 'switch' },
      hints: { that: 'Not all of them look at addresses.', what: 'One of them learns.' },
    },
    {
      id: 'ask-drawn',
      points: 1,
      rule: { kind: 'private', who: 'lan' },
      task: 't3',
      hints: { where: 'At the desks.' },
    },
  ];
  const sections = [{ ...first!, requirements }, ...others];
  await demo.maren
    .send('patch', `labs/${id}`, { base: revision, spec: { ...spec, sections }, policy: { ...rest, ...rules } })
    .expect(200);
  await demo.maren.send('post', `labs/${id}/versions`, {}).expect(200);
  return id;
}
const view = async (who: Person): Promise<StudentLabView> => demo.myLab(who, TITLE);
const attempt = async (who: Person, lab: string, task: string, answer: string, id = randomUUID()) =>
  who.send('post', `my/labs/${lab}/tries`, { id, drawing: (await view(who)).documentId, task, answer });
const takeHint = async (who: Person, lab: string, nth: number, cost: number, id = randomUUID()) => {
  const { documentId: drawing, hints } = await view(who);
  return who.send('post', `my/labs/${lab}/hints`, { id, drawing, key: hints?.of[nth]!.key ?? 'none', cost });
};
const told = ({ status, body }: { status: number; body: unknown }): [number, string] => [
  status,
  refusal({ body }).message,
];
const saying = (words: RegExp): string => expect.stringMatching(words) as string;

test('where the lab says nothing, no answer can be tried and no hint is given', async () => {
  const lab = await asking({});
  expect(await view(demo.zofia)).toMatchObject({ tries: null, hints: null, names: 'any' });
  expect(told(await attempt(demo.zofia, lab, 't3', '62'))).toEqual([409, saying(/nobody is told/)]);
  expect(told(await takeHint(demo.zofia, lab, 0, 0))).toEqual([409, saying(/no hints/)]);
});

describe('tries', () => {
  test('tell right from wrong so often and no more; what was tried last is what is handed in', async () => {
    const lab = await asking({ tries: 2 });
    const eero = await demo.running.as('eero.lahtinen');
    expect((await view(eero)).tries).toEqual({
      most: 2,
      tasks: { t3: { used: 0, last: null, settled: null }, t2: { used: 0, last: null, settled: null } },
    });
    const first = (await attempt(eero, lab, 't3', '64')).body as TriesView;
    expect(first.tasks.t3).toEqual({ used: 1, last: { answer: '64', right: false }, settled: null });
    // The same again says the same and uses nothing.
    expect(told(await attempt(eero, lab, 't3', ' 64'))).toEqual([409, saying(/not right.*no further try/)]);
    expect((await view(eero)).answers.t3).toBe('64');
    const second = (await attempt(eero, lab, 't3', '60')).body as TriesView;
    expect(second.tasks.t3).toMatchObject({ used: 2, settled: '60' });
    expect(told(await attempt(eero, lab, 't3', '62'))).toEqual([409, saying(/all 2 tries/)]);
    // Now that the right one can be told from the wrong ones, it cannot be written any more, in no way.
    const put = await eero.send('put', `my/labs/${lab}/answers`, { answers: { t3: '62' } });
    expect(told(put)).toEqual([409, saying(/its answer stays "60"/)]);
    await eero.send('put', `my/labs/${lab}/answers`, { answers: { t3: '60', t1: 'drawn' } }).expect(204);
    const file = { format: 'sobrin-submission', version: 3, plan: { blocks: {} }, answers: { t3: '62', t1: 'again' } };
    const taken = await eero.send('post', `my/labs/${lab}/upload`, { text: JSON.stringify(file) }).expect(200);
    expect(taken.body).toEqual({ taken: ['plan', '1 answer'], left: [saying(/All tries of task "t3" are used/)] });
    const { id } = (await eero.send('post', `my/labs/${lab}/hand-in`, {}).expect(201)).body as { id: string };
    const { answers, asked } = (await demo.maren.get(`submissions/${id}`).expect(200)).body as SubmissionView;
    expect(answers).toMatchObject({ t3: '60', t1: 'again' });
    // Who teaches sees what was tried.
    expect(asked.tried.map(({ task, answer, right }) => [task, answer, right])).toEqual([
      ['t3', '64', false],
      ['t3', '60', false],
    ]);
    // One more try is given afterwards: the answer is open again.
    await asking({ tries: 3 });
    expect((await view(eero)).tries!.tasks.t3).toMatchObject({ used: 2, settled: null });
  });

  test('a right answer stays right, whatever is tried after it', async () => {
    const lab = await asking({ tries: 2 });
    const greta = await demo.running.as('greta.holzapfel');
    await attempt(greta, lab, 't2', 'switch');
    expect(((await attempt(greta, lab, 't2', 'hub')).body as TriesView).tasks.t2).toMatchObject({ settled: 'switch' });
    expect((await view(greta)).answers.t2).toBe('switch');
  });

  test('are of what asks for a choice or a number, and of nothing else', async () => {
    const lab = await asking({ tries: 2 });
    for (const task of ['t1', 'gone', '__proto__'])
      expect(told(await attempt(demo.zofia, lab, task, '62'))).toEqual([400, saying(/not tried/)]);
    const { documentId: drawing } = await view(demo.zofia);
    for (const body of [
      {},
      { id: 'x', drawing, task: 't3', answer: '62' },
      { id: randomUUID(), drawing, task: 't3', answer: '' },
      { id: randomUUID(), drawing, task: 't3', answer: 'x'.repeat(2001) },
      { id: randomUUID(), drawing, task: 't3', answer: 62 },
    ])
      await demo.zofia.send('post', `my/labs/${lab}/tries`, body).expect(400);
  });

  test('whoever presses thirty times with thirty answers is told twice; the same question thirty times is one', async () => {
    const lab = await asking({ tries: 2 });
    const tobias = await demo.running.as('tobias.ferreira');
    await view(tobias);
    const all = await Promise.all(
      Array.from({ length: AT_ONCE }, (_each, at) => attempt(tobias, lab, 't3', String(100 + at))),
    );
    expect(all.filter(({ status }) => status === 200)).toHaveLength(2);
    expect(all.filter(({ status }) => ![200, 409].includes(status))).toEqual([]);
    const { tries, answers } = await view(tobias);
    expect([tries!.tasks.t3!.used, answers.t3]).toEqual([2, tries!.tasks.t3!.settled]);
    const ilse = await demo.running.as('ilse.haverkamp');
    const id = randomUUID();
    await view(ilse);
    const same = await Promise.all(Array.from({ length: 8 }, () => attempt(ilse, lab, 't3', '62', id)));
    expect(same.map(({ status }) => status)).toEqual(same.map(() => 200));
    expect((await view(ilse)).tries!.tasks.t3).toMatchObject({ used: 1, last: { right: true } });
    // Nobody asks under somebody else's id, or of somebody else's drawing.
    expect(told(await attempt(demo.zofia, lab, 't3', '62', id))).toEqual([400, saying(/Nothing was taken/)]);
    const { documentId: drawing } = await view(ilse);
    const theirs = { id: randomUUID(), drawing, task: 't3', answer: '62' };
    await demo.zofia.send('post', `my/labs/${lab}/tries`, theirs).expect(409);
    await demo.maren.send('post', `my/labs/${lab}/tries`, theirs).expect(403);
  });
});

describe('hints', () => {
  test('are told one after the other, cost what was said, and only from then on', async () => {
    const lab = await asking({ hintCost: 0.5, attempts: 9 });
    const adaeze = await demo.running.as('adaeze.okonjo');
    const handIn = async (): Promise<string> =>
      ((await adaeze.send('post', `my/labs/${lab}/hand-in`, {}).expect(201)).body as { id: string }).id;
    const before = await handIn();
    const { hints } = await view(adaeze);
    expect(hints).toMatchObject({
      cost: 0.5,
      of: [
        { task: 't2', left: 2, told: [] },
        { task: 't3', left: 1, told: [] },
      ],
    });
    expect(JSON.stringify(hints)).not.toMatch(/ask-|learns|desks/);
    const first = (await takeHint(adaeze, lab, 0, 0.5)).body as HintsView;
    expect(first.of[0]).toMatchObject({ left: 1, told: [{ text: 'Not all of them look at addresses.', cost: 0.5 }] });
    // What it costs is what was seen when it was asked for.
    await asking({ hintCost: 2, attempts: 9 });
    expect(told(await takeHint(adaeze, lab, 0, 0.5))).toEqual([409, saying(/costs 2 points now, not 0.5 points/)]);
    expect((await takeHint(adaeze, lab, 0, 2)).status).toBe(200);
    expect(told(await takeHint(adaeze, lab, 0, 2))).toEqual([409, saying(/all hints/)]);
    const after = await handIn();
    await demo.maren.send('post', `labs/${lab}/check`).expect(200);
    for (const id of [before, after]) await demo.maren.send('post', `submissions/${id}/check`).expect(200);
    const of = async (id: string): Promise<SubmissionView> =>
      (await demo.maren.get(`submissions/${id}`).expect(200)).body as SubmissionView;
    expect((await of(before)).penalty).toBeNull();
    const penalty = { points: 2.5, hints: { count: 2, points: 2.5 }, late: null };
    expect((await of(before)).asked.hints).toEqual([]);
    const { penalty: taken, result, asked } = await of(after);
    expect(asked.hints).toEqual([
      { requirement: 'ask-choice', text: 'Not all of them look at addresses.', cost: 0.5 },
      { requirement: 'ask-choice', text: 'One of them learns.', cost: 2 },
    ]);
    expect(taken).toEqual(penalty);
    const rows = (await demo.maren.get(`labs/${lab}/submissions`)).body as ClassRow[];
    expect(rows.find(({ submissionId }) => submissionId === after)).toMatchObject({ points: result!.points, penalty });
    const mine = (await view(adaeze)).submissions;
    expect(mine.slice(-2).map((each) => each.penalty)).toEqual([null, penalty]);
    const { text } = (await demo.maren.get(`labs/${lab}/results.csv`)) as { text: string };
    const [header, ...lines] = text.split('\r\n').map((line) => line.split(','));
    expect(header!.slice(-4)).toEqual(['Points', 'Of', 'Off for hints', 'Counts']);
    const [points, , off, counts] = lines
      .find(([name]) => name === 'Adaeze Okonjo')!
      .slice(-4)
      .map(Number);
    expect([off, counts]).toEqual([2.5, points! - 2.5]);
    // The best one counts by what is left of it.
    await asking({ hintCost: 2, attempts: 9, counts: 'best' });
    for (const id of [before, after]) await demo.maren.send('post', `submissions/${id}/check`).expect(200);
    expect((await view(adaeze)).submissions.slice(-2).map((each) => each.counts)).toEqual([true, false]);
  });

  test('whoever presses thirty times at once gets each hint once and pays once', async () => {
    const lab = await asking({ hintCost: 1, attempts: 9 });
    const jamila = await demo.running.as('jamila.conteh');
    const { hints, documentId: drawing } = await view(jamila);
    const wanted = (id = randomUUID()) => ({ id, drawing, key: hints!.of[0]!.key, cost: 1 });
    const all = await Promise.all(
      Array.from({ length: AT_ONCE }, () => jamila.send('post', `my/labs/${lab}/hints`, wanted())),
    );
    expect(all.filter(({ status }) => status === 200)).toHaveLength(2);
    expect(all.filter(({ status }) => ![200, 409, 429].includes(status))).toEqual([]);
    const oskar = await demo.running.as('oskar.thorsen');
    const own = await view(oskar);
    const same = { id: randomUUID(), drawing: own.documentId, key: own.hints!.of[1]!.key, cost: 1 };
    const again = await Promise.all(Array.from({ length: 8 }, () => oskar.send('post', `my/labs/${lab}/hints`, same)));
    expect(again.map(({ status }) => status)).toEqual(again.map(() => 200));
    expect((await view(oskar)).hints!.of[1]).toMatchObject({ left: 0, told: [{ text: 'At the desks.' }] });
    // A key is a person's own.
    expect(own.hints!.of[0]!.key).not.toBe(hints!.of[0]!.key);
    const foreign = { id: randomUUID(), drawing: own.documentId, key: hints!.of[0]!.key, cost: 1 };
    expect(told(await oskar.send('post', `my/labs/${lab}/hints`, foreign))).toEqual([409, saying(/no such hint/)]);
    for (const cost of [-1, '1', null, undefined])
      await oskar.send('post', `my/labs/${lab}/hints`, { ...foreign, cost }).expect(cost === -1 ? 409 : 400);
  });

  test('and tries end where nothing more can be handed in', async () => {
    const lab = await asking({ hintCost: 0, tries: 3, attempts: 9 });
    const { used } = (await view(demo.zofia)).attempts;
    await demo.zofia.send('post', `my/labs/${lab}/hand-in`, {}).expect(201);
    await asking({ hintCost: 0, tries: 3, attempts: used + 1 });
    for (const answer of [await attempt(demo.zofia, lab, 't3', '62'), await takeHint(demo.zofia, lab, 0, 0)])
      expect(told(answer)).toEqual([409, saying(/^You have used all \d+ attempt/)]);
  });
});

describe('which attempt counts', () => {
  const rule = async (counts: Policy['counts'], more: Partial<Policy> = {}): Promise<string> =>
    asking({ attempts: 9, ...more, ...(counts && { counts }) });
  const choose = async (who: Person, lab: string, attempt: string) =>
    who.send('put', `my/labs/${lab}/counting`, { attempt, drawing: (await view(who)).documentId });
  const handIn = async (who: Person, lab: string): Promise<string> =>
    ((await who.send('post', `my/labs/${lab}/hand-in`, {}).expect(201)).body as { id: string }).id;
  const counting = async (who: Person): Promise<string | undefined> =>
    (await view(who)).submissions.find(({ counts }) => counts)?.id;

  test('is the student’s to choose where the lab says so, else the last; everybody sees the same', async () => {
    const lab = await rule('chosen', { shown: { what: 'nothing' } });
    const eero = await demo.running.as('eero.lahtinen');
    const [first, second] = [await handIn(eero, lab), await handIn(eero, lab)];
    expect(await counting(eero)).toBe(second);
    expect((await choose(eero, lab, first)).status).toBe(204);
    expect(await counting(eero)).toBe(first);
    const rows = (await demo.maren.get(`labs/${lab}/submissions`)).body as ClassRow[];
    const row = rows.find(({ name }) => name === 'Eero Lahtinen')!;
    expect([row.submissionId, row.toCheck > 1]).toEqual([first, true]);
    // A newer one does not take its place; the choice can be changed, and what is chosen twice is chosen.
    const third = await handIn(eero, lab);
    expect(await counting(eero)).toBe(first);
    for (const id of [third, third]) expect((await choose(eero, lab, id)).status).toBe(204);
    expect(await counting(eero)).toBe(third);
    const all = await Promise.all(Array.from({ length: AT_ONCE }, () => choose(eero, lab, first)));
    expect(all.filter(({ status }) => status !== 204)).toEqual([]);
    expect(await counting(eero)).toBe(first);
    await rule('last');
    expect(await counting(eero)).toBe(third);
    expect(told(await choose(eero, lab, first))).toEqual([409, saying(/nobody chooses/)]);
  });

  test('is chosen of one’s own attempts, and not after the lab was due', async () => {
    const lab = await rule('chosen');
    const greta = await demo.running.as('greta.holzapfel');
    const theirs = await handIn(greta, lab);
    expect((await choose(demo.zofia, lab, theirs)).status).toBe(404);
    expect((await choose(greta, lab, randomUUID())).status).toBe(404);
    expect((await choose(greta, lab, '__proto__')).status).toBe(400);
    await demo.maren.send('put', `my/labs/${lab}/counting`, { attempt: theirs, drawing: theirs }).expect(403);
    const due = async (dueAt: string | null): Promise<unknown> =>
      demo.maren.send('patch', `labs/${lab}`, { base: (await demo.labOf(TITLE)).revision, dueAt }).expect(200);
    await due('2026-01-01T00:00:00Z');
    expect(told(await choose(greta, lab, theirs))).toEqual([409, saying(/was due/)]);
    await due(null);
    expect((await choose(greta, lab, theirs)).status).toBe(204);
  });
});
