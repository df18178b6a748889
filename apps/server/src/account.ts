import { DataSource } from 'typeorm';
import { Account } from './accounts/account.entity';
import { loginOf } from './accounts/accounts.service';
import { LinksService } from './accounts/links.service';
import { config } from './platform/config';
import { databaseOptions } from './platform/database';

/** Prints an address with which somebody chooses a new password: for whoever runs Sobrin, see scripts/account.mjs. */
async function main(typed: string): Promise<void> {
  const db = await new DataSource(databaseOptions()).initialize();
  try {
    const account = await db.manager.findOneBy(Account, { login: loginOf(typed) });
    if (!account) throw new Error(`"${loginOf(typed)}" is no account here. Check the sign-in name.`);
    if (account.demo) throw new Error(`${account.name} is somebody of the demo and signs in with a click.`);
    const links = await new LinksService(db).make([account.id]);
    console.log(
      `${account.name} (${account.role}): open http://${config.host}:${config.port}${links.get(account.id)} and choose a password. It is good once, for seven days. Where Sobrin has another address, put that before /enter.`,
    );
  } finally {
    await db.destroy();
  }
}

main(process.argv[2] ?? '').catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : String(error));
  process.exitCode = 1;
});
