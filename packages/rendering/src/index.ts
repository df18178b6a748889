import { type MoreFont, type PaperOptions, type SvgOptions, inFonts, paperOf, writeSvg } from '@sobrin/core/formats';
import { type Topology } from '@sobrin/core/topology';
import { Resvg } from '@resvg/resvg-js';
import pdfmake from 'pdfmake';
import path from 'node:path';

/** Pictures and papers without a browser, from what core draws. Their fonts are packages: nothing of the machine's is used. */
const FOLDER = path.join(path.dirname(require.resolve('pdfmake/package.json')), 'fonts', 'Roboto');
const face = (name: string): string => path.join(FOLDER, `Roboto-${name}.ttf`);
const FONT = { text: 'Roboto', mono: 'Roboto' };

/** Fonts for writings that Roboto does not have; they come in one weight. */
const regular = (name: string, face: string): string =>
  require.resolve(`@expo-google-fonts/${name}/400Regular/${face}_400Regular.ttf`);
const MORE: Readonly<Record<MoreFont, string>> = {
  Arabic: regular('noto-sans-arabic', 'NotoSansArabic'),
  Devanagari: regular('noto-sans-devanagari', 'NotoSansDevanagari'),
  Emoji: regular('noto-emoji', 'NotoEmoji'),
  Hebrew: regular('noto-sans-hebrew', 'NotoSansHebrew'),
  Thai: regular('noto-sans-thai', 'NotoSansThai'),
};
const MORE_FILES: readonly string[] = Object.values(MORE);
const inOneWeight = (file: string) => ({ normal: file, bold: file, italics: file, bolditalics: file });

pdfmake.setFonts({
  ...Object.fromEntries(Object.entries(MORE).map(([font, file]) => [font, inOneWeight(file)])),
  Roboto: {
    normal: face('Regular'),
    bold: face('Medium'),
    italics: face('Italic'),
    bolditalics: face('MediumItalic'),
  },
});
// Papers are made of what is handed over, and of nothing that a drawing could name.
pdfmake.setUrlAccessPolicy(() => false);
pdfmake.setLocalAccessPolicy((file: string) => file.startsWith(FOLDER) || MORE_FILES.includes(file));

/** A paper with the drawing, its title block and legend, and with schedules if they are wanted; and what it cannot write. */
export async function pdfOf(
  topology: Topology,
  options: PaperOptions,
): Promise<{ pdf: Buffer; unwritten: string | null }> {
  const { definition, unwritten } = inFonts(paperOf(topology, options));
  return { pdf: await pdfmake.createPdf(definition).getBuffer(), unwritten };
}

/** The widest picture, in pixels: more than fits on a paper at 600 dots an inch. */
export const MOST_PIXELS = 8192;

/** A picture in pixels; `width` is at most `MOST_PIXELS`, the height follows from the drawing. */
export function pngOf(topology: Topology, { width, ...options }: SvgOptions & { width: number }): Buffer {
  const fitted = Math.max(1, Math.min(MOST_PIXELS, Math.round(width)));
  const svg = writeSvg(topology, { ...options, paintedWidth: fitted, fonts: FONT });
  return new Resvg(svg, {
    fitTo: { mode: 'width', value: fitted },
    font: {
      loadSystemFonts: false,
      fontFiles: [face('Regular'), face('Medium'), ...MORE_FILES],
      defaultFontFamily: 'Roboto',
    },
  })
    .render()
    .asPng();
}
