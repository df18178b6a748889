import { type CheckProgress, type ClassRow, type Health, type JobView, type SubmissionView } from '@sobrin/contracts';
import { type ChildProcess, spawn } from 'node:child_process';
import path from 'node:path';
import { firstValueFrom, take, toArray } from 'rxjs';
import { DataSource } from 'typeorm';
import { ChecksService } from '../checks/checks.service';
import { SignalsService } from '../platform/signals.service';
import { useDemo } from '../tests/demo';

// The process of these tests answers people only: workers are processes of their own, that can be killed.
beforeAll(() => void (process.env.SOBRIN_ROLE = 'web'));
afterAll(() => void delete process.env.SOBRIN_ROLE);
const demo = useDemo();

const workers: ChildProcess[] = [];
afterAll(() => Promise.all(workers.splice(0).map((worker) => ended(worker, 'SIGTERM'))));

async function worker(): Promise<ChildProcess> {
  const { database } = demo.running.app.get(DataSource).options as unknown as { database?: string };
  const url = new URL(process.env.TEST_DATABASE_URL!);
  const [{ name }] = await demo.running.app
    .get(DataSource)
    .query<[{ name: string }]>('SELECT current_database() AS name');
  url.pathname = `/${database ?? name}`;
  const child = spawn(process.execPath, [path.resolve(__dirname, '../../dist/worker.js')], {
    env: { ...process.env, DATABASE_URL: url.toString() },
    stdio: ['ignore', 'pipe', 'ignore', 'ipc'],
  });
  workers.push(child);
  await new Promise<void>((resolve) => child.once('message', () => resolve()));
  return child;
}
async function ended(child: ChildProcess, signal: NodeJS.Signals): Promise<void> {
  if (child.exitCode !== null || child.signalCode !== null) return;
  const end = new Promise((resolve) => child.once('exit', resolve));
  child.kill(signal);
  await end;
}
const db = (): DataSource => demo.running.app.get(DataSource);
const lab = (): Promise<string> => demo.labId('Winch Isolation');
const ask = async (): Promise<CheckProgress> =>
  (await demo.maren.send('post', `labs/${await lab()}/checks`).expect(202)).body as CheckProgress;
const progress = async (): Promise<CheckProgress> =>
  (await demo.maren.get(`labs/${await lab()}/checks`).expect(200)).body as CheckProgress;
const rows = async (): Promise<ClassRow[]> =>
  (await demo.maren.get(`labs/${await lab()}/submissions`).expect(200)).body as ClassRow[];
/** Resolved when so many jobs have ended. */
const heard = (count: number): Promise<unknown> =>
  firstValueFrom(demo.running.app.get(SignalsService).of('ended').pipe(take(count), toArray()));
async function done(): Promise<void> {
  for (;;) {
    const { waiting, running } = await progress();
    if (!waiting && !running) return;
    await new Promise((resolve) => setTimeout(resolve, 250));
  }
}
const kept = (): Promise<{ submission_id: string }[]> => db().query('SELECT submission_id FROM check_result');
const forget = (): Promise<unknown> => db().query('DELETE FROM check_result');

test('what is asked for waits for a worker, once however often it is asked for, and is taken back', async () => {
  expect(await ask()).toEqual({ waiting: 12, running: 0, failed: [] });
  expect(await ask()).toMatchObject({ waiting: 12 });
  expect((await demo.maren.get('health').expect(200)).body).toMatchObject({
    ok: true,
    version: expect.stringMatching(/^[0-9a-f]{64}$/) as string,
    database: 'answers',
    queue: { waiting: 12, running: 0, workers: 0 },
  });
  await demo.maren.send('delete', `labs/${await lab()}/checks`).expect(204);
  expect(await progress()).toEqual({ waiting: 0, running: 0, failed: [] });
});

test('what waits is listed with who asked, for those who teach the course, and taken back one by one', async () => {
  const jobs = async (who = demo.maren): Promise<JobView[]> => (await who.get('jobs').expect(200)).body as JobView[];
  await ask();
  const all = await jobs();
  const waiting = all.filter(({ state }) => state === 'waits');
  expect(waiting).toHaveLength(12);
  expect(waiting[0]).toMatchObject({
    what: 'check',
    course: 'Networks 1',
    lab: { title: 'Winch Isolation' },
    by: 'Maren Osterkamp',
    retries: 0,
    sentence: null,
  });
  expect(new Set(waiting.map(({ student }) => student)).size).toBe(12);
  expect(await jobs(demo.zofia)).toEqual([]);
  const { id } = waiting[0]!;
  await demo.zofia.send('delete', `jobs/${id}`).expect(403);
  await demo.maren.send('delete', `jobs/${id}`).expect(204);
  await demo.maren.send('delete', `jobs/${id}`).expect(409);
  expect((await progress()).waiting).toBe(11);
  expect((await jobs()).find((job) => job.id === id)).toMatchObject({ state: 'taken back' });
  await demo.maren.send('delete', `labs/${await lab()}/checks`).expect(204);
});

test('a worker that is killed loses nothing and doubles nothing: another one does what it had', async () => {
  const first = await worker();
  const some = heard(2);
  await ask();
  await some;
  await ended(first, 'SIGKILL');
  expect((await kept()).length).toBeLessThan(12);
  await worker();
  await done();
  const results = await kept();
  expect([results.length, new Set(results.map((row) => row.submission_id)).size]).toEqual([12, 12]);
  expect((await rows()).filter((row) => row.submissionId && row.points === null)).toEqual([]);
  expect(await db().query('SELECT * FROM job_taken')).toEqual([]);
});

test('two workers share what there is', async () => {
  await forget();
  await worker();
  expect(((await demo.maren.get('health').expect(200)).body as Health).queue?.workers).toBe(2);
  await Promise.all([ask(), ask(), ask()]);
  await done();
  const results = await kept();
  expect([results.length, new Set(results.map((row) => row.submission_id)).size]).toEqual([12, 12]);
});

test('a submission that cannot be judged is tried three times and told by name; whoever waits for it is told, too', async () => {
  await forget();
  const [broken] = (await rows()).filter((row) => row.submissionId);
  const [before] = await db().query<[{ topology: object }]>('SELECT topology FROM submission WHERE id = $1', [
    broken!.submissionId,
  ]);
  const set = (topology: object): Promise<unknown> =>
    db().query('UPDATE submission SET topology = $1 WHERE id = $2', [JSON.stringify(topology), broken!.submissionId]);
  await set({ devices: { a: null }, links: {} });
  await ask();
  await done();
  const { failed } = await progress();
  expect(failed).toEqual([
    {
      submissionId: broken!.submissionId,
      name: broken!.name,
      sentence: expect.stringContaining('went wrong') as string,
    },
  ]);
  const tries = await db().query<{ retry_count: number }[]>(
    `SELECT retry_count FROM pgboss.job WHERE state = 'failed' AND data ->> 'submission' = $1`,
    [broken!.submissionId],
  );
  expect(tries.map((row) => row.retry_count)).toEqual([2]);
  expect((await rows()).filter((row) => row.submissionId && row.points === null)).toHaveLength(1);
  await demo.maren.send('post', `submissions/${broken!.submissionId}/check`).expect(422);
  await set(before.topology);
  const view = (await demo.maren.send('post', `submissions/${broken!.submissionId}/check`).expect(200))
    .body as SubmissionView;
  expect(view.result).not.toBeNull();
  expect((await progress()).failed).toEqual([]);
});

test('results of another core are made again: those that hold are confirmed, the others told with what differs', async () => {
  await ask();
  await done();
  await db().query(`UPDATE check_result SET core_version = 'another'`);
  const [changed] = (await rows()).filter((row) => row.submissionId);
  await db().query(`UPDATE check_result SET cells = jsonb_set(cells, '{1,points}', '0.25') WHERE submission_id = $1`, [
    changed!.submissionId,
  ]);
  expect((await rows()).filter((row) => row.unconfirmed)).toHaveLength(12);
  const all = heard(12);
  expect(await demo.running.app.get(ChecksService).askForConfirmation()).toBe(12);
  await all;
  const after = await rows();
  expect(after.filter((row) => row.unconfirmed)).toEqual([]);
  expect(after.filter((row) => row.stale).map((row) => row.studentId)).toEqual([changed!.studentId]);
  const view = (await demo.maren.get(`submissions/${changed!.submissionId}`).expect(200)).body as SubmissionView;
  expect(view.differs).toEqual([view.result!.requirements[1]!.id]);
  // Checked again it is of this core, and nothing differs.
  await demo.maren.send('post', `submissions/${changed!.submissionId}/check`).expect(200);
  expect((await rows()).filter((row) => row.stale)).toEqual([]);
  expect(await demo.running.app.get(ChecksService).askForConfirmation()).toBe(0);
});
