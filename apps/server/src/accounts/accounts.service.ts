import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { hash, verify } from '@node-rs/argon2';
import { type DemoPerson, type Me, type SessionView } from '@sobrin/contracts';
import { getParser } from 'bowser';
import { randomUUID } from 'node:crypto';
import { type EntityManager, In, IsNull, LessThan, MoreThan, Not, Repository } from 'typeorm';
import { config } from '../platform/config';
import { Account, KnownBrowser, OneTimeLink, Session } from './account.entity';
import { hashOf, newToken } from './tokens';

/** Argon2id with the parameters of RFC 9106 §4 scaled to a small server: 19 MiB, 2 passes. `2` is Argon2id. */
const ARGON2 = { algorithm: 2, memoryCost: 19_456, timeCost: 2, parallelism: 1 };
/** How exactly it is known when a session was used last. */
const SEEN_EVERY_MS = 5 * 60_000;
const HOUR_MS = 3_600_000;
/** A browser that was not used for so long is unknown again. */
export const KNOWN_DAYS = 180;
/** Compared with where there is no such account, so that the answer takes as long. */
const NOBODY = '$argon2id$v=19$m=19456,t=2,p=1$c29tZXNhbHRzb21lc2FsdA$Nd4R0RRmQKXgdzFbZ3CwbXPkDrH5UYY4f0v1Z0h0W4A';

export const hashPassword = (password: string): Promise<string> => hash(password, ARGON2);
/** A sign-in name as it is kept: capitals and blanks around it make no other one. */
export const loginOf = (typed: string): string => typed.trim().toLowerCase();
/** A session that was not used since then has ended. */
const idleSince = (): Date => new Date(Date.now() - config.session.idleHours * HOUR_MS);
const daysAgo = (days: number): Date => new Date(Date.now() - days * 24 * HOUR_MS);

/** The demo's accounts, whose password everybody knows, are there only while it runs as a demo. */
export const isOpen = ({ demo }: Account): boolean => !demo || config.demo;

export const meOf = ({ id, login, name, mayCreateCourses }: Account): Me => ({ id, login, name, mayCreateCourses });

/** "Firefox on Linux", of what a browser says of itself; empty where it says nothing that is known. */
function browserName(agent: string): string {
  if (!agent) return '';
  const parser = getParser(agent);
  return [parser.getBrowserName(), parser.getOSName()].filter(Boolean).join(' on ');
}

@Injectable()
export class AccountsService {
  constructor(
    @InjectRepository(Account) private readonly accounts: Repository<Account>,
    @InjectRepository(Session) private readonly sessions: Repository<Session>,
    @InjectRepository(KnownBrowser) private readonly browsers: Repository<KnownBrowser>,
  ) {}

  /** The account for a sign-in name and password; null where they do not go together. */
  async verify(login: string, password: string): Promise<Account | null> {
    const account = await this.accounts.findOne({
      where: { login: loginOf(login) },
      select: { id: true, login: true, name: true, mayCreateCourses: true, passwordHash: true, demo: true },
    });
    const fits = await verify(account?.passwordHash ?? NOBODY, password).catch(() => false);
    return account && fits && isOpen(account) ? account : null;
  }

  /** Whether somebody of this sign-in name has signed in from the browser that holds a token. */
  async knows(browser: string, login: string): Promise<boolean> {
    const account = await this.accounts.findOne({ where: { login: loginOf(login) }, select: { id: true } });
    return (
      account !== null &&
      (await this.browsers.existsBy({
        tokenHash: hashOf(browser),
        accountId: account.id,
        seenAt: MoreThan(daysAgo(KNOWN_DAYS)),
      }))
    );
  }

  /** Remembers the browser that somebody signed in from; its token, which is a new one where it was made up or there was none. */
  async remember(account: Account, browser: string | undefined): Promise<string> {
    await this.browsers.delete({ seenAt: LessThan(daysAgo(KNOWN_DAYS)) });
    const isKnown = browser !== undefined && (await this.browsers.existsBy({ tokenHash: hashOf(browser) }));
    const token = isKnown ? browser : newToken();
    await this.browsers.upsert({ tokenHash: hashOf(token), accountId: account.id, seenAt: new Date() }, [
      'tokenHash',
      'accountId',
    ]);
    return token;
  }

  /** Sets a new password where the present one is right, and ends all other sessions of the account. */
  async changePassword(me: Me, current: string, next: string, token: string): Promise<boolean> {
    if (!(await this.verify(me.login, current))) return false;
    await this.accounts.update({ id: me.id }, { passwordHash: await hashPassword(next) });
    await this.sessions.delete({ accountId: me.id, tokenHash: Not(hashOf(token)) });
    await this.accounts.manager.delete(OneTimeLink, { accountId: me.id });
    return true;
  }

  /** The first instructor as long as nobody but the demo's teaches with a password; null afterwards. The account is made where it is missing. */
  async firstInstructor(): Promise<Account | null> {
    const teachers = { mayCreateCourses: true, demo: false };
    if (await this.accounts.existsBy({ ...teachers, passwordHash: Not(IsNull()) })) return null;
    const made = { id: randomUUID(), login: 'instructor', name: 'Instructor', ...teachers, passwordHash: null };
    if (!(await this.accounts.existsBy(teachers)))
      await this.accounts.createQueryBuilder().insert().values(made).orIgnore().execute();
    return this.accounts.findOneBy(teachers);
  }

  async demoPerson(login: string): Promise<Account | null> {
    return this.accounts.findOneBy({ login, demo: true });
  }

  async demoPeople(): Promise<DemoPerson[]> {
    const people = await this.accounts.find({
      where: { demo: true },
      order: { mayCreateCourses: 'DESC', name: 'ASC' },
    });
    return people.map(({ login, name, mayCreateCourses }) => ({
      login,
      name,
      role: mayCreateCourses ? 'instructor' : 'student',
    }));
  }

  /** Opens a session and returns the token for the cookie. */
  async open(account: Account, agent: string): Promise<string> {
    const token = newToken();
    await this.sessions.delete([{ expiresAt: LessThan(new Date()) }, { seenAt: LessThan(idleSince()) }]);
    await this.sessions.insert({
      tokenHash: hashOf(token),
      id: randomUUID(),
      accountId: account.id,
      agent: agent.slice(0, 400),
      since: new Date(),
      expiresAt: new Date(Date.now() + config.session.days * 24 * HOUR_MS),
      seenAt: new Date(),
    });
    return token;
  }

  /** Where somebody is signed in: first here, then what was used last. */
  async sessionsOf(me: Me, token: string): Promise<SessionView[]> {
    const sessions = await this.sessions.find({
      where: { accountId: me.id, expiresAt: MoreThan(new Date()), seenAt: MoreThan(idleSince()) },
      order: { seenAt: 'DESC' },
    });
    const here = hashOf(token);
    const views = sessions.map(({ id, agent, since, seenAt, tokenHash: hash }) => ({
      id,
      browser: browserName(agent),
      since: since.toISOString(),
      lastUsed: seenAt.toISOString(),
      isHere: hash === here,
    }));
    return [...views.filter(({ isHere }) => isHere), ...views.filter(({ isHere }) => !isHere)];
  }

  async end(sessionId: string): Promise<void> {
    await this.sessions.delete({ id: sessionId });
  }

  async close(token: string): Promise<void> {
    await this.sessions.delete({ tokenHash: hashOf(token) });
  }

  /** Who holds a session token. */
  async holder(token: string): Promise<Me | null> {
    const session = await this.sessions.findOneBy({
      tokenHash: hashOf(token),
      expiresAt: MoreThan(new Date()),
      seenAt: MoreThan(idleSince()),
    });
    if (session && Date.now() - session.seenAt.getTime() > SEEN_EVERY_MS)
      await this.sessions.update({ tokenHash: session.tokenHash }, { seenAt: new Date() });
    const account = session && (await this.accounts.findOneBy({ id: session.accountId }));
    return account && isOpen(account) ? meOf(account) : null;
  }

  /**
   * Accounts for those of the people that have none yet, without a password; the accounts of all, in the same order, and
   * which of them are new.
   */
  async makeMissing(
    people: readonly { login: string; name: string }[],
    manager: EntityManager,
  ): Promise<{ account: Account; isNew: boolean }[]> {
    // Two rosters at once: always in the same order, or each waits for the other.
    const made = [...people]
      .sort((a, b) => (a.login < b.login ? -1 : 1))
      .map(({ login, name }) => ({
        id: randomUUID(),
        login,
        name,
        mayCreateCourses: false,
        passwordHash: null,
        demo: false,
      }));
    if (made.length) await manager.createQueryBuilder().insert().into(Account).values(made).orIgnore().execute();
    const ids = new Set<string>(made.map(({ id }) => id));
    const found = await manager.findBy(Account, { login: In(people.map(({ login }) => login)) });
    const accounts = new Map(found.map((account) => [account.login, account]));
    return people.map(({ login }) => {
      const account = accounts.get(login)!;
      return { account, isNew: ids.has(account.id) };
    });
  }
}
