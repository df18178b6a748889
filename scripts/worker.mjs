// npm run worker: one more process that does what waits in the queue, on this machine or another one that reaches the
// database. npm start runs one already.
import { spawn } from 'node:child_process';
import path from 'node:path';
import { dataFolder, postmasterOf, startPostgres } from './lib/postgres.mjs';
import { root } from './lib/root.mjs';
import { Trouble, explain } from './lib/say.mjs';
import { ensureDependencies } from './lib/system.mjs';

try {
  const home = dataFolder();
  if (!process.env.DATABASE_URL && postmasterOf(home) === null)
    throw new Trouble('There is nothing to work for: run npm start first, or name its database with DATABASE_URL.');
  await ensureDependencies();
  const { buildAll } = await import('./lib/build.mjs');
  await buildAll(() => {});
  const url = process.env.DATABASE_URL ?? (await startPostgres(home)).url;
  const worker = spawn(process.execPath, [path.join(root, 'apps/server/dist/worker.js')], {
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    env: { ...process.env, NODE_ENV: 'production', DATABASE_URL: url },
  });
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => worker.kill('SIGTERM'));
  worker.on('exit', (code) => process.exit(code ?? 0));
} catch (error) {
  console.error(explain(error));
  process.exitCode = 1;
}
