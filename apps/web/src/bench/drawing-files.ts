import { type Imported, type Result, DRAWING_FORMATS, MAX_FILE_BYTES, fail, readDrawingFile } from '@sobrin/core';
import { pick } from '../api/files';

const ENDINGS = DRAWING_FORMATS.flatMap((one) => (one.read ? one.ending.replace(/^.*(\.[^.]+)$/, '$1') : []));

/** Asks for a file and reads the drawing in it; null where none was chosen. The error is a sentence. */
export async function readDrawing(): Promise<{ name: string; read: Result<Imported, string> } | null> {
  const file = await pick([...new Set([...ENDINGS, '.yml'])].join(','));
  return file && { name: file.name, read: await readFile(file) };
}

export async function readFile(file: File): Promise<Result<Imported, string>> {
  if (file.size > MAX_FILE_BYTES)
    return fail(
      `${file.name} has ${(file.size / 1e6).toFixed(1)} MB: at most ${MAX_FILE_BYTES / 1e6} MB are taken. The drawing is as it was.`,
    );
  const read = readDrawingFile(file.name, await file.text());
  if (read.ok) return read;
  const told = read.error.slice(0, 4).map((one) => (one.place ? `${one.place}: ${one.text}` : one.text));
  return fail(`${file.name} was not taken, the drawing is as it was. ${told.join(' ')}`);
}
