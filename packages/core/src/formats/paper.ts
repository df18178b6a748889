import { type Content, type TDocumentDefinitions } from 'pdfmake/interfaces';
import { type Sheet } from '../bench';
import { type Box, sceneOf } from '../drawing';
import { type Topology } from '../topology';
import { drawnWords, printedSheets, scheduleRows } from './html';
import { type SvgOptions, pictureBox, writeSvg } from './svg';

/** Sizes of paper (ISO 216, ANSI/ASME Y14.1). */
export const PAPER_SIZES = ['A4', 'A3', 'LETTER'] as const;
export type PaperSize = (typeof PAPER_SIZES)[number];
/** What is printed, and on what. */
export interface PaperOptions extends Pick<SvgOptions, 'states' | 'area' | 'ends' | 'subnets'> {
  readonly size: PaperSize;
  /** Pages with the tables of devices, addresses and links. */
  readonly schedules: boolean;
  /** The drawing as it is looked at, with what its interfaces were given; as it is where nothing is said. */
  readonly seen?: Topology;
  /** The day that stands in the title block. */
  readonly date: string;
}

/** Width and height of an upright page in points of 1/72 inch (ISO 216, ANSI/ASME Y14.1). */
const SIZES: Record<PaperSize, readonly [number, number]> = {
  A4: [595.28, 841.89],
  A3: [841.89, 1190.55],
  LETTER: [612, 792],
};
const MARGIN = 28;
const TITLE_BLOCK = 54;
const INK = '#1D2730';
const LINE = '#48535C';

/** A page as it lies under a drawing: all in the drawing's own pixels but `page`, which is in points of 1/72 inch. */
export interface PageUnder {
  readonly lying: boolean;
  readonly page: readonly [width: number, height: number];
  /** So many pixels of the drawing are one point on paper. */
  readonly scale: number;
  readonly frame: Box;
  readonly titleBlock: Box;
}

/** The page on which a picture of this part of a drawing is printed: the way it lies, and where its title block comes. */
export function pageUnder(box: Box, size: PaperSize): PageUnder {
  const lying = box.width > box.height;
  const [short, long] = SIZES[size];
  const page = lying ? ([long, short] as const) : ([short, long] as const);
  const [width, height] = page;
  const room = roomOn(page);
  const scale = Math.max(box.width / room[0], box.height / room[1]);
  const left = box.x + box.width / 2 - (width * scale) / 2;
  const top = box.y - MARGIN * scale;
  return {
    lying,
    page,
    scale,
    frame: { x: left, y: top, width: width * scale, height: height * scale },
    titleBlock: {
      x: left + MARGIN * scale,
      y: top + (height - MARGIN - TITLE_BLOCK) * scale,
      width: (width - 2 * MARGIN) * scale,
      height: TITLE_BLOCK * scale,
    },
  };
}

const roomOn = ([width, height]: readonly [number, number]): readonly [number, number] => [
  width - 2 * MARGIN,
  height - 2 * MARGIN - TITLE_BLOCK - 12,
];

/** What stands in the title block: the title, and beside it how much is drawn, by whom, and the day. */
export const titleBlockOf = (topology: Topology, date: string): { title: string; lines: string[] } => ({
  title: topology.title ?? 'Network drawing',
  lines: [drawnWords(topology), ...(topology.author ? [`Drawn by ${topology.author}`] : []), date],
});

/**
 * A drawing on paper, as the document definition of pdfmake: the picture as large as the page lets it be, a title block,
 * and schedules on pages of their own. On paper everything is drawn on white.
 */
export function paperOf(topology: Topology, options: PaperOptions): TDocumentDefinitions {
  const { size, schedules, date, seen = topology, ...look } = options;
  const box = look.area ?? pictureBox(sceneOf(seen));
  const { lying, page } = pageUnder(box, size);
  const [, height] = page;
  const room = roomOn(page);
  const svg = writeSvg(seen, { ...look, transparent: true, fonts: { text: 'Roboto', mono: 'Roboto' } });
  const { title, lines } = titleBlockOf(topology, date);
  return {
    info: { title, ...(topology.author && { author: topology.author }) },
    pageSize: size,
    pageOrientation: lying ? 'landscape' : 'portrait',
    pageMargins: [MARGIN, MARGIN, MARGIN, MARGIN],
    defaultStyle: { font: 'Roboto', fontSize: 9, color: INK },
    content: [
      { svg: svg.replace(/^<\?xml[^>]*\?>\s*/, ''), fit: [...room], alignment: 'center' },
      {
        absolutePosition: { x: MARGIN, y: height - MARGIN - TITLE_BLOCK },
        table: {
          widths: ['*', 'auto'],
          heights: [TITLE_BLOCK - 14],
          body: [
            [
              { text: title, fontSize: 15, bold: true, margin: [4, 8, 0, 0] },
              { stack: lines, alignment: 'right', margin: [12, 2, 4, 2] },
            ],
          ],
        },
        layout: {
          hLineWidth: () => 0.75,
          vLineWidth: (at: number) => (at === 1 ? 0 : 0.75),
          hLineColor: () => LINE,
          vLineColor: () => LINE,
        },
      },
      ...(schedules ? printedSheets().flatMap((sheet) => scheduleOf(topology, sheet)) : []),
    ],
  };
}

/** A table of the strip as a printed list; columns in which nothing stands are left out. */
function scheduleOf(topology: Topology, sheet: Sheet): Content[] {
  const read = scheduleRows(topology, sheet);
  if (!read) return [];
  return [
    {
      text: sheet.title,
      fontSize: 13,
      bold: true,
      pageBreak: 'before',
      margin: [0, 0, 0, 8],
    },
    {
      table: {
        headerRows: 1,
        widths: read.heads.map(() => 'auto'),
        body: [read.heads.map((text) => ({ text, bold: true })), ...read.rows],
      },
      layout: 'lightHorizontalLines',
      fontSize: 8,
    },
  ];
}
