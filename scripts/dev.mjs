// npm run dev: the server from its sources, started anew on every change, and the interface served by Vite with reload.
import { spawn } from 'node:child_process';
import path from 'node:path';
import { dataFolder, freePort, startPostgres } from './lib/postgres.mjs';
import { root } from './lib/root.mjs';
import { explain, say } from './lib/say.mjs';
import { ensureDependencies } from './lib/system.mjs';

try {
  await ensureDependencies();
  const database = process.env.DATABASE_URL
    ? { url: process.env.DATABASE_URL, stop: () => {} }
    : await startPostgres(dataFolder());
  const port = await freePort();
  const server = spawn(
    process.execPath,
    ['--watch', '-C', '@sobrin/source', '-r', '@swc-node/register', 'src/main.ts'],
    {
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
    },
  );
  const web = spawn(
    process.execPath,
    [path.join(root, 'node_modules/vite/bin/vite.js'), '--port', process.env.PORT ?? '8484'],
    {
      cwd: path.join(root, 'apps/web'),
      stdio: 'inherit',
      env: { ...process.env, API_URL: `http://127.0.0.1:${port}` },
    },
  );
  say(`The interface with reload: http://127.0.0.1:${process.env.PORT ?? '8484'}`);
  let ended = false;
  const end = () => {
    if (ended) return;
    ended = true;
    for (const child of [server, web]) child.kill('SIGTERM');
    database.stop();
    process.exit(0);
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, end);
  web.on('exit', end);
} catch (error) {
  console.error(explain(error));
  process.exit(1);
}
