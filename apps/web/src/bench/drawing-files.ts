import { type Result, type Topology, fail, ok, readSubmissionText } from '@sobrin/core';
import { fileName, give, pickText } from '../api/files';

export const saveDrawing = (topology: Topology, title: string): void =>
  give(fileName(topology.title ?? title, 'json'), 'application/json', `${JSON.stringify(topology, null, 1)}\n`);

/** Asks for a file and reads the drawing in it; null where none was chosen. The error is a sentence. */
export async function readDrawing(): Promise<Result<Topology, string> | null> {
  const file = await pickText('.json,application/json');
  if (!file) return null;
  const read = readSubmissionText(file.text);
  if (!read.ok)
    return fail(
      `${file.name} was not taken, the drawing is as it was. ${read.error
        .slice(0, 4)
        .map((one) => (one.place ? `${one.place}: ${one.text}` : one.text))
        .join(' ')}`,
    );
  const { topology } = read.value;
  return topology ? ok(topology) : fail(`${file.name} holds no drawing: the drawing is as it was.`);
}
