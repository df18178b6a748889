import { fail, ok, type Result } from '../result';
import {
  type Address,
  type Prefix,
  bitsOf,
  comparePrefixes,
  contains,
  firstOf,
  lastOf,
  overlaps,
  sizeOf,
} from './address';
import { formatPrefix } from './format';

/** Addresses from `from` to `to`, both included, of one family. */
export interface AddressRange {
  readonly from: Address;
  readonly to: Address;
}

/** More parts than this are refused: nobody reads them, and they would fill the memory. */
export const MAX_PARTS = 65536;

/** Cuts a block into all its sub-blocks of a length. */
export function split(prefix: Prefix, length: number): Result<Prefix[], string> {
  if (length < prefix.length || length > bitsOf(prefix.family))
    return fail(
      `${formatPrefix(prefix)} cannot be cut into /${length}: choose /${prefix.length} to /${bitsOf(prefix.family)}.`,
    );
  const count = 1n << BigInt(length - prefix.length);
  if (count > BigInt(MAX_PARTS))
    return fail(`${formatPrefix(prefix)} has ${count} blocks of /${length}: more than ${MAX_PARTS} are not listed.`);
  const step = 1n << BigInt(bitsOf(prefix.family) - length);
  return ok(
    Array.from({ length: Number(count) }, (_, at) => ({
      family: prefix.family,
      value: prefix.value + BigInt(at) * step,
      length,
    })),
  );
}

/** The fewest blocks that hold exactly the same addresses, in order. Families may be mixed. */
export function summarise(prefixes: readonly Prefix[]): Prefix[] {
  const out: Prefix[] = [];
  for (const next of [...prefixes].sort(comparePrefixes)) {
    const last = out.at(-1);
    if (last && contains(last, next)) continue;
    out.push(next);
    while (mergeLastTwo(out));
  }
  return out;
}

/** Joins the last two blocks where they are the two halves of a larger one. */
function mergeLastTwo(out: Prefix[]): boolean {
  const [a, b] = [out.at(-2), out.at(-1)];
  if (!a || !b || a.family !== b.family || a.length !== b.length || a.length === 0) return false;
  const size = sizeOf(a);
  if (a.value + size !== b.value || (a.value & size) !== 0n) return false;
  out.splice(-2, 2, { ...a, length: a.length - 1 });
  return true;
}

/** The fewest blocks that cover a range exactly. */
export function rangeToPrefixes(range: AddressRange): Prefix[] {
  const { family } = range.from;
  const out: Prefix[] = [];
  let at = range.from.value;
  while (at <= range.to.value) {
    let length = bitsOf(family);
    const fits = (shorter: number): boolean => {
      const size = 1n << BigInt(bitsOf(family) - shorter);
      return at % size === 0n && at + size - 1n <= range.to.value;
    };
    while (length > 0 && fits(length - 1)) length--;
    out.push({ family, value: at, length });
    at += 1n << BigInt(bitsOf(family) - length);
  }
  return out;
}

/**
 * The addresses hosts may carry. IPv4: all but network and broadcast address; both of a /31 (RFC 3021); the one of a /32.
 * IPv6: all but the subnet-router anycast address (RFC 4291 §2.6.1); both of a /127 (RFC 6164); the one of a /128.
 */
export function usableRange(prefix: Prefix): AddressRange {
  const [from, to] = [firstOf(prefix), lastOf(prefix)];
  if (bitsOf(prefix.family) - prefix.length <= 1) return { from, to };
  return {
    from: { ...from, value: from.value + 1n },
    to: prefix.family === 4 ? { ...to, value: to.value - 1n } : to,
  };
}

/** How many addresses a range has, both its ends counted. */
export const rangeSize = (range: AddressRange): bigint => range.to.value - range.from.value + 1n;

/** How many hosts (gateway included) the block has room for. */
export const usableCount = (prefix: Prefix): bigint => rangeSize(usableRange(prefix));

/** Network address of the block, which no host may carry; null for /31, /32, /127 and /128. */
export const networkAddress = (prefix: Prefix): Address | null =>
  bitsOf(prefix.family) - prefix.length <= 1 ? null : firstOf(prefix);

/** Directed broadcast address; null for IPv6 and for /31 and /32. */
export const broadcastAddress = (prefix: Prefix): Address | null =>
  prefix.family === 6 || prefix.length >= 31 ? null : lastOf(prefix);

/** The longest prefix length whose block has room for so many usable addresses; null where none has. */
export function lengthForHosts(family: 4 | 6, hosts: bigint): number | null {
  for (let length = bitsOf(family); length >= 0; length--)
    if (usableCount({ family, value: 0n, length }) >= hosts) return length;
  return null;
}

/** The lowest block of a length inside `block` that overlaps none of `used`; null where none is left. */
export function nextFreeBlock(block: Prefix, used: readonly Prefix[], length: number): Prefix | null {
  if (length < block.length || length > bitsOf(block.family)) return null;
  const taken = used.filter((other) => overlaps(block, other)).sort(comparePrefixes);
  const end = lastOf(block).value;
  const step = 1n << BigInt(bitsOf(block.family) - length);
  let candidate = block.value;
  for (const other of taken) {
    if (candidate + step <= other.value) break;
    const after = lastOf(other).value + 1n;
    if (after > candidate) candidate = ((after + step - 1n) / step) * step;
  }
  return candidate + step - 1n <= end ? { family: block.family, value: candidate, length } : null;
}

/** The lowest usable address of a subnet that is not taken; null where it is full. */
export function nextFreeAddress(subnet: Prefix, used: readonly Address[]): Address | null {
  const { from, to } = usableRange(subnet);
  const taken = new Set(used.filter((address) => address.family === subnet.family).map((address) => address.value));
  for (let value = from.value; value <= to.value; value++)
    if (!taken.has(value)) return { family: subnet.family, value };
  return null;
}

/** What is left of a block when the used ones are taken out, as the fewest blocks, in order. */
export function freeBlocks(block: Prefix, used: readonly Prefix[]): Prefix[] {
  const free: Prefix[] = [];
  let at = block.value;
  const upTo = (end: bigint): void => {
    if (at < end)
      free.push(
        ...rangeToPrefixes({
          from: { family: block.family, value: at },
          to: { family: block.family, value: end - 1n },
        }),
      );
  };
  for (const other of summarise(used.filter((prefix) => overlaps(block, prefix)))) {
    upTo(other.value);
    const after = lastOf(other).value + 1n;
    if (after > at) at = after;
  }
  upTo(lastOf(block).value + 1n);
  return free;
}
