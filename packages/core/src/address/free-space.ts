import { type Prefix, bitsOf, comparePrefixes, lastOf } from './address';
import { freeBlocks } from './blocks';

/**
 * The free space of a block as the fewest blocks, kept so that the next block of a size is found without looking at all of
 * them. Immutable: taking gives a new one.
 */
export class FreeSpace {
  /** Free blocks by prefix length, each list in rising order. */
  private readonly byLength: ReadonlyMap<number, readonly Prefix[]>;

  private constructor(private readonly blocks: readonly Prefix[]) {
    const byLength = new Map<number, Prefix[]>();
    for (const block of blocks) {
      const list = byLength.get(block.length);
      if (list) list.push(block);
      else byLength.set(block.length, [block]);
    }
    this.byLength = byLength;
  }

  /** What is left of `block` when the used ones are taken out. */
  static of(block: Prefix, used: readonly Prefix[]): FreeSpace {
    return new FreeSpace(freeBlocks(block, used));
  }

  /** The free blocks in order. */
  get all(): readonly Prefix[] {
    return this.blocks;
  }

  get size(): bigint {
    return this.blocks.reduce((sum, block) => sum + (1n << BigInt(bitsOf(block.family) - block.length)), 0n);
  }

  /** The largest free block, the lowest of several; null where nothing is free. */
  get largest(): Prefix | null {
    const length = Math.min(...this.byLength.keys());
    return this.byLength.get(length)?.[0] ?? null;
  }

  /** The lowest free block of a length. */
  next(length: number): Prefix | null {
    let lowest: Prefix | null = null;
    for (const [own, [first]] of this.byLength)
      if (own <= length && (!lowest || first!.value < lowest.value)) lowest = first!;
    return lowest && { ...lowest, length };
  }

  /** A block of a length from the smallest free one that holds it, so that large ones stay whole. */
  tightest(length: number): Prefix | null {
    let best: Prefix | null = null;
    for (const [own, [first]] of this.byLength) if (own <= length && own > (best?.length ?? -1)) best = first!;
    return best && { ...best, length };
  }

  /** Without a block that lies wholly in the free space. */
  take(block: Prefix): FreeSpace {
    return new FreeSpace(
      this.blocks
        .flatMap((prefix) =>
          prefix.value <= block.value && lastOf(block).value <= lastOf(prefix).value
            ? freeBlocks(prefix, [block])
            : [prefix],
        )
        .sort(comparePrefixes),
    );
  }
}
