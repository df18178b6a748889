import request from 'supertest';
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
