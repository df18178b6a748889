import { type PracticeQuestion } from '@sobrin/core/address';
import { type TableLine } from '@sobrin/core/plan';

/** Something to print: a title, and below it paragraphs, lists and tables. */
export interface Paper {
  title: string;
  under: string;
  parts: PaperPart[];
}
export type PaperPart =
  | { kind: 'words'; text: string }
  | { kind: 'list'; items: string[]; answerLines?: boolean; pageBreak?: boolean; heading?: string }
  | { kind: 'table'; columns: string[]; rows: PaperCell[][]; widths?: (number | '*' | 'auto')[] };
/** A text, or a text on a ground of its own tone. */
export type PaperCell = string | { text: string; fill: string; colour: string };

export function practicePaper(title: string, seed: number, questions: readonly PracticeQuestion[]): Paper {
  return {
    title: 'Subnetting practice',
    under: `${title} · sheet ${seed} · name: ______________________`,
    parts: [
      { kind: 'list', items: questions.map((question) => question.question), answerLines: true },
      { kind: 'list', heading: 'Answers', items: questions.map((question) => question.answer), pageBreak: true },
    ],
  };
}

/** Columns of the address table that a worksheet can leave blank. */
export const BLANKABLE = ['VLAN', 'Subnet', 'Gateway', 'Pool'] as const;
export type Blankable = (typeof BLANKABLE)[number];

/** The light tones of VLANs, as paper is light: ground and text. */
export type ToneOf = (tone: number) => { fill: string; colour: string };

/** The address table; as a worksheet some of its columns are empty boxes to write into. */
export function addressPaper(
  title: string,
  lines: readonly TableLine[],
  blanks: ReadonlySet<Blankable>,
  toneOf: ToneOf,
): Paper {
  const both = (a: string, b: string): string => [a, b].filter(Boolean).join('\n');
  const hasPool = lines.some((line) => line.pool) || blanks.has('Pool');
  const cell = (column: Blankable, text: PaperCell): PaperCell => (blanks.has(column) ? '' : text);
  return {
    title,
    under: blanks.size ? 'Worksheet: addresses · name: ______________________' : 'Address table',
    parts: [
      {
        kind: 'table',
        columns: ['Group', 'Site', 'VLAN', 'Subnet', 'Gateway', ...(hasPool ? ['Pool'] : [])],
        widths: ['*', 'auto', 32, 'auto', 'auto', ...(hasPool ? ['auto' as const] : [])],
        rows: lines.map((line) => [
          line.name,
          line.site,
          cell('VLAN', line.vlan === null ? '' : { text: String(line.vlan), ...toneOf(line.tone ?? 7) }),
          cell('Subnet', both(line.subnet, line.subnet6)),
          cell('Gateway', both(line.gateway, line.gateway6)),
          ...(hasPool ? [cell('Pool', line.pool.replaceAll(', ', '\n'))] : []),
        ]),
      },
    ],
  };
}
