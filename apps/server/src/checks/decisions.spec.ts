import { type ClassRow, type ResultsView, type StudentAttempt, type SubmissionView } from '@sobrin/contracts';
import { type CheckResult } from '@sobrin/core/spec';
import { randomUUID } from 'node:crypto';
import Papa from 'papaparse';
import { DataSource } from 'typeorm';
import { refusal, useDemo } from '../tests/demo';

const demo = useDemo();

const rowsOf = async (lab: string): Promise<ClassRow[]> =>
  (await demo.maren.get(`labs/${lab}/submissions`).expect(200)).body as ClassRow[];
const viewOf = async (id: string): Promise<SubmissionView> =>
  (await demo.maren.get(`submissions/${id}`).expect(200)).body as SubmissionView;
const of = (result: CheckResult | null, id: string): CheckResult['requirements'][number] =>
  result!.requirements.find((requirement) => requirement.id === id)!;

/** A checked submission of a lab in which something was lost, and the first requirement of which it was. */
async function somethingLost(title: string) {
  const lab = await demo.labId(title);
  await demo.maren.send('post', `labs/${lab}/check`).expect(200);
  const row = (await rowsOf(lab)).find((each) => each.points !== null && each.points < each.of!)!;
  const view = await viewOf(row.submissionId!);
  const lost = view.result!.requirements.find(({ verdict, deduction }) => verdict === 'lost' && !deduction)!;
  return { lab, row, id: view.id, before: view, lost };
}
const whole = (requirement: string, points: number, reason = 'Explained it at the bench.') => ({
  requirement,
  item: null,
  isMet: null,
  points,
  reason,
});

test('points that a person gives count wherever the mark is told, outlast a new check, and can be taken back', async () => {
  const { lab, row, id, before, lost } = await somethingLost('Valley Station LAN');
  const view = (await demo.maren.send('post', `submissions/${id}/decisions`, whole(lost.id, lost.of)).expect(200))
    .body as SubmissionView;
  expect(of(view.result, lost.id)).toMatchObject({ points: lost.of, verdict: 'met', decided: true });
  expect(view.result!.points).toBe(before.result!.points + lost.of);
  expect(view.decisions).toMatchObject([
    {
      requirement: lost.id,
      points: lost.of,
      by: 'Maren Osterkamp',
      version: 1,
      holds: true,
      asked: expect.stringMatching(/^[0-9a-f]{64}$/) as string,
      ended: null,
    },
  ]);
  const check = async (points: number): Promise<void> => {
    expect((await rowsOf(lab)).find(({ submissionId }) => submissionId === id)!.points).toBe(points);
    const results = (await demo.maren.get(`labs/${lab}/results`).expect(200)).body as ResultsView;
    expect(results.rows.find(({ submissionId }) => submissionId === id)!.points).toBe(points);
    const { data } = Papa.parse<string[]>((await demo.maren.get(`labs/${lab}/results.csv`).expect(200)).text);
    expect(data.find(([name]) => name === row.name)!.at(-2)).toBe(String(points));
    const login = data.find(([name]) => name === row.name)![1]!;
    const student = await demo.running.as(login);
    const attempt = (await student.get(`my/labs/${lab}/attempts/${id}`).expect(200)).body as StudentAttempt;
    expect(attempt.result?.points ?? points).toBe(points);
  };
  await check(before.result!.points + lost.of);
  // As if another core had judged: the next check is kept as a new result.
  const db = demo.running.app.get(DataSource);
  await db.query(`UPDATE check_result SET inputs = 'other' WHERE submission_id = $1`, [id]);
  await demo.maren.send('post', `submissions/${id}/check`).expect(200);
  expect(await db.query('SELECT 1 FROM check_result WHERE submission_id = $1', [id])).toHaveLength(2);
  await check(before.result!.points + lost.of);

  const back = (await demo.maren.send('delete', `submissions/${id}/decisions/${view.decisions[0]!.id}`).expect(200))
    .body as SubmissionView;
  expect(of(back.result, lost.id)).toMatchObject({ points: 0, verdict: 'lost' });
  expect(back.decisions).toMatchObject([{ holds: false, ended: { by: 'Maren Osterkamp' } }]);
  await check(before.result!.points);
  await demo.maren.send('delete', `submissions/${id}/decisions/${view.decisions[0]!.id}`).expect(404);
});

test('what cannot be decided is refused in a sentence, and nothing is written', async () => {
  const { id, lost, before } = await somethingLost('Three Stations');
  const refused = async (body: object, words: string, status = 400): Promise<void> =>
    expect(
      JSON.stringify((await demo.maren.send('post', `submissions/${id}/decisions`, body).expect(status)).body),
    ).toContain(words);
  await refused(whole(lost.id, lost.of, '   '), 'Say why');
  await refused(whole(lost.id, lost.of + 1), `0 to ${lost.of} points`);
  await refused(whole('__proto__', 1), 'no requirement');
  await refused({ ...whole(lost.id, 1), item: 'constructor', isMet: true, points: null }, 'no such fact');
  await refused({ ...whole(lost.id, 1), isMet: true }, 'decided by its points');
  await refused({ ...whole(lost.id, 1), points: '1' }, 'points');
  await refused({ requirement: lost.id, reason: 'x' }, 'item');
  await refused(whole(lost.id, 1, 'x'.repeat(1001)), '1,000 letters');
  expect((await viewOf(id)).decisions).toEqual([]);
  expect((await viewOf(id)).result).toEqual(before.result);
  await demo.zofia.send('post', `submissions/${id}/decisions`, whole(lost.id, 1)).expect(403);
  await demo.zofia.send('put', `submissions/${id}/pins`, { role: 'RT-V', device: null }).expect(403);
  await demo.maren.send('delete', `submissions/${id}/decisions/${randomUUID()}`).expect(404);
});

test('of many who decide at once the last one holds, once, and all of it is on record', async () => {
  const { id, lost, before } = await somethingLost('Winch Isolation');
  const answers = await Promise.all(
    Array.from({ length: 30 }, (_, at) =>
      demo.maren.send('post', `submissions/${id}/decisions`, whole(lost.id, at % 2 ? lost.of : 0, `Turn ${at}`)),
    ),
  );
  expect(answers.map(({ status }) => status)).toEqual(answers.map(() => 200));
  const view = await viewOf(id);
  expect(view.decisions).toHaveLength(30);
  const holding = view.decisions.filter(({ holds }) => holds);
  expect(holding).toHaveLength(1);
  expect(view.result!.points).toBe(before.result!.points + holding[0]!.points!);
});

test('a server that has judged nothing itself decides for many at once', async () => {
  const { id, lost } = await somethingLost('Winch Isolation');
  const other = await demo.running.again();
  try {
    const person = await other.as('maren');
    const answers = await Promise.all(
      Array.from({ length: 30 }, (_, at) =>
        person.send('post', `submissions/${id}/decisions`, whole(lost.id, 0, `There ${at}`)),
      ),
    );
    expect(answers.map(({ status }) => status)).toEqual(answers.map(() => 200));
  } finally {
    await other.close();
  }
  const { decisions } = await viewOf(id);
  expect(decisions.filter(({ reason, holds }) => holds && reason.startsWith('There'))).toHaveLength(1);
});

test('one of another version holds only where the same is asked for the same points', async () => {
  const { lab, id, lost } = await somethingLost('Summit Dual Stack');
  await demo.maren.send('post', `submissions/${id}/decisions`, whole(lost.id, lost.of)).expect(200);
  const { revision, spec } = await demo.labOf('Summit Dual Stack');
  spec.sections.flatMap(({ requirements }) => requirements).find((each) => each.id === lost.id)!.points += 1;
  await demo.maren.send('patch', `labs/${lab}`, { base: revision, spec }).expect(200);
  await demo.maren.send('post', `labs/${lab}/versions`).expect(200);
  await demo.maren.send('post', `submissions/${id}/check`).expect(200);
  const view = await viewOf(id);
  expect(of(view.result, lost.id)).toMatchObject({ points: 0, of: lost.of + 1 });
  expect(view.decisions).toMatchObject([{ holds: false, version: 1, ended: null }]);
});

test('a device that is pinned to a role plays it in every check from then on', async () => {
  const { lab, id, before } = await somethingLost('Valley Station LAN');
  const [first, other] = before.result!.matching.filter(({ device, role }) => device !== null && !role.includes('/'));
  const pin = (role: string, device: string | null) =>
    demo.maren.send('put', `submissions/${id}/pins`, { role, device });
  const view = (await pin(first!.role, other!.device).expect(200)).body as SubmissionView;
  const roleIn = ({ result }: SubmissionView) => result!.matching.find(({ role }) => role === first!.role);
  expect(roleIn(view)).toMatchObject({ device: other!.device, pinned: true, sure: 'sure' });
  expect(view.pins).toMatchObject([{ role: first!.role, device: other!.device, by: 'Maren Osterkamp' }]);
  await demo.maren.send('post', `submissions/${id}/check`).expect(200);
  await demo.maren.send('post', `labs/${lab}/check`).expect(200);
  expect(roleIn(await viewOf(id))).toMatchObject({ pinned: true });
  // One device plays one role: the pin moves with it.
  const moved = (await pin(other!.role, other!.device).expect(200)).body as SubmissionView;
  expect(moved.pins).toMatchObject([{ role: other!.role }]);
  const without = (await pin(other!.role, null).expect(200)).body as SubmissionView;
  expect(without.pins).toEqual([]);
  expect(without.result).toEqual(before.result);
  expect(refusal(await pin('nobody', other!.device).expect(400)).message).toContain('reference');
  expect(refusal(await pin(first!.role, '__proto__').expect(400)).message).toContain('drawing');
  expect(refusal(await pin(first!.role, `${other!.device!}/nobody`).expect(400)).message).toContain('drawing');
});

test('what a mistake leaves to chance is accepted as lost for all of a class at once, and no more than that', async () => {
  const lab = await demo.labId('Three Stations');
  const db = demo.running.app.get(DataSource);
  const two = (await rowsOf(lab)).filter(({ submissionId }) => submissionId).slice(0, 2);
  for (const { submissionId } of two) {
    const { topology } = await viewOf(submissionId!);
    const [first, second] = Object.values(topology.devices).filter(
      ({ model, interfaces }) => model === 'desktop' && interfaces?.e0?.v4?.addresses?.length,
    );
    second!.interfaces!.e0!.v4 = structuredClone(first!.interfaces!.e0!.v4!);
    await db.query('UPDATE submission SET topology = $2 WHERE id = $1', [submissionId, JSON.stringify(topology)]);
    await db.query('DELETE FROM check_result WHERE submission_id = $1', [submissionId]);
  }
  await demo.maren.send('post', `labs/${lab}/check`).expect(200);
  const openOf = async (id: string) =>
    (await viewOf(id)).result!.requirements.flatMap((requirement) =>
      requirement.items
        .filter(({ met, proposed }) => met === null && proposed)
        .map(({ code }) => [requirement.id, code!] as const),
    );
  const [[requirement, code]] = (await openOf(two[0]!.submissionId!)) as [readonly [string, string]];
  const alike = await Promise.all(
    (await rowsOf(lab)).flatMap(({ submissionId }) => (submissionId ? [openOf(submissionId)] : [])),
  );
  const decided = alike.filter((open) => open.some(([id, why]) => id === requirement && why === code)).length;
  expect(decided).toBeGreaterThanOrEqual(2);
  expect((await demo.maren.send('post', `labs/${lab}/proposals`, { requirement, code }).expect(200)).body).toEqual({
    decided,
  });
  for (const { submissionId } of two) {
    const view = await viewOf(submissionId!);
    expect(of(view.result, requirement).items.filter(({ met }) => met === null)).toEqual([]);
    expect(of(view.result, requirement).verdict).not.toBe('unjudged');
    expect(new Set(view.decisions.map((decision) => decision.requirement))).toEqual(new Set([requirement]));
  }
  expect((await demo.maren.send('post', `labs/${lab}/proposals`, { requirement, code }).expect(200)).body).toEqual({
    decided: 0,
  });
});
