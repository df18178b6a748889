import { type SecondFactorSecret, type SecondFactorView } from '@sobrin/contracts';
import { Secret, TOTP } from 'otpauth';
import request, { type Test as Request } from 'supertest';
import { DataSource } from 'typeorm';
import { REQUEST_HEADER } from '../platform/config';
import { type Person } from '../tests/application';
import { refusal, useDemo } from '../tests/demo';
import { Account } from './account.entity';
import { hashPassword } from './accounts.service';
import { LinksService } from './links.service';
import { SecondFactorService } from './second-factor.service';

const demo = useDemo();
const PASSWORD = 'lantern gondola 7 pumpkin';
const http = () => demo.running.app.getHttpServer();
const signIn = (body: object): Request => request(http()).post('/api/auth/sign-in').set(REQUEST_HEADER, '1').send(body);
/** A code as a telephone whose clock is off by some seconds shows it. */
const codeOf = (secret: string, seconds = 0): string =>
  new TOTP({ secret: Secret.fromBase32(secret) }).generate({ timestamp: Date.now() + 1000 * seconds });

/** Somebody who teaches, with a password of their own. */
async function teacher(login: string): Promise<Person & { login: string }> {
  const id = crypto.randomUUID();
  await demo.running.app
    .get(DataSource)
    .getRepository(Account)
    .insert({ id, login, name: login, mayCreateCourses: true, demo: true, passwordHash: await hashPassword(PASSWORD) });
  return { ...(await demo.running.as(login)), login };
}
/** The same with a second factor: its secret, and the spare codes. */
async function withFactor(login: string): Promise<{ who: Person; secret: string; spare: string[] }> {
  const who = await teacher(login);
  const { secret } = (await who.send('post', 'auth/second-factor', { password: PASSWORD }).expect(200))
    .body as SecondFactorSecret;
  const { spareCodes } = (await who.send('put', 'auth/second-factor', { code: codeOf(secret) }).expect(200)).body as {
    spareCodes: string[];
  };
  return { who, secret, spare: spareCodes };
}
const viewOf = async (who: Person): Promise<SecondFactorView> =>
  (await who.get('auth/second-factor').expect(200)).body as SecondFactorView;

test('a code is asked for once the password is right, and of the codes only what is shown now signs in', async () => {
  const { secret } = await withFactor('tess');
  const asked = await signIn({ login: 'tess', password: PASSWORD }).expect(401);
  expect(asked.body).toEqual({ message: expect.stringMatching(/second factor/) as string, needsCode: true });
  expect(asked.headers['set-cookie']).toBeUndefined();
  // Who does not know the password is not told that there is one.
  const wrong = await signIn({ login: 'tess', password: 'something else' }).expect(401);
  expect(wrong.body).not.toHaveProperty('needsCode');
  for (const code of ['000000', codeOf(secret, -3600), 'not a code'])
    expect((await signIn({ login: 'tess', password: PASSWORD, code })).status).toBe(401);
  // The next code, as the present one was used to set it up: a clock may be half a minute fast.
  await signIn({ login: 'tess', password: 'something else', code: codeOf(secret, 30) }).expect(401);
  await signIn({ login: 'tess', password: PASSWORD, code: codeOf(secret, 30) }).expect(200);
});

test('a code is good once, also where thirty try it at the same moment', async () => {
  const { who, secret } = await withFactor('thea');
  const service = demo.running.app.get(SecondFactorService);
  const code = codeOf(secret, 30);
  const used = await Promise.all(Array.from({ length: 30 }, () => service.use(who.me.id, 'thea', code)));
  expect(used.filter(Boolean)).toHaveLength(1);
  await signIn({ login: 'thea', password: PASSWORD, code }).expect(401);
});

test('a spare code signs in once, however it is typed; wrong codes are counted as wrong passwords are', async () => {
  const { who, spare } = await withFactor('timo');
  expect(spare).toHaveLength(10);
  const [first, second] = spare as [string, string];
  await signIn({ login: 'timo', password: PASSWORD, code: first.toUpperCase() }).expect(200);
  await signIn({ login: 'timo', password: PASSWORD, code: first }).expect(401);
  await signIn({ login: 'timo', password: PASSWORD, code: second.replace('-', ' ') }).expect(200);
  expect(await viewOf(who)).toEqual({ isOn: true, spareCodes: 8 });
  const statuses: number[] = [];
  for (let at = 0; at < 11; at++)
    statuses.push((await signIn({ login: 'timo', password: PASSWORD, code: '000000' })).status);
  expect(statuses.at(-1)).toBe(429);
});

test('is set up with the password and a first code, and ended with the password', async () => {
  const who = await teacher('tora');
  await who.send('post', 'auth/second-factor', { password: 'wrong one' }).expect(400);
  const { secret, address } = (await who.send('post', 'auth/second-factor', { password: PASSWORD }).expect(200))
    .body as SecondFactorSecret;
  expect(address).toBe(`otpauth://totp/Sobrin:tora?issuer=Sobrin&secret=${secret}&algorithm=SHA1&digits=6&period=30`);
  const refused = await who.send('put', 'auth/second-factor', { code: '000000' }).expect(400);
  expect(refusal(refused).message).toMatch(/clock of your telephone/);
  // Until a code was shown nothing is asked for.
  await signIn({ login: 'tora', password: PASSWORD }).expect(200);
  await who.send('put', 'auth/second-factor', { code: codeOf(secret) }).expect(200);
  await who.send('post', 'auth/second-factor', { password: PASSWORD }).expect(409);
  await signIn({ login: 'tora', password: PASSWORD }).expect(401);
  await who.send('post', 'auth/second-factor/end', { password: 'wrong one' }).expect(400);
  await who.send('post', 'auth/second-factor/end', { password: PASSWORD }).expect(204);
  await signIn({ login: 'tora', password: PASSWORD }).expect(200);
});

test('an address to choose a password from before it was set up is no way round it', async () => {
  const who = await teacher('tuva');
  const link = (await demo.running.app.get(LinksService).make([who.me.id])).get(who.me.id)!;
  const { secret } = (await who.send('post', 'auth/second-factor', { password: PASSWORD }).expect(200))
    .body as SecondFactorSecret;
  await who.send('put', 'auth/second-factor', { code: codeOf(secret) }).expect(200);
  const entered = await request(http())
    .post('/api/auth/enter')
    .set(REQUEST_HEADER, '1')
    .send({ token: link.split('#')[1], password: 'another lantern 8 melon' });
  expect(entered.status).toBe(404);
});

test('is for those who may begin courses', async () => {
  const refused = await demo.zofia.send('post', 'auth/second-factor', { password: 'kestrel-ridge' }).expect(403);
  expect(refusal(refused).message).toMatch(/may begin courses/);
});
