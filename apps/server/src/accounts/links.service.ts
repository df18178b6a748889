import { Injectable } from '@nestjs/common';
import { DataSource, type EntityManager, In, LessThan, MoreThan } from 'typeorm';
import { Account, OneTimeLink, Session } from './account.entity';
import { hashPassword, isOpen } from './accounts.service';
import { hashOf, newToken } from './tokens';

const LINK_DAYS = 7;
/** The page that a token belongs to. After "#" no browser sends it on, and no proxy writes it down. */
const pathOf = (token: string): string => `/enter#${token}`;

/** Addresses with which people choose a password, once: for who is new, and for who has lost theirs. */
@Injectable()
export class LinksService {
  constructor(private readonly db: DataSource) {}

  /** Paths for accounts, by id. Each account has one at most: those from before are good for nothing now. */
  make(accounts: readonly string[]): Promise<ReadonlyMap<string, string>> {
    return this.db.transaction((manager) => this.makeWithin(manager, accounts));
  }

  /** The same as a part of a transaction that goes on. */
  async makeWithin(manager: EntityManager, accounts: readonly string[]): Promise<ReadonlyMap<string, string>> {
    if (!accounts.length) return new Map();
    const ids = In([...accounts].sort());
    // Of two that are made at once the second ends the first.
    await manager.find(Account, {
      where: { id: ids },
      select: { id: true },
      order: { id: 'ASC' },
      lock: { mode: 'pessimistic_write' },
    });
    await manager.delete(OneTimeLink, [{ accountId: ids }, { expiresAt: LessThan(new Date()) }]);
    const tokens = accounts.map((id) => [id, newToken()] as const);
    const expiresAt = new Date(Date.now() + LINK_DAYS * 86_400_000);
    await manager.insert(
      OneTimeLink,
      tokens.map(([accountId, token]) => ({ tokenHash: hashOf(token), accountId, expiresAt })),
    );
    return new Map(tokens.map(([id, token]) => [id, pathOf(token)]));
  }

  /** Whose token this is; null where it is used up, too old or none. */
  async ownerOf(token: string): Promise<Account | null> {
    const link = await this.db.manager.findOneBy(OneTimeLink, {
      tokenHash: hashOf(token),
      expiresAt: MoreThan(new Date()),
    });
    const account = link && (await this.db.manager.findOneBy(Account, { id: link.accountId }));
    return account && isOpen(account) ? account : null;
  }

  /** Uses a token up: sets the password and ends all sessions of its owner. False where somebody was faster. */
  async use(token: string, account: Account, password: string): Promise<boolean> {
    const passwordHash = await hashPassword(password);
    return this.db.transaction(async (manager) => {
      const { affected } = await manager.delete(OneTimeLink, { tokenHash: hashOf(token), accountId: account.id });
      if (!affected) return false;
      await manager.update(Account, { id: account.id }, { passwordHash });
      await manager.delete(Session, { accountId: account.id });
      return true;
    });
  }
}
