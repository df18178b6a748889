// npm start: sets everything up and runs Sobrin with its demo. npm start -- --fresh starts over with new demo data.
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import path from 'node:path';
import { createInterface } from 'node:readline/promises';
import { lockFolder } from './lib/lock.mjs';
import { runServerFile } from './lib/operator.mjs';
import { copyBefore, dataFolder, postmasterOf, startPostgres, stopPostgres } from './lib/postgres.mjs';
import { root } from './lib/root.mjs';
import { Trouble, endCommands, explain, say } from './lib/say.mjs';
import { ensureDependencies } from './lib/system.mjs';

const fresh = process.argv.includes('--fresh');
const port = Number(process.env.PORT ?? 8484);
/** What died is started again after a pause, and after twice that when it dies again soon. */
const PAUSE = { first: 1_000, most: 30_000, forgottenAfter: 60_000 };
const LOOK_AT_DATABASE_MS = 2_000;
/** How migrate.js says that there is data whose schema is an older one. */
const PENDING = 3;
/** The folder of the database that this script runs; null where it is somebody else's. */
const home = process.env.DATABASE_URL ? null : dataFolder();
/** Frees the folder; null while it is not ours. */
let free = null;
let server = null;
/** Does what waits in the queue; the server only answers. */
let worker = null;
let ending = false;
let url = '';

// Whatever was started ends with this script, also when it is told to end in the middle of setting up: the server
// first, then the database that was started for it.
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
  process.on(signal, () => {
    ending = true;
    if (server || worker) return void [server, worker].forEach((each) => each?.kill('SIGTERM'));
    endCommands();
    finish(130);
  });

try {
  if (!Number.isInteger(port) || port < 1 || port > 65535)
    throw new Trouble(`PORT is "${process.env.PORT}": wanted is a number from 1 to 65535.`);
  if (fresh && !home)
    throw new Trouble(
      '--fresh empties only the database that Sobrin made itself: empty the one in DATABASE_URL yourself.',
    );
  await checkPort(port);
  if (home) free = lockFolder(home);
  if (fresh) await askForFresh();
  await ensureDependencies();
  const { buildAll } = await import('./lib/build.mjs');
  await buildAll(say);
  if (fresh) await startOver();
  url = await databaseUrl();
  if (home) {
    keepBeforeMigration();
    watchDatabase();
  }
  run(PAUSE.first, true);
} catch (error) {
  console.error(explain(error));
  finish(1);
}

/** Ends this script with all that it started, but for the server, which has ended. */
function finish(status) {
  if (free) {
    if (postmasterOf(home) !== null) stopPostgres(home);
    free();
  }
  process.exit(status);
}

/** A taken port is told before the minutes of setting up, not after. */
function checkPort(wanted) {
  return new Promise((resolve, reject) => {
    const probe = createServer();
    probe.once('error', (error) => {
      if (error.code === 'EADDRINUSE')
        reject(new Trouble(`Port ${wanted} is taken by another program. Choose another: PORT=${wanted + 1} npm start`));
      else if (error.code === 'EACCES')
        reject(new Trouble(`Port ${wanted} may not be used by this user. Choose one above 1023: PORT=8484 npm start`));
      else if (error.code === 'EADDRNOTAVAIL' || error.code === 'ENOTFOUND')
        reject(new Trouble(`HOST is "${process.env.HOST}": this machine has no such address.`));
      else reject(error);
    });
    probe.listen(wanted, process.env.HOST ?? '127.0.0.1', () => probe.close(resolve));
  });
}

/** Nothing is deleted that nobody agreed to. */
async function askForFresh() {
  if (!existsSync(path.join(home, 'pg')) || process.argv.includes('--yes')) return;
  if (!process.stdin.isTTY)
    throw new Trouble(
      `--fresh deletes all data in ${home}. Here nobody can be asked: say npm start -- --fresh --yes if that is meant.`,
    );
  const asking = createInterface({ input: process.stdin, output: process.stdout });
  const answer = await asking.question(`This deletes all data in ${home}; a copy is kept. Type "yes" to go on: `);
  asking.close();
  if (answer.trim().toLowerCase() !== 'yes') throw new Trouble('Nothing was deleted.');
}

/** Deletes the data. A dump of it is kept; where it cannot be read any more, its files are. */
async function startOver() {
  const data = path.join(home, 'pg');
  if (!existsSync(data)) return;
  const kept = await startPostgres(home)
    .then(({ url }) => copyBefore(home, url, 'before-fresh'))
    .catch(() => null);
  if (postmasterOf(home) !== null) stopPostgres(home);
  const name = path.join(home, 'before-fresh', new Date().toISOString().replaceAll(':', '-'));
  if (kept) rmSync(data, { recursive: true, force: true });
  else {
    mkdirSync(path.dirname(name), { recursive: true, mode: 0o700 });
    renameSync(data, name);
  }
  say(`Starting over: the old data is kept in ${kept ? `${kept} (for npm run restore)` : name}`);
  for (const file of ['pg.log', 'pg.secret']) rmSync(path.join(home, file), { force: true });
}

/** A copy is kept before another Sobrin than the last one changes the schema. */
function keepBeforeMigration() {
  const mark = path.join(home, 'built');
  const built = readFileSync(path.join(root, 'apps/server/dist/.stamp'), 'utf8');
  if (existsSync(mark) && readFileSync(mark, 'utf8') === built) return;
  if (runServerFile('migrate.js', ['--pending'], url) === PENDING)
    say(`The data is brought up to date; as it was it is kept in ${copyBefore(home, url, 'before-migration')}`);
  writeFileSync(mark, built);
}

async function databaseUrl() {
  if (!home) return process.env.DATABASE_URL;
  say('Starting the database');
  // One that is left of a start that was killed together with its keeper.
  if (postmasterOf(home) !== null) stopPostgres(home);
  const { url } = await startPostgres(home);
  // However this script ends, the database ends with it.
  const keeper = spawn(process.execPath, [path.join(root, 'scripts/lib/keeper.mjs'), home], {
    detached: true,
    stdio: ['pipe', 'ignore', 'ignore'],
  });
  keeper.unref();
  keeper.stdin.unref();
  return url;
}

/** A database that died is told; the server ends, and both are started again. */
function watchDatabase() {
  setInterval(() => {
    if (ending || !server || postmasterOf(home) !== null) return;
    say('The database ended unexpectedly');
    for (const each of [server, worker]) each?.kill('SIGTERM');
  }, LOOK_AT_DATABASE_MS).unref();
}

/** Runs one of the processes that Sobrin is made of. It ends by itself when the channel to this script is gone. */
function start(file, role) {
  return spawn(process.execPath, [path.join(root, 'apps/server/dist', file)], {
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    env: {
      ...process.env,
      NODE_ENV: 'production',
      PORT: String(port),
      DATABASE_URL: url,
      SOBRIN_DEMO: process.env.SOBRIN_DEMO ?? '1',
      SOBRIN_ROLE: role,
    },
  });
}

/** How long to wait before something is started again that began then and is dead. */
function pauseAfter(began, pause) {
  return Date.now() - began > PAUSE.forgottenAfter ? PAUSE.first : pause;
}

/** Runs the server; `isFirst` until it was ready once: then what is wrong is something that a person must mend. */
function run(pause, isFirst) {
  say('Starting Sobrin');
  const began = Date.now();
  let waits = isFirst;
  server = start('main.js', 'web');
  server.on('message', (message) => {
    if (message !== 'ready') return;
    waits = false;
    // After the server, which brings the schema up to date and says what is wrong with the database.
    if (!worker) runWorker(PAUSE.first);
  });
  server.on('exit', (code, signal) => {
    server = null;
    if (ending) return void (worker || finish(0));
    if (waits) finish(code || 1);
    const wait = pauseAfter(began, pause);
    say(`Sobrin ended unexpectedly (${signal ?? `status ${code}`}). It is started again in ${wait / 1000} s`);
    setTimeout(() => void again(Math.min(2 * wait, PAUSE.most)), wait);
  });
}

function runWorker(pause) {
  const began = Date.now();
  worker = start('worker.js', 'worker');
  worker.on('exit', (code, signal) => {
    worker = null;
    if (ending) return void (server || finish(0));
    const wait = pauseAfter(began, pause);
    say(`The worker ended unexpectedly (${signal ?? `status ${code}`}). It is started again in ${wait / 1000} s`);
    setTimeout(() => ending || worker || runWorker(Math.min(2 * wait, PAUSE.most)), wait);
  });
}

async function again(pause) {
  try {
    if (home && postmasterOf(home) === null) url = await databaseUrl();
    if (!ending) run(pause, false);
  } catch (error) {
    console.error(explain(error));
    finish(1);
  }
}
