import { type Address, type InterfaceAddress, type Prefix, maskOf } from './address';

/** The canonical text of an address: dotted decimal, or RFC 5952 for IPv6. */
export const formatAddress = (address: Address): string =>
  address.family === 4 ? formatV4(address.value) : formatV6(address.value);

/** A prefix as people write it: "10.84.1.0/26", "fd5e:7a3c:90b1::/48" (RFC 4632, RFC 5952). */
export const formatPrefix = (prefix: Prefix): string => `${formatAddress(prefix)}/${prefix.length}`;

/** The address of an interface with the length of its subnet's prefix: "10.84.1.1/26". */
export const formatInterfaceAddress = (on: InterfaceAddress): string => `${formatAddress(on.address)}/${on.length}`;

/** The netmask in dotted notation (IPv4 only: IPv6 has prefix lengths). */
export const formatMask = (length: number): string => formatV4(maskOf(4, length));

/** The inverted netmask, as access lists write it. */
export const formatWildcard = (length: number): string => formatV4(maskOf(4, length) ^ 0xffffffffn);

function formatV4(value: bigint): string {
  const bits = Number(value); // 32 bits are exact, and plans have tens of thousands of addresses
  return `${bits >>> 24}.${(bits >>> 16) & 255}.${(bits >>> 8) & 255}.${bits & 255}`;
}

/** RFC 5952: no leading zeros, lower case, "::" for the longest run of two or more zero groups, the first on a tie. */
function formatV6(value: bigint): string {
  if (value >> 32n === 0xffffn) return `::ffff:${formatV4(value & 0xffffffffn)}`; // RFC 5952 §5: IPv4-mapped
  const groups = Array.from({ length: 8 }, (_, at) => (value >> BigInt(112 - 16 * at)) & 0xffffn);
  let best = { start: -1, length: 1 };
  for (let start = 0; start < 8; start++) {
    let length = 0;
    while (start + length < 8 && groups[start + length] === 0n) length++;
    if (length > best.length) best = { start, length };
  }
  const hex = (part: bigint[]): string => part.map((group) => group.toString(16)).join(':');
  if (best.start < 0) return hex(groups);
  return `${hex(groups.slice(0, best.start))}::${hex(groups.slice(best.start + best.length))}`;
}
