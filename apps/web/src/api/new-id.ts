/** A random UUID (RFC 9562 version 4); works on plain http too, where crypto.randomUUID does not. */
export function newId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  bytes[6] = (bytes[6]! & 0x0f) | 0x40;
  bytes[8] = (bytes[8]! & 0x3f) | 0x80;
  const hex = [...bytes].map((byte) => byte.toString(16).padStart(2, '0')).join('');
  return [hex.slice(0, 8), hex.slice(8, 12), hex.slice(12, 16), hex.slice(16, 20), hex.slice(20)].join('-');
}

const SIGNS = 'abcdefghijklmnopqrstuvwxyz0123456789';
/** Some letters and digits that nobody else draws. */
const randomSigns = (count: number): string =>
  [...crypto.getRandomValues(new Uint8Array(count))].map((byte) => SIGNS[byte % SIGNS.length]).join('');

/**
 * The id of a new device or link: it begins with what it is called when it comes, to be read in texts and paths, and ends
 * random, so that what two people add never meets. It follows no rename.
 */
export function readableId(name: string): string {
  const slug = name
    .toLowerCase()
    .replaceAll(/[^a-z0-9]+/g, '-')
    .replaceAll(/^-+|-+$/g, '')
    .slice(0, 32);
  return `${slug || 'x'}${idEnding()}`;
}
/** What ids of new things end with. */
export const idEnding = (): string => `-${randomSigns(5)}`;

/** A short id for a thing in a document: ids carry no meaning and never change. */
export const newShortId = (letter: string): string => `${letter}${newId().replaceAll('-', '').slice(0, 10)}`;
