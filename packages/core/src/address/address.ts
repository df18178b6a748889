/** Address families: IPv4 (RFC 791) and IPv6 (RFC 4291). */
export type Family = 4 | 6;

/** One IP address. `value` is the address as an unsigned integer of 32 or 128 bits. */
export interface Address {
  readonly family: Family;
  readonly value: bigint;
}

/** A block of addresses. `value` is its first address: all bits behind `length` are zero. */
export interface Prefix {
  readonly family: Family;
  readonly value: bigint;
  readonly length: number;
}

/** An address as an interface carries it: the address itself with the length of its subnet's prefix. */
export interface InterfaceAddress {
  readonly address: Address;
  readonly length: number;
}

/** Number of bits of an address of the family. */
export const bitsOf = (family: Family): number => (family === 4 ? 32 : 128);

/** The netmask of a length as an integer, for instance 0xffffff00 for an IPv4 /24. */
export const maskOf = (family: Family, length: number): bigint => MASKS[family][length]!;

/** Worked out once: masks are asked for with every address that is compared. */
const masks = (bits: number): bigint[] =>
  Array.from({ length: bits + 1 }, (_, length) => ((1n << BigInt(length)) - 1n) << BigInt(bits - length));
const MASKS: Readonly<Record<Family, readonly bigint[]>> = { 4: masks(32), 6: masks(128) };
/** Those of IPv4 as numbers of 32 bits with a sign. */
const MASKS_4 = MASKS[4].map((mask) => Number(mask) | 0);

/** The block of `length` bits that holds the address. */
export function prefixOf(address: Address, length: number): Prefix {
  return { family: address.family, value: address.value & maskOf(address.family, length), length };
}

/** The subnet an interface address puts its interface into. */
export const subnetOf = (on: InterfaceAddress): Prefix => prefixOf(on.address, on.length);

/** Number of addresses of the block, the unusable ones included. */
export const sizeOf = (prefix: Prefix): bigint => 1n << BigInt(bitsOf(prefix.family) - prefix.length);

/** The first address of a prefix: the network address where IPv4 has one. */
export const firstOf = (prefix: Prefix): Address => ({ family: prefix.family, value: prefix.value });
/** The last address of a prefix: the broadcast address where IPv4 has one. */
export const lastOf = (prefix: Prefix): Address => ({
  family: prefix.family,
  value: prefix.value + sizeOf(prefix) - 1n,
});

/** Whether two addresses are the same one of the same family. */
export const sameAddress = (a: Address, b: Address): boolean => a.family === b.family && a.value === b.value;
/** One key for equal prefixes, quicker made than their text. */
/** The key of the prefix of a length that an address lies in. */
export const prefixKeyAt = ({ family, value }: Pick<Address, 'family' | 'value'>, length: number): number | string =>
  family === 4
    ? ((Number(value) & MASKS_4[length]!) >>> 0) * 64 + length
    : prefixKey({ family, value: value & maskOf(6, length), length });
/** A key for maps that is the same for the same prefix and for no other; a number for IPv4, which is quicker. */
export const prefixKey = ({ family, value, length }: Prefix): number | string =>
  family === 4 ? Number(value) * 64 + length : `${value.toString(36)}/${length}`;
/** Whether two prefixes are the same: family, first address and length. */
export const samePrefix = (a: Prefix, b: Prefix): boolean =>
  a.family === b.family && a.value === b.value && a.length === b.length;

/** Order for sorting: IPv4 before IPv6, then by value. */
export function compareAddresses(a: Address, b: Address): number {
  if (a.family !== b.family) return a.family - b.family;
  return a.value < b.value ? -1 : a.value > b.value ? 1 : 0;
}

/** Order for sorting: by first address, the larger block first. */
export const comparePrefixes = (a: Prefix, b: Prefix): number =>
  compareAddresses(firstOf(a), firstOf(b)) || a.length - b.length;

/** Whether the block holds the address, or the whole other block. */
export function contains(outer: Prefix, inner: Address | Prefix): boolean {
  if (outer.family !== inner.family) return false;
  if ('length' in inner && inner.length < outer.length) return false;
  return (inner.value & maskOf(outer.family, outer.length)) === outer.value;
}

/** Whether two blocks share an address. Blocks never overlap in part: one of them holds the other. */
export const overlaps = (a: Prefix, b: Prefix): boolean => contains(a, b) || contains(b, a);

/** fe80::/10, whose addresses are of one link each (RFC 4291 §2.4). */
export const isLinkLocal = ({ family, value }: Pick<Address, 'family' | 'value'>): boolean =>
  family === 6 && value >> 118n === 0x3fan;
