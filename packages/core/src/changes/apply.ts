import { fail, ok, type Result } from '../result';
import { type Edit, applyEdits, isTree } from './edits';
import { type Footprint } from './footprint';

/** What a command did: the new document, the command that undoes it, and what it read and wrote. */
export interface Applied<D, C> extends Footprint {
  document: D;
  inverse: C;
}

/** A command worked out against a document: the edits it comes to and the things it relies on being there. */
export interface Planned {
  edits: Edit[];
  reads: string[][];
}

export interface Batch<S> {
  kind: 'batch';
  title: string;
  commands: S[];
}

/**
 * Makes the two functions that apply the commands of a sort of document: one command, and all of a list or none of them
 * (the first that does not go says why). `plan` works a simple command out; `claims` may add paths to what was written,
 * from the edits and the documents before and after. Errors are sentences; the document given stays as it is.
 */
export function applying<D extends object, S extends { kind: string }>(
  plan: (document: D, command: S) => Result<Planned, string>,
  claims: (edits: readonly Edit[], before: D, after: D) => string[][] = () => [],
) {
  type Command = S | Batch<S>;
  const isBatch = (command: Command): command is Batch<S> => command.kind === 'batch';

  function applyOne(document: D, command: Command): Result<Applied<D, Command>, string> {
    if (isBatch(command)) return applyAll(document, command.title, command.commands);
    const planned = plan(document, command);
    if (!planned.ok) return planned;
    const { edits, reads } = planned.value;
    if (edits.some(({ path, value }) => !path.length && !isTree(value)))
      return fail('A document can be replaced by another one, not taken away.');
    const done = applyEdits(document, edits);
    return ok({
      document: done.document,
      inverse: { kind: 'edits', edits: done.inverse } as unknown as S,
      reads,
      writes: [...edits.map((edit) => edit.path), ...claims(edits, document, done.document)],
    });
  }

  function applyAll(document: D, title: string, commands: readonly Command[]): Result<Applied<D, Command>, string> {
    let at = document;
    const inverses: S[][] = [];
    const footprint: Footprint = { reads: [], writes: [] };
    for (const command of commands) {
      const done = applyOne(at, command);
      if (!done.ok) return fail(done.error);
      at = done.value.document;
      for (const path of done.value.reads) footprint.reads.push(path);
      for (const path of done.value.writes) footprint.writes.push(path);
      const { inverse } = done.value;
      inverses.push(isBatch(inverse) ? inverse.commands : [inverse]);
    }
    return ok({ document: at, inverse: { kind: 'batch', title, commands: inverses.reverse().flat() }, ...footprint });
  }
  return { applyOne, applyAll };
}

/**
 * The document before changes, the newest first, by what takes them back: edits, or batches of edits, as `inverse` is.
 * All are made in one run, so that going back over thousands of changes copies each part of the document once.
 */
export function takenBack<D extends object>(document: D, inverses: readonly object[]): D {
  return applyEdits(document, inverses.flatMap(editsOf)).document;
}

type Inverse = { kind: 'edits'; edits: Edit[] } | { kind: 'batch'; commands: object[] };
function editsOf(inverse: object): Edit[] {
  const known = inverse as Inverse;
  return known.kind === 'batch' ? known.commands.flatMap(editsOf) : known.edits;
}
