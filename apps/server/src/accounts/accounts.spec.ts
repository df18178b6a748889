import request from 'supertest';
import { DataSource } from 'typeorm';
import { REQUEST_HEADER } from '../platform/config';
import { DEMO_PASSWORD } from '../platform/seed';
import { AccountsService } from './accounts.service';
import { refusal, useDemo } from '../tests/demo';

const demo = useDemo();

describe('signing in', () => {
  const signIn = (body: object) =>
    request(demo.running.app.getHttpServer()).post('/api/auth/sign-in').set(REQUEST_HEADER, '1').send(body);

  test('with name and password; the cookie is not for scripts and not for other sites', async () => {
    const response = await signIn({ login: 'maren', password: DEMO_PASSWORD }).expect(200);
    expect(response.body).toMatchObject({ name: 'Maren Osterkamp', role: 'instructor' });
    expect((response.headers['set-cookie'] as unknown as string[])[0]).toMatch(/HttpOnly.*SameSite=Strict/);
  });
  test.each([[{ login: 'maren', password: 'wrong' }], [{ login: 'nobody', password: 'x' }]])(
    '%j is refused with the same sentence',
    async (body) => {
      expect(refusal(await signIn(body).expect(401)).message).toMatch(/do not go together/);
    },
  );
  test('guessing is slowed down', async () => {
    const answers: number[] = [];
    for (let at = 0; at < 14; at++)
      answers.push((await signIn({ login: 'ilse.haverkamp', password: `guess${at}` })).status);
    expect(answers.slice(-1)).toEqual([429]);
    expect(refusal(await signIn({ login: 'ilse.haverkamp', password: 'guess' })).message).toMatch(/Wait a minute/);
  });
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
      const first = await accounts.createFirstInstructor();
      expect(first?.login).toBe('instructor');
      expect(await accounts.createFirstInstructor()).toBeNull();
      await signIn(first!).expect(200);
    } finally {
      process.env.SOBRIN_DEMO = '1';
    }
    await person.get('courses').expect(200);
  });
  test('a sign-in name is the same with capitals and blanks around it, also where guesses are counted', async () => {
    await signIn({ login: ' Kasper.Lindqvist ', password: DEMO_PASSWORD }).expect(200);
    const answers: number[] = [];
    for (let at = 0; at < 14; at++)
      answers.push(
        (await signIn({ login: `${' '.repeat(at)}HOANG.minh${at % 2 ? '' : ' '}`, password: `guess${at}` })).status,
      );
    expect(answers.slice(-1)).toEqual([429]);
  });
  test('a change without our own header is refused: another site cannot make one', async () => {
    await request(demo.running.app.getHttpServer()).post('/api/auth/demo-sign-in').send({ login: 'maren' }).expect(403);
  });
});
