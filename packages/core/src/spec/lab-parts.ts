import { type Static, type TObject, Type } from '@sinclair/typebox';
import { type Edit, type MergeRules, type Planned, applying, bothAdded, isEntries, valueAt } from '../changes';
import { Brief, briefProblems } from '../plan';
import { type Result, fail, ok } from '../result';
import { Closed, Line, ListOf, Maybe, type Problem, shapeProblems } from '../topology';
import { Handout, Policy, Spec, Stage, Task } from './schema';

/**
 * The parts of a lab that are documents of their own beside its plan and its drawings. Those that are lists in a lab file
 * stand under their name, so that every document is a map.
 */
export const TaskList = Closed({ tasks: ListOf(Task, 200) });
export const StageList = Closed({ stages: ListOf(Stage, 16) });
export type TaskList = Static<typeof TaskList>;
export type StageList = Static<typeof StageList>;

/** The parts of a lab by their kinds. */
export interface LabParts {
  brief: Brief;
  tasks: TaskList;
  spec: Spec;
  policy: Policy;
  handout: Handout;
  stages: StageList;
}
/** The kind of a part; it stands in stored documents and does not change. */
export type LabPart = keyof LabParts;

const SCHEMAS: Readonly<Record<LabPart, TObject>> = {
  brief: Brief,
  tasks: TaskList,
  spec: Spec,
  policy: Policy,
  handout: Handout,
  stages: StageList,
};
/** The kinds of parts. */
export const LAB_PARTS = Object.keys(SCHEMAS) as readonly LabPart[];

/** Bytes of the JSON of a part. */
export const MAX_PART_BYTES = 2_000_000;

const EditSchema = Closed({
  path: Type.Array(Type.String({ maxLength: 64 }), { maxItems: 16 }),
  value: Maybe(Type.Unknown()),
  at: Maybe(Type.Integer({ minimum: 0, maximum: 5000 })),
});
const Simple = [Closed({ kind: Type.Literal('edits'), edits: ListOf(EditSchema, 5000) })] as const;
const SimplePartCommand = Type.Union([...Simple]);
/** A change of a part: edits by path, or several that are made and undone together. */
export const PartCommand = Type.Union([
  ...Simple,
  Closed({ kind: Type.Literal('batch'), title: Line, commands: ListOf(SimplePartCommand, 2000) }),
]);
type SimplePartCommand = Static<typeof SimplePartCommand>;
export type PartCommand = Static<typeof PartCommand>;

/** What an edit relies on: the entries of lists that its path goes through. */
function entriesPassed(document: object, { path }: Edit): Result<string[][], string> {
  const reads: string[][] = [];
  for (let length = 1; length < path.length; length++) {
    const [list, entry] = [path.slice(0, length), path.slice(0, length + 1)];
    if (!isEntries(valueAt(document, list)) || length + 1 === path.length) continue;
    if (valueAt(document, entry) === undefined) return fail(`“${entry.at(-1)}” is not there any more.`);
    reads.push(entry);
  }
  return ok(reads);
}

/** Whether an edit would put an entry of a list under an id that is not its own: its path would find it no more. */
function changesId(document: object, { path, value }: Edit): boolean {
  const isEntryAt = (length: number): boolean => length > 0 && isEntries(valueAt(document, path.slice(0, length)));
  const [key, last] = [path.at(-1), path.length - 1];
  if (key === 'id' && isEntryAt(last - 1)) return value !== path[last - 1];
  return value !== undefined && isEntryAt(last) && valueAt(value, ['id']) !== key;
}

function planOf(document: object, { edits }: SimplePartCommand): Result<Planned, string> {
  const reads: string[][] = [];
  for (const edit of edits) {
    if (changesId(document, edit))
      return fail(`“${edit.path.join(' › ')}” would get another id: an entry keeps its own.`);
    const passed = entriesPassed(document, edit);
    if (!passed.ok) return passed;
    reads.push(...passed.value);
  }
  return ok({ edits, reads });
}

const partCommands = applying<object, SimplePartCommand>(planOf);
/** All commands of a list or none of them: the first that does not go says why. The part given stays as it is. */
export const applyPartCommands = partCommands.applyAll;

/**
 * Reads a value that should be a part: its shape, and what must hold in it. What it points at elsewhere is looked at
 * there.
 */
export function readPart<P extends LabPart>(part: P, value: unknown): Result<LabParts[P], Problem[]> {
  const shape = shapeProblems(SCHEMAS[part], value);
  if (shape.length) return fail(shape);
  const problems = [
    ...(part === 'brief' ? briefProblems(value as Brief) : []),
    ...(part === 'tasks' ? idsGivenTwice('tasks', (value as TaskList).tasks) : []),
    ...(part === 'stages' ? idsGivenTwice('stages', (value as StageList).stages) : []),
  ];
  return problems.length ? fail(problems) : ok(value as LabParts[P]);
}

function idsGivenTwice(place: string, list: readonly { id: string }[]): Problem[] {
  const seen = new Set<string>();
  return list.flatMap(({ id }, at): Problem[] => {
    const isTwice = seen.has(id);
    seen.add(id);
    return isTwice ? [{ place: `${place} › ${at} › id`, text: `The id "${id}" is there twice.` }] : [];
  });
}

/** How two of a part that were made of the same one are put together. */
export const partMerge = <P extends LabPart>(part: P): MergeRules<LabParts[P]> => ({
  broken: (document) => {
    const read = readPart(part, document);
    return read.ok ? [] : read.error.map(({ place }) => place.split(' › '));
  },
  // Two first entries of a list that was not there.
  settle: (_place, base, mine, theirs) => {
    const both = base === undefined ? bothAdded(base, mine, theirs) : null;
    return both && { value: both };
  },
});

const WORDS: Readonly<Record<LabPart, string>> = {
  brief: 'brief',
  tasks: 'tasks',
  spec: 'spec',
  policy: 'rules of the lab',
  handout: 'handout',
  stages: 'stages',
};
/** How people call a part. */
export const partWords = (part: LabPart): string => WORDS[part];

/** Where two changes of a part meet, in words: by the titles and names of what stands there. */
export function placeInPart(path: readonly string[], document: object): string {
  const words = path.map((key, at) => {
    const value = valueAt(document, path.slice(0, at + 1));
    const named = value as { title?: unknown; name?: unknown } | undefined;
    const name = typeof named === 'object' ? (named.title ?? named.name) : undefined;
    return typeof name === 'string' && name ? name : key;
  });
  return words.join(' › ') || 'the whole of it';
}
