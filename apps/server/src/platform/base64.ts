import { refuse } from './refusal';

/** The bytes of a file that came as base64 text (RFC 4648 §4). */
export function bytesOf(file: { name: string; base64: string }, most: number): Buffer {
  if (!/^[A-Za-z0-9+/]*={0,2}$/.test(file.base64))
    throw refuse.input(`"${file.name}" did not arrive whole. Attach it again.`);
  const bytes = Buffer.from(file.base64, 'base64');
  if (bytes.length > most)
    throw refuse.input(`"${file.name}" has ${(bytes.length / 1e6).toFixed(1)} MB: at most ${most / 1e6} MB are taken.`);
  return bytes;
}
