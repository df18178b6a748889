import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type Me, type SecondFactorSecret, type SecondFactorView } from '@sobrin/contracts';
import { randomBytes } from 'node:crypto';
import { Secret, TOTP } from 'otpauth';
import { DataSource, type EntityManager } from 'typeorm';
import { refuse } from '../platform/refusal';
import { OneTimeLink, SecondFactor } from './account.entity';
import { hashOf } from './tokens';

/** RFC 6238 with what every program for it takes: SHA-1, six digits, 30 s. */
const PERIOD_S = 30;
/** Clocks are off by so many steps at the most. */
const WINDOW = 1;
/** Octets of a secret (RFC 4226 §4 R6 asks for 16 and recommends 20). */
const SECRET_BYTES = 20;
const SPARE_CODES = 10;

const totpOf = (secret: string, login: string): TOTP =>
  new TOTP({ issuer: 'Sobrin', label: login, secret: Secret.fromBase32(secret), period: PERIOD_S });
/** A spare code as it is compared: however it was typed. */
const plain = (code: string): string => code.replace(/[\s-]/g, '').toLowerCase();

/** A second factor beside the password: a code of a program on a telephone, or one of the spare codes. */
@Injectable()
export class SecondFactorService {
  constructor(@InjectDataSource() private readonly db: DataSource) {}

  async of(me: Me): Promise<SecondFactorView> {
    const found = await this.db.manager.findOneBy(SecondFactor, { accountId: me.id, isOn: true });
    return { isOn: found !== null, spareCodes: found?.spareCodes.length ?? 0 };
  }

  async isOn(accountId: string, manager: EntityManager = this.db.manager): Promise<boolean> {
    return manager.existsBy(SecondFactor, { accountId, isOn: true });
  }

  /** A new secret, which asks for nothing until a code of it is shown. */
  async begin(me: Me): Promise<SecondFactorSecret> {
    if (await this.isOn(me.id)) throw refuse.state('Your second factor is on already. End it first to set up another.');
    const secret = new Secret({ size: SECRET_BYTES }).base32;
    await this.db.manager.upsert(
      SecondFactor,
      { accountId: me.id, secret, isOn: false, lastStep: '0', spareCodes: [] },
      ['accountId'],
    );
    return { secret, address: totpOf(secret, me.login).toString() };
  }

  /** Switches it on with a first code; the spare codes, which are told once. */
  async confirm(me: Me, code: string): Promise<string[]> {
    const step = await this.stepOf(me.id, me.login, code, false);
    const codes = Array.from({ length: SPARE_CODES }, () => randomBytes(5).toString('hex'));
    const { affected } = await this.db.manager
      .createQueryBuilder()
      .update(SecondFactor)
      .set({ isOn: true, lastStep: String(step ?? 0), spareCodes: codes.map(hashOf) })
      .where('account_id = :id AND NOT is_on AND :step > 0', { id: me.id, step: step ?? 0 })
      .execute();
    if (!affected)
      throw refuse.input(
        'The code does not fit. Check that the clock of your telephone is right, and type the code that is shown now.',
      );
    // An address from before would be a way round it.
    await this.db.manager.delete(OneTimeLink, { accountId: me.id });
    return codes.map((each) => `${each.slice(0, 5)}-${each.slice(5)}`);
  }

  async end(accountId: string, manager: EntityManager = this.db.manager): Promise<void> {
    await manager.delete(SecondFactor, { accountId });
  }

  /** Whether a code is right. Each is good once, also where many try it at the same moment. */
  async use(accountId: string, login: string, code: string): Promise<boolean> {
    const step = await this.stepOf(accountId, login, code, true);
    if (step !== null) {
      const [, used] = await this.db.query<[unknown, number]>(
        'UPDATE second_factor SET last_step = $2 WHERE account_id = $1 AND is_on AND last_step < $2',
        [accountId, step],
      );
      return used === 1;
    }
    const [, used] = await this.db.query<[unknown, number]>(
      'UPDATE second_factor SET spare_codes = array_remove(spare_codes, $2) WHERE account_id = $1 AND is_on AND $2 = ANY(spare_codes)',
      [accountId, hashOf(plain(code))],
    );
    return used === 1;
  }

  /** The step of time whose code it is; null where it is none. */
  private async stepOf(accountId: string, login: string, code: string, isOn: boolean): Promise<number | null> {
    const found = await this.db.manager.findOneBy(SecondFactor, { accountId, isOn });
    const token = plain(code);
    if (!found || !/^\d{6}$/.test(token)) return null;
    const delta = totpOf(found.secret, login).validate({ token, window: WINDOW });
    return delta === null ? null : Math.floor(Date.now() / 1000 / PERIOD_S) + delta;
  }
}
