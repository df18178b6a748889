import { entryOf } from '../records';
import { type Edit } from './edits';

type Tree = Readonly<Record<string, unknown>>;
const isTree = (value: unknown): value is Tree => value !== null && typeof value === 'object' && !Array.isArray(value);

const hasEntries = (tree: Tree): boolean => Object.keys(tree).length > 0;

/** Whether two values of JSON are the same, whatever the order of their keys. */
export function sameValue(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (Array.isArray(a) && Array.isArray(b)) return a.length === b.length && a.every((one, at) => sameValue(one, b[at]));
  if (!isTree(a) || !isTree(b)) return false;
  const keys = Object.keys(a);
  return (
    keys.length === Object.keys(b).length &&
    keys.every((key) => Object.hasOwn(b, key) && sameValue(a[key], entryOf(b, key)))
  );
}

/**
 * The fewest edits that make one document of another: what is gone first, then what is new or other, keys in their order.
 * Lists are values: one that differs in an entry is set as a whole.
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
      else if (!Object.hasOwn(a, key) || !sameValue(old, value)) edits.push({ path: [...path, key], value });
    }
  };
  compare(before as Tree, after as Tree, []);
  return edits;
}
