import nextLatin from '@fontsource-variable/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-wght-normal.woff2?url';
import nextMore from '@fontsource-variable/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-wght-normal.woff2?url';
import monoLatin from '@fontsource-variable/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono-latin-wght-normal.woff2?url';
import monoMore from '@fontsource-variable/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono-latin-ext-wght-normal.woff2?url';
import { type SvgOptions, writeSvg } from '@sobrin/core/formats';
import { type Topology } from '@sobrin/core/topology';
import { base64Of } from '../api/files';

/** The letters of each file: those of Latin-1, and those of other languages in Latin script. */
const LATIN = 'U+0000-00FF, U+2013-2014, U+2018-201D, U+2026, U+2192, U+00D7';
const MORE = 'U+0100-02FF, U+1E00-1EFF';
const FACES = [
  ['Atkinson Hyperlegible Next Variable', nextLatin, LATIN],
  ['Atkinson Hyperlegible Next Variable', nextMore, MORE],
  ['Atkinson Hyperlegible Mono Variable', monoLatin, LATIN],
  ['Atkinson Hyperlegible Mono Variable', monoMore, MORE],
] as const;

let faces: Promise<string> | undefined;
/** CSS that brings the faces along: a picture looks the same where nobody has these fonts. */
const facesOnce = (): Promise<string> =>
  (faces ??= Promise.all(
    FACES.map(async ([family, url, range]) => {
      const data = await base64Of(await (await fetch(url)).blob());
      return `@font-face{font-family:'${family}';font-weight:200 800;src:url(data:font/woff2;base64,${data}) format('woff2');unicode-range:${range}}`;
    }),
  ).then((all) => all.join('')));

/** How a picture is painted, with its fonts in it. */
export const withFonts = async (options: SvgOptions): Promise<SvgOptions> => ({
  ...options,
  fonts: {
    text: "'Atkinson Hyperlegible Next Variable', sans-serif",
    mono: "'Atkinson Hyperlegible Mono Variable', monospace",
    faces: await facesOnce(),
  },
});

/** A picture of a drawing with its fonts in it. */
export const svgWithFonts = async (topology: Topology, options: SvgOptions): Promise<string> =>
  writeSvg(topology, await withFonts(options));

/** No side of a picture has more pixels: browsers paint none that are larger. */
const MOST_PIXELS = 8192;

/** A picture in pixels, so many for each of the drawing's own. */
export async function pixelsOf(
  topology: Topology,
  { type, scale, ...options }: SvgOptions & { type: 'image/png' | 'image/jpeg'; scale: number },
): Promise<Blob> {
  // JPEG knows nothing transparent.
  const svg = await svgWithFonts(topology, { ...options, ...(type === 'image/jpeg' && { transparent: false }) });
  const image = new Image();
  // As the address itself, not as a blob: the page allows no other pictures.
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`;
  await image.decode();
  const sharp = Math.min(scale, MOST_PIXELS / Math.max(image.width, image.height));
  const canvas = document.createElement('canvas');
  canvas.width = Math.ceil(image.width * sharp);
  canvas.height = Math.ceil(image.height * sharp);
  canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height);
  const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, type, 0.92));
  if (!blob) throw new Error('The browser could not make the picture: try a smaller part of the drawing.');
  return blob;
}
