// npm run backup -- FILE: all of Sobrin's data in one file, as it is at this moment, while Sobrin runs.
import { existsSync, renameSync, rmSync } from 'node:fs';
import path from 'node:path';
import { asOperator } from './lib/operator.mjs';
import { dumpInto } from './lib/postgres.mjs';
import { Trouble, say } from './lib/say.mjs';

await asOperator((url) => {
  const [file, ...rest] = process.argv.slice(2);
  if (!file || rest.length) throw new Trouble('Wanted is: npm run backup -- FILE');
  const target = path.resolve(file);
  if (existsSync(target)) throw new Trouble(`${target} is there already: name another file, or take it away first.`);
  const half = `${target}.part`;
  try {
    dumpInto(url, half);
    renameSync(half, target);
  } finally {
    rmSync(half, { force: true });
  }
  say(`All data is in ${target}. Put it back with: npm run restore -- ${file}`);
});
