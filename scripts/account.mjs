// npm run account -- reset NAME: an address with which somebody chooses a new password.
import { asOperator, runServerFile } from './lib/operator.mjs';
import { Trouble } from './lib/say.mjs';

const [what, login, ...rest] = process.argv.slice(2);
await asOperator((url) => {
  if (what !== 'reset' || !login || rest.length)
    throw new Trouble('Wanted is: npm run account -- reset NAME, with the sign-in name of somebody.');
  return runServerFile('account.js', [login], url);
});
