/**
 * The entry of a map that came from outside, never something inherited: `map["constructor"]` of a plain object is a
 * function, and a document may well use that word as an id.
 */
export function entryOf<T>(map: Readonly<Record<string, T>> | undefined, key: string): T | undefined {
  return map && Object.hasOwn(map, key) ? map[key] : undefined;
}

/** Sets the entry of a map by a key that came from outside. `map["__proto__"] = value` would change what all entries inherit. */
export function setEntry(map: Record<string, unknown>, key: string, value: unknown): void {
  if (key === '__proto__')
    Object.defineProperty(map, key, { value, enumerable: true, configurable: true, writable: true });
  else map[key] = value;
}

/** Entries by id in a fixed order, so that the order of keys in a file never matters. */
export function entriesById<T>(map: Readonly<Record<string, T>> | undefined): [string, T][] {
  return Object.entries(map ?? {}).sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0));
}

/** Whether nothing is in a value: no text, no entries. False and 0 are something. */
export const isEmpty = (value: unknown): boolean =>
  value === undefined ||
  value === null ||
  value === '' ||
  (typeof value === 'object' && Object.keys(value).length === 0);

/** An object without what is empty, as documents store it; undefined where nothing is left. */
export function filled<T extends object>(value: T): { [K in keyof T]?: Exclude<T[K], undefined> } | undefined {
  const left = Object.entries(value).filter(([, each]) => !isEmpty(each));
  return left.length ? (Object.fromEntries(left) as { [K in keyof T]?: Exclude<T[K], undefined> }) : undefined;
}
