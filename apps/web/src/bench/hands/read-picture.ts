import { fail, ok, type Result } from '@sobrin/core';
import { PICTURE_MOST } from '@sobrin/core/topology';

/** A picture as a drawing keeps it: its data, and its size in pixels. */
export interface ReadPicture {
  name: string;
  data: string;
  width: number;
  height: number;
}

/** A drawing has at most 2 MB: one picture leaves room for the rest. */
const MOST = Math.min(PICTURE_MOST, 900_000);
const LONGEST_SIDE = 1800;
/** Pixels for each point of a PDF page: enough to read what is small. */
const PDF_SCALE = 2;

/**
 * Reads a picture from a file: PNG, JPEG, WebP, SVG, or one page of a PDF, which `choosePage` picks (null: none). What is
 * too large is made smaller. The error is a sentence.
 */
export async function readPicture(
  file: File,
  choosePage: (pages: number) => Promise<number | null>,
): Promise<Result<ReadPicture, string> | null> {
  const name = file.name.slice(0, 80) || 'Picture';
  try {
    if (file.type === 'application/pdf' || /\.pdf$/i.test(file.name)) {
      const canvas = await pageOfPdf(file, choosePage);
      return canvas && ok({ name, ...shrunk(canvas, canvas.width, canvas.height, false) });
    }
    if (file.type === 'image/svg+xml' || /\.svg$/i.test(file.name)) return await readSvg(name, file);
    if (!/^image\/(png|jpeg|webp)$/.test(file.type))
      return fail(`${file.name} was not taken: pictures are PNG, JPEG, WebP, SVG or a page of a PDF.`);
    const bitmap = await createImageBitmap(file);
    return ok({ name, ...shrunk(bitmap, bitmap.width, bitmap.height, file.type === 'image/jpeg') });
  } catch {
    return fail(`${file.name} was not taken: it cannot be read as a picture. Save it anew, as PNG for instance.`);
  }
}

async function readSvg(name: string, file: File): Promise<Result<ReadPicture, string>> {
  const text = await file.text();
  const root = new DOMParser().parseFromString(text, 'image/svg+xml').documentElement;
  if (root.nodeName !== 'svg') return fail(`${file.name} was not taken: it is no SVG.`);
  const data = `data:image/svg+xml;base64,${base64(text)}`;
  const image = await loaded(data);
  const [width, height] = [image.naturalWidth || 400, image.naturalHeight || 300];
  return ok(data.length <= MOST ? { name, data, width, height } : { name, ...shrunk(image, width, height, false) });
}

function base64(text: string): string {
  let bytes = '';
  for (const byte of new TextEncoder().encode(text)) bytes += String.fromCharCode(byte);
  return btoa(bytes);
}

const loaded = (source: string): Promise<HTMLImageElement> =>
  new Promise((resolve, reject) => {
    const image = new Image();
    image.onload = () => resolve(image);
    image.onerror = () => reject(new Error('no picture'));
    image.src = source;
  });

/** The same picture in at most so many pixels and bytes: as PNG where that does, else as JPEG. */
function shrunk(
  source: CanvasImageSource,
  width: number,
  height: number,
  photo: boolean,
): Pick<ReadPicture, 'data' | 'width' | 'height'> {
  for (let side = LONGEST_SIDE; ; side *= 0.75) {
    const scale = Math.min(1, side / Math.max(width, height));
    const canvas = document.createElement('canvas');
    canvas.width = Math.max(1, Math.round(width * scale));
    canvas.height = Math.max(1, Math.round(height * scale));
    const context = canvas.getContext('2d')!;
    context.drawImage(source, 0, 0, canvas.width, canvas.height);
    const png = photo ? null : canvas.toDataURL('image/png');
    if (png && png.length <= MOST) return { data: png, width: canvas.width, height: canvas.height };
    context.globalCompositeOperation = 'destination-over';
    context.fillStyle = '#fff';
    context.fillRect(0, 0, canvas.width, canvas.height);
    const jpeg = canvas.toDataURL('image/jpeg', 0.85);
    if (jpeg.length <= MOST || side < 200) return { data: jpeg, width: canvas.width, height: canvas.height };
  }
}

async function pageOfPdf(
  file: File,
  choosePage: (pages: number) => Promise<number | null>,
): Promise<HTMLCanvasElement | null> {
  const pdf = await import('pdfjs-dist');
  pdf.GlobalWorkerOptions.workerSrc = (await import('pdfjs-dist/build/pdf.worker.min.mjs?url')).default;
  const task = pdf.getDocument({ data: await file.arrayBuffer() });
  const { numPages, getPage } = await task.promise.then((proxy) => ({
    numPages: proxy.numPages,
    getPage: (at: number) => proxy.getPage(at),
  }));
  const at = numPages > 1 ? await choosePage(numPages) : 1;
  if (at === null) return null;
  const page = await getPage(at);
  const viewport = page.getViewport({ scale: PDF_SCALE });
  const canvas = document.createElement('canvas');
  canvas.width = Math.round(viewport.width);
  canvas.height = Math.round(viewport.height);
  await page.render({ canvas, viewport }).promise;
  void task.destroy();
  return canvas;
}
