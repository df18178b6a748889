import { type Content, type TDocumentDefinitions, type TableCell } from 'pdfmake/interfaces';
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

/** Makes a PDF in the browser. The maker and its fonts are loaded when they are first needed. */
async function made(definition: TDocumentDefinitions) {
  const [{ default: pdfmake }, { default: fonts }] = await Promise.all([
    import('pdfmake/build/pdfmake'),
    import('pdfmake/build/vfs_fonts'),
  ]);
  pdfmake.addVirtualFileSystem(fonts);
  return pdfmake.createPdf(definition);
}

/** Gives a paper to the person as a file. */
export const printPaper = async (paper: Paper, name: string): Promise<void> =>
  (await made(documentOf(paper))).download(name);
/** Gives any document to the person as a file, or to the printer. */
export async function printDocument(definition: TDocumentDefinitions, to: { file: string } | 'printer'): Promise<void> {
  const pdf = await made(definition);
  await (to === 'printer' ? pdf.print() : pdf.download(to.file));
}
