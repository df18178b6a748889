import { type Address, type Prefix, subnetOf } from './address';
import { broadcastAddress, networkAddress } from './blocks';
import { formatAddress, formatPrefix } from './format';
import { parseInterfaceAddress } from './parse';
import { isHostScope, scopeOf } from './scope';

/** What was likely meant by an address or block that is not private, in brackets: mistaken digits. Empty where nothing is likely. */
export function likelyMeant({ family, value }: Pick<Address | Prefix, 'family' | 'value'>): string {
  if (family === 6) return '';
  const first = Number(value >> 24n);
  const second = Number((value >> 16n) & 255n);
  if (first === 127 && second >= 16 && second < 32) return ' (172 meant?)';
  if (first === 172) return ' (the private ones run from 172.16 to 172.31)';
  if (first === 129 && second === 168) return ' (192 meant?)';
  if (first === 18 || first === 19) return ' (10 meant?)';
  return '';
}

/**
 * What is to be said of an address with its prefix length while it is typed for an interface: that it cannot be read,
 * that no host can carry it, or that it is no private one. Null where it is fine. Nothing is refused by it.
 */
export function interfaceAddressHint(text: string): string | null {
  const read = parseInterfaceAddress(text);
  if (!read.ok) return read.error.text;
  const { address } = read.value;
  const [name, subnet] = [formatAddress(address), subnetOf(read.value)];
  if (!isHostScope(address))
    return `${name} is set aside (${scopeOf(address)}): no interface carries it${likelyMeant(address)}.`;
  if (networkAddress(subnet)?.value === address.value)
    return `${name} is the network address of ${formatPrefix(subnet)}: take one of its hosts.`;
  if (broadcastAddress(subnet)?.value === address.value)
    return `${name} is the broadcast address of ${formatPrefix(subnet)}: take one of its hosts.`;
  if (scopeOf(address) === 'global')
    return `${name} is no private address${likelyMeant(address)}: 10/8, 172.16/12, 192.168/16 and fc00::/7 are.`;
  return null;
}
