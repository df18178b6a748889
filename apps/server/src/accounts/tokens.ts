import { createHash, randomBytes } from 'node:crypto';

/** What nobody guesses, to be carried by a cookie or an address: 256 random bits. */
export const newToken = (): string => randomBytes(32).toString('base64url');
/** What the database keeps of it: a copy of the table is good for nothing. */
export const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex');
