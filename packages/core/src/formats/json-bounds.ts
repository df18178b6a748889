/** What a JSON text may hold at the most. */
export interface JsonBounds {
  /** Levels of lists and objects. */
  readonly depth: number;
  /** Values: texts, numbers, words, lists and objects, each property counted with its value. */
  readonly values: number;
}

/** Why a text is not taken, and the offset of the place: too much of something, or a character that cannot be stored. */
export interface Excess {
  readonly of: keyof JsonBounds | 'character';
  readonly offset: number;
}

const [QUOTE, BACKSLASH, COMMA, COLON] = [0x22, 0x5c, 0x2c, 0x3a];
const [OPENING, CLOSING] = [new Set([0x5b, 0x7b]), new Set([0x5d, 0x7d])];

/**
 * Whether a text stays within bounds and can be stored, before anything is made of it: one look at each character, and
 * no memory of its own. NUL, and halves of characters without their other half (lone surrogates), are valid in JSON
 * (RFC 8259, 8.2) and in no database. A text that is no JSON is looked at as far as it looks like it. Null where all is well.
 */
export function excessOf(text: string, bounds: JsonBounds): Excess | null {
  let [depth, values] = [0, 0];
  for (let at = 0; at < text.length; at++) {
    const char = text.charCodeAt(at);
    if (char === QUOTE) {
      const end = endOfText(text, at + 1);
      if (end < 0) return { of: 'character', offset: -end };
      at = end;
    } else if (OPENING.has(char)) {
      if (++depth > bounds.depth) return { of: 'depth', offset: at };
      if (++values > bounds.values) return { of: 'values', offset: at };
    } else if (CLOSING.has(char)) depth--;
    else if ((char === COMMA || char === COLON) && ++values > bounds.values) return { of: 'values', offset: at };
  }
  return null;
}

/** Where the quote stands that closes a text; the place of a character that cannot be stored, as a negative number. */
function endOfText(text: string, from: number): number {
  for (let at = from; at < text.length; at++) {
    const char = text.charCodeAt(at);
    if (char === QUOTE) return at;
    if (char === BACKSLASH) {
      const unit = unitAt(text, at);
      if (unit === 0) return -at;
      if (isLow(unit)) return -at;
      if (isHigh(unit)) {
        if (!isLow(unitAt(text, at + 6))) return -at;
        at += 6;
      }
      at++;
    } else if (isLow(char)) return -at;
    else if (isHigh(char) && !isLow(text.charCodeAt(++at))) return -at;
  }
  return text.length;
}

const isHigh = (unit: number): boolean => unit >= 0xd800 && unit <= 0xdbff;
const isLow = (unit: number): boolean => unit >= 0xdc00 && unit <= 0xdfff;
/** The number of an escape like "\u00e9"; -1 where none stands. */
const unitAt = (text: string, at: number): number =>
  /^\\u[0-9a-f]{4}$/i.test(text.slice(at, at + 6)) ? Number.parseInt(text.slice(at + 2, at + 6), 16) : -1;
