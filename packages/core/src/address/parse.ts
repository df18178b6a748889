import { plural } from '../plural';
import { fail, ok, type Result } from '../result';
import {
  type Address,
  type Family,
  type InterfaceAddress,
  type Prefix,
  bitsOf,
  isLinkLocal,
  prefixOf,
} from './address';
import { formatAddress, formatPrefix } from './format';

/** What is wrong with a text that should be an address. `text` is a sentence for a person. */
export interface AddressError {
  code:
    | 'EMPTY'
    | 'SPACE'
    | 'COMMA'
    | 'PREFIX_NOT_WANTED'
    | 'PREFIX_MISSING'
    | 'PREFIX_RANGE'
    | 'MASK_GAP'
    | 'WILDCARD_MASK'
    | 'HOST_BITS'
    | 'OCTET_COUNT'
    | 'OCTET_EMPTY'
    | 'OCTET_RANGE'
    | 'LEADING_ZERO'
    | 'CHARACTER'
    | 'GROUP_COUNT'
    | 'GROUP_LENGTH'
    | 'DOUBLE_COLON'
    | 'ZONE'
    | 'FAMILY';
  text: string;
}
type Parsed<T> = Result<T, AddressError>;
const no = (code: AddressError['code'], text: string): Parsed<never> => fail({ code, text });

/**
 * Reads one IPv4 or IPv6 address. Strict on purpose: octets are decimal without leading zeros (RFC 6943 §3.1.1),
 * and nothing is trimmed, so that a stray space is named instead of hidden.
 */
export function parseAddress(text: string): Parsed<Address> {
  if (text === '') return no('EMPTY', 'The address is empty.');
  if (/\s/.test(text)) return no('SPACE', `There is a space in "${text}": remove it.`);
  if (text.includes('/'))
    return no('PREFIX_NOT_WANTED', `"${text}" has a prefix length: here the address alone is wanted.`);
  return text.includes(':') ? parseV6(text) : parseV4(text);
}

/** Reads an address that may name the interface by which its link is reached: "fe80::1%g0" (RFC 4007 §11). */
export function parseZonedAddress(text: string): Parsed<{ address: Address; zone: string | null }> {
  const [before, zone] = text.split('%', 2) as [string, string | undefined];
  const read = parseAddress(before);
  if (!read.ok) return read;
  if (zone === undefined) return { ok: true, value: { address: read.value, zone: null } };
  if (zone === '') return no('ZONE', `"${text}" names no interface after %: write for instance ${before}%g0.`);
  if (!isLinkLocal(read.value))
    return no('ZONE', `"${text}": only addresses of one link, from fe80:: on, name an interface.`);
  return { ok: true, value: { address: read.value, zone } };
}

/** Reads an address of one family; the other family is refused with a sentence. */
export function parseAddressOf(family: Family, text: string): Parsed<Address> {
  const parsed = parseAddress(text);
  if (parsed.ok && parsed.value.family !== family)
    return no('FAMILY', `"${text}" is an IPv${parsed.value.family} address: an IPv${family} address is wanted here.`);
  return parsed;
}

/** Four numbers without leading zeros. */
const PLAIN_V4 = /^(0|[1-9]\d{0,2})\.(0|[1-9]\d{0,2})\.(0|[1-9]\d{0,2})\.(0|[1-9]\d{0,2})$/;

function parseV4(text: string): Parsed<Address> {
  const plain = PLAIN_V4.exec(text);
  const octets = plain ? [Number(plain[1]), Number(plain[2]), Number(plain[3]), Number(plain[4])] : [];
  if (plain && octets.every((octet) => octet <= 255))
    return ok({ family: 4, value: BigInt(octets.reduce((value, octet) => value * 256 + octet, 0)) });
  return no(...whyNotV4(text));
}

/** What is wrong with a text that is no IPv4 address. */
function whyNotV4(text: string): [AddressError['code'], string] {
  if (text.includes(',')) return ['COMMA', `"${text}" has a comma where a dot belongs.`];
  const bad = /[^0-9.]/.exec(text);
  if (bad) return ['CHARACTER', `"${text}" has "${bad[0]}" in it: an IPv4 address has digits and dots only.`];
  const octets = text.split('.');
  if (octets.length !== 4)
    return [
      'OCTET_COUNT',
      `"${text}" has ${plural(octets.length, 'number')}: an IPv4 address has four, with dots between.`,
    ];
  if (octets.includes('')) return ['OCTET_EMPTY', `A number is missing between the dots of "${text}".`];
  const padded = octets.find((octet) => octet.length > 1 && octet.startsWith('0'));
  if (padded !== undefined)
    return ['LEADING_ZERO', `"${padded}" in "${text}" begins with a zero: write ${Number(padded)}.`];
  const large = octets.find((octet) => Number(octet) > 255);
  return ['OCTET_RANGE', `${large} in "${text}" is more than 255.`];
}

function parseV6(text: string): Parsed<Address> {
  if (text.includes('%')) return no('ZONE', `"${text}" names a zone: leave "%" and what follows away.`);
  const bad = /[^0-9a-fA-F:.]/.exec(text);
  if (bad)
    return no('CHARACTER', `"${text}" has "${bad[0]}" in it: an IPv6 address has the digits 0-9 and a-f and colons.`);
  const halves = text.split('::');
  if (halves.length > 2 || text.includes(':::')) return no('DOUBLE_COLON', `"::" may stand only once in "${text}".`);
  const groups: bigint[][] = [];
  for (const [at, half] of halves.entries()) {
    const read = v6Groups(text, half, at === halves.length - 1);
    if (!read.ok) return read;
    groups.push(read.value);
  }
  const count = groups.reduce((sum, half) => sum + half.length, 0);
  if (halves.length === 1 ? count !== 8 : count > 7)
    return no(
      'GROUP_COUNT',
      halves.length === 1
        ? `"${text}" has ${plural(count, 'group')}: an IPv6 address has eight, or "::" for a run of zeros.`
        : `"${text}" has ${count} groups beside "::": at most seven fit.`,
    );
  const zeros = Array.from({ length: 8 - count }, () => 0n);
  const all = halves.length === 1 ? groups[0]! : [...groups[0]!, ...zeros, ...groups[1]!];
  return ok({ family: 6, value: all.reduce((sum, group) => (sum << 16n) | group, 0n) });
}

/** The 16-bit groups of one side of "::". A dotted IPv4 tail counts as two groups (RFC 4291 §2.2). */
function v6Groups(text: string, half: string, isLast: boolean): Parsed<bigint[]> {
  if (half === '') return ok([]);
  const groups: bigint[] = [];
  const parts = half.split(':');
  for (const [at, part] of parts.entries()) {
    if (part === '') return no('DOUBLE_COLON', `A single colon at the edge of "${text}" has no group beside it.`);
    if (part.includes('.')) {
      if (!isLast || at !== parts.length - 1)
        return no('CHARACTER', `The dotted part of "${text}" may stand only at its end.`);
      const tail = parseV4(part);
      if (!tail.ok) return tail;
      groups.push(tail.value.value >> 16n, tail.value.value & 0xffffn);
    } else if (part.length > 4) {
      return no('GROUP_LENGTH', `The group "${part}" of "${text}" has more than four digits.`);
    } else {
      groups.push(BigInt(`0x${part}`));
    }
  }
  return ok(groups);
}

/** Reads a mask of dotted notation as a prefix length; gaps and wildcard masks are named. */
export function parseMask(text: string): Parsed<number> {
  const mask = parseAddressOf(4, text);
  if (!mask.ok) return mask;
  const length = lengthOfMask(mask.value.value);
  if (length !== null) return ok(length);
  const inverted = lengthOfMask(mask.value.value ^ 0xffffffffn);
  if (inverted !== null)
    return no(
      'WILDCARD_MASK',
      `${text} is a wildcard mask: the netmask is ${formatAddress({ family: 4, value: mask.value.value ^ 0xffffffffn })}, or /${inverted}.`,
    );
  return no('MASK_GAP', `${text} is no netmask: its one bits do not stand together at the left.`);
}

function lengthOfMask(value: bigint): number | null {
  for (let length = 0; length <= 32; length++)
    if (((1n << BigInt(length)) - 1n) << BigInt(32 - length) === value) return length;
  return null;
}

/**
 * Reads an address with its subnet: "10.84.1.5/26", "10.84.1.5 255.255.255.192", "10.84.1.5/255.255.255.192" or
 * "fd5e:7a3c:90b1::5/64".
 */
export function parseInterfaceAddress(text: string): Parsed<InterfaceAddress> {
  if (text === '') return no('EMPTY', 'The address is empty.');
  if (text !== text.trim()) return no('SPACE', `There is a space at the edge of "${text}": remove it.`);
  const cut = /^([^/\s]+)(?:\/| +)([^/\s]+)$/.exec(text);
  if (!cut) {
    if (/\s/.test(text)) return no('SPACE', `There is a space in "${text}": remove it.`);
    const alone = parseAddress(text);
    return alone.ok
      ? no(
          'PREFIX_MISSING',
          `"${text}" has no prefix length: write for instance ${text}/${alone.value.family === 4 ? 24 : 64}.`,
        )
      : alone;
  }
  const address = parseAddress(cut[1]!);
  if (!address.ok) return address;
  const length = parseLength(address.value.family, cut[2]!);
  return length.ok ? ok({ address: address.value, length: length.value }) : length;
}

function parseLength(family: Family, text: string): Parsed<number> {
  if (text.includes('.') && family === 4) return parseMask(text);
  if (!/^\d{1,3}$/.test(text))
    return no('PREFIX_RANGE', `"/${text}" is no prefix length: write a number from 0 to ${bitsOf(family)}.`);
  if (text.length > 1 && text.startsWith('0'))
    return no('LEADING_ZERO', `"/${text}" begins with a zero: write /${Number(text)}.`);
  const length = Number(text);
  return length <= bitsOf(family)
    ? ok(length)
    : no('PREFIX_RANGE', `/${length} is too long: an IPv${family} prefix has at most ${bitsOf(family)} bits.`);
}

/** Reads a block. An address inside a block ("10.84.1.5/26") is refused, and the block is named. */
export function parsePrefix(text: string): Parsed<Prefix> {
  const on = parseInterfaceAddress(text);
  if (!on.ok) return on;
  const prefix = prefixOf(on.value.address, on.value.length);
  if (prefix.value !== on.value.address.value)
    return no('HOST_BITS', `"${text}" is an address inside a block: the block is ${formatPrefix(prefix)}.`);
  return ok(prefix);
}
