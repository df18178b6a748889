import { entryOf, setEntry } from '../records';

export type Path = readonly string[];

/**
 * Sets the value at a path, or removes what is there when `value` is absent. A path goes into maps by their keys, and into
 * lists whose entries have ids by these; `at` says where a new entry of such a list stands (at the end where it is absent).
 */
export interface Edit {
  path: string[];
  value?: unknown;
  at?: number;
}

/** A map of a document as it was parsed. */
export type Tree = Record<string, unknown>;
/** Whether a value is a map: an object that is no list. */
export const isTree = (value: unknown): value is Tree =>
  value !== null && typeof value === 'object' && !Array.isArray(value);
/** A list whose entries are told apart by their ids. */
type Entries = readonly { readonly id: string }[];
/** Whether a value is a list that paths go into by the ids of its entries: not empty, and each entry has one. */
export const isEntries = (value: unknown): value is Entries =>
  Array.isArray(value) && value.length > 0 && value.every((entry) => isTree(entry) && typeof entry.id === 'string');

/** What stands at a path; undefined where nothing does, or where the path goes through no map or list of entries. */
export function valueAt(tree: unknown, path: Path): unknown {
  let at: unknown = tree;
  for (const key of path) {
    if (isTree(at)) at = entryOf(at, key);
    else if (isEntries(at)) at = at.find((entry) => entry.id === key);
    else return undefined;
  }
  return at;
}

/**
 * What a run of edits has copied already, with the number of its keys: counting them anew would take as long as they
 * are many.
 */
type OwnCopies = WeakMap<Tree, number>;

/**
 * The tree with one value set; everything beside the path is shared with the original. What this run of edits has copied
 * before is changed in place: many edits of one large map would otherwise copy it once each.
 */
function withValue(tree: Tree, edit: Edit, ownCopies: OwnCopies, depth = 0): Tree {
  const key = edit.path[depth]!;
  const isLast = depth === edit.path.length - 1;
  let set = edit.value;
  if (!isLast) {
    const old = entryOf(tree, key);
    if (isEntries(old)) set = withEntry(old, edit, ownCopies, depth + 1);
    else {
      const inner = withValue(isTree(old) ? old : {}, edit, ownCopies, depth + 1);
      // An optional map that becomes empty goes with its last entry: empty lists and maps are not stored.
      const isRequired = depth === 0 && REQUIRED_MAPS.has(key);
      const isGone = edit.value === undefined && !isRequired && ownCopies.get(inner) === 0;
      set = isGone ? undefined : inner;
    }
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

/** The list with one of its entries set, changed or removed. */
function withEntry(list: Entries, edit: Edit, ownCopies: OwnCopies, depth: number): Entries {
  const id = edit.path[depth]!;
  const index = list.findIndex((entry) => entry.id === id);
  const isLast = depth === edit.path.length - 1;
  const old = (list[index] ?? { id }) as unknown as Tree;
  const entry = isLast ? edit.value : withValue(old, edit, ownCopies, depth + 1);
  const put = entry === undefined ? [] : [entry as Entries[number]];
  const at = index < 0 ? (edit.at ?? list.length) : index;
  return [...list.slice(0, at), ...put, ...list.slice(index < 0 ? at : at + 1)];
}

/** Applies edits in order. The inverse edits bring back exactly the document that was there before. */
export function applyEdits<D extends object>(document: D, edits: readonly Edit[]): { document: D; inverse: Edit[] } {
  let tree = document as unknown as Tree;
  const inverse: Edit[] = [];
  const ownCopies: OwnCopies = new WeakMap();
  for (const edit of edits) {
    const { path, value } = edit;
    if (path.length === 0) {
      inverse.push({ path: [], value: tree });
      tree = value as Tree;
      continue;
    }
    const before = valueAt(tree, path);
    const at = value === undefined ? placeInList(tree, path) : null;
    tree = withValue(tree, edit, ownCopies);
    // Maps that came with the value go with it, if nothing else has been put into them since.
    inverse.push({
      path: [...path],
      ...(before !== undefined && { value: before }),
      ...(at !== null && { at }),
    });
  }
  return { document: tree as unknown as D, inverse: inverse.reverse() };
}

/** Where the entry of a list stands that a path names; null where it names none. */
function placeInList(tree: unknown, path: Path): number | null {
  const list = valueAt(tree, path.slice(0, -1));
  const index = isEntries(list) ? list.findIndex((entry) => entry.id === path.at(-1)) : -1;
  return index < 0 ? null : index;
}
