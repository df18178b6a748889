/**
 * Whether a text is as a pattern has it: `*` stands for any letters, `#` for digits, `?` for one letter; all else for
 * itself, without case. In time proportional to the lengths of both multiplied, whatever the pattern.
 */
export function isLike(text: string, pattern: string): boolean {
  const [letters, wanted] = [[...text.trim().toLowerCase()], [...pattern.trim().toLowerCase()]];
  /** Which places of the text a beginning of the pattern can end at. */
  let ends = new Set([0]);
  for (const sign of wanted) {
    const next = new Set<number>();
    const isDigit = (at: number): boolean => /^\d$/.test(letters[at] ?? '');
    for (const at of [...ends].sort((a, b) => a - b)) {
      if (sign === '*') for (let end = at; end <= letters.length && !next.has(end); end++) next.add(end);
      else if (sign === '#') for (let end = at + 1; end <= letters.length && isDigit(end - 1); end++) next.add(end);
      else if (at < letters.length && (sign === '?' || letters[at] === sign)) next.add(at + 1);
    }
    ends = next;
  }
  return ends.has(letters.length);
}
