import { type Content, type TDocumentDefinitions } from 'pdfmake/interfaces';

/** Writings that the font of papers does not have, by the font that has them. */
export const MORE_FONTS = ['Arabic', 'Devanagari', 'Emoji', 'Hebrew', 'Thai'] as const;
export type MoreFont = (typeof MORE_FONTS)[number];

/** What stands from right to left, which makers of PDF do not do: the order of its words is turned. */
const TURNED: ReadonlySet<MoreFont> = new Set(['Arabic', 'Hebrew']);
const SIGNS: Readonly<Record<Exclude<MoreFont, 'Emoji'>, string>> = {
  Arabic: String.raw`\p{Script=Arabic}\p{M}\u060C\u061B\u061F\u0640`,
  Devanagari: String.raw`\p{Script=Devanagari}\u0964\u0965\u200C\u200D`,
  Hebrew: String.raw`\p{Script=Hebrew}\p{M}`,
  Thai: String.raw`\p{Script=Thai}`,
};
const words = ([font, signs]: [string, string]): string => String.raw`(?<${font}>[${signs}]+(?:\s+[${signs}]+)*)`;
/** Words of one writing with the spaces between them, and emoji with what joins and tints them. */
const RUNS = new RegExp(
  [
    ...Object.entries(SIGNS).map(words),
    String.raw`(?<Emoji>(?:\p{Extended_Pictographic}[\uFE0F\u200D\u{1F3FB}-\u{1F3FF}]*)+)`,
  ].join('|'),
  'gu',
);
/** Letters of writings that no font here has. */
const UNWRITTEN = new RegExp(
  String.raw`(?![\p{Script=Latin}\p{Script=Greek}\p{Script=Cyrillic}\p{Script=Common}\p{Script=Inherited}${Object.values(SIGNS).join('')}])\p{L}`,
  'gu',
);
/** Signs that are pictures and letters at once: the font of papers has them. */
const PLAIN = /^[©®™‼⁉ℹ↔-↙]+$/u;

interface Run {
  readonly text: string;
  readonly font: MoreFont | null;
}

/** A text in pieces of one font each. */
function runsOf(text: string): Run[] {
  const runs: Run[] = [];
  let from = 0;
  for (const match of text.matchAll(RUNS)) {
    const [found] = match;
    if (PLAIN.test(found)) continue;
    if (match.index > from) runs.push({ text: text.slice(from, match.index), font: null });
    const font = MORE_FONTS.find((each) => match.groups![each] !== undefined)!;
    const bare = font === 'Emoji' ? found.replaceAll(/[\uFE0F\u200D]/gu, '') : found;
    runs.push({ text: TURNED.has(font) ? bare.split(/\s+/).reverse().join(' ') : bare, font });
    from = match.index + found.length;
  }
  if (from < text.length) runs.push({ text: text.slice(from), font: null });
  return runs;
}

/** Some letters that are asked about are enough. */
const MOST_TOLD = 6;

/**
 * The document with every text in fonts that have its signs, which fonts it needs beside its own, and as a sentence which
 * letters none has; null where all have one. Pure.
 */
export function inFonts(definition: TDocumentDefinitions): {
  definition: TDocumentDefinitions;
  needs: MoreFont[];
  unwritten: string | null;
} {
  const needs = new Set<MoreFont>();
  const unwritten = new Set<string>();
  const look = (text: string): Run[] => {
    const runs = runsOf(text);
    for (const { text: piece, font } of runs)
      if (font) needs.add(font);
      else for (const [letter] of piece.matchAll(UNWRITTEN)) unwritten.add(letter);
    return runs;
  };
  const pieces = (text: string): string | Content[] => {
    const runs = look(text);
    return runs.some(({ font }) => font)
      ? runs.map(({ text: piece, font }) => ({ text: piece, ...(font && { font }) }))
      : text;
  };
  const words = (svg: string): string =>
    svg.replaceAll(/>([^<>]+)</g, (whole, text: string) => {
      const runs = look(text);
      if (!runs.some(({ font }) => font)) return whole;
      return `>${runs.map(({ text: piece, font }) => (font ? `<tspan font-family="${font}" font-weight="400">${piece}</tspan>` : piece)).join('')}<`;
    });
  const walk = (value: unknown): unknown => {
    if (typeof value === 'string') {
      const made = pieces(value);
      return typeof made === 'string' ? made : { text: made };
    }
    if (Array.isArray(value)) return value.map(walk);
    if (value === null || typeof value !== 'object') return value;
    return Object.fromEntries(
      Object.entries(value).map(([key, inner]: [string, unknown]): [string, unknown] => {
        if (key === 'svg') return [key, words(inner as string)];
        if (key === 'text') return [key, typeof inner === 'string' ? pieces(inner) : walk(inner)];
        if (key === 'table') return [key, { ...(inner as object), body: walk((inner as { body: unknown }).body) }];
        return [key, HOLDING.has(key) ? walk(inner) : inner];
      }),
    );
  };
  const content = walk(definition.content) as Content;
  const letters = [...unwritten];
  const some = letters.slice(0, MOST_TOLD).join(' ') + (letters.length > MOST_TOLD ? ' …' : '');
  return {
    definition: { ...definition, content },
    needs: [...needs],
    unwritten: letters.length
      ? `Papers have no letters for ${some}, so boxes stand in their place. An SVG has them: it takes the letters of the machine that shows it.`
      : null,
  };
}
/** Where a document has other parts of it. */
const HOLDING = new Set(['stack', 'ol', 'ul', 'columns', 'content']);
