import { fail, ok, type Result } from '../result';
import { type Prefix, bitsOf } from './address';
import { lengthForHosts } from './blocks';
import { formatPrefix } from './format';
import { FreeSpace } from './free-space';

/** A wish for a subnet with room for so many hosts, and the block it gets. */
export interface LaidOutSubnet {
  readonly hosts: bigint;
  readonly prefix: Prefix;
}

/**
 * The shortest prefix length a subnet for hosts gets: at most /30, as a /31 (RFC 3021) has room for the two ends of a
 * link only; always /64 for IPv6 (RFC 4291 §2.5.1, RFC 7421). Null where no block is large enough.
 */
export function subnetLength(family: 4 | 6, hosts: bigint): number | null {
  if (family === 6) return 64;
  const length = lengthForHosts(4, hosts);
  return length === null ? null : Math.min(30, length);
}

/**
 * Places blocks of the given lengths in free space: the largest first, each in the smallest free block that holds it.
 * The places come in the order of the lengths; the error is the index of the first that finds none. If the blocks fit in
 * any way, they fit in this one: all sizes are powers of two, each block starts at a multiple of its size, and a block of
 * a size takes away exactly one place of that size wherever it is put, as all larger ones stand already.
 */
export function placeBlocks(space: FreeSpace, lengths: readonly number[]): Result<Prefix[], number> {
  const places = new Array<Prefix>(lengths.length);
  let left = space;
  for (const [at, length] of [...lengths.entries()].sort(([a, x], [b, y]) => x - y || a - b)) {
    const prefix = left.tightest(length);
    if (!prefix) return fail(at);
    left = left.take(prefix);
    places[at] = prefix;
  }
  return ok(places);
}

/** Lays out one subnet for each wish inside an empty block, without a gap between them. */
export function layOut(block: Prefix, wishes: readonly bigint[]): Result<LaidOutSubnet[], string> {
  const lengths = wishes.map((hosts) => subnetLength(block.family, hosts));
  const impossible = lengths.indexOf(null);
  if (impossible >= 0) return fail(`No IPv${block.family} block has room for ${wishes[impossible]} hosts.`);
  const placed = placeBlocks(FreeSpace.of(block, []), lengths as number[]);
  if (placed.ok) return ok(placed.value.map((prefix, at) => ({ hosts: wishes[at]!, prefix })));
  const length = lengths[placed.error]!;
  const size = 1n << BigInt(bitsOf(block.family) - length);
  return fail(
    `${formatPrefix(block)} has no room left for ${wishes[placed.error]} hosts: a /${length} (${size} addresses) is wanted.`,
  );
}
