// npm run recheck -- --verify: makes every kept result again and compares; changes nothing.
import { asOperator, runServerFile } from './lib/operator.mjs';
import { Trouble } from './lib/say.mjs';

await asOperator((url) => {
  if (process.argv.slice(2).join(' ') !== '--verify') throw new Trouble('Wanted is: npm run recheck -- --verify');
  return runServerFile('recheck.js', [], url);
});
