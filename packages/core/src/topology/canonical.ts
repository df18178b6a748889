import { sha256 } from '@noble/hashes/sha2';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils';

/** Canonical JSON (RFC 8785): properties sorted by UTF-16 code units, no white space, ECMAScript numbers. */
export function canonicalJson(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(canonicalJson).join(',')}]`;
  if (value === null || typeof value !== 'object') return JSON.stringify(value);
  const properties = value as Readonly<Record<string, unknown>>;
  let text = '';
  for (const key of Object.keys(properties).sort()) {
    const item = properties[key];
    if (item !== undefined) text += `${text && ','}${JSON.stringify(key)}:${canonicalJson(item)}`;
  }
  return `{${text}}`;
}

/** SHA-256 over the canonical JSON of a document, in hex: equal for equal documents whatever their order of keys. */
export const documentHash = (value: unknown): string => bytesToHex(sha256(utf8ToBytes(canonicalJson(value))));
