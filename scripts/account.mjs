// npm run account -- reset NAME: an address with which somebody chooses a new password.
// npm run account -- add NAME "FULL NAME": an account that may begin courses, and the address to choose its password.
// npm run account -- courses NAME yes|no: whether somebody may begin courses.
// npm run account -- record [DAYS]: who signed in and what was refused, of seven days where nothing is said.
import { asOperator, runServerFile } from './lib/operator.mjs';
import { Trouble } from './lib/say.mjs';

/** What each command takes after its name. */
const COMMANDS = {
  reset: ([name, ...rest]) => name && !rest.length && [name],
  add: ([name, full, ...rest]) => name && full?.trim() && !rest.length && [name, full],
  courses: ([name, yes, ...rest]) => name && ['yes', 'no'].includes(yes) && !rest.length && [name, yes],
  record: ([days = '7', ...rest]) => /^[1-9]\d{0,2}$/.test(days) && !rest.length && [days],
};

const [what, ...given] = process.argv.slice(2);
await asOperator((url) => {
  const taken = Object.hasOwn(COMMANDS, what ?? '') && COMMANDS[what](given);
  if (taken) return runServerFile('account.js', [what, ...taken], url);
  throw new Trouble(
    'Wanted is: npm run account -- reset NAME, add NAME "FULL NAME", courses NAME yes or no, with the sign-in name of somebody; or record DAYS, from 1 to 999.',
  );
});
