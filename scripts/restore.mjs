// npm run restore -- FILE: puts back what npm run backup wrote. What is there now is kept: in a file, or, in a database of
// one's own, under another name.
import { existsSync } from 'node:fs';
import path from 'node:path';
import { asOperator, runServerFile } from './lib/operator.mjs';
import { lockFolder } from './lib/lock.mjs';
import { copyBefore, dataFolder, onDatabase, restoreFrom } from './lib/postgres.mjs';
import { Trouble, say } from './lib/say.mjs';

const home = process.env.DATABASE_URL ? null : dataFolder();
/** The database of a URL under another name. */
const named = (url, name) => Object.assign(new URL(url), { pathname: `/${name}` }).toString();

await asOperator(async (url) => {
  const [file, ...rest] = process.argv.slice(2);
  if (!file || rest.length) throw new Trouble('Wanted is: npm run restore -- FILE');
  const source = path.resolve(file);
  if (!existsSync(source)) throw new Trouble(`There is no file ${source}.`);
  // A running Sobrin would go on with what it has in its hands.
  const free = home ? lockFolder(home) : () => {};
  const [current] = [decodeURIComponent(new URL(url).pathname.slice(1))];
  const beside = `${current}_restoring`;
  const admin = named(url, current === 'template1' ? 'postgres' : 'template1');
  try {
    await onDatabase(admin, `DROP DATABASE IF EXISTS "${beside}"`);
    await onDatabase(admin, `CREATE DATABASE "${beside}" TEMPLATE template0`);
    restoreFrom(source, named(url, beside));
    // Refuses what a newer Sobrin wrote, and brings what an older one wrote up to date.
    if (runServerFile('migrate.js', [], named(url, beside)) !== 0)
      throw new Trouble(`${source} was not put back. Nothing was changed.`);
    const kept = home ? copyBefore(home, url, 'before-restore') : null;
    // Renamed, not dropped: whatever ends this in the middle, both are there. Who is connected still is told so by it.
    const before = `${current}_before_${Date.now()}`;
    await onDatabase(admin, `ALTER DATABASE "${current}" RENAME TO "${before}"`).catch((error) => {
      throw new Trouble(`${error.message}: stop Sobrin and whatever else uses it first. Nothing was changed.`);
    });
    await onDatabase(admin, `ALTER DATABASE "${beside}" RENAME TO "${current}"`);
    if (kept) await onDatabase(admin, `DROP DATABASE "${before}"`);
    say(`${source} is put back. What was there before is kept in ${kept ?? `the database ${before}`}`);
  } finally {
    await onDatabase(admin, `DROP DATABASE IF EXISTS "${beside}" WITH (FORCE)`).catch(() => {});
    free();
  }
});
