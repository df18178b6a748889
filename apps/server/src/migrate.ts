import { migrate, pendingMigrations } from './platform/database';

/** Brings the schema of a database up to date; with --pending it only says by its exit status 3 that this is still to be done for what is in it. */
async function main(): Promise<void> {
  if (process.argv[2] !== '--pending') return migrate();
  if (await pendingMigrations()) process.exitCode = 3;
}

main().catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : String(error));
  process.exitCode = 1;
});
