import { RosterEntry } from '@sobrin/contracts';
import { validate } from 'class-validator';
import { randomUUID } from 'node:crypto';
import { DataSource } from 'typeorm';
import { Account } from './accounts/account.entity';
import { loginOf } from './accounts/accounts.service';
import { SecondFactorService } from './accounts/second-factor.service';
import { LinksService } from './accounts/links.service';
import { config } from './platform/config';
import { databaseOptions } from './platform/database';

type Command = (db: DataSource, ...given: string[]) => Promise<void>;

/** For whoever runs Sobrin, see scripts/account.mjs. */
async function main(what: string, given: readonly string[]): Promise<void> {
  const db = await new DataSource(databaseOptions()).initialize();
  try {
    await COMMANDS[what]!(db, ...given);
  } finally {
    await db.destroy();
  }
}

/** Prints who signed in and what was refused in the last days, the newest last. */
async function record(db: DataSource, given: string): Promise<void> {
  const days = Number(given);
  const rows = await db.query<
    { last: Date; what: string; login: string; address: string; count: number; detail: string; agent: string }[]
  >('SELECT * FROM record WHERE last > now() - make_interval(days => $1) ORDER BY last', [days]);
  for (const { last, what, login, address, count, detail, agent } of rows)
    console.log([last.toISOString(), what, login, address, `${count}×`, detail, agent].map(onOneLine).join('\t'));
  console.log(`${rows.length} entries of ${days} days. Each stands for an hour.`);
}
/** What strangers sent is a text and moves no cursor. */
const onOneLine = (text: string): string => text.replace(/[\p{Cc}\u2028\u2029]/gu, ' ');

/** The account of a sign-in name that somebody typed. */
async function accountOf(db: DataSource, typed: string): Promise<Account> {
  const account = await db.manager.findOneBy(Account, { login: loginOf(typed) });
  if (!account) throw new Error(`"${loginOf(typed)}" is no account here. Check the sign-in name.`);
  if (account.demo) throw new Error(`${account.name} is somebody of the demo and signs in with a click.`);
  return account;
}

/** Prints an address with which somebody chooses a new password. A second factor is off then: the telephone may be lost, too. */
async function reset(db: DataSource, typed: string): Promise<void> {
  const account = await accountOf(db, typed);
  await new SecondFactorService(db).end(account.id);
  await printLink(db, account);
}

/** Makes an account that may begin courses, and prints the address to choose its password. */
async function add(db: DataSource, typed: string, name: string): Promise<void> {
  const wrong = await validate(Object.assign(new RosterEntry(), { login: loginOf(typed), name: name.trim() }));
  if (wrong[0]) throw new Error(Object.values(wrong[0].constraints ?? {})[0]);
  const account = { id: randomUUID(), login: loginOf(typed), name: name.trim(), mayCreateCourses: true, demo: false };
  if (await db.manager.existsBy(Account, { login: account.login }))
    throw new Error(
      `"${account.login}" is an account already. To let it begin courses: npm run account -- courses ${account.login} yes`,
    );
  await db.manager.insert(Account, { ...account, passwordHash: null });
  await printLink(db, { ...account, passwordHash: null });
}

/** Allows somebody to begin courses, or not any more; the courses that they teach stay theirs. */
async function courses(db: DataSource, typed: string, yes: string): Promise<void> {
  const { id, name } = await accountOf(db, typed);
  await db.manager.update(Account, { id }, { mayCreateCourses: yes === 'yes' });
  console.log(`${name} ${yes === 'yes' ? 'may begin courses now' : 'begins no more courses'}.`);
}

async function printLink(db: DataSource, account: Account): Promise<void> {
  const links = await new LinksService(db).make([account.id]);
  console.log(
    `${account.name}: open http://${config.host}:${config.port}${links.get(account.id)} and choose a password. It is good once, for seven days. Where Sobrin has another address, put that before /enter.`,
  );
}

const COMMANDS: Readonly<Record<string, Command>> = { record, reset, add, courses };

main(process.argv[2]!, process.argv.slice(3)).catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : String(error));
  process.exitCode = 1;
});
