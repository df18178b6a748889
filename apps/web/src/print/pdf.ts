import { type Content, type TDocumentDefinitions, type TableCell } from 'pdfmake/interfaces';
import { type MoreFont, inFonts } from '@sobrin/core/formats';
import { type Paper, type PaperCell, type PaperPart } from './papers';

const INK = '#1D2730';
const INK2 = '#48535C';
const LINE = '#BDB4A3';

/** A paper as pdfmake wants it. Pure, so that it can be tested without making a PDF. */
export function documentOf(paper: Paper): TDocumentDefinitions {
  return {
    info: { title: `${paper.title} - ${paper.under}` },
    pageSize: 'A4',
    pageMargins: [48, 56, 48, 48],
    defaultStyle: { font: 'Roboto', fontSize: 10, lineHeight: 1.2, color: INK },
    content: [
      { text: paper.title, fontSize: 17, bold: true },
      { text: paper.under, color: INK2, margin: [0, 2, 0, 14] },
      ...paper.parts.map(contentOf),
    ],
    footer: (page, pages) => ({
      text: `${page} of ${pages}`,
      alignment: 'right',
      margin: [0, 12, 48, 0],
      fontSize: 8,
      color: INK2,
    }),
  };
}

function contentOf(part: PaperPart): Content {
  switch (part.kind) {
    case 'words':
      return { text: part.text, margin: [0, 0, 0, 8] };
    case 'list':
      return {
        ...(part.pageBreak && { pageBreak: 'before' as const }),
        stack: [
          ...(part.heading
            ? [
                {
                  text: part.heading,
                  fontSize: 13,
                  bold: true,
                  margin: [0, 0, 0, 8] as [number, number, number, number],
                },
              ]
            : []),
          {
            ol: part.items.map((text) => ({
              stack: [
                { text },
                ...(part.answerLines
                  ? [{ text: '_'.repeat(60), color: LINE, margin: [0, 8, 0, 8] as [number, number, number, number] }]
                  : []),
              ],
            })),
          },
        ],
      };
    case 'table':
      return {
        table: {
          headerRows: 1,
          widths: part.widths ?? part.columns.map(() => 'auto'),
          body: [
            part.columns.map((text): TableCell => ({ text, bold: true, fontSize: 9, color: INK2 })),
            ...part.rows.map((row) => row.map(cellOf)),
          ],
        },
        layout: {
          hLineColor: () => LINE,
          vLineColor: () => LINE,
          hLineWidth: () => 0.5,
          vLineWidth: () => 0.5,
          paddingTop: () => 4,
          paddingBottom: () => 4,
        },
      };
  }
}

const cellOf = (cell: PaperCell): TableCell =>
  typeof cell === 'string'
    ? { text: cell || ' ' }
    : { text: cell.text, fillColor: cell.fill, color: cell.colour, bold: true, alignment: 'center' };

/** Fonts for writings that the one of papers does not have: fetched where a paper needs them. */
const FONT_FILES: Record<MoreFont, () => Promise<{ default: string }>> = {
  Arabic: () => import('@expo-google-fonts/noto-sans-arabic/400Regular/NotoSansArabic_400Regular.ttf?url'),
  Devanagari: () => import('@expo-google-fonts/noto-sans-devanagari/400Regular/NotoSansDevanagari_400Regular.ttf?url'),
  Hebrew: () => import('@expo-google-fonts/noto-sans-hebrew/400Regular/NotoSansHebrew_400Regular.ttf?url'),
  Thai: () => import('@expo-google-fonts/noto-sans-thai/400Regular/NotoSansThai_400Regular.ttf?url'),
  Emoji: () => import('@expo-google-fonts/noto-emoji/400Regular/NotoEmoji_400Regular.ttf?url'),
};

/** Makes a PDF in the browser. The maker and its fonts are loaded when they are first needed. */
async function made(given: TDocumentDefinitions) {
  const { definition, needs, unwritten } = inFonts(given);
  const [{ default: pdfmake }, { default: fonts }] = await Promise.all([
    import('pdfmake/build/pdfmake'),
    import('pdfmake/build/vfs_fonts'),
  ]);
  pdfmake.addVirtualFileSystem(fonts);
  for (const font of needs) {
    const { default: url } = await FONT_FILES[font]();
    const file = `${font}.ttf`;
    pdfmake.addVirtualFileSystem({ [file]: base64(new Uint8Array(await (await fetch(url)).arrayBuffer())) });
    pdfmake.addFonts({ [font]: { normal: file, bold: file, italics: file, bolditalics: file } });
  }
  return { pdf: pdfmake.createPdf(definition), unwritten };
}

/** What a paper could not write, as a sentence; null where all of it stands there. */
type Unwritten = string | null;

/** Gives a paper to the person as a file. */
export const printPaper = (paper: Paper, name: string): Promise<Unwritten> =>
  printDocument(documentOf(paper), { file: name });
/** Gives any document to the person as a file, or to the printer. */
export async function printDocument(
  definition: TDocumentDefinitions,
  to: { file: string } | 'printer',
): Promise<Unwritten> {
  const { pdf, unwritten } = await made(definition);
  await (to === 'printer' ? pdf.print() : pdf.download(to.file));
  return unwritten;
}

function base64(bytes: Uint8Array): string {
  let text = '';
  for (let at = 0; at < bytes.length; at += 8192) text += String.fromCharCode(...bytes.subarray(at, at + 8192));
  return btoa(text);
}
