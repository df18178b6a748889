import { own } from '../own';
import { type Topology } from '../schema';

export type Path = readonly string[];

/** Sets the value at a path, or removes what is there when `value` is absent. */
export interface Edit {
  path: string[];
  value?: unknown;
}

type Tree = Record<string, unknown>;
const isTree = (value: unknown): value is Tree => value !== null && typeof value === 'object' && !Array.isArray(value);

export function valueAt(tree: unknown, path: Path): unknown {
  let at: unknown = tree;
  for (const key of path) {
    if (!isTree(at)) return undefined;
    at = own(at, key);
  }
  return at;
}

/** A copy of the tree with one value set; everything beside the path is shared with the original. */
function withValue(tree: Tree, path: Path, value: unknown): Tree {
  const [key, ...rest] = path as [string, ...string[]];
  const { [key]: old, ...others } = tree;
  if (rest.length === 0) return value === undefined ? others : { ...tree, [key]: value };
  const inner = withValue(isTree(old) ? old : {}, rest, value);
  // An optional map that becomes empty goes with its last entry: empty lists and maps are not stored.
  if (Object.keys(inner).length === 0 && value === undefined && !REQUIRED_MAPS.has(key)) return others;
  return { ...tree, [key]: inner };
}
const REQUIRED_MAPS = new Set(['sites', 'devices', 'links']);

/** Where removing a value would leave empty maps, the path of the outermost thing that disappears or appears with it. */
function outermostMissing(tree: unknown, path: Path): Path {
  for (let length = 1; length < path.length; length++)
    if (valueAt(tree, path.slice(0, length)) === undefined) return path.slice(0, length);
  return path;
}

/** Applies edits in order. The inverse edits bring back exactly the document that was there before. */
export function applyEdits(topology: Topology, edits: readonly Edit[]): { topology: Topology; inverse: Edit[] } {
  let tree = topology as unknown as Tree;
  const inverse: Edit[] = [];
  for (const { path, value } of edits) {
    if (path.length === 0) {
      inverse.unshift({ path: [], value: tree });
      tree = value as Tree;
      continue;
    }
    const restoreAt = outermostMissing(tree, path);
    const before = valueAt(tree, restoreAt);
    tree = withValue(tree, path, value);
    inverse.unshift(before === undefined ? { path: [...restoreAt] } : { path: [...restoreAt], value: before });
  }
  return { topology: tree as unknown as Topology, inverse };
}

const startsWith = (path: Path, start: Path): boolean =>
  start.length <= path.length && start.every((key, at) => path[at] === key);

/** Two writes meet when one of them changes something inside, or all of, what the other changes. */
const writesMeet = (a: Path, b: Path): boolean => startsWith(a, b) || startsWith(b, a);

/** What a change looked at and what it changed, as paths. A read is the existence of the thing at the path. */
export interface Footprint {
  reads: string[][];
  writes: string[][];
}

/** The first place where two changes, made from the same document, do not go together; null where they do. */
export function conflictOf(mine: Footprint, theirs: Footprint): Path | null {
  for (const write of mine.writes) for (const other of theirs.writes) if (writesMeet(write, other)) return write;
  for (const read of mine.reads) for (const other of theirs.writes) if (startsWith(read, other)) return read;
  for (const write of mine.writes) for (const other of theirs.reads) if (startsWith(other, write)) return write;
  return null;
}
