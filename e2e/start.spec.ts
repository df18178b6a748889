import { type ChildProcess, spawn, spawnSync } from 'node:child_process';
import path from 'node:path';
import { expect, test } from '@playwright/test';
import { dropDatabase, freePort, freshDatabase } from './server';

const root = path.resolve(__dirname, '..');
/** Runs npm start; `said` is what it has printed so far, `ended` its exit status. */
function start(env: Record<string, string>, ...args: string[]) {
  const child: ChildProcess = spawn('npm', ['start', '--', ...args], { cwd: root, env: { ...process.env, ...env } });
  const run = { child, said: '', ended: new Promise<number | null>((resolve) => child.once('exit', resolve)) };
  for (const stream of [child.stdout!, child.stderr!])
    stream.on('data', (chunk: Buffer) => (run.said += chunk.toString()));
  return run;
}

test.describe('npm start says in a sentence why it cannot', () => {
  const cases: [string, () => Promise<Record<string, string>>, string[], RegExp][] = [
    [
      'a taken port',
      () => Promise.resolve({ PORT: new URL(process.env.TEST_DATABASE_URL!).port }),
      [],
      /Port \d+ is taken by another program\. Choose another: PORT=\d+ npm start/,
    ],
    [
      'a port that is none',
      () => Promise.resolve({ PORT: 'eighty' }),
      [],
      /PORT is "eighty": wanted is a number from 1 to 65535\./,
    ],
    [
      'an address that is not this machine’s',
      async () => ({ HOST: '203.0.113.7', PORT: String(await freePort()) }),
      [],
      /HOST is "203\.0\.113\.7": this machine has no such address\./,
    ],
    [
      'a database that does not answer',
      async () => ({
        DATABASE_URL: `postgresql://a:b@127.0.0.1:${await freePort()}/c`,
        PORT: String(await freePort()),
      }),
      [],
      /The database does not answer\. Check DATABASE_URL/,
    ],
    [
      'a database that is not there',
      async () => ({
        DATABASE_URL: process.env.TEST_DATABASE_URL!.replace(/\/[^/]*$/, '/nowhere'),
        PORT: String(await freePort()),
      }),
      [],
      /The database is not there\. Check the name in DATABASE_URL/,
    ],
    [
      'a wrong password',
      async () => ({
        DATABASE_URL: process.env.TEST_DATABASE_URL!.replace(/:[^:@]*@/, ':wrong@'),
        PORT: String(await freePort()),
      }),
      [],
      /The database refuses the sign-in in DATABASE_URL/,
    ],
    [
      'starting over in a database of somebody else',
      async () => ({ DATABASE_URL: process.env.TEST_DATABASE_URL!, PORT: String(await freePort()) }),
      ['--fresh'],
      /--fresh empties only the database that Sobrin made itself/,
    ],
  ];
  for (const [what, env, args, sentence] of cases)
    test(what, async () => {
      const run = start(await env(), ...args);
      expect(await run.ended).toBe(1);
      expect(run.said).toMatch(sentence);
      expect(run.said).not.toMatch(/\n\s+at /);
    });
});

test('npm start fills an empty database once, serves interface and API on one port, and ends with all it started', async ({
  request,
}) => {
  const name = `e2e_start_${process.pid}`;
  const [port, url] = [await freePort(), await freshDatabase(name)];
  const env = { PORT: String(port), DATABASE_URL: url };
  try {
    for (const turn of ['first', 'second']) {
      const run = start(env);
      await expect.poll(() => run.said, { timeout: 60_000 }).toContain(`Sobrin is ready at http://127.0.0.1:${port}`);
      expect(run.said.includes('Filled the database')).toBe(turn === 'first');
      expect(run.said).toContain('Demo sign-ins: maren (instructor), zofia.wrona (student), password kestrel-ridge');
      expect(await (await request.get(`http://127.0.0.1:${port}/labs/anything`)).text()).toContain('<div id="root">');
      expect(
        ((await (await request.get(`http://127.0.0.1:${port}/api/auth/demo`)).json()) as object[]).length,
      ).toBeGreaterThan(20);
      run.child.kill('SIGTERM');
      await run.ended;
      await expect
        .poll(() =>
          request.get(`http://127.0.0.1:${port}/`).then(
            () => 'answers',
            () => 'gone',
          ),
        )
        .toBe('gone');
    }
  } finally {
    await dropDatabase(name);
  }
});

test('without the demo there is a first instructor, who chooses a password with the address that is told; another one is given out in the shell', async ({
  page,
}) => {
  const name = `e2e_first_${process.pid}`;
  const [port, url] = [await freePort(), await freshDatabase(name)];
  const run = start({ PORT: String(port), DATABASE_URL: url, SOBRIN_DEMO: '0' });
  try {
    const choose = async (said: string, password: string): Promise<void> => {
      await page.goto(/open (http:\S+#\S+)/.exec(said)![1]!);
      await expect(page.getByLabel('Sign-in name')).toHaveValue('instructor');
      await page.getByLabel('New password').fill(password);
      await page.getByRole('button', { name: 'Choose it and sign in' }).click();
      await expect(page.getByRole('heading', { name: 'Your courses' })).toBeVisible();
    };
    await expect.poll(() => run.said, { timeout: 60_000 }).toContain('First sign-in: open http');
    await choose(run.said, 'lantern gondola 7 pumpkin');
    expect(await (await page.request.get(`http://127.0.0.1:${port}/api/auth/demo`)).json()).toEqual([]);
    // Whoever runs Sobrin helps an instructor who has lost the password.
    const reset = (login: string) =>
      spawnSync(process.execPath, ['scripts/account.mjs', 'reset', login], {
        cwd: root,
        encoding: 'utf8',
        env: { ...process.env, PORT: String(port), DATABASE_URL: url },
      });
    expect(reset('nobody').stderr).toMatch(/"nobody" is no account/);
    await choose(reset(' Instructor ').stdout, 'another gondola 8 melon');
  } finally {
    run.child.kill('SIGTERM');
    await run.ended;
    await dropDatabase(name);
  }
});
