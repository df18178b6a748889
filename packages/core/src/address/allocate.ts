import { fail, ok, type Result } from '../result';
import { type Prefix, bitsOf } from './address';
import { lengthForHosts, nextFreeBlock } from './blocks';
import { formatPrefix } from './format';

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
 * Lays out one subnet for each wish inside a block: the largest first, each at the lowest place that is aligned and free,
 * so that nothing is wasted between them. The parts come in the order of the wishes. If all of them fit in any order,
 * they fit in this one: sizes are powers of two, and each starts at a multiple of its size.
 */
export function layOut(block: Prefix, wishes: readonly bigint[]): Result<LaidOutSubnet[], string> {
  const sized = wishes.map((hosts, at) => ({ hosts, at, length: subnetLength(block.family, hosts) }));
  const impossible = sized.find((one) => one.length === null);
  if (impossible) return fail(`No IPv${block.family} block has room for ${impossible.hosts} hosts.`);
  const parts = new Array<LaidOutSubnet>(wishes.length);
  const used: Prefix[] = [];
  for (const { hosts, at, length } of [...sized].sort((a, b) => a.length! - b.length! || a.at - b.at)) {
    const prefix = nextFreeBlock(block, used, length!);
    if (!prefix) {
      const size = 1n << BigInt(bitsOf(block.family) - length!);
      return fail(
        `${formatPrefix(block)} has no room left for ${hosts} hosts: a /${length} (${size} addresses) is wanted.`,
      );
    }
    used.push(prefix);
    parts[at] = { hosts, prefix };
  }
  return ok(parts);
}
