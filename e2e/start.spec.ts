import { type ChildProcess, spawn, spawnSync } from 'node:child_process';
import { chmodSync, existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { expect, test } from '@playwright/test';
import { Client } from 'pg';
import { dropDatabase, freePort, freshDatabase } from './server';

const root = path.resolve(__dirname, '..');
/** Runs npm start; `said` is what it has printed so far, `ended` its exit status. */
function start(env: Record<string, string>, [file, ...args]: readonly string[] = ['npm', 'start']) {
  const child: ChildProcess = spawn(file!, args, { cwd: root, env: { ...process.env, ...env } });
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
      const run = start(await env(), ['npm', 'start', '--', ...args]);
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
    const choose = async (said: string, password: string, login = 'instructor'): Promise<void> => {
      await page.goto(/open (http:\S+#\S+)/.exec(said)![1]!);
      await expect(page.getByLabel('Sign-in name')).toHaveValue(login);
      await page.getByLabel('New password').fill(password);
      await page.getByRole('button', { name: 'Choose it and sign in' }).click();
      await expect(page.getByRole('heading', { name: 'Your courses' })).toBeVisible();
    };
    await expect.poll(() => run.said, { timeout: 60_000 }).toContain('First sign-in: open http');
    await choose(run.said, 'lantern gondola 7 pumpkin');
    expect(await (await page.request.get(`http://127.0.0.1:${port}/api/auth/demo`)).json()).toEqual([]);
    // Whoever runs Sobrin helps an instructor who has lost the password.
    const account = (...args: string[]) =>
      spawnSync(process.execPath, ['scripts/account.mjs', ...args], {
        cwd: root,
        encoding: 'utf8',
        env: { ...process.env, PORT: String(port), DATABASE_URL: url },
      });
    expect(account('reset', 'nobody').stderr).toMatch(/"nobody" is no account/);
    await choose(account('reset', ' Instructor ').stdout, 'another gondola 8 melon');
    expect(account('record').stdout).toMatch(/password chosen\tinstructor\t\S+\t2×/);
    // A second one, who may begin courses until that is taken back.
    expect(account('add', 'Not A Name', 'Ana').stderr).toMatch(/sign-in name has/);
    await choose(account('add', 'ana.berg', 'Ana Berg').stdout, 'yet another gondola 9 plum', 'ana.berg');
    expect(account('add', 'ana.berg', 'Ana Berg').stderr).toMatch(/is an account already/);
    const begin = () =>
      page.request.post(`http://127.0.0.1:${port}/api/courses`, {
        headers: { 'x-sobrin-request': '1' },
        data: { title: 'Hers' },
      });
    expect((await begin()).status()).toBe(201);
    expect(account('courses', 'ana.berg', 'no').stdout).toMatch(/Ana Berg begins no more courses/);
    expect((await begin()).status()).toBe(403);
    expect(account('courses', 'ana.berg', 'perhaps').stderr).toMatch(/^Wanted is/);
  } finally {
    run.child.kill('SIGTERM');
    await run.ended;
    await dropDatabase(name);
  }
});

test('a class that hands in at once, and processes that are killed meanwhile, lose nothing and double nothing', async () => {
  // Two Sobrins with databases of their own, one after the other.
  test.slow();
  for (const [command, said] of [
    [
      'storm.mjs short',
      /20 hand-ins in 2 s while 4 draw\n.*; 0 errors, 0 lost\n.*, 0 errors\n[^]*decided by two persons.*; 0 errors, 0 lost, .*, 0 marks wrong\n[^]*commented by.*: 0 errors, \d+ kept, 0 lost[^]*mistakes of [1-9].*: 0 errors, [1-9]\d* kept, 0 lost[^]*self-checks each.*: 0 errors, [1-9]\d* told, [1-9]\d* refused, 0 too[^]*hints each.*: 0 errors, [1-9]\d* told, [1-9]\d* refused, 0 too/,
    ],
    [
      'crash.mjs 1',
      /Round 1: .* was killed; answered again[^]*[1-9]\d* saves, [1-9]\d* hand-ins, [1-9]\d* decisions, .*, [1-9]\d* comments, .* behind [1-9]\d* of them were confirmed: 0 lost, 0 doubled/,
    ],
  ] as const) {
    const [file, argument] = command.split(' ') as [string, string];
    const run = start({}, [process.execPath, path.join('benchmarks', file), argument]);
    try {
      expect([await run.ended, run.said], command).toEqual([0, expect.stringMatching(said)]);
    } finally {
      run.child.kill('SIGTERM');
    }
  }
});

test.describe('npm start with a database of its own', () => {
  const home = mkdtempSync(path.join(tmpdir(), 'sobrin-start-'));
  let url = '';
  let runs: ReturnType<typeof script>[] = [];
  const isRunning = ({ child }: { child: ChildProcess }) => child.exitCode === null && child.signalCode === null;
  /** Without npm around it, so that it can be killed itself. */
  const script = (env: Record<string, string>, ...args: string[]) =>
    start({ SOBRIN_DATA: home, ...env }, [process.execPath, 'scripts/start.mjs', ...args]);
  const begin = async (...args: string[]) => {
    const port = await freePort();
    url = `http://127.0.0.1:${port}`;
    const run = script({ PORT: String(port) }, ...args);
    runs.push(run);
    await expect.poll(() => run.said, { timeout: 120_000 }).toContain(`Sobrin is ready at ${url}`);
    return run;
  };
  /** The Sobrin that runs, or else a new one: starting one takes long, and a test does not mind who began it. */
  const running = async () => runs.find(isRunning) ?? begin();
  const health = () =>
    fetch(`${url}/api/auth/demo`).then(
      ({ status }) => status,
      () => 'gone',
    );
  const postmaster = (): number => Number(readFileSync(path.join(home, 'pg', 'postmaster.pid'), 'utf8').split('\n')[0]);
  /** Asks the database of this Sobrin itself. */
  const query = async (sql: string): Promise<Record<string, unknown>[]> => {
    const [, , , port] = readFileSync(path.join(home, 'pg', 'postmaster.pid'), 'utf8').split('\n');
    const password = readFileSync(path.join(home, 'pg.secret'), 'utf8').trim();
    const client = new Client({
      host: '127.0.0.1',
      port: Number(port),
      user: 'sobrin',
      password,
      database: 'postgres',
    });
    await client.connect();
    try {
      return (await client.query<Record<string, unknown>>(sql)).rows;
    } finally {
      await client.end();
    }
  };
  /** Every table with all that is in it, as a hash; but for what changes by itself. */
  const contents = async (): Promise<Record<string, string>> => {
    const tables = await query(
      `SELECT tablename FROM pg_tables WHERE schemaname = 'public' AND tablename NOT IN ('session', 'guess') ORDER BY 1`,
    );
    const hashes: Record<string, string> = {};
    for (const { tablename } of tables)
      hashes[String(tablename)] = String(
        (
          await query(
            `SELECT md5(string_agg(row::text, ' ' ORDER BY row::text)) AS hash FROM "${String(tablename)}" row`,
          )
        )[0]!.hash,
      );
    return hashes;
  };
  const isAlive = (pid: number): boolean => existsSync(`/proc/${pid}`);
  /** The process that runs a file of the server; 0 where there is none. */
  const processOf = (run: { child: ChildProcess }, file: string): number => {
    const children = readFileSync(`/proc/${run.child.pid}/task/${run.child.pid}/children`, 'utf8').trim().split(' ');
    return Number(
      children.find((pid) => pid && readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(`server/dist/${file}`)) ?? 0,
    );
  };
  const serverOf = (run: { child: ChildProcess }): number => processOf(run, 'main.js');
  const workers = (run: { said: string }): number => run.said.split('A worker is ready').length - 1;
  const end = async (run: { child: ChildProcess; ended: Promise<number | null> }): Promise<number | null> => {
    run.child.kill('SIGTERM');
    return run.ended;
  };
  test.beforeAll(() => chmodSync(home, 0o755));
  test.afterAll(async () => {
    for (const run of runs.filter(isRunning)) await end(run);
    rmSync(home, { recursive: true, force: true });
    runs = [];
  });

  test('keeps others out of its data, also those who would start over', async () => {
    await running();
    for (const args of [[], ['--fresh', '--yes']]) {
      const second = script({ PORT: String(await freePort()) }, ...args);
      expect(await second.ended).toBe(1);
      expect(second.said).toMatch(/Sobrin runs with the data in .* already \(process \d+\)\. Stop that one first/);
    }
    expect(await health()).toBe(200);
  });

  test('starts a server, a worker and a database again that died, and leaves nothing behind when it is killed itself', async () => {
    const run = await running();
    const server = serverOf(run);
    process.kill(server, 'SIGKILL');
    await expect.poll(() => run.said).toContain('Sobrin ended unexpectedly (SIGKILL)');
    await expect.poll(health).toBe(200);
    await expect.poll(() => workers(run)).toBe(1);
    process.kill(processOf(run, 'worker.js'), 'SIGKILL');
    await expect.poll(() => run.said).toContain('The worker ended unexpectedly (SIGKILL)');
    await expect.poll(() => workers(run)).toBe(2);
    const database = postmaster();
    process.kill(database, 'SIGKILL');
    await expect.poll(() => run.said).toContain('The database ended unexpectedly');
    await expect.poll(() => run.said.split('Sobrin is ready').length).toBe(4);
    await expect.poll(health).toBe(200);
    await expect.poll(() => workers(run)).toBe(3);
    const [lastServer, lastWorker, lastDatabase] = [serverOf(run), processOf(run, 'worker.js'), postmaster()];
    expect(lastDatabase).not.toBe(database);
    run.child.kill('SIGKILL');
    await run.ended;
    await expect
      .poll(() => [lastServer, lastWorker, lastDatabase].map((pid) => isAlive(pid)))
      .toEqual([false, false, false]);
    expect((await begin()).said).not.toContain('Filled the database');
  });

  test('all data is in a backup that is made while it runs, and comes back from it; nothing is put back under a running Sobrin', async () => {
    const run = await running();
    const command = (name: string, ...args: string[]) =>
      spawnSync(process.execPath, [`scripts/${name}.mjs`, ...args], {
        cwd: root,
        encoding: 'utf8',
        env: { ...process.env, SOBRIN_DATA: home },
      });
    const file = path.join(home, 'all.dump');
    expect(command('backup', file).status).toBe(0);
    expect(command('backup', file).stderr).toMatch(/is there already/);
    expect(command('restore', file).stderr).toMatch(/Sobrin runs with the data in .* already/);
    const titles = async (): Promise<string[]> =>
      (await query(`SELECT title FROM course ORDER BY title`)).map((row) => String(row.title));
    const before = await contents();
    await query(
      `INSERT INTO course (id, title, term, time_zone, created_at) VALUES (gen_random_uuid(), 'Afterwards', '', 'UTC', now())`,
    );
    expect(await titles()).toContain('Afterwards');
    expect(await end(run)).toBe(0);
    writeFileSync(path.join(home, 'none.dump'), 'no dump');
    expect(command('restore', path.join(home, 'none.dump')).stderr).toMatch(
      /cannot be put back: .*Nothing was changed/,
    );
    const restored = command('restore', file);
    expect([restored.status, restored.stderr]).toEqual([0, '']);
    expect(restored.stdout).toMatch(/is put back\. What was there before is kept in \S+\.dump/);
    const again = await begin();
    expect(again.said).not.toContain('Filled the database');
    expect(await contents()).toEqual(before);
    expect(await health()).toBe(200);
    expect(command('recheck', '--verify').stdout).toMatch(/0 wrong\./);
  });

  test('ends with all it started, and starts over only when that is said twice, and keeps a copy', async () => {
    expect(await end(await running())).toBe(0);
    expect(await health()).toBe('gone');
    expect(existsSync(path.join(home, 'pg', 'postmaster.pid'))).toBe(false);
    const asked = script({ PORT: String(await freePort()) }, '--fresh');
    expect(await asked.ended).toBe(1);
    expect(asked.said).toMatch(/--fresh deletes all data in .*: say npm start -- --fresh --yes if that is meant/);
    const run = await begin('--fresh', '--yes');
    expect(run.said).toContain('Filled the database');
    const dump = /the old data is kept in (\S+\.dump)/.exec(run.said)![1]!;
    expect(readFileSync(dump).subarray(0, 5).toString()).toBe('PGDMP');
    expect(await end(run)).toBe(0);
  });
});
