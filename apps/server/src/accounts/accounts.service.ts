import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { hash, verify } from '@node-rs/argon2';
import { type DemoPerson, type Me } from '@sobrin/contracts';
import { createHash, randomBytes, randomUUID } from 'node:crypto';
import { LessThan, MoreThan, Not, Repository } from 'typeorm';
import { Account, Session } from './account.entity';

/** Argon2id with the parameters of RFC 9106 §4 scaled to a small server: 19 MiB, 2 passes. `2` is Argon2id. */
const ARGON2 = { algorithm: 2, memoryCost: 19_456, timeCost: 2, parallelism: 1 };
const SESSION_DAYS = 14;
/** Compared with where there is no such account, so that the answer takes as long. */
const NOBODY = '$argon2id$v=19$m=19456,t=2,p=1$c29tZXNhbHRzb21lc2FsdA$Nd4R0RRmQKXgdzFbZ3CwbXPkDrH5UYY4f0v1Z0h0W4A';

export const hashPassword = (password: string): Promise<string> => hash(password, ARGON2);
/** A sign-in name as it is kept: capitals and blanks around it make no other one. */
export const loginOf = (typed: string): string => typed.trim().toLowerCase();
const tokenHash = (token: string): string => createHash('sha256').update(token).digest('hex');

@Injectable()
export class AccountsService {
  constructor(
    @InjectRepository(Account) private readonly accounts: Repository<Account>,
    @InjectRepository(Session) private readonly sessions: Repository<Session>,
  ) {}

  /** The account for a sign-in name and password; null where they do not go together. */
  async verify(login: string, password: string): Promise<Account | null> {
    const account = await this.accounts.findOne({
      where: { login: loginOf(login) },
      select: { id: true, login: true, name: true, role: true, passwordHash: true, demo: true },
    });
    const fits = await verify(account?.passwordHash ?? NOBODY, password).catch(() => false);
    return account && fits ? account : null;
  }

  /** Sets a new password where the present one is right, and ends all other sessions of the account. */
  async changePassword(me: Me, current: string, next: string, token: string): Promise<boolean> {
    if (!(await this.verify(me.login, current))) return false;
    await this.accounts.update({ id: me.id }, { passwordHash: await hashPassword(next) });
    await this.sessions.delete({ accountId: me.id, tokenHash: Not(tokenHash(token)) });
    return true;
  }

  /** The first instructor of an empty Sobrin; null where there are accounts already. */
  async createFirstInstructor(): Promise<{ login: string; password: string } | null> {
    if (await this.accounts.existsBy({})) return null;
    const [login, password] = ['instructor', randomBytes(9).toString('base64url')];
    await this.accounts.insert({
      id: randomUUID(),
      login,
      name: 'Instructor',
      role: 'instructor',
      passwordHash: await hashPassword(password),
      demo: false,
    });
    return { login, password };
  }

  async demoPerson(login: string): Promise<Account | null> {
    return this.accounts.findOneBy({ login, demo: true });
  }

  async demoPeople(): Promise<DemoPerson[]> {
    const people = await this.accounts.find({ where: { demo: true }, order: { role: 'ASC', name: 'ASC' } });
    return people.map(({ login, name, role }) => ({ login, name, role }));
  }

  /** Opens a session and returns the token for the cookie. */
  async open(account: Account): Promise<string> {
    const token = randomBytes(32).toString('base64url');
    await this.sessions.delete({ expiresAt: LessThan(new Date()) });
    await this.sessions.insert({
      tokenHash: tokenHash(token),
      accountId: account.id,
      expiresAt: new Date(Date.now() + SESSION_DAYS * 86_400_000),
    });
    return token;
  }

  async close(token: string): Promise<void> {
    await this.sessions.delete({ tokenHash: tokenHash(token) });
  }

  /** Who holds a session token. */
  async holder(token: string): Promise<Me | null> {
    const session = await this.sessions.findOneBy({ tokenHash: tokenHash(token), expiresAt: MoreThan(new Date()) });
    const account = session && (await this.accounts.findOneBy({ id: session.accountId }));
    return account ? { id: account.id, login: account.login, name: account.name, role: account.role } : null;
  }

  /** The account of a login, made with a first password where there is none. */
  async findOrCreateStudent(login: string, name: string): Promise<{ account: Account; password: string | null }> {
    const found = await this.accounts.findOneBy({ login });
    if (found) return { account: found, password: null };
    const password = randomBytes(9).toString('base64url');
    const account = this.accounts.create({
      id: randomUUID(),
      login,
      name,
      role: 'student',
      passwordHash: await hashPassword(password),
      demo: false,
    });
    await this.accounts.insert(account);
    return { account, password };
  }
}
