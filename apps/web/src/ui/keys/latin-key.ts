/**
 * What a key means as a shortcut: what it writes; where that is a letter or digit of another script (Cyrillic, Greek,
 * Arabic …), the Latin one that lies on the same key.
 */
export function latinKey({ key, code }: { key: string; code: string }): string {
  if ([...key].length !== 1 || key.charCodeAt(0) < 128 || !/[\p{L}\p{N}]/u.test(key) || /\p{Script=Latin}/u.test(key))
    return key;
  return /^(?:Key|Digit)([A-Z0-9])$/.exec(code)?.[1]?.toLowerCase() ?? key;
}
