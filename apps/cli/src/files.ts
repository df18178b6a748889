import { readFile, readdir, stat } from 'node:fs/promises';
import path from 'node:path';
import { MAX_FILE_BYTES } from '@sobrin/core/formats';
import { type Problem } from '@sobrin/core/topology';

/** The text of a file, or a sentence why there is none. */
export async function readText(file: string): Promise<{ ok: true; value: string } | { ok: false; error: string }> {
  try {
    const { size } = await stat(file);
    if (size > MAX_FILE_BYTES)
      return {
        ok: false,
        error: `The file has ${(size / 1e6).toFixed(1)} MB: at most ${MAX_FILE_BYTES / 1e6} MB are taken.`,
      };
    return { ok: true, value: await readFile(file, 'utf8') };
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    return {
      ok: false,
      error: code === 'ENOENT' ? 'There is no such file.' : `The file cannot be read (${code ?? String(error)}).`,
    };
  }
}

export const linesOf = (file: string, problems: readonly Problem[]): string =>
  problems.map(({ place, text }) => `${file}: ${place ? `${place}: ` : ''}${text}\n`).join('');

/** The files that are named, and those ending in .json in the folders that are, by name. */
export async function* filesAt(paths: readonly string[]): AsyncGenerator<string> {
  for (const each of paths) {
    const isFolder = await stat(each).then(
      (found) => found.isDirectory(),
      () => false,
    );
    if (!isFolder) yield each;
    else
      for (const name of (await readdir(each)).filter((file) => file.endsWith('.json')).sort())
        yield path.join(each, name);
  }
}
