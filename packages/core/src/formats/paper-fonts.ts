import { type Content, type TDocumentDefinitions } from 'pdfmake/interfaces';

/** Writings that the font of papers does not have, by the font that has them. */
export const MORE_FONTS = ['Arabic', 'Emoji'] as const;
export type MoreFont = (typeof MORE_FONTS)[number];

const ARABIC = String.raw`\p{Script=Arabic}\p{M}\u060C\u061B\u061F\u0640`;
/** Words of Arabic with the spaces between them, and emoji with what joins and tints them. */
const RUNS = new RegExp(
  String.raw`([${ARABIC}]+(?:\s+[${ARABIC}]+)*)|((?:\p{Extended_Pictographic}[\uFE0F\u200D\u{1F3FB}-\u{1F3FF}]*)+)`,
  'gu',
);
/** Signs that are pictures and letters at once: the font of papers has them. */
const PLAIN = /^[©®™‼⁉ℹ↔-↙]+$/u;

interface Run {
  readonly text: string;
  readonly font: MoreFont | null;
}

/** A text in pieces of one font each. Words of Arabic stand from right to left, which makers of PDF do not do. */
function runsOf(text: string): Run[] {
  const runs: Run[] = [];
  let from = 0;
  for (const match of text.matchAll(RUNS)) {
    const [found, arabic] = match;
    if (PLAIN.test(found)) continue;
    if (match.index > from) runs.push({ text: text.slice(from, match.index), font: null });
    runs.push(
      arabic === undefined
        ? { text: found.replaceAll(/[\uFE0F\u200D]/gu, ''), font: 'Emoji' }
        : { text: arabic.split(/\s+/).reverse().join(' '), font: 'Arabic' },
    );
    from = match.index + found.length;
  }
  if (from < text.length) runs.push({ text: text.slice(from), font: null });
  return runs;
}

/** The document with every text in fonts that have its signs, and which fonts it needs beside its own. Pure. */
export function inFonts(definition: TDocumentDefinitions): { definition: TDocumentDefinitions; needs: MoreFont[] } {
  const needs = new Set<MoreFont>();
  const pieces = (text: string): string | Content[] => {
    const runs = runsOf(text);
    for (const { font } of runs) if (font) needs.add(font);
    return runs.some(({ font }) => font)
      ? runs.map(({ text: piece, font }) => ({ text: piece, ...(font && { font }) }))
      : text;
  };
  const words = (svg: string): string =>
    svg.replaceAll(/>([^<>]+)</g, (whole, text: string) => {
      const runs = runsOf(text);
      for (const { font } of runs) if (font) needs.add(font);
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
  return { definition: { ...definition, content: walk(definition.content) as Content }, needs: [...needs] };
}
/** Where a document has other parts of it. */
const HOLDING = new Set(['stack', 'ol', 'ul', 'columns', 'content']);
