import { type Result, fail } from '@sobrin/core';
import {
  type Imported,
  DRAWING_FORMATS,
  MAX_FILE_BYTES,
  isSheet,
  readDrawingFiles,
  readSheets,
  readSubmissionText,
} from '@sobrin/core/formats';
import { type Problem, type Topology } from '@sobrin/core/topology';
import { pickFiles } from '../../api/files';
import { idEnding } from '../../api/new-id';

const READABLE = DRAWING_FORMATS.flatMap((format) => (format.read ? format.ending.replace(/^.*(\.[^.]+)$/, '$1') : []));
/** The endings of all files that can be read as drawings, or as tables of one. */
export const ENDINGS = [...new Set([...READABLE, '.yml', '.csv', '.tsv'])];

/** Whether a file of this name may hold a drawing, or tables of one. */
export const mayHoldDrawing = ({ name }: File): boolean =>
  ENDINGS.some((ending) => name.toLowerCase().endsWith(ending));

export interface Found {
  /** What was chosen, in words. */
  readonly file: string;
  readonly read: Imported;
}

/** Asks for files and reads the drawing in them; null where none was chosen. The error is a sentence. */
export async function readDrawing(there: Topology): Promise<Result<Found, string> | null> {
  const files = await pickFiles(ENDINGS.join(','));
  return files.length ? readFiles(files, there) : null;
}

/** Reads one file with a drawing, or tables of devices and links that belong together. */
export async function readFiles(files: readonly File[], there: Topology): Promise<Result<Found, string>> {
  const file = files.map((file) => file.name).join(', ');
  const size = files.reduce((sum, file) => sum + file.size, 0);
  if (size > MAX_FILE_BYTES)
    return fail(
      `${file} has ${(size / 1e6).toFixed(1)} MB: at most ${MAX_FILE_BYTES / 1e6} MB are taken. The drawing is as it was.`,
    );
  const texts = await Promise.all(files.map(async (file) => [file.name, await file.text()] as const));
  return found(file, readDrawingFiles(Object.fromEntries(texts), there, idEnding));
}

/** Reads what was pasted as a table of devices or links; null where it is none. */
export const readPasted = (text: string, there: Topology): Result<Found, string> | null =>
  isSheet(text) ? found('What was pasted', readSheets({ 'What was pasted': text }, there, idEnding)) : null;

function found(file: string, read: Result<Imported, Problem[]>): Result<Found, string> {
  if (read.ok) return { ok: true, value: { file, read: read.value } };
  const reasons = read.error
    .slice(0, 4)
    .map((problem) => (problem.place ? `${problem.place}: ${problem.text}` : problem.text));
  return fail(`${file} was not taken, the drawing is as it was. ${reasons.join(' ')}`);
}

/** The part of a drawing that a text from the clipboard holds; null where it holds none. */
export function readPart(text: string): Topology | null {
  const read = text.trimStart().startsWith('{') ? readSubmissionText(text) : null;
  return (read?.ok && read.value.topology) || null;
}
