import request from 'supertest';
import { DataSource } from 'typeorm';
import { REQUEST_HEADER } from '../platform/config';
import { DEMO_PASSWORD } from '../platform/seed';
import { useDemo } from '../tests/demo';

const demo = useDemo();
const signIn = (login: string, password: string) =>
  request(demo.running.app.getHttpServer())
    .post('/api/auth/sign-in')
    .set(REQUEST_HEADER, '1')
    .set('User-Agent', 'x'.repeat(900))
    .send({ login, password });
interface Row {
  what: string;
  login: string;
  detail: string;
  count: number;
  agent: string;
  address: string;
}
const rows = (what: string): Promise<Row[]> =>
  demo.running.app.get(DataSource).query<Row[]>('SELECT * FROM record WHERE what = $1 ORDER BY login', [what]);

test('who signed in and who was refused is written down, what happened within an hour in one line', async () => {
  for (let time = 0; time < 3; time++) await signIn(' Maren ', 'wrong').expect(401);
  await signIn('nobody.at.all', 'wrong').expect(401);
  await signIn('maren', DEMO_PASSWORD).expect(200);
  // An hour may end in the middle of a test: what counts is the sum.
  const refused = await rows('sign-in refused');
  const count = (login: string): number =>
    refused.filter((row) => row.login === login).reduce((sum, row) => sum + row.count, 0);
  expect([count('maren'), count('nobody.at.all')]).toEqual([3, 1]);
  expect(refused.length).toBeLessThanOrEqual(4);
  const good = (await rows('signed in')).filter((row) => row.agent.startsWith('xxx'));
  expect(good.map((row) => [row.login, row.agent.length])).toEqual([['maren', 200]]);
  expect(good[0]!.address).toMatch(/127\.0\.0\.1|::1/);
});

test('no password is in it', async () => {
  await signIn('zofia.wrona', 'a secret that was mistyped').expect(401);
  const all = await demo.running.app.get(DataSource).query<object[]>('SELECT * FROM record');
  expect(JSON.stringify(all)).not.toMatch(/secret|kestrel-ridge/);
});

test('a route that is for another role is written down with its pattern', async () => {
  await demo.zofia.get(`labs/${await demo.labId('Three Stations')}`).expect(403);
  await demo.maren.get('courses').expect(200);
  const [row] = await rows('role refused');
  expect(row).toMatchObject({ login: 'zofia.wrona', detail: 'GET /api/labs/:id' });
});

test('what is older than ninety days goes at the next sign-in', async () => {
  const db = demo.running.app.get(DataSource);
  await db.query(
    `INSERT INTO record VALUES ('signed in', 'long.ago', '', '', now() - interval '91 days', now() - interval '91 days', 1, '')`,
  );
  await signIn('maren', DEMO_PASSWORD).expect(200);
  expect((await rows('signed in')).map((row) => row.login)).not.toContain('long.ago');
});
