import { type Address, type Prefix, bitsOf, firstOf, lastOf, maskOf, prefixOf, sizeOf } from './address';
import { broadcastAddress, networkAddress, usableCount, usableRange } from './blocks';
import { formatAddress, formatMask, formatPrefix } from './format';

/** A line of bits, cut in groups of 8 (IPv4) or 16 (IPv6); the first `network` bits belong to the network. */
export interface BitLine {
  name: string;
  text: string;
  groups: string[];
  network: number;
}

/** One step as one would show it to a class: what is done, in words, with the bits it is done on where there are any. */
export interface WorkingStep {
  title: string;
  words: string;
  bits: BitLine[];
}

/** The bits of a value of a family in groups. */
export function bitGroups(family: 4 | 6, value: bigint): string[] {
  const bits = value.toString(2).padStart(bitsOf(family), '0');
  return bits.match(family === 4 ? /.{8}/g : /.{16}/g)!;
}

/**
 * How network, first, last and next block follow from an address and a prefix length: AND with the mask, the block size in
 * the octet (IPv4) or hexadecimal digit (IPv6) where the boundary lies, all host bits one, one more. RFC 4632 §3.1 for
 * IPv4, RFC 4291 §2.3 for IPv6.
 */
export function workings(address: Address, length: number): WorkingStep[] {
  const { family } = address;
  const prefix = prefixOf(address, length);
  const line = (name: string, value: bigint, text = formatAddress({ family, value })): BitLine => ({
    name,
    text,
    groups: bitGroups(family, value),
    network: length,
  });
  const mask = line('mask', maskOf(family, length), family === 4 ? formatMask(length) : `/${length}`);
  const hostBits = bitsOf(family) - length;
  return [
    {
      title: 'Cut into network and host',
      words: `/${length}: the first ${length} of ${bitsOf(family)} bits are the network, the other ${hostBits} number the addresses in it.`,
      bits: [line('address', address.value), mask],
    },
    {
      title: 'AND with the mask',
      words: `Where the mask has 1 the bit stays, where it has 0 it becomes 0. That is the first address of the block: ${formatAddress(prefix)}.`,
      bits: [line('address', address.value), mask, line('block', prefix.value)],
    },
    { title: 'Block size', words: blockSizeWords(address, prefix), bits: [] },
    {
      title: 'Last address',
      words: `All ${hostBits} host bits become 1: ${formatAddress(lastOf(prefix))}.${
        broadcastAddress(prefix) ? ' In IPv4 this is the broadcast address of the subnet.' : ''
      }`,
      bits: [line('block', prefix.value), line('last', lastOf(prefix).value)],
    },
    { title: 'Usable addresses', words: usableWords(prefix), bits: [] },
    { title: 'Next block', words: nextWords(prefix), bits: [] },
  ];
}

function blockSizeWords(address: Address, prefix: Prefix): string {
  const { family, length } = prefix;
  const unit = family === 4 ? 8 : 4;
  if (length % unit === 0) {
    const what = family === 4 ? 'octet' : 'digit';
    return length === 0
      ? 'Nothing is fixed: the block is the whole address space.'
      : `/${length} ends exactly behind ${what} ${length / unit}: every change of that ${what} begins another block of ${count(family, length)}.`;
  }
  const index = Math.floor(length / unit);
  const step = 1 << (unit - (length % unit));
  const shift = BigInt(bitsOf(family) - (index + 1) * unit);
  const [own, start] = [address.value, prefix.value].map((value) => Number((value >> shift) & BigInt((1 << unit) - 1)));
  if (family === 4)
    return `The boundary lies in octet ${index + 1}. There the mask is ${256 - step}, and 256 − ${256 - step} = ${step}: blocks begin at every multiple of ${step}. ${own} lies in the one that begins at ${start}.`;
  const hex = (value: number): string => value.toString(16);
  return `The boundary lies in digit ${index + 1} (each has four bits). 16 ÷ 2^${length % 4} = ${step}: blocks begin at every multiple of ${step} of that digit. ${hex(own!)} lies in the one that begins at ${hex(start!)}.`;
}

const count = (family: 4 | 6, length: number): string => {
  const bits = bitsOf(family) - length;
  return bits <= 32 ? `${(1n << BigInt(bits)).toLocaleString('en')} addresses` : `2^${bits} addresses`;
};

function usableWords(prefix: Prefix): string {
  const { family, length } = prefix;
  const bits = bitsOf(family) - length;
  const range = usableRange(prefix);
  const span = `${formatAddress(range.from)} to ${formatAddress(range.to)}`;
  if (bits === 0) return `A /${length} is one address alone: ${formatAddress(prefix)}.`;
  if (bits === 1)
    return `A /${length} has two addresses, both usable for the two ends of a link (${family === 4 ? 'RFC 3021' : 'RFC 6164'}): ${span}.`;
  if (family === 6)
    return `All but the first, which every router of the subnet answers to (subnet-router anycast, RFC 4291): ${span}. A subnet for hosts is a /64.`;
  return `2^${bits} − 2 = ${usableCount(prefix)}: the network address ${formatAddress(networkAddress(prefix)!)} and the broadcast address are no host’s. Usable are ${span}.`;
}

function nextWords(prefix: Prefix): string {
  const next = prefix.value + sizeOf(prefix);
  if (next >= 1n << BigInt(bitsOf(prefix.family))) return 'None: this block is the last of the address space.';
  return `The last address and one more: ${formatPrefix({ ...firstOf(prefix), length: prefix.length, value: next })}.`;
}

/** Why a length is the shortest that holds so many addresses: one size too small, then the one that fits. IPv4 only. */
export function sizeWords(addresses: number): { length: number; words: string } {
  let bits = 2;
  while (2 ** bits - 2 < addresses) bits++;
  const fits = `2^${bits} − 2 = ${2 ** bits - 2} fits`;
  return {
    length: 32 - bits,
    words: bits === 2 ? fits : `2^${bits - 1} − 2 = ${2 ** (bits - 1) - 2} is too few, ${fits}`,
  };
}
