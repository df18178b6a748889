// npm start: sets everything up and runs Sobrin with its demo. npm start -- --fresh starts over with new demo data.
import { spawn } from 'node:child_process';
import { existsSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import path from 'node:path';
import { dataFolder, startPostgres } from './lib/postgres.mjs';
import { root } from './lib/root.mjs';
import { Trouble, endCommands, explain, say } from './lib/say.mjs';
import { ensureDependencies } from './lib/system.mjs';

const fresh = process.argv.includes('--fresh');
const port = Number(process.env.PORT ?? 8484);
let stopDatabase = () => {};
let server = null;

// Whatever was started ends with this script, also when it is told to end in the middle of setting up: the server
// first, then the database that was started for it.
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
  process.on(signal, () => {
    if (server) return void server.kill('SIGTERM');
    endCommands();
    stopDatabase();
    process.exit(130);
  });

try {
  if (!Number.isInteger(port) || port < 1 || port > 65535)
    throw new Trouble(`PORT is "${process.env.PORT}": wanted is a number from 1 to 65535.`);
  if (fresh && process.env.DATABASE_URL)
    throw new Trouble(
      '--fresh empties only the database that Sobrin made itself: empty the one in DATABASE_URL yourself.',
    );
  await checkPort(port);
  await ensureDependencies();
  const { buildAll } = await import('./lib/build.mjs');
  await buildAll(say);
  run(process.env.DATABASE_URL ?? (await ownDatabase()));
} catch (error) {
  stopDatabase();
  console.error(explain(error));
  process.exit(1);
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

async function ownDatabase() {
  const home = dataFolder();
  if (fresh && existsSync(path.join(home, 'pg'))) {
    say(`Starting over: the old data in ${home} is deleted`);
    const running = existsSync(path.join(home, 'pg', 'postmaster.pid'))
      ? await startPostgres(home).catch(() => null)
      : null;
    running?.stop({ evenIfFound: true });
    for (const name of ['pg', 'pg.log', 'pg.secret']) rmSync(path.join(home, name), { recursive: true, force: true });
  }
  say('Starting the database');
  const database = await startPostgres(home);
  stopDatabase = database.stop;
  return database.url;
}

function run(url) {
  say('Starting Sobrin');
  server = spawn(process.execPath, [path.join(root, 'apps/server/dist/main.js')], {
    stdio: 'inherit',
    env: {
      ...process.env,
      NODE_ENV: 'production',
      PORT: String(port),
      DATABASE_URL: url,
      SOBRIN_DEMO: process.env.SOBRIN_DEMO ?? '1',
    },
  });
  server.on('exit', (code, signal) => {
    stopDatabase();
    process.exit(signal ? 0 : (code ?? 1));
  });
}
