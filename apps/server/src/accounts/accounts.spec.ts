import { type SessionView } from '@sobrin/contracts';
import request, { type Response, type Test as Request } from 'supertest';
import { DataSource } from 'typeorm';
import { REQUEST_HEADER } from '../platform/config';
import { DEMO_PASSWORD } from '../platform/seed';
import { type TestApplication } from '../tests/application';
import { refusal, useDemo } from '../tests/demo';
import { AccountsService } from './accounts.service';
import { LinksService } from './links.service';
import { neighbourhoodOf } from './guesses.service';

const demo = useDemo();

describe('signing in', () => {
  const signIn = (body: object) =>
    request(demo.running.app.getHttpServer()).post('/api/auth/sign-in').set(REQUEST_HEADER, '1').send(body);

  test('with name and password; the cookie is not for scripts and not for other sites', async () => {
    const response = await signIn({ login: 'maren', password: DEMO_PASSWORD }).expect(200);
    expect(response.body).toMatchObject({ name: 'Maren Osterkamp', mayCreateCourses: true });
    expect((response.headers['set-cookie'] as unknown as string[])[0]).toMatch(/HttpOnly.*SameSite=Strict/);
  });
  test.each([[{ login: 'maren', password: 'wrong' }], [{ login: 'nobody', password: 'x' }]])(
    '%j is refused with the same sentence',
    async (body) => {
      expect(refusal(await signIn(body).expect(401)).message).toMatch(/do not go together/);
    },
  );
  test('a password is changed by who knows the old one; other sessions end, this one stays', async () => {
    const [first, second] = [await demo.running.as('rosalba.ferri'), await demo.running.as('rosalba.ferri')];
    const change = (current: string, next: string) => first.send('post', 'auth/password', { current, next });
    expect(refusal(await change('wrong', 'a new pass phrase').expect(400)).message).toMatch(/present password/);
    expect(refusal(await change(DEMO_PASSWORD, 'short').expect(400)).message).toMatch(/at least 10/);
    await change(DEMO_PASSWORD, 'a new pass phrase').expect(204);
    await signIn({ login: 'rosalba.ferri', password: DEMO_PASSWORD }).expect(401);
    await signIn({ login: 'rosalba.ferri', password: 'a new pass phrase' }).expect(200);
    await first.get('courses').expect(200);
    await second.get('courses').expect(401);
  });
  test('a session ends when nobody has used it for half a day, and goes on while somebody does', async () => {
    const person = await demo.running.as('jamila.conteh');
    const db = demo.running.app.get(DataSource);
    const seen = (ago: string) =>
      db.query(`UPDATE session SET seen_at = now() - interval '${ago}' WHERE account_id = $1`, [person.me.id]);
    await seen('11 hours 50 minutes');
    await person.get('courses').expect(200);
    const [row] = await db.query<{ seen_at: Date }[]>('SELECT seen_at FROM session WHERE account_id = $1', [
      person.me.id,
    ]);
    expect(Date.now() - row!.seen_at.getTime()).toBeLessThan(60 * 60_000);
    await seen('12 hours 10 minutes');
    expect(refusal(await person.get('courses').expect(401)).message).toMatch(/your session has ended.*nothing is lost/);
  });
  test('signing in again ends the session that this browser had', async () => {
    const first = await signIn({ login: 'samir.haddadin', password: DEMO_PASSWORD }).expect(200);
    const cookie = (first.headers['set-cookie'] as unknown as string[])[0]!.split(';')[0]!;
    const me = () => request(demo.running.app.getHttpServer()).get('/api/courses').set('Cookie', cookie);
    await me().expect(200);
    await signIn({ login: 'samir.haddadin', password: DEMO_PASSWORD }).set('Cookie', cookie).expect(200);
    await me().expect(401);
  });
  test('what a person is answered is kept by no browser and no proxy; pictures of versions may be', async () => {
    const answer = await demo.zofia.get('courses').expect(200);
    expect(answer.headers['cache-control']).toBe('no-store');
    expect(answer.headers['permissions-policy']).toMatch(/camera=\(\)/);
    const { documentId } = await demo.myLab(demo.zofia, 'Three Stations');
    const picture = await demo.zofia.get(`documents/${documentId}/picture.svg?revision=0`).expect(200);
    expect(picture.headers['cache-control']).toMatch(/private/);
  });
  test('people see where they are signed in, and end any of it; nobody sees or ends another’s', async () => {
    const agent = 'Mozilla/5.0 (X11; Linux x86_64; rv:128.0) Gecko/20100101 Firefox/128.0';
    const there = await request(demo.running.app.getHttpServer())
      .post('/api/auth/demo-sign-in')
      .set(REQUEST_HEADER, '1')
      .set('User-Agent', agent)
      .send({ login: 'adaeze.okonjo' })
      .expect(200);
    const cookie = there.headers['set-cookie'] as unknown as string[];
    const here = await demo.running.as('adaeze.okonjo');
    const listed = (await here.get('auth/sessions').expect(200)).body as SessionView[];
    expect(listed.map(({ browser, isHere }) => [browser, isHere])).toEqual([
      ['', true],
      ['Firefox on Linux', false],
    ]);
    expect(JSON.stringify(listed)).not.toMatch(/token|hash/i);
    const [, other] = listed;
    await demo.zofia.send('delete', `auth/sessions/${other!.id}`).expect(404);
    await here.send('delete', `auth/sessions/${other!.id}`).expect(204);
    await request(demo.running.app.getHttpServer()).get('/api/courses').set('Cookie', cookie).expect(401);
    await here.get('courses').expect(200);
    expect((await here.get('auth/sessions')).body).toHaveLength(1);
    await here.send('delete', 'auth/sessions/not-an-id').expect(400);
  });
  test('a cookie that is made up signs nobody in, whatever it looks like', async () => {
    for (const value of ['made-up', 'j:{"a":1}', 'j:[1]', '%00', `${'x'.repeat(4000)}`])
      await request(demo.running.app.getHttpServer())
        .get('/api/courses')
        .set('Cookie', `sobrin-session=${encodeURIComponent(value)}; sobrin-browser=${encodeURIComponent(value)}`)
        .expect(401);
  });
  test('signing out ends the session', async () => {
    const person = await demo.running.as('tobias.ferreira');
    await person.send('post', 'auth/sign-out').expect(204);
    await person.get('courses').expect(401);
  });
  test('a demo that ends takes its accounts along: nobody signs in with the password that everybody knows', async () => {
    const person = await demo.running.as('eero.lahtinen');
    process.env.SOBRIN_DEMO = '0';
    try {
      await signIn({ login: 'maren', password: DEMO_PASSWORD }).expect(401);
      await person.get('courses').expect(401);
      const accounts = demo.running.app.get(AccountsService);
      const first = await accounts.firstInstructor();
      expect(first).toMatchObject({ login: 'instructor', demo: false });
      // The address may have been on a screen that is gone: until a password is chosen there is another.
      expect((await accounts.firstInstructor())?.id).toBe(first!.id);
      const links = demo.running.app.get(LinksService);
      const token = (await links.make([first!.id])).get(first!.id)!.split('#')[1]!;
      expect(await links.use(token, first!, 'lantern gondola 7 pumpkin')).toBe(true);
      expect(await accounts.firstInstructor()).toBeNull();
      await signIn({ login: 'instructor', password: 'lantern gondola 7 pumpkin' }).expect(200);
    } finally {
      process.env.SOBRIN_DEMO = '1';
    }
    await person.get('courses').expect(200);
  });
  test('a sign-in name is the same with capitals and blanks around it', async () => {
    await signIn({ login: ' Kasper.Lindqvist ', password: DEMO_PASSWORD }).expect(200);
  });
  test('a change without our own header is refused: another site cannot make one', async () => {
    await request(demo.running.app.getHttpServer()).post('/api/auth/demo-sign-in').send({ login: 'maren' }).expect(403);
  });
});

describe('guessing', () => {
  const at = (app: TestApplication, login: string, password: string, cookie = '') =>
    request(app.app.getHttpServer())
      .post('/api/auth/sign-in')
      .set(REQUEST_HEADER, '1')
      .set('Cookie', cookie)
      .send({ login, password });
  const statuses = async (requests: readonly Request[]): Promise<number[]> =>
    (await Promise.all(requests)).map(({ status }) => status);
  const browserOf = (response: Response): string =>
    (response.headers['set-cookie'] as unknown as string[])
      .map((cookie) => cookie.split(';')[0]!)
      .find((cookie) => cookie.startsWith('sobrin-browser='))!;
  const nobodyGuessed = () => demo.running.app.get(DataSource).query('DELETE FROM guess');
  beforeEach(nobodyGuessed);

  test('ends after ten tries at a name, however it is written, whichever process answers, and all at once', async () => {
    const second = await demo.running.again();
    try {
      const answers = await statuses(
        Array.from({ length: 40 }, (_, nth) =>
          at(nth % 2 ? second : demo.running, `${' '.repeat(nth % 3)}Ilse.Haverkamp`, `guess${nth}`),
        ),
      );
      expect(answers.filter((status) => status === 401)).toHaveLength(10);
      expect(answers.filter((status) => status === 429)).toHaveLength(30);
      const refused = await at(second, 'ILSE.haverkamp', DEMO_PASSWORD).expect(429);
      expect(refusal(refused).message).toMatch(/Wait 15 minutes.*browser in which you have signed in before/);
    } finally {
      await second.close();
    }
  });
  test('of a stranger does not lock out who has signed in from this browser before', async () => {
    const mine = browserOf(await at(demo.running, 'ilse.haverkamp', DEMO_PASSWORD).expect(200));
    await statuses(Array.from({ length: 12 }, () => at(demo.running, 'ilse.haverkamp', 'guess')));
    await at(demo.running, 'ilse.haverkamp', DEMO_PASSWORD).expect(429);
    await at(demo.running, 'ilse.haverkamp', DEMO_PASSWORD, mine).expect(200);
    // The browser is known for this person only, and has its own ten tries.
    await at(demo.running, 'zofia.wrona', DEMO_PASSWORD, mine).expect(200);
    const answers = await statuses(Array.from({ length: 12 }, () => at(demo.running, 'ilse.haverkamp', 'no', mine)));
    expect(answers.filter((status) => status === 429)).toHaveLength(2);
  });
  test('is not begun anew by a browser that is made up, nor by signing in as somebody else in between', async () => {
    for (let tries = 0; tries < 10; tries++) {
      await at(demo.running, 'ilse.haverkamp', 'guess', `sobrin-browser=made-up-${tries}`).expect(401);
      if (tries % 4 === 0) await at(demo.running, 'zofia.wrona', DEMO_PASSWORD).expect(200);
    }
    await at(demo.running, 'ilse.haverkamp', 'guess', 'sobrin-browser=made-up').expect(429);
  });
  test('at many names from one address ends, too; right passwords use none of its tries', async () => {
    await at(demo.running, 'zofia.wrona', DEMO_PASSWORD).expect(200);
    const db = demo.running.app.get(DataSource);
    const [counted] = await db.query<{ count: number }[]>('SELECT coalesce(sum(count), 0)::int AS count FROM guess');
    expect(counted).toEqual({ count: 0 });
    await at(demo.running, 'nobody.at.all', 'guess').expect(401);
    await db.query('UPDATE guess SET count = 400 WHERE count = 1');
    const refused = await at(demo.running, 'somebody.else', 'guess').expect(429);
    expect(refusal(refused).message).toMatch(/from this address.*Wait 15 minutes/);
  });
  test('does not stop a class that signs in at once from one address', async () => {
    const people = (await demo.zofia.get('auth/demo')).body as { login: string }[];
    const ten = Array.from({ length: 10 }, () => people.filter(({ login }) => login !== 'rosalba.ferri')).flat();
    expect(ten.length).toBeGreaterThan(240);
    const answers = await statuses(ten.map(({ login }) => at(demo.running, login, DEMO_PASSWORD)));
    expect(answers.filter((status) => status !== 200)).toEqual([]);
  });
  test('begins again after a quarter of an hour', async () => {
    await statuses(Array.from({ length: 12 }, () => at(demo.running, 'ilse.haverkamp', 'guess')));
    await demo.running.app.get(DataSource).query("UPDATE guess SET since = now() - interval '15 minutes 1 second'");
    await at(demo.running, 'ilse.haverkamp', 'guess').expect(401);
  });
  test('a present password is slowed down as well', async () => {
    const person = await demo.running.as('samir.haddadin');
    const answers = await statuses(
      Array.from({ length: 12 }, () =>
        person.send('post', 'auth/password', { current: 'guess', next: 'a long new pass phrase' }),
      ),
    );
    expect(answers.filter((status) => status === 400)).toHaveLength(10);
    expect(answers.filter((status) => status === 429)).toHaveLength(2);
  });
  test.each(['password1234', 'Qwertyuiop', ' 1234567890 ', 'samir.haddadin', 'Samir Haddadin'])(
    'what everybody guesses first is no password: %s',
    async (next) => {
      const person = await demo.running.as('samir.haddadin');
      const answer = await person.send('post', 'auth/password', { current: DEMO_PASSWORD, next }).expect(400);
      expect(refusal(answer).message).toMatch(/guess/);
    },
  );
});

describe('addresses that count as one', () => {
  test.each([
    ['198.51.100.7', '198.51.100.7'],
    ['::ffff:198.51.100.7', '198.51.100.7'],
    ['2001:db8:1:2:3:4:5:6', '2001:db8:1:2::/64'],
    ['2001:db8:1:2::', '2001:db8:1:2::/64'],
    ['fe80::1%eth0', 'fe80::/64'],
  ])('%s is %s', (from, as) => expect(neighbourhoodOf(from)).toBe(as));
});
