import { mkdir, readdir, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { type Result, fail, ok } from '@sobrin/core';
import { analyse, givenAddresses } from '@sobrin/core/engine';
import {
  type Imported,
  DRAWING_FORMATS,
  drawnWords,
  formatOfName,
  readDrawingFiles,
  writeHtml,
  writeTables,
} from '@sobrin/core/formats';
import { type Problem, type Topology, emptyTopology, withGiven } from '@sobrin/core/topology';
import { pdfOf, pngOf } from '@sobrin/rendering';
import { linesOf, readText } from './files';
import { type Output, STATUS } from './output';

/** Wide enough to be printed. */
const PNG_WIDTH = 2400;
const PAPER = (now: Date) => ({ size: 'A4' as const, schedules: true, date: now.toISOString().slice(0, 10) });

/** Converts a drawing from one file, or folder of tables, to another; the formats are told by the endings. */
export async function convert(from: string, to: string, out: Output, err: Output, now = new Date()): Promise<number> {
  const read = await readFrom(from);
  if (!read.ok) {
    err.write(linesOf(from, read.error));
    return STATUS.unusable;
  }
  const { topology, left, filled = [] } = read.value;
  for (const line of [...filled, ...left]) err.write(`${from}: ${line}\n`);
  const written = await writeTo(to, topology, now);
  if (!written.ok) {
    err.write(`${to}: ${written.error}\n`);
    return STATUS.unusable;
  }
  if (written.value !== null) err.write(`${to}: ${written.value}\n`);
  out.write(`${to}: ${drawnWords(topology)}.\n`);
  return left.length || written.value !== null ? STATUS.short : STATUS.well;
}

/** Reads a drawing from a file, or a folder of tables, of any format that can be read. */
export async function readFrom(from: string): Promise<Result<Imported, Problem[]>> {
  const isFolder = await stat(from).then(
    (found) => found.isDirectory(),
    () => false,
  );
  if (isFolder) {
    const tables: Record<string, string> = {};
    for (const file of (await readdir(from)).filter((name) => name.toLowerCase().endsWith('.csv'))) {
      const text = await readText(path.join(from, file));
      if (!text.ok) return fail([{ place: file, text: text.error }]);
      tables[file.toLowerCase()] = text.value;
    }
    if (!Object.keys(tables).length) return fail([{ place: '', text: 'The folder holds no .csv tables.' }]);
    return readDrawingFiles(tables, emptyTopology());
  }
  const text = await readText(from);
  return text.ok
    ? readDrawingFiles({ [path.basename(from)]: text.value }, emptyTopology())
    : fail([{ place: '', text: text.error }]);
}

/** Writes a drawing; what the file cannot hold comes back as a sentence. */
async function writeTo(to: string, topology: Topology, now: Date): Promise<Result<string | null, string>> {
  const format = formatOfName(to);
  /** What is looked at shows leases as the Bench does; what is read again holds what is set. */
  const seen = (): Topology => withGiven(topology, givenAddresses(analyse(topology)));
  try {
    if (format)
      await writeFile(
        to,
        format.ending === '.html'
          ? writeHtml(topology, { seen: seen() })
          : format.write(format.ending === '.svg' ? seen() : topology),
      );
    else if (to.toLowerCase().endsWith('.pdf')) {
      const { pdf, unwritten } = await pdfOf(topology, { ...PAPER(now), seen: seen() });
      await writeFile(to, pdf);
      if (unwritten) return ok(unwritten);
    } else if (to.toLowerCase().endsWith('.png')) await writeFile(to, pngOf(seen(), { width: PNG_WIDTH }));
    else if (path.extname(to) === '') {
      await mkdir(to, { recursive: true });
      for (const [file, text] of Object.entries(writeTables(topology))) await writeFile(path.join(to, file), text);
    } else
      return fail(
        `This ending is not known: wanted is ${[...DRAWING_FORMATS.map((format) => format.ending), '.pdf', '.png'].join(', ')}, or a folder for CSV tables.`,
      );
    return ok(null);
  } catch (error) {
    return fail(`It cannot be written (${(error as NodeJS.ErrnoException).code ?? String(error)}).`);
  }
}
