// npm run account -- reset NAME: an address with which somebody chooses a new password. For whoever runs Sobrin: it asks
// for no sign-in, only for the database.
import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { dataFolder, startPostgres } from './lib/postgres.mjs';
import { root } from './lib/root.mjs';
import { Trouble, explain } from './lib/say.mjs';
import { ensureDependencies } from './lib/system.mjs';

const [what, login, ...rest] = process.argv.slice(2);
let stop = () => {};
try {
  if (what !== 'reset' || !login || rest.length)
    throw new Trouble('Wanted is: npm run account -- reset NAME, with the sign-in name of somebody.');
  await ensureDependencies();
  const { buildAll } = await import('./lib/build.mjs');
  await buildAll(() => {});
  const database = process.env.DATABASE_URL ? null : await startPostgres(dataFolder());
  stop = database?.stop ?? stop;
  const { status } = spawnSync(process.execPath, [path.join(root, 'apps/server/dist/account.js'), login], {
    stdio: 'inherit',
    env: { ...process.env, DATABASE_URL: process.env.DATABASE_URL ?? database.url },
  });
  process.exitCode = status ?? 1;
} catch (error) {
  console.error(explain(error));
  process.exitCode = 1;
} finally {
  stop();
}
