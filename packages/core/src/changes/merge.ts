import { type Edit, type Path, type Tree, applyEdits, isEntries, isTree, valueAt } from './edits';
import { editsBetween, sameValue } from './difference';

/** One place that two people changed in ways of which only one can hold. */
export interface Contest {
  readonly place: Path;
}

/** Two documents that were made of the same third one, put together. */
export interface Merge<D> {
  /** Theirs, with everything of mine that meets nothing of theirs. */
  readonly together: D;
  /** What only a person can decide; none where all goes together. In `together` theirs holds of each. */
  readonly contests: readonly Contest[];
  /** Where both changed the same and the later of the two, which is mine, holds without asking. */
  readonly later: readonly Path[];
}

/** What must be known of a sort of document to put two together. */
export interface MergeRules<D> {
  /** The paths of what does not hold in a document; none where it is whole. */
  broken: (document: D) => readonly Path[];
  /** The value of which a path is a part that says nothing by itself, such as a position; the path itself else. */
  whole?: (path: Path) => Path;
  /** What becomes of a value that both changed, where nobody need be asked. */
  settle?: (place: Path, base: unknown, mine: unknown, theirs: unknown) => { value: unknown; later?: true } | null;
}

/** How many removals are tried one by one when something that was removed is pointed at. */
const MOST_TRIED = 60;

const startsWith = (path: Path, start: Path): boolean => start.every((key, at) => path[at] === key);
const overlap = (a: Path, b: Path): boolean => startsWith(a, b) || startsWith(b, a);
/** A thing of a document: an entry of one of its maps. */
const thingOf = (path: Path): Path => path.slice(0, 2);

/** What sets a place to what stands there in a document, or takes it away where nothing does. */
function editFrom(document: object, place: Path): Edit {
  const value = valueAt(document, place);
  if (value === undefined) return { path: [...place] };
  const list = valueAt(document, place.slice(0, -1));
  const at = isEntries(list) ? list.findIndex((entry) => entry.id === place.at(-1)) : -1;
  return { path: [...place], value, ...(at >= 0 && { at }) };
}

/**
 * The places where a document differs from the one it was made of, each as a whole value. A map that came with its first
 * entry or went with its last is no change of its own: its entries are. Maps stand at every other level of a document.
 */
function changedPlaces(base: object, now: object, whole: (path: Path) => Path): Path[] {
  const places = editsBetween(base, now).flatMap(({ path }): Path[] => {
    const [old, value] = [valueAt(base, path), valueAt(now, path)];
    const isMap = [old, value].every((side) => side === undefined || isTree(side)) && path.length % 2 === 1;
    return isMap ? Object.keys({ ...(old as Tree), ...(value as Tree) }).map((key) => [...path, key]) : [path];
  });
  return [...new Map(places.map(whole).map((place) => [JSON.stringify(place), place])).values()];
}

/** The document with the maps that were emptied entry by entry and are there without any: some must be. */
function withEmptied<D extends object>(document: D, mine: D, taken: readonly Path[]): D {
  const emptied = taken
    .map((path) => path.slice(0, -1))
    .filter((map) => {
      const [value, now] = [valueAt(mine, map), valueAt(document, map)];
      return (
        isTree(value) && !Object.keys(value).length && now === undefined && isTree(valueAt(document, map.slice(0, -1)))
      );
    });
  return emptied.length
    ? applyEdits(
        document,
        emptied.map((path) => ({ path: [...path], value: {} })),
      ).document
    : document;
}

/**
 * Puts together what two people made of one document (a three-way merge): whatever only one of them changed is in it,
 * and so is what both changed alike. The rest is left for a person, see `decided`. All three documents stay as they are.
 */
export function mergeOf<D extends object>(base: D, mine: D, theirs: D, rules: MergeRules<D>): Merge<D> {
  const whole = rules.whole ?? ((path: Path) => path);
  const others = changedPlaces(base, theirs, whole);
  const free: Path[] = [];
  const settled: Edit[] = [];
  const later: Path[] = [];
  let contests: Path[] = [];
  const contest = (place: Path): void => {
    // Of places that lie in each other the outer one is decided.
    if (contests.some((known) => startsWith(place, known))) return;
    contests = [...contests.filter((known) => !startsWith(known, place)), place];
  };
  for (const path of changedPlaces(base, mine, whole)) {
    const met = others.filter((other) => overlap(path, other));
    const place = met.reduce((outer, other) => (other.length < outer.length ? other : outer), path);
    const [was, my, other] = [base, mine, theirs].map((document) => valueAt(document, place));
    if (!met.length) free.push(path);
    else if (!sameValue(my, other)) {
      const done = rules.settle?.(place, was, my, other);
      if (!done) contest(place);
      else {
        settled.push({ path: [...place], ...(done.value !== undefined && { value: done.value }) });
        if (done.later) later.push(place);
      }
    }
  }
  const isFree = (path: Path): boolean => !contests.some((place) => overlap(path, place));
  const put = (): D => {
    const taken = free.filter(isFree);
    const { document } = applyEdits(theirs, [
      ...taken.map((path) => editFrom(mine, path)),
      ...settled.filter(({ path }) => isFree(path)),
    ]);
    return withEmptied(document, mine, taken);
  };
  // What goes together place by place may not hold as a whole: a new link, say, to a device that the other removed.
  let together = put();
  for (let broken = rules.broken(together); broken.length && free.some(isFree); broken = rules.broken(together)) {
    const touched = broken.map(thingOf).filter((thing) => free.some((path) => isFree(path) && overlap(path, thing)));
    const removed = free.filter((path) => isFree(path) && valueAt(mine, path) === undefined);
    const blamed = touched.length
      ? touched
      : removed.length > MOST_TRIED
        ? removed
        : removed.filter(
            (path) => rules.broken(applyEdits(together, [editFrom(base, path)]).document).length < broken.length,
          );
    for (const place of blamed.length ? blamed : free.filter(isFree)) contest(place);
    together = put();
  }
  return {
    together,
    contests: contests.map((place) => ({ place })),
    later: later.filter(isFree),
  };
}

/**
 * The document with mine at the chosen ones of the contested places, and theirs at the others. Where mine points at
 * something that they removed, that comes back with it.
 */
export function decided<D extends object>(
  { together, contests }: Merge<D>,
  isMine: (contest: Contest) => boolean,
  { mine, theirs, base }: { mine: D; theirs: D; base: D },
  { broken }: MergeRules<D>,
): D {
  const chosen = contests.filter(isMine).map(({ place }) => editFrom(mine, place));
  let document = applyEdits(together, chosen).document;
  const removed = changedPlaces(base, theirs, (path) => path).filter((path) => valueAt(theirs, path) === undefined);
  const gone = (): Path[] =>
    removed.filter((path) => valueAt(mine, path) !== undefined && valueAt(document, path) === undefined);
  for (let problems = broken(document); problems.length; problems = broken(document)) {
    const before = document;
    const back = gone();
    for (const path of back) {
      const tried = applyEdits(document, [editFrom(mine, path)]).document;
      if (back.length > MOST_TRIED || broken(tried).length < broken(document).length) document = tried;
    }
    if (document === before)
      document = applyEdits(
        document,
        problems
          .map(thingOf)
          .filter((thing) => !sameValue(valueAt(document, thing), valueAt(mine, thing)))
          .map((thing) => editFrom(mine, thing)),
      ).document;
    // Mine as a whole held when it was made: what nothing else mends is not left broken.
    if (document === before) return mine;
  }
  return document;
}

/** A list to which both have only added: what both added, theirs first; null where one of them did more. */
export function bothAdded(base: unknown, mine: unknown, theirs: unknown): unknown[] | null {
  const start = base === undefined ? [] : base;
  if (![start, mine, theirs].every(Array.isArray)) return null;
  const [old, my, other] = [start, mine, theirs] as [unknown[], unknown[], unknown[]];
  const goesOn = (list: unknown[]): boolean => old.every((entry, at) => at < list.length && sameValue(entry, list[at]));
  return goesOn(my) && goesOn(other) ? [...other, ...my.slice(old.length)] : null;
}
