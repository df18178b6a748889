/**
 * The entry of a map that came from outside, never something inherited: `map["constructor"]` of a plain object is a
 * function, and a document may well use that word as an id.
 */
export function own<T>(map: Readonly<Record<string, T>> | undefined, key: string): T | undefined {
  return map && Object.hasOwn(map, key) ? map[key] : undefined;
}

/** Entries by id in a fixed order, so that the order of keys in a file never matters. */
export function entriesById<T>(map: Readonly<Record<string, T>> | undefined): [string, T][] {
  return Object.entries(map ?? {}).sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0));
}
