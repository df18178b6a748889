// npm run account -- reset NAME: an address with which somebody chooses a new password.
// npm run account -- record [DAYS]: who signed in and what was refused, of seven days where nothing is said.
import { asOperator, runServerFile } from './lib/operator.mjs';
import { Trouble } from './lib/say.mjs';

const [what, given, ...rest] = process.argv.slice(2);
await asOperator((url) => {
  if (what === 'record' && /^[1-9]\d{0,2}$/.test(given ?? '7') && !rest.length)
    return runServerFile('account.js', ['record', given ?? '7'], url);
  if (what === 'reset' && given && !rest.length) return runServerFile('account.js', ['reset', given], url);
  throw new Trouble(
    'Wanted is: npm run account -- reset NAME, with the sign-in name of somebody; or npm run account -- record DAYS, from 1 to 999.',
  );
});
