import { sha256 } from '@noble/hashes/sha2';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils';

/** Canonical JSON (RFC 8785): properties sorted by UTF-16 code units, no white space, ECMAScript numbers. */
export function canonicalJson(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(canonicalJson).join(',')}]`;
  if (value !== null && typeof value === 'object') {
    const entries = Object.entries(value).filter(([, item]) => item !== undefined);
    entries.sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0));
    return `{${entries.map(([key, entry]) => `${JSON.stringify(key)}:${canonicalJson(entry)}`).join(',')}}`;
  }
  return JSON.stringify(value);
}

/** SHA-256 over the canonical JSON of a document, in hex: equal for equal documents whatever their order of keys. */
export const documentHash = (value: unknown): string => bytesToHex(sha256(utf8ToBytes(canonicalJson(value))));
