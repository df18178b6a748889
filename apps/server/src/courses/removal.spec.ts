import { type CourseSummary, type LibraryLab } from '@sobrin/contracts';
import { DataSource } from 'typeorm';
import { refusal, useDemo } from '../tests/demo';

const demo = useDemo();
const rows = async (table: string, where = 'true'): Promise<number> => {
  const [{ count }] = await demo.running.app
    .get(DataSource)
    .query<[{ count: number }]>(`SELECT count(*)::int FROM ${table} WHERE ${where}`);
  return count;
};
const course = async (title = 'Networks 1'): Promise<CourseSummary> =>
  (await demo.courses(demo.maren)).find((each) => each.title === title)!;
const titles = async (): Promise<string[]> => (await course()).labs.map((lab) => lab.title);

describe('the order of labs and courses', () => {
  test('is what the instructor put, for everybody in the course; a new lab comes last', async () => {
    const { id, labs } = await course();
    const ids = labs.map((lab) => lab.id).reverse();
    await demo.maren.send('put', `courses/${id}/labs`, { ids }).expect(204);
    const wanted = labs.map((lab) => lab.title).reverse();
    expect(await titles()).toEqual(wanted);
    const seen = (await demo.courses(demo.zofia))[0]!.labs.map((lab) => lab.title);
    expect(seen).toEqual(wanted);
    await demo.maren.send('post', `courses/${id}/labs`, { title: 'The newest' }).expect(201);
    expect((await titles()).at(-1)).toBe('The newest');
  });
  test('of courses is each person’s own; a new one comes first', async () => {
    for (const title of ['Networks 2', 'Networks 3']) await demo.maren.send('post', 'courses', { title }).expect(201);
    const before = await demo.courses(demo.maren);
    const ids = [...before].sort((a, b) => (a.title < b.title ? -1 : 1)).map(({ id }) => id);
    await demo.maren.send('put', 'courses', { ids }).expect(204);
    expect((await demo.courses(demo.maren)).map(({ title }) => title)).toEqual([
      'Networks 1',
      'Networks 2',
      'Networks 3',
    ]);
    await demo.maren.send('post', 'courses', { title: 'Networks 0' }).expect(201);
    expect((await demo.courses(demo.maren))[0]!.title).toBe('Networks 0');
  });
  test('takes many at once, and what is of another course is not touched', async () => {
    const { id, labs } = await course();
    const other = await course('Networks 2');
    const ids = labs.map((lab) => lab.id);
    const all = await Promise.all(
      Array.from({ length: 12 }, (_, at) =>
        demo.maren.send('put', `courses/${id}/labs`, { ids: at % 2 ? ids : [...ids].reverse() }),
      ),
    );
    expect(all.map(({ status }) => status)).toEqual(all.map(() => 204));
    await demo.maren.send('put', `courses/${other.id}/labs`, { ids: [ids[0]] }).expect(204);
    expect((await course('Networks 2')).labs).toEqual([]);
    expect((await titles()).sort()).toEqual(labs.map((lab) => lab.title).sort());
  });
});

describe('taking a lab out of its course', () => {
  test('is refused where more was handed in than was told, and removes nothing then', async () => {
    const lab = (await course()).labs.find(({ title }) => title === 'Three Stations')!;
    expect(lab.attempts).toBeGreaterThan(0);
    const refused = await demo.maren.send('post', `labs/${lab.id}/removal`, { attempts: lab.attempts - 1 }).expect(409);
    expect(refusal(refused).message).toMatch(/^1 attempt was handed in since you were asked/);
    expect(await rows('submission', `assignment_id = '${lab.id}'`)).toBe(lab.attempts);
  });
  test('takes works, attempts, results and drawings with it; the lab stays in the library and can be deleted there', async () => {
    const lab = (await course()).labs.find(({ title }) => title === 'Three Stations')!;
    const mine = await demo.myLab(demo.zofia, 'Three Stations');
    const { referenceId } = await demo.labOf('Three Stations');
    const library = (): Promise<LibraryLab[]> => demo.maren.get('library').then(({ body }) => body as LibraryLab[]);
    const inLibrary = (await library()).find(({ title }) => title === 'Three Stations')!;
    const kept = await demo.maren.send('delete', `library/${inLibrary.id}`).expect(409);
    expect(refusal(kept).message).toMatch(/^1 course has "Three Stations": take it out there first/);

    await demo.maren.send('post', `labs/${lab.id}/removal`, { attempts: lab.attempts }).expect(204);
    expect(await titles()).not.toContain('Three Stations');
    await demo.zofia.get(`my/labs/${lab.id}`).expect(404);
    await demo.zofia.get(`documents/${mine.documentId}`).expect(404);
    expect(await rows('document', `id IN ('${mine.documentId}', '${mine.planId}')`)).toBe(0);
    expect(await rows('submission', `assignment_id = '${lab.id}'`)).toBe(0);
    expect(await rows('document', `id = '${referenceId}'`)).toBe(1);

    await demo.zofia.send('delete', `library/${inLibrary.id}`).expect(404);
    await demo.maren.send('delete', `library/${inLibrary.id}`).expect(204);
    expect((await library()).map(({ title }) => title)).not.toContain('Three Stations');
    expect(await rows('document', `id = '${referenceId}'`)).toBe(0);
  });
  test('goes before whoever hands in at that moment: neither waits for the other for ever', async () => {
    const { id } = (await course()).labs.find(({ title }) => title === 'Summit Dual Stack')!;
    // The work is begun: it is what the one locks first, and the other last.
    await demo.myLab(demo.zofia, 'Summit Dual Stack');
    const db = demo.running.app.get(DataSource);
    const removing = db.createQueryRunner();
    try {
      await removing.startTransaction();
      await removing.query('SELECT 1 FROM assignment WHERE id = $1 FOR UPDATE', [id]);
      const handingIn = demo.zofia.send('post', `my/labs/${id}/hand-in`).then(({ status }) => status);
      const waiting =
        'SELECT 1 FROM pg_locks JOIN pg_stat_activity USING (pid) WHERE NOT granted AND datname = current_database()';
      while (!(await db.query<object[]>(waiting)).length) await new Promise((resolve) => setTimeout(resolve, 20));
      await removing.query('DELETE FROM assignment WHERE id = $1', [id]);
      await removing.rollbackTransaction();
      expect(await handingIn).toBe(201);
    } finally {
      await removing.release();
    }
  });
  test('while a class hands in leaves nobody with half of something', async () => {
    const lab = (await course()).labs.find(({ title }) => title === 'Winch Isolation')!;
    const students = await Promise.all(
      ['zofia.wrona', 'tobias.ferreira', 'ilse.haverkamp', 'eero.lahtinen'].map((login) => demo.running.as(login)),
    );
    const [removal, ...handedIn] = await Promise.all([
      demo.maren.send('post', `labs/${lab.id}/removal`, { attempts: 1000 }),
      ...students.map((who) => who.send('post', `my/labs/${lab.id}/hand-in`)),
    ]);
    expect(removal.status).toBe(204);
    for (const { status } of handedIn) expect([201, 404]).toContain(status);
    expect(await rows('submission', `assignment_id = '${lab.id}'`)).toBe(0);
    expect(await rows('work', `assignment_id = '${lab.id}'`)).toBe(0);
  });
});

test('a course goes with its roster and all that was done in it; labs and accounts stay', async () => {
  const { id, labs } = await course();
  const before = [await rows('account'), await rows('lab')];
  const attempts = labs.reduce((sum, lab) => sum + lab.attempts, 0);
  await demo.zofia.send('post', `courses/${id}/removal`, { attempts }).expect(403);
  await demo.maren.send('post', `courses/${id}/removal`, { attempts: attempts - 1 }).expect(409);
  await demo.maren.send('post', `courses/${id}/removal`, { attempts }).expect(204);
  expect((await demo.courses(demo.maren)).map(({ title }) => title)).not.toContain('Networks 1');
  expect(await demo.courses(demo.zofia)).toEqual([]);
  expect([await rows('membership', `course_id = '${id}'`), await rows('assignment', `course_id = '${id}'`)]).toEqual([
    0, 0,
  ]);
  expect([await rows('account'), await rows('lab')]).toEqual(before);
});
