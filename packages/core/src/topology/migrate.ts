import { fail, ok, type Result } from '../result';
import { TOPOLOGY_VERSION } from './schema';
import { type Problem, quoted } from './shape';

type Json = Record<string, unknown>;

/** Steps from one version to the next, by the version they start from: none yet, as version 1 is the first. */
const STEPS: Readonly<Record<number, (older: Json) => Json>> = {};

/** Brings a document of an older version to the current one; a newer or unknown version is refused. */
export function migrate(value: unknown, steps = STEPS, current: number = TOPOLOGY_VERSION): Result<unknown, Problem> {
  if (value === null || typeof value !== 'object' || Array.isArray(value))
    return fail({ place: '', text: 'This is no topology: wanted is an object with "format" and "version".' });
  let document = value as Json;
  if (document.format !== 'sobrin-topology')
    return fail({ place: 'format', text: `The format is ${quoted(document.format)}: wanted is "sobrin-topology".` });
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
