// npm run dev: the server from its sources, started anew on every change, and the interface served by Vite with reload.
import { spawn } from 'node:child_process';
import { readdirSync, watch } from 'node:fs';
import path from 'node:path';
import { lockFolder } from './lib/lock.mjs';
import { dataFolder, freePort, startPostgres } from './lib/postgres.mjs';
import { root } from './lib/root.mjs';
import { explain, say } from './lib/say.mjs';
import { ensureDependencies } from './lib/system.mjs';

/** Whatever the server is made of. */
const SERVER_SOURCES = ['apps/server/src', 'packages/core/src', 'packages/contracts/src', 'packages/rendering/src'];

/** A folder with all below it, each to be watched by itself: watching files loses those that an editor replaces. */
const foldersIn = (folder) => {
  const top = path.join(root, folder);
  const below = readdirSync(top, { recursive: true, withFileTypes: true }).filter((entry) => entry.isDirectory());
  return [top, ...below.map((entry) => path.join(entry.parentPath ?? entry.path, entry.name))];
};

try {
  const free = process.env.DATABASE_URL ? () => {} : lockFolder(dataFolder());
  await ensureDependencies();
  // Threads run what is compiled, here too: checks are made by the core as it was at the start.
  const { buildPackages } = await import('./lib/build.mjs');
  await buildPackages(['packages/core', 'packages/contracts', 'packages/rendering', 'apps/server'], say);
  const database = process.env.DATABASE_URL
    ? { url: process.env.DATABASE_URL, stop: () => {} }
    : await startPostgres(dataFolder());
  const [port, webPort] = [await freePort(), process.env.PORT ?? '8484'];
  let server = null;
  let ended = false;

  const startServer = () => {
    server = spawn(process.execPath, ['-C', '@sobrin/source', '-r', '@swc-node/register', 'src/main.ts'], {
      cwd: path.join(root, 'apps/server'),
      stdio: 'inherit',
      env: {
        ...process.env,
        PORT: String(port),
        DATABASE_URL: database.url,
        SOBRIN_DEMO: '1',
        SOBRIN_WEB: '/nowhere',
        SWC_NODE_PROJECT: path.join(root, 'tsconfig.base.json'),
      },
    });
  };
  let waiting = null;
  const restart = () => {
    clearTimeout(waiting);
    // A moment later: an editor writes a file in several steps.
    waiting = setTimeout(() => {
      if (ended) return;
      say('Starting the server anew');
      if (server.exitCode !== null || server.signalCode !== null) return startServer();
      server.once('exit', startServer);
      server.kill('SIGTERM');
    }, 200);
  };
  startServer();
  for (const folder of SERVER_SOURCES.flatMap(foldersIn))
    watch(folder, (_event, file) => {
      if (file && /\.ts$/.test(file) && !/\.spec\.ts$/.test(file)) restart();
    });

  const web = spawn(process.execPath, [path.join(root, 'node_modules/vite/bin/vite.js'), '--port', webPort], {
    cwd: path.join(root, 'apps/web'),
    stdio: 'inherit',
    env: { ...process.env, API_URL: `http://127.0.0.1:${port}` },
  });
  say(`The interface with reload: http://127.0.0.1:${webPort}`);

  const end = () => {
    if (ended) return;
    ended = true;
    for (const child of [server, web]) child.kill('SIGTERM');
    database.stop();
    free();
    process.exit(0);
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, end);
  web.on('exit', end);
} catch (error) {
  console.error(explain(error));
  process.exit(1);
}
