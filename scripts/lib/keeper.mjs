// Ends a database when the script that started it is gone, however that ended: its end of the pipe closes with it.
import { postmasterOf, stopPostgres } from './postgres.mjs';

const [home] = process.argv.slice(2);
const kept = postmasterOf(home);
process.stdin.resume();
process.stdin.on('end', () => {
  // It may have been ended in good order, and another one started since.
  if (kept !== null && postmasterOf(home) === kept) stopPostgres(home);
});
