import { type Address, type Prefix, contains } from './address';
import { parsePrefix } from './parse';

/** What a range of addresses is set aside for (IANA special-purpose registries). */
export type Scope =
  | 'unspecified'
  | 'loopback'
  | 'link-local'
  | 'private'
  | 'shared'
  | 'documentation'
  | 'benchmarking'
  | 'multicast'
  | 'broadcast'
  | 'this-network'
  | 'protocol'
  | 'reserved'
  | 'ipv4-mapped'
  | 'translation'
  | 'discard'
  | 'global';

/** Most specific first. Each with the RFC that sets it aside. */
const RANGES: readonly [string, Scope][] = [
  ['0.0.0.0/32', 'unspecified'], // RFC 1122 §3.2.1.3
  ['255.255.255.255/32', 'broadcast'], // RFC 919
  ['0.0.0.0/8', 'this-network'], // RFC 791 §3.2
  ['10.0.0.0/8', 'private'], // RFC 1918
  ['100.64.0.0/10', 'shared'], // RFC 6598
  ['127.0.0.0/8', 'loopback'], // RFC 1122 §3.2.1.3
  ['169.254.0.0/16', 'link-local'], // RFC 3927
  ['172.16.0.0/12', 'private'], // RFC 1918
  ['192.0.0.0/24', 'protocol'], // RFC 6890
  ['192.0.2.0/24', 'documentation'], // RFC 5737
  ['192.168.0.0/16', 'private'], // RFC 1918
  ['198.18.0.0/15', 'benchmarking'], // RFC 2544
  ['198.51.100.0/24', 'documentation'], // RFC 5737
  ['203.0.113.0/24', 'documentation'], // RFC 5737
  ['224.0.0.0/4', 'multicast'], // RFC 5771
  ['240.0.0.0/4', 'reserved'], // RFC 1112 §4
  ['::/128', 'unspecified'], // RFC 4291 §2.5.2
  ['::1/128', 'loopback'], // RFC 4291 §2.5.3
  ['::ffff:0.0.0.0/96', 'ipv4-mapped'], // RFC 4291 §2.5.5.2
  ['64:ff9b::/96', 'translation'], // RFC 6052
  ['100::/64', 'discard'], // RFC 6666
  ['2001:2::/48', 'benchmarking'], // RFC 5180
  ['2001:db8::/32', 'documentation'], // RFC 3849
  ['3fff::/20', 'documentation'], // RFC 9637
  ['fc00::/7', 'private'], // RFC 4193, unique local
  ['fe80::/10', 'link-local'], // RFC 4291 §2.5.6
  ['ff00::/8', 'multicast'], // RFC 4291 §2.7
];

const TABLE: readonly (readonly [Prefix, Scope])[] = RANGES.map(([text, scope]) => {
  const prefix = parsePrefix(text);
  if (!prefix.ok) throw new Error(prefix.error.text);
  return [prefix.value, scope] as const;
});

/** What an address, or a whole block, is set aside for; a block that is only partly special counts as global. */
export function scopeOf(address: Address | Prefix): Scope {
  return TABLE.find(([range]) => contains(range, address))?.[1] ?? 'global';
}

/** Private addresses: RFC 1918 for IPv4, unique local (RFC 4193) for IPv6. */
export const isPrivate = (address: Address | Prefix): boolean => scopeOf(address) === 'private';

/** Whether a host may be given this address as its own at all. */
export const isHostScope = (address: Address): boolean =>
  !['unspecified', 'broadcast', 'multicast', 'loopback', 'this-network', 'reserved'].includes(scopeOf(address));
