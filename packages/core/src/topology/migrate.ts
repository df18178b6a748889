import { fail, ok, type Result } from '../result';
import { TOPOLOGY_VERSION } from './schema';
import { type Problem, quoted } from './shape';

/** An object as it was parsed, of unknown shape. */
export type Json = Record<string, unknown>;

/** Steps from one version of a format to the next, by the version they start from. */
export type Steps = Readonly<Record<number, (older: Json) => Json>>;

const asItIs = (older: Json): Json => older;

/** Later versions know more: passive devices (2), areas of OSPF (3), tints and forms of lines (4). What was there stays. */
export const migrateTopology = (value: unknown): Result<unknown, Problem> =>
  migrate(value, 'sobrin-topology', { 1: asItIs, 2: asItIs, 3: asItIs }, TOPOLOGY_VERSION);

/** Brings a document of an older version to the current one; another format, a newer or unknown version is refused. */
export function migrate(value: unknown, format: string, steps: Steps, current: number): Result<unknown, Problem> {
  if (value === null || typeof value !== 'object' || Array.isArray(value))
    return fail({ place: '', text: `This is no ${format} file: wanted is an object with "format" and "version".` });
  let document = value as Json;
  if (document.format !== format)
    return fail({ place: 'format', text: `The format is ${quoted(document.format)}: wanted is "${format}".` });
  const { version } = document;
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1 || version > current)
    return fail({
      place: 'version',
      text: `Version ${quoted(version)} is not one this Sobrin can read: it reads versions up to ${current}.`,
    });
  for (let at = version; at < current; at++) {
    const step = steps[at];
    if (!step) return fail({ place: 'version', text: `Version ${at} can no longer be read.` });
    document = { ...step(document), version: at + 1 };
  }
  return ok(document);
}
