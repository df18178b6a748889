import { HttpException, Injectable } from '@nestjs/common';
import { formatPrefix, parseAddress, prefixOf } from '@sobrin/core/address';
import { DataSource } from 'typeorm';
import { refuse } from '../platform/refusal';
import { hashOf } from './tokens';

/**
 * Tries at one name, from one browser or by one person, and tries from one address, within the time below. A class of 300
 * sits behind one address: it signs in at the bell, where a try counts until its password is compared, and mistypes.
 */
const TRIES = { ofOne: 10, fromAddress: 400 };
const WINDOW_MINUTES = 15;
/** The hosts of one IPv6 subnet are one person's as well as a class's: they count as one address (RFC 4291 §2.5.4). */
const SUBNET_LENGTH = 64;

/** What guesses are counted by. */
export interface Guess {
  /** The sign-in name or the person whose password is tried. */
  of: string;
  /** A browser in which this person has signed in before: it has tries of its own, which no stranger can use up. */
  browser?: string | undefined;
  address: string;
}

/** Counts tries of passwords, in the database: for all servers, and before a password is compared, so that none slips through. */
@Injectable()
export class GuessesService {
  constructor(private readonly db: DataSource) {}

  /**
   * Tries a password: `tried` says what comes of it, null where it is wrong. What is right uses up no try.
   * @throws where too many were wrong; then nothing is tried.
   */
  async count<T>(guess: Guess, tried: () => Promise<T | null>): Promise<T | null> {
    const own = `${guess.browser === undefined ? 'name' : `browser ${guess.browser}`} ${guess.of}`;
    const address = `address ${neighbourhoodOf(guess.address)}`;
    const taken: string[] = [];
    for (const [key, most] of [
      [address, TRIES.fromAddress],
      [own, TRIES.ofOne],
    ] as const) {
      const { count, minutes } = await this.add(key);
      if (count > most) {
        await this.giveBack([...taken, key]);
        throw tooMany(key === address, minutes);
      }
      taken.push(key);
    }
    const right = await tried();
    if (right !== null) await this.giveBack(taken);
    return right;
  }

  /** Counts one try more; how many there are now, and in how many minutes they are forgotten. */
  private async add(key: string): Promise<{ count: number; minutes: number }> {
    const isOver = `guess.since < now() - interval '${WINDOW_MINUTES} minutes'`;
    const [row] = await this.db.query<{ count: number; minutes: number }[]>(
      `INSERT INTO guess (key, since, count) VALUES ($1, now(), 1)
       ON CONFLICT (key) DO UPDATE SET
         count = CASE WHEN ${isOver} THEN 1 ELSE guess.count + 1 END,
         since = CASE WHEN ${isOver} THEN now() ELSE guess.since END
       RETURNING count,
         ceil(extract(epoch FROM since + interval '${WINDOW_MINUTES} minutes' - now()) / 60)::int AS minutes`,
      [hashOf(key)],
    );
    return row!;
  }

  /** Takes tries back that were no guesses, and forgets what is over. */
  private async giveBack(keys: readonly string[]): Promise<void> {
    // One by one: two sign-ins that hold several rows at once could wait for each other.
    for (const key of keys.map(hashOf))
      await this.db.query('UPDATE guess SET count = count - 1 WHERE key = $1 AND count > 0', [key]);
    await this.db.query(`DELETE FROM guess WHERE since < now() - interval '${WINDOW_MINUTES} minutes'`);
  }
}

/** The addresses that count as one: an IPv4 address, also where it is written as IPv6, or a subnet of IPv6. */
export function neighbourhoodOf(address: string): string {
  const plain = address.replace(/^::ffff:(?=\d+\.)/i, '').replace(/%.*$/, '');
  const read = parseAddress(plain);
  if (!read.ok || read.value.family === 4) return plain;
  return formatPrefix(prefixOf(read.value, SUBNET_LENGTH));
}

const tooMany = (isAddress: boolean, minutes: number): HttpException => {
  const wait = minutes === 1 ? 'Wait a minute' : `Wait ${minutes} minutes`;
  return refuse.tooMany(
    isAddress
      ? `Too many wrong passwords came from this address. ${wait}, then try again.`
      : `Too many wrong passwords for this name. ${wait}, then try again; or take a browser in which you have signed in before.`,
  );
};
