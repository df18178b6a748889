import { type AddedMember, type CourseSummary, type LinkOwner } from '@sobrin/contracts';
import request, { type Test as Request } from 'supertest';
import { DataSource } from 'typeorm';
import { REQUEST_HEADER } from '../platform/config';
import { refusal, useDemo } from '../tests/demo';

const demo = useDemo();
const PASSWORD = 'lantern gondola 7 pumpkin';
const post = (path: string, body: object): Request =>
  request(demo.running.app.getHttpServer()).post(`/api/${path}`).set(REQUEST_HEADER, '1').send(body);
const tokenOf = (path: string): string => /^\/enter#([\w-]{43})$/.exec(path)![1]!;

/** A course of its instructor's own, with new people on its roster. */
async function courseWith(...logins: string[]): Promise<{ id: string; added: AddedMember[] }> {
  const { id } = (await demo.maren.send('post', 'courses', { title: 'Evening class' }).expect(201))
    .body as CourseSummary;
  const students = logins.map((login) => ({ login, name: `Somebody ${login}` }));
  const added = (await demo.maren.send('post', `courses/${id}/roster`, { students }).expect(201)).body as AddedMember[];
  return { id, added };
}

describe('an address with which one chooses a password', () => {
  test('says whose it is, sets the password once, signs in, and is used up', async () => {
    const { added } = await courseWith('nils.berg');
    const token = tokenOf(added[0]!.link!);
    const owner = (await post('auth/link', { token }).expect(200)).body as LinkOwner;
    expect(owner).toEqual({ name: 'Somebody nils.berg', login: 'nils.berg' });
    const weak = await post('auth/enter', { token, password: 'nils.berg.1' }).expect(400);
    expect(refusal(weak).message).toMatch(/guess/);
    const entered = await post('auth/enter', { token, password: PASSWORD }).expect(200);
    expect(entered.body).toMatchObject({ login: 'nils.berg', mayCreateCourses: false });
    const cookie = entered.headers['set-cookie'] as unknown as string[];
    await request(demo.running.app.getHttpServer()).get('/api/courses').set('Cookie', cookie).expect(200);
    await post('auth/sign-in', { login: 'nils.berg', password: PASSWORD }).expect(200);
    for (const [path, body] of [
      ['auth/link', { token }],
      ['auth/enter', { token, password: PASSWORD }],
    ] as const)
      expect(refusal(await post(path, body).expect(404)).message).toMatch(/Ask your instructor for a new one/);
  });
  test('is good for one of many who use it at once', async () => {
    const { added } = await courseWith('nils.crowd');
    const token = tokenOf(added[0]!.link!);
    const answers = await Promise.all(
      Array.from({ length: 20 }, (_, at) => post('auth/enter', { token, password: `${PASSWORD} ${at}` })),
    );
    expect(answers.filter(({ status }) => status === 200)).toHaveLength(1);
    expect(answers.filter(({ status }) => status === 404)).toHaveLength(19);
  });
  test('nobody signs in without a password before, and a week later it is too old', async () => {
    const { added } = await courseWith('nils.late');
    for (const password of ['', ' ', 'null', 'undefined'])
      expect((await post('auth/sign-in', { login: 'nils.late', password })).status).toBeGreaterThanOrEqual(400);
    await demo.running.app.get(DataSource).query("UPDATE one_time_link SET expires_at = now() - interval '1 second'");
    await post('auth/enter', { token: tokenOf(added[0]!.link!), password: PASSWORD }).expect(404);
  });
  test.each([{ token: '' }, { token: 'x'.repeat(43) }, { token: "' OR 1=1 --" }, { token: 7 }, {}])(
    'what is made up opens nothing: %j',
    async (body) => expect([400, 404]).toContain((await post('auth/link', body)).status),
  );
  test('the database holds none that could be used', async () => {
    const { added } = await courseWith('nils.kept');
    const rows = await demo.running.app.get(DataSource).query<object[]>('SELECT * FROM one_time_link');
    expect(JSON.stringify(rows)).not.toContain(tokenOf(added[0]!.link!));
  });
});

describe('a password that is lost', () => {
  test('is chosen anew with an address from the instructor; what was open before ends', async () => {
    const { id, added } = await courseWith('vera.lost');
    const entered = await post('auth/enter', { token: tokenOf(added[0]!.link!), password: PASSWORD }).expect(200);
    const cookie = entered.headers['set-cookie'] as unknown as string[];
    const make = () => demo.maren.send('post', `courses/${id}/roster/${added[0]!.id}/link`).expect(201);
    const [before, now] = [(await make()).body as { link: string }, (await make()).body as { link: string }];
    await post('auth/link', { token: tokenOf(before.link) }).expect(404);
    // Until it is used all stays as it was.
    await post('auth/sign-in', { login: 'vera.lost', password: PASSWORD }).expect(200);
    await post('auth/enter', { token: tokenOf(now.link), password: `${PASSWORD} again` }).expect(200);
    await post('auth/sign-in', { login: 'vera.lost', password: PASSWORD }).expect(401);
    await request(demo.running.app.getHttpServer()).get('/api/courses').set('Cookie', cookie).expect(401);
  });
  test('has one address at a time, also where many are made at once', async () => {
    const { id, added } = await courseWith('vera.many');
    const made = await Promise.all(
      Array.from({ length: 12 }, () => demo.maren.send('post', `courses/${id}/roster/${added[0]!.id}/link`)),
    );
    const answers = await Promise.all(
      made.map(({ body }) => post('auth/link', { token: tokenOf((body as { link: string }).link) })),
    );
    expect(answers.map(({ status }) => status).sort()).toEqual([200, ...Array<number>(11).fill(404)]);
  });
  test('only by who teaches all courses of that student, and of nobody else', async () => {
    const { id, added } = await courseWith('vera.shared');
    const db = demo.running.app.get(DataSource);
    const student = added[0]!.id;
    await demo.zofia.send('post', `courses/${id}/roster/${student}/link`).expect(404);
    await demo.maren.send('post', `courses/${id}/roster/${demo.zofia.me.id}/link`).expect(404);
    await demo.maren.send('post', `courses/${id}/roster/${demo.maren.me.id}/link`).expect(403);
    await db.query(
      `INSERT INTO account (id, login, name, may_create_courses, demo) VALUES (gen_random_uuid(), 'other.teacher', 'Other', true, false)`,
    );
    await db.query(
      `INSERT INTO course (id, title, term, time_zone, created_at) VALUES (gen_random_uuid(), 'Theirs', '', 'UTC', now())`,
    );
    await db.query(
      `INSERT INTO membership SELECT course.id, account.id, 'student', account.name, '', now()
       FROM course, account WHERE title = 'Theirs' AND account.id = $1`,
      [student],
    );
    const refused = await demo.maren.send('post', `courses/${id}/roster/${student}/link`).expect(403);
    expect(refusal(refused).message).toMatch(/also is in courses of others.*npm run account/);
  });
  test('people of the demo have none that could be lost', async () => {
    const course = (await demo.courses(demo.maren)).find(({ title }) => title === 'Networks 1');
    const refused = await demo.maren.send('post', `courses/${course!.id}/roster/${demo.zofia.me.id}/link`).expect(403);
    expect(refusal(refused).message).toMatch(/demo/);
  });
});
