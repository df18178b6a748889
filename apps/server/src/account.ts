import { DataSource } from 'typeorm';
import { Account } from './accounts/account.entity';
import { loginOf } from './accounts/accounts.service';
import { LinksService } from './accounts/links.service';
import { config } from './platform/config';
import { databaseOptions } from './platform/database';

/** For whoever runs Sobrin, see scripts/account.mjs. */
async function main(what: string, typed: string): Promise<void> {
  const db = await new DataSource(databaseOptions()).initialize();
  try {
    await (what === 'record' ? record(db, Number(typed)) : reset(db, typed));
  } finally {
    await db.destroy();
  }
}

/** Prints who signed in and what was refused in the last days, the newest last. */
async function record(db: DataSource, days: number): Promise<void> {
  const rows = await db.query<
    { last: Date; what: string; login: string; address: string; count: number; detail: string; agent: string }[]
  >('SELECT * FROM record WHERE last > now() - make_interval(days => $1) ORDER BY last', [days]);
  for (const { last, what, login, address, count, detail, agent } of rows)
    console.log([last.toISOString(), what, login, address, `${count}×`, detail, agent].map(onOneLine).join('\t'));
  console.log(`${rows.length} entries of ${days} days. Each stands for an hour.`);
}
/** What strangers sent is a text and moves no cursor. */
const onOneLine = (text: string): string => text.replace(/[\p{Cc}\u2028\u2029]/gu, ' ');

/** Prints an address with which somebody chooses a new password. */
async function reset(db: DataSource, typed: string): Promise<void> {
  const account = await db.manager.findOneBy(Account, { login: loginOf(typed) });
  if (!account) throw new Error(`"${loginOf(typed)}" is no account here. Check the sign-in name.`);
  if (account.demo) throw new Error(`${account.name} is somebody of the demo and signs in with a click.`);
  const links = await new LinksService(db).make([account.id]);
  console.log(
    `${account.name} (${account.role}): open http://${config.host}:${config.port}${links.get(account.id)} and choose a password. It is good once, for seven days. Where Sobrin has another address, put that before /enter.`,
  );
}

main(process.argv[2] ?? '', process.argv[3] ?? '').catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : String(error));
  process.exitCode = 1;
});
