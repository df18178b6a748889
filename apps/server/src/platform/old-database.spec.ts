import {
  type ClassRow,
  type LabView,
  type StudentLabView,
  type SubmissionView,
  type VersionView,
} from '@sobrin/contracts';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { gunzipSync } from 'node:zlib';
import request from 'supertest';
import { DataSource } from 'typeorm';
import { type Person, type TestApplication, applicationOnDump } from '../tests/application';
import { MIGRATIONS } from './migrations';

/**
 * The demo as it stood in a Sobrin of 27 November 2026, before labs had documents, versions and assignments: with a named
 * version, a drawing that is shown, a lab file, a removed attachment, two attempts, checks by a spec that was changed
 * since, and a student who is off the roster.
 */
const DUMP = path.resolve(__dirname, '../../../../fixtures/databases/before-assignments.sql.gz');

let running: TestApplication;
let maren: Person;
beforeAll(async () => {
  running = await applicationOnDump(gunzipSync(readFileSync(DUMP)).toString());
  maren = await running.as('maren');
});
afterAll(() => running.close());

const body = async <Answer>(who: Person, place: string): Promise<Answer> =>
  (await who.get(place).expect(200)).body as Answer;
async function lab(title: string): Promise<LabView> {
  const [course] = await body<{ labs: { id: string; title: string }[] }[]>(maren, 'courses');
  return body(maren, `labs/${course!.labs.find((each) => each.title === title)!.id}`);
}

describe('data of an older Sobrin', () => {
  test('each lab is released as version 1 of itself, with its due date, its files and its old address', async () => {
    for (const title of [
      'Valley Station LAN',
      'Three Stations',
      'Season Opening',
      'Winch Isolation',
      'Summit Dual Stack',
    ])
      expect(await lab(title)).toMatchObject({
        title,
        version: { number: 1, by: 'Maren Osterkamp', judges: true },
        isChanged: false,
        releasedAt: expect.any(String) as string,
      });
    expect((await lab('Three Stations')).dueAt).toBe('2026-12-20T17:00:00.000Z');
    const { id, files } = await lab('Valley Station LAN');
    expect(files.map((file) => file.name)).toEqual(['ridge.txt']);
    const file = await maren.get(`labs/${id}/files/${files[0]!.id}`).expect(200);
    expect((file.body as Buffer).toString()).toBe('The ridge.');
    const db = running.app.get(DataSource);
    expect(await db.query('SELECT id FROM assignment WHERE id NOT IN (SELECT id FROM lab)')).toEqual([]);
  });

  test('a version keeps its name, and what is shown without signing in still is', async () => {
    const { referenceId } = await lab('Valley Station LAN');
    const versions = await body<VersionView[]>(maren, `documents/${referenceId}/versions`);
    expect(versions.filter((version) => version.name).map((version) => version.name)).toEqual(['Before the cables']);
    const { key } = await body<{ key: string }>(maren, `documents/${referenceId}/showing`);
    await request(running.app.getHttpServer()).get(`/api/shown/${key}`).expect(200);
  });

  test('a student finds drawing, attempts and points; an attachment that was removed is with its attempt', async () => {
    const { id } = await lab('Valley Station LAN');
    const zofia = await running.as('zofia.wrona');
    const mine = await body<StudentLabView>(zofia, `my/labs/${id}`);
    expect(mine.attempts.used).toBe(2);
    expect(mine.attachments).toEqual([]);
    expect(mine.submissions.map(({ attempt, points }) => [attempt, typeof points])).toEqual([
      [1, 'object'],
      [2, 'number'],
    ]);
    await zofia.get(`documents/${mine.documentId}`).expect(200);
    const first = await body<SubmissionView>(maren, `submissions/${mine.submissions[0]!.id}`);
    expect(first.attachments.map((file) => file.name)).toEqual(['notes.txt']);
  });

  test('results from before there were versions stand, are marked, and are made anew by a check', async () => {
    const { id } = await lab('Three Stations');
    const rows = () => body<ClassRow[]>(maren, `labs/${id}/submissions`);
    const before = (await rows()).filter((row) => row.submissionId);
    expect(before.every((row) => row.stale && row.points !== null)).toBe(true);
    await maren.send('post', `labs/${id}/check`).expect(200);
    expect((await rows()).filter((row) => row.stale)).toEqual([]);
  });

  test('who is off the roster is no row of the class, and their attempt is there when they come back', async () => {
    const { id, courseId } = await lab('Three Stations');
    const named = async (): Promise<ClassRow | undefined> =>
      (await body<ClassRow[]>(maren, `labs/${id}/submissions`)).find((row) => row.name === 'Jamila Conteh');
    expect(await named()).toBeUndefined();
    await maren
      .send('post', `courses/${courseId}/roster`, { students: [{ name: 'Jamila Conteh', login: 'jamila.conteh' }] })
      .expect(201);
    expect(await named()).toMatchObject({ attempts: 1 });
  });

  test('it goes all the way back and forth again; results that were made since lose their version', async () => {
    const runner = running.app.get(DataSource).createQueryRunner();
    await runner.startTransaction();
    const labs = (): Promise<unknown> =>
      runner.query('SELECT lab.id, title, reference_id FROM lab ORDER BY lab.id') as Promise<unknown>;
    const works = (): Promise<unknown> =>
      runner.query('SELECT student_id, document_id, assignment_id FROM work ORDER BY id') as Promise<unknown>;
    const people = (): Promise<unknown> =>
      runner.query(
        'SELECT course_id, account_id, role, name, group_name FROM membership WHERE accepted_at IS NOT NULL ORDER BY 1, 2',
      ) as Promise<unknown>;
    const before = [await labs(), await works(), await people()];
    const since = MIGRATIONS.slice(4);
    const back = async (): Promise<void> => {
      for (const Migration of [...since].reverse()) await new Migration().down(runner);
    };
    // Where a format has changed since, only the copy from before holds what was there.
    await runner.query('SAVEPOINT raised');
    await expect(back()).rejects.toThrow(/Formats have changed since: restore the copy/);
    await runner.query('ROLLBACK TO SAVEPOINT raised');
    await runner.query('DELETE FROM document_barrier');
    await back();
    const old = (await runner.query('SELECT due_at, spec FROM lab WHERE course_id IS NOT NULL')) as unknown[];
    expect(old).toHaveLength(5);
    const roles = (await runner.query(
      'SELECT role, count(*)::int AS count FROM account GROUP BY role ORDER BY role',
    )) as unknown[];
    expect(roles).toEqual([
      { role: 'instructor', count: 1 },
      { role: 'student', count: expect.any(Number) as number },
    ]);
    for (const Migration of since) await new Migration().up(runner);
    expect([await labs(), await works(), await people()]).toEqual(before);
    const [counted] = (await runner.query(
      'SELECT count(*)::int AS all, count(version_hash)::int AS versions FROM check_result',
    )) as [{ all: number; versions: number }];
    expect(counted.all).toBeGreaterThan(20);
    expect(counted.versions).toBe(0);
    await runner.rollbackTransaction();
    await runner.release();
  });
});
