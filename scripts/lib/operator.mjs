// Commands of whoever runs Sobrin: they ask for no sign-in, only for the database.
import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { dataFolder, startPostgres } from './postgres.mjs';
import { root } from './root.mjs';
import { explain } from './say.mjs';
import { ensureDependencies } from './system.mjs';

/** Runs `work(url)` with the database of this Sobrin, which is started for it where it does not run; what goes wrong is said in a sentence. */
export async function asOperator(work) {
  let stop = () => {};
  try {
    await ensureDependencies();
    const { buildAll } = await import('./build.mjs');
    await buildAll(() => {});
    const database = process.env.DATABASE_URL ? null : await startPostgres(dataFolder());
    stop = database?.stop ?? stop;
    process.exitCode = (await work(process.env.DATABASE_URL ?? database.url)) ?? 0;
  } catch (error) {
    console.error(explain(error));
    process.exitCode = 1;
  } finally {
    stop();
  }
}

/** Runs a compiled file of the server; its exit status. */
export const runServerFile = (file, args, url) =>
  spawnSync(process.execPath, [path.join(root, 'apps/server/dist', file), ...args], {
    stdio: 'inherit',
    env: { ...process.env, DATABASE_URL: url },
  }).status ?? 1;
