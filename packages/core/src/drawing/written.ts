/** A stretch of text that is written alike. */
export interface Run {
  readonly text: string;
  readonly bold?: boolean;
  readonly italic?: boolean;
  readonly mono?: boolean;
}

/** Marks of a text that is written in several ways, as in Markdown (CommonMark 0.31 §5.2, §6.1, §6.2). */
const MARKS = /(\*\*|\*|`)/;
const BULLET = '• ';

/** Wherever a text was written: with one sign at the end of a line or two, or those that Unicode has for it. */
export const LINE_ENDS = /\r\n|[\n\r\u2028\u2029]/;

/**
 * A text of several lines as it is written: **bold**, *leaning*, `of one width`, "# a heading" and "- an item of a list",
 * put into lines of at most so many letters. A mark that is not closed stands as it was typed. Pure.
 */
export function writtenLines(text: string, most: number): Run[][] {
  return text.split(LINE_ENDS).flatMap((paragraph) => {
    const [, heading, bullet, rest] = /^(#{1,3}\s+)?([-*]\s+)?(.*)$/.exec(paragraph)!;
    const words = wordsOf(rest!, heading !== undefined);
    const room = bullet === undefined ? most : most - BULLET.length;
    const lines = inLines(words, room);
    if (bullet === undefined) return lines;
    return lines.map((line, at) => [{ text: at === 0 ? BULLET : '\u00a0\u00a0\u00a0' }, ...line]);
  });
}

/** What is written in a line, without the way in which it is. */
export const plainLine = (line: readonly Run[]): string => line.map(({ text }) => text).join('');

/** How wide a stretch is, in letters of the usual way. */
const widthOf = ({ text, bold, mono }: Run): number => text.length * (mono ? 1.2 : bold ? 1.1 : 1);

/** How wide a line is, in letters of the usual way. */
export const runsWidth = (line: readonly Run[]): number => line.reduce((sum, run) => sum + widthOf(run), 0);

/** Stretches of one way of writing, word by word; a word of several ways is glued together. */
type Word = Run & { readonly glued: boolean };

function wordsOf(text: string, bold: boolean): Word[] {
  const parts = text.split(MARKS);
  const open = { '**': false, '*': false, '`': false };
  type Mark = keyof typeof open;
  const isMark = (part: string, at: number): part is Mark => at % 2 === 1 && part in open;
  const words: Word[] = [];
  let isGlued = false;
  for (const [at, part] of parts.entries()) {
    // A mark opens before a letter and closes after one.
    const opens = (mark: string, from: number): boolean =>
      /^\S/.test(parts[from + 1] ?? '') &&
      parts.some((other, later) => later > from + 1 && other === mark && later % 2 === 1 && closes(later));
    const closes = (from: number): boolean => /\S$/.test(parts[from - 1] ?? '');
    if (isMark(part, at) && (part === '`' || !open['`']) && (open[part] ? closes(at) : opens(part, at))) {
      open[part] = !open[part];
      continue;
    }
    const style = {
      ...((bold || open['**']) && { bold: true }),
      ...(open['*'] && { italic: true }),
      ...(open['`'] && { mono: true }),
    };
    const pieces = part.split(/(\s+)/);
    for (const piece of pieces) {
      if (piece === '') continue;
      if (/^\s+$/.test(piece)) isGlued = false;
      else {
        words.push({ text: piece, ...style, glued: isGlued });
        isGlued = true;
      }
    }
  }
  return words;
}

function inLines(words: readonly Word[], most: number): Run[][] {
  const lines: Run[][] = [[]];
  let length = 0;
  for (const { glued, ...word } of words) {
    const gap = glued || length === 0 ? '' : ' ';
    if (length > 0 && !glued && length + gap.length + widthOf(word) > most) {
      lines.push([word]);
      length = widthOf(word);
      continue;
    }
    lines.push(appended(lines.pop()!, { ...word, text: gap + word.text }));
    length += gap.length + widthOf(word);
  }
  return lines;
}

/** A line with one more stretch: it goes on with the last one where both are written alike. */
function appended(line: readonly Run[], run: Run): Run[] {
  const last = line.at(-1);
  const isAlike = last && last.bold === run.bold && last.italic === run.italic && last.mono === run.mono;
  return isAlike ? [...line.slice(0, -1), { ...last, text: last.text + run.text }] : [...line, run];
}
