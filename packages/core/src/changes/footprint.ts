import { type Path } from './edits';

/** What a change looked at and what it changed, as paths. A read is the existence of the thing at the path. */
export interface Footprint {
  reads: string[][];
  writes: string[][];
}

/** Paths in a tree of keys, so that meeting ones are found without comparing each with each. */
class PathTree {
  private readonly children = new Map<string, PathTree>();
  private ends = false;

  static of(paths: readonly Path[]): PathTree {
    const tree = new PathTree();
    for (const path of paths) tree.add(path);
    return tree;
  }

  private add(path: Path): void {
    let at = this as PathTree;
    for (const key of path) {
      let next = at.children.get(key);
      if (!next) at.children.set(key, (next = new PathTree()));
      at = next;
    }
    at.ends = true;
  }

  /** Whether some path of the tree is the given one or a beginning of it. */
  holdsStartOf(path: Path): boolean {
    let at = this as PathTree;
    if (at.ends) return true;
    for (const key of path) {
      const next = at.children.get(key);
      if (!next) return false;
      at = next;
      if (at.ends) return true;
    }
    return false;
  }

  /** Whether some path of the tree is the given one or goes on from it. */
  holdsBeyond(path: Path): boolean {
    let at = this as PathTree;
    for (const key of path) {
      const next = at.children.get(key);
      if (!next) return false;
      at = next;
    }
    return at.ends || at.children.size > 0;
  }
}

/**
 * The places where two changes, made from the same document, do not go together; none where they do. Two writes meet when
 * one of them changes something inside, or all of, what the other changes; a write meets a read when it takes away what
 * the read relied on.
 */
export function meetingPlaces(mine: Footprint, theirs: Footprint): string[][] {
  const [written, read] = [PathTree.of(theirs.writes), PathTree.of(theirs.reads)];
  return [
    ...mine.writes.filter((path) => written.holdsStartOf(path) || written.holdsBeyond(path) || read.holdsBeyond(path)),
    ...mine.reads.filter((path) => written.holdsStartOf(path)),
  ];
}
