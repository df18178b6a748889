import {
  type CausesView,
  type ClassRow,
  type FoundDiagnosis,
  type LookingView,
  type StudentAttempt,
  type SubmissionView,
} from '@sobrin/contracts';
import { diagnose, judgeByRequirements, prepareLab } from '@sobrin/core/spec';
import { readLabText, readSubmissionText } from '@sobrin/core/formats';
import { emptyTopology } from '@sobrin/core/topology';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { DataSource } from 'typeorm';
import { config } from '../platform/config';
import { useDemo } from '../tests/demo';

const demo = useDemo();
const TITLE = 'Three Stations';

const rows = async (lab: string): Promise<ClassRow[]> =>
  (await demo.maren.get(`labs/${lab}/submissions`).expect(200)).body as ClassRow[];
const diagnosisOf = async (id: string): Promise<FoundDiagnosis['diagnosis']> =>
  ((await demo.maren.get(`submissions/${id}/diagnosis`).expect(200)).body as FoundDiagnosis).diagnosis;
const inCommon = async (lab: string): Promise<CausesView> =>
  (await demo.maren.get(`labs/${lab}/causes`).expect(200)).body as CausesView;
/** Changes rules of the lab, and has them judge. */
async function rule(more: object): Promise<void> {
  const { id, revision, policy } = await demo.labOf(TITLE);
  await demo.maren.send('patch', `labs/${id}`, { base: revision, policy: { ...policy, ...more } }).expect(200);
  await demo.maren.send('post', `labs/${id}/versions`).expect(200);
}

test('nothing that is not checked has a diagnosis; what is checked has that of the core, found once however many ask', async () => {
  const lab = await demo.labId(TITLE);
  const { submissionId: id } = (await rows(lab)).find(({ name }) => name === 'Jamila Conteh')!;
  expect(await diagnosisOf(id!)).toBeNull();
  await demo.maren.send('post', `labs/${lab}/check`).expect(200);
  const all = await Promise.all(Array.from({ length: 20 }, () => diagnosisOf(id!)));
  const folder = path.join(config.demoFolder, 'three-stations');
  const [file, handed] = [
    readLabText(readFileSync(path.join(folder, 'lab.json'), 'utf8')),
    readSubmissionText(readFileSync(path.join(folder, 'submissions', 'jamila-conteh.json'), 'utf8')),
  ];
  if (!file.ok || !handed.ok) throw new Error('files');
  const prepared = prepareLab(file.value);
  const submitted = { ...handed.value, drawing: handed.value.topology ?? emptyTopology() };
  const found = diagnose(prepared, submitted, judgeByRequirements(prepared, submitted));
  expect(found.causes.length).toBeGreaterThan(0);
  // Reference and drawing are stored anew, so that ids stay and texts do.
  for (const each of all) expect(each!.causes.map(({ text }) => text)).toEqual(found.causes.map(({ text }) => text));
  const kept = await demo.running.app
    .get(DataSource)
    .query<{ n: number }[]>('SELECT count(*)::int AS n FROM diagnosis');
  expect(kept).toEqual([{ n: 1 }]);
  await demo.zofia.get(`submissions/${id}/diagnosis`).expect(403);
});

test('a class has causes in common when somebody asks for them: each leads to its students', async () => {
  const lab = await demo.labId(TITLE);
  const before = await inCommon(lab);
  expect(before).toMatchObject({ looked: 1, open: 11 });
  // Thirty who ask at once ask for the same.
  await Promise.all(Array.from({ length: 30 }, () => demo.maren.send('post', `labs/${lab}/causes`).expect(202)));
  let now = before;
  while (now.open || now.waiting || now.running) {
    await new Promise((resolve) => setTimeout(resolve, 200));
    now = await inCommon(lab);
  }
  expect(now.looked).toBe(12);
  const counts = now.causes.map(({ students }) => students.length);
  expect(counts).toEqual([...counts].sort((a, b) => b - a));
  for (const { students, text } of now.causes)
    for (const { submissionId, letter } of students) {
      const own = (await diagnosisOf(submissionId))!.causes.find((cause) => cause.letter === letter);
      expect(own).toBeDefined();
      if (students.length === 1) expect(own!.text).toBe(text);
    }
  await demo.zofia.get(`labs/${lab}/causes`).expect(403);
  await demo.zofia.send('post', `labs/${lab}/causes`).expect(403);
  const [row] = await demo.running.app
    .get(DataSource)
    .query<{ n: number }[]>('SELECT count(*)::int AS n FROM diagnosis');
  expect(row).toEqual({ n: 12 });
});

test('one in which nothing can be looked for is told by name, until somebody has it looked for again', async () => {
  const db = demo.running.app.get(DataSource);
  const lab = await demo.labId(TITLE);
  const { submissionId: id, name } = (await rows(lab)).find((row) => row.submissionId)!;
  const [before] = await db.query<[{ topology: object }]>('SELECT topology FROM submission WHERE id = $1', [id]);
  const set = (topology: object): Promise<unknown> =>
    db.query('UPDATE submission SET topology = $1 WHERE id = $2', [JSON.stringify(topology), id]);
  await db.query('DELETE FROM diagnosis WHERE check_id IN (SELECT id FROM check_result WHERE submission_id = $1)', [
    id,
  ]);
  await set({ devices: { a: null }, links: {} });
  await demo.maren.send('post', `labs/${lab}/causes`).expect(202);
  const ended = async (): Promise<CausesView> => {
    for (;;) {
      const now = await inCommon(lab);
      if (!now.waiting && !now.running) return now;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  };
  const { failed, open } = await ended();
  expect({ failed, open }).toEqual({
    failed: [{ submissionId: id, name, sentence: expect.stringContaining('went wrong') as string }],
    open: 1,
  });
  await set(before.topology);
  await demo.maren.send('post', `labs/${lab}/causes`).expect(202);
  expect(await ended()).toMatchObject({ failed: [], open: 0, looked: 12 });
});

test('where a mistake counts once the mark says so everywhere, and its student reads as much of it as may be told', async () => {
  const lab = await demo.labId(TITLE);
  const before = (await rows(lab)).find(({ name }) => name === 'Jamila Conteh')!;
  await rule({ followThrough: 'on', attempts: 1, shown: { what: 'points' } });
  await demo.maren.send('post', `labs/${lab}/check`).expect(200);
  const after = (await rows(lab)).find(({ name }) => name === 'Jamila Conteh')!;
  const view = (await demo.maren.get(`submissions/${after.submissionId!}`).expect(200)).body as SubmissionView;
  const { followThrough, causes } = view.result!.diagnosis!;
  expect([before.points, after.points]).toEqual([followThrough.raw, followThrough.mark]);
  expect(after.points).toBeGreaterThan(before.points!);
  expect(await diagnosisOf(after.submissionId!)).toEqual(view.result!.diagnosis);
  const jamila = await demo.running.as('jamila.conteh');
  const once = async (): Promise<NonNullable<StudentAttempt['result']>['once']> =>
    ((await jamila.get(`my/labs/${lab}/attempts/${after.submissionId!}`).expect(200)).body as StudentAttempt).result!
      .once;
  const back = Math.round((followThrough.mark - followThrough.raw) * 100) / 100;
  const { cost } = followThrough.costs[0]!;
  expect(await once()).toEqual({ back, mistakes: [{ cost }] });
  const shown = (strength: string, more: object = {}) => rule({ shown: { what: 'findings', strength }, ...more });
  await shown('that');
  expect(await once()).toEqual({ back, mistakes: [{ cost }] });
  await shown('where');
  expect(await once()).toEqual({ back, mistakes: [{ cost, text: causes[0]!.where, places: causes[0]!.places }] });
  await shown('what');
  expect((await once())!.mistakes[0]!.text).toBe(causes[0]!.theirText);
  // What is wrong waits as long as it may still be put right.
  await shown('what', { attempts: 3 });
  expect((await once())!.mistakes[0]!.text).toBe(causes[0]!.where);
});

test('while mistakes are looked for it is told how far that is, to those who may see them', async () => {
  const lab = await demo.labId(TITLE);
  await rule({ followThrough: 'off' });
  // Of a sheet with nothing on it there is much to try.
  const handed = await demo.zofia.send('post', `my/labs/${lab}/hand-in`, {}).expect(201);
  const { id } = handed.body as { id: string };
  await demo.maren.send('post', `submissions/${id}/check`).expect(200);
  const progress = async (): Promise<LookingView['progress']> =>
    ((await demo.maren.get(`submissions/${id}/diagnosis/progress`).expect(200)).body as LookingView).progress;
  expect(await progress()).toBeNull();
  let isDone = false;
  const found = diagnosisOf(id).finally(() => (isDone = true));
  const told: NonNullable<LookingView['progress']>[] = [];
  while (!isDone) {
    const now = await progress();
    if (now) told.push(now);
  }
  const { bound } = (await found)!;
  expect(told.length).toBeGreaterThan(0);
  expect(told.map(({ runs }) => runs)).toEqual(told.map(({ runs }) => runs).sort((a, b) => a - b));
  for (const each of told) expect(each.bound).toBe(bound);
  expect(await progress()).toBeNull();
  await demo.zofia.get(`submissions/${id}/diagnosis/progress`).expect(403);
});
