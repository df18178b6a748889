import { entryOf } from '../records';
import { type Edit, type Tree, isEntries, isTree } from './edits';

const hasEntries = (tree: Tree): boolean => Object.keys(tree).length > 0;

/** Whether two values of JSON are the same, whatever the order of their keys. */
export function sameValue(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (Array.isArray(a) && Array.isArray(b))
    return a.length === b.length && a.every((item, at) => sameValue(item, b[at]));
  if (!isTree(a) || !isTree(b)) return false;
  const keys = Object.keys(a);
  return (
    keys.length === Object.keys(b).length &&
    keys.every((key) => Object.hasOwn(b, key) && sameValue(a[key], entryOf(b, key)))
  );
}

/**
 * The fewest edits that make one document of another: what is gone first, then what is new or other, keys in their order.
 * Entries of lists that have ids are told apart by them; other lists are values, and so is one whose entries stand in
 * another order.
 */
export function editsBetween(before: object, after: object): Edit[] {
  const edits: Edit[] = [];
  const compare = (a: Tree, b: Tree, path: readonly string[]): void => {
    for (const key of Object.keys(a)) if (!Object.hasOwn(b, key)) edits.push({ path: [...path, key] });
    for (const key of Object.keys(b)) {
      const [old, value] = [entryOf(a, key), b[key]];
      if (old === value) continue;
      // A map goes with its last entry, so that an empty one is set as a whole: see `applyEdits`.
      if (isTree(old) && isTree(value) && hasEntries(old) && hasEntries(value)) compare(old, value, [...path, key]);
      else if (isEntries(old) && isEntries(value) && inOrder(old, value)) compareEntries(old, value, [...path, key]);
      else if (!Object.hasOwn(a, key) || !sameValue(old, value)) edits.push({ path: [...path, key], value });
    }
  };
  const compareEntries = (a: Entries, b: Entries, path: readonly string[]): void => {
    const [old, now] = [new Map(a.map((entry) => [entry.id, entry])), new Set(b.map((entry) => entry.id))];
    for (const { id } of a) if (!now.has(id)) edits.push({ path: [...path, id] });
    for (const [at, entry] of b.entries()) {
      const known = old.get(entry.id);
      if (!known) edits.push({ path: [...path, entry.id], value: entry, at });
      else if (known !== entry) compare(known, entry, [...path, entry.id]);
    }
  };
  compare(before as Tree, after as Tree, []);
  return edits;
}

type Entries = readonly (Tree & { readonly id: string })[];
/** Whether entries that two lists have in common stand in the same order, and each list has every id once. */
function inOrder(a: Entries, b: Entries): boolean {
  const [mine, theirs] = [a, b].map((list) => list.map((entry) => entry.id)) as [string[], string[]];
  const [inA, inB] = [new Set(mine), new Set(theirs)];
  const [left, right] = [mine.filter((id) => inB.has(id)), theirs.filter((id) => inA.has(id))];
  return inA.size === a.length && inB.size === b.length && left.length > 0 && left.every((id, at) => id === right[at]);
}
