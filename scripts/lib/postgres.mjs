// A private PostgreSQL cluster: loopback only, a free port, its own data directory, run by an unprivileged user.
import { execFileSync, spawnSync } from 'node:child_process';
import { createHash, randomBytes } from 'node:crypto';
import {
  chownSync,
  closeSync,
  existsSync,
  fsyncSync,
  mkdirSync,
  openSync,
  readFileSync,
  rmSync,
  statfsSync,
  writeFileSync,
} from 'node:fs';
import { createServer } from 'node:net';
import path from 'node:path';
import { root, require } from './root.mjs';
import { Trouble, say } from './say.mjs';
import { ensurePostgresPackages, isRoot, postgresBin } from './system.mjs';

const USER = 'sobrin';
const NEEDED_BYTES = 200e6;

/** Where Sobrin keeps its data: SOBRIN_DATA, else beside the checkout's name where postgres can reach it. */
export function dataFolder() {
  if (process.env.SOBRIN_DATA) return path.resolve(process.env.SOBRIN_DATA);
  const tag = createHash('sha256').update(root).digest('hex').slice(0, 8);
  return isRoot ? `/var/lib/sobrin-${tag}` : path.join(root, '.data');
}

export const freePort = () =>
  new Promise((resolve, reject) => {
    const probe = createServer();
    probe.once('error', reject);
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address();
      probe.close(() => resolve(port));
    });
  });

/** Who runs the database: PostgreSQL refuses to run as root. */
const owner = () => (isRoot ? { uid: idOf('-u'), gid: idOf('-g') } : {});
/** Runs a tool of PostgreSQL as that user. */
const run = (tool, args, options = {}) =>
  spawnSync(path.join(postgresBin(), tool), args, {
    ...owner(),
    cwd: '/',
    encoding: 'utf8',
    env: { PATH: '/usr/bin:/bin', LC_ALL: 'C.UTF-8' },
    ...options,
  });

/** The process of the cluster in `home`; null where none runs. */
export function postmasterOf(home) {
  try {
    const pid = Number(readFileSync(path.join(home, 'pg', 'postmaster.pid'), 'utf8').split('\n')[0]);
    process.kill(pid, 0);
    return pid;
  } catch {
    return null;
  }
}

export const stopPostgres = (home) => run('pg_ctl', ['-D', path.join(home, 'pg'), '-m', 'fast', '-w', 'stop']);

/** A database for the tools of PostgreSQL: its password is no part of a command line, which everybody on the machine can read. */
function toolsEnvironment(url) {
  const { hostname, port, username, password, pathname } = new URL(url);
  return {
    PATH: '/usr/bin:/bin',
    LC_ALL: 'C.UTF-8',
    PGHOST: hostname,
    PGPORT: port || '5432',
    PGUSER: decodeURIComponent(username),
    PGPASSWORD: decodeURIComponent(password),
    PGDATABASE: decodeURIComponent(pathname.slice(1)),
  };
}

/** Writes all of a database, as it is at this moment, into a file that pg_restore reads. */
export function dumpInto(url, file) {
  const out = openSync(file, 'w', 0o600);
  try {
    const done = run('pg_dump', ['--format=custom'], { stdio: ['ignore', out, 'pipe'], env: toolsEnvironment(url) });
    if (done.status !== 0) throw new Trouble(`The data cannot be read from the database: ${lastLine(done.stderr)}`);
    fsyncSync(out);
  } finally {
    closeSync(out);
  }
}

/** Puts what such a file holds into an empty database. */
export function restoreFrom(file, url) {
  const from = openSync(file, 'r');
  try {
    const args = ['--no-owner', '--exit-on-error', `--dbname=${toolsEnvironment(url).PGDATABASE}`];
    const done = run('pg_restore', args, { stdio: [from, 'ignore', 'pipe'], env: toolsEnvironment(url) });
    if (done.status !== 0)
      throw new Trouble(`${file} cannot be put back: ${lastLine(done.stderr)}. Nothing was changed.`);
  } finally {
    closeSync(from);
  }
}
const lastLine = (said) =>
  (said ?? '')
    .trim()
    .split('\n')
    .at(-1)
    .replace(/^pg_\w+: (error: )?/, '');

/** Keeps a copy of a database of ours before something is done to it; the name of its file. */
export function copyBefore(home, url, what) {
  const folder = path.join(home, what);
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const file = path.join(folder, `${new Date().toISOString().replaceAll(':', '-')}.dump`);
  dumpInto(url, file);
  return file;
}

/** Runs one statement; its rows. */
export async function onDatabase(url, sql) {
  const { Client } = require('pg');
  const client = new Client({ connectionString: url });
  await client.connect();
  try {
    return (await client.query(sql)).rows;
  } finally {
    await client.end();
  }
}

/**
 * Makes the cluster in `home` where it is missing and starts it where it is not running.
 * @returns the database address, and `stop` for a cluster that was started here
 */
export async function startPostgres(home, { fast = false } = {}) {
  await ensurePostgresPackages();
  const bin = postgresBin();
  const who = owner();
  const [data, log, secret] = [path.join(home, 'pg'), path.join(home, 'pg.log'), path.join(home, 'pg.secret')];
  mkdirSync(home, { recursive: true, mode: 0o755 });
  checkRoom(home);
  if (isRoot) {
    chownSync(home, who.uid, who.gid);
    if (spawnSync('test', ['-w', home], who).status !== 0)
      throw new Trouble(
        `The user "postgres" cannot reach ${home}: every folder above it must let others pass (chmod o+x). Or choose another place with SOBRIN_DATA.`,
      );
  }
  if (!existsSync(path.join(data, 'PG_VERSION'))) {
    say('Making a private database');
    rmSync(data, { recursive: true, force: true });
    writeFileSync(secret, randomBytes(24).toString('base64url'), { mode: 0o600 });
    if (isRoot) chownSync(secret, who.uid, who.gid);
    must(
      run('initdb', [
        '-D',
        data,
        '-U',
        USER,
        '-A',
        'scram-sha-256',
        `--pwfile=${secret}`,
        '-E',
        'UTF8',
        '--locale-provider=icu',
        '--icu-locale=und',
        '--locale=C.UTF-8',
        '--no-instructions',
      ]),
      home,
      log,
    );
  }
  const version = readFileSync(path.join(data, 'PG_VERSION'), 'utf8').trim();
  if (!bin.includes(`/${version}/`))
    throw new Trouble(
      `The database in ${data} was made by PostgreSQL ${version}, and this machine has ${bin.split('/')[4]}. Install postgresql-${version}, or start over with npm start -- --fresh.`,
    );
  const wasRunning = run('pg_ctl', ['-D', data, 'status']).status === 0;
  if (!wasRunning) {
    const options = [
      `-p ${await freePort()}`,
      '-c listen_addresses=127.0.0.1',
      "-c unix_socket_directories=''",
      ...(fast ? ['-c fsync=off', '-c synchronous_commit=off', '-c full_page_writes=off'] : []),
    ];
    // stdio must be ignored: the server would keep the pipe open and this call would never end.
    must(
      run('pg_ctl', ['-D', data, '-w', '-t', '60', '-l', log, '-o', options.join(' '), 'start'], { stdio: 'ignore' }),
      home,
      log,
    );
  }
  const port = Number(readFileSync(path.join(data, 'postmaster.pid'), 'utf8').split('\n')[3]);
  const url = `postgresql://${USER}:${readFileSync(secret, 'utf8').trim()}@127.0.0.1:${port}/postgres`;
  // One that was found running belongs to another start, which ends it.
  const stop = ({ evenIfFound = false } = {}) => {
    if (!wasRunning || evenIfFound) stopPostgres(home);
  };
  return { url, stop, data };
}

const idOf = (flag) => {
  try {
    return Number(execFileSync('id', [flag, 'postgres']));
  } catch {
    throw new Trouble(
      'There is no user "postgres" to run the database as: PostgreSQL refuses to run as root. Reinstall the package postgresql-15, or start Sobrin as another user.',
    );
  }
};

function checkRoom(home) {
  const { bavail, bsize } = statfsSync(home);
  if (bavail * bsize < NEEDED_BYTES)
    throw new Trouble(
      `The disk that holds ${home} is full (${Math.floor((bavail * bsize) / 1e6)} MB free, ${NEEDED_BYTES / 1e6} MB needed). Free some space, or choose another place with SOBRIN_DATA.`,
    );
}

function must(done, home, log) {
  if (done.status === 0) return;
  const said = `${done.stderr ?? ''}\n${existsSync(log) ? readFileSync(log, 'utf8') : ''}`;
  if (/No space left/i.test(said))
    throw new Trouble(`The database cannot write to ${home}: the disk is full. Free some space, then start again.`);
  // The log names what happened first with a time, then the severity: people need the last thing that was fatal.
  const fatal = said
    .split('\n')
    .filter((line) => /\b(PANIC|FATAL|error):/i.test(line))
    .at(-1);
  const reason = fatal?.replace(/^.*?(PANIC|FATAL|error):\s*/i, '').trim() ?? 'it gave no reason';
  throw new Trouble(
    `The database in ${home} does not start: ${reason}. Mend it, name another with DATABASE_URL, or start over with npm start -- --fresh (a copy of its data is kept).`,
  );
}
