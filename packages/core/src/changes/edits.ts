import { entryOf, setEntry } from '../records';

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
    at = entryOf(at, key);
  }
  return at;
}

/** What a run of edits has copied already, with the number of its keys: counting them anew would take as long as they are many. */
type OwnCopies = WeakMap<Tree, number>;

/**
 * The tree with one value set; everything beside the path is shared with the original. What this run of edits has copied
 * before is changed in place: many edits of one large map would otherwise copy it once each.
 */
function withValue(tree: Tree, path: Path, value: unknown, ownCopies: OwnCopies, isRoot = true): Tree {
  const [key, ...rest] = path as [string, ...string[]];
  let set = value;
  if (rest.length) {
    const old = entryOf(tree, key);
    const inner = withValue(isTree(old) ? old : {}, rest, value, ownCopies, false);
    // An optional map that becomes empty goes with its last entry: empty lists and maps are not stored.
    const isRequired = isRoot && REQUIRED_MAPS.has(key);
    const isGone = value === undefined && !isRequired && ownCopies.get(inner) === 0;
    set = isGone ? undefined : inner;
  }
  const known = ownCopies.get(tree);
  const copy = known === undefined ? { ...tree } : tree;
  const count = known ?? Object.keys(copy).length;
  const was = Object.hasOwn(copy, key);
  if (set === undefined) delete copy[key];
  else setEntry(copy, key, set);
  ownCopies.set(copy, count + Number(set !== undefined) - Number(was));
  return copy;
}
const REQUIRED_MAPS = new Set(['sites', 'devices', 'links', 'blocks']);

/** Applies edits in order. The inverse edits bring back exactly the document that was there before. */
export function applyEdits<D extends object>(document: D, edits: readonly Edit[]): { document: D; inverse: Edit[] } {
  let tree = document as unknown as Tree;
  const inverse: Edit[] = [];
  const ownCopies: OwnCopies = new WeakMap();
  for (const { path, value } of edits) {
    if (path.length === 0) {
      inverse.push({ path: [], value: tree });
      tree = value as Tree;
      continue;
    }
    const before = valueAt(tree, path);
    tree = withValue(tree, path, value, ownCopies);
    // Maps that came with the value go with it, if nothing else has been put into them since.
    inverse.push(before === undefined ? { path: [...path] } : { path: [...path], value: before });
  }
  return { document: tree as unknown as D, inverse: inverse.reverse() };
}
