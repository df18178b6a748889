import { type Instance } from './instances';
import { type Interface } from '../../topology';

/**
 * The MAC address of a device or of one of its ports: locally administered (IEEE 802-2014 §8.4), and made from ids
 * only, so that the same drawing has the same addresses everywhere and what ties decide is decided alike.
 */
export function macOf(instance: string, port = ''): string {
  const name = `${instance} ${port}`;
  const [high, low] = [hashOf(name, 0x811c9dc5), hashOf(name, 0x2f0b4c47)];
  const bytes = [high >>> 24, high >>> 16, high >>> 8, low >>> 16, low >>> 8].map((byte) => byte & 0xff);
  return [0x02, ...bytes].map((byte) => byte.toString(16).padStart(2, '0')).join(':');
}

/** The MAC address of an interface: what is set at its port, else one made from ids. */
export function interfaceMac(
  instance: Instance,
  { config: { on }, key }: { readonly config: Interface; readonly key: string },
): string {
  const port = on.kind === 'port' || on.kind === 'sub' ? on.port : key;
  return (instance.ports.get(port)?.config.mac ?? macOf(instance.id, port)).toLowerCase();
}

/** FNV-1a over UTF-16 code units, with a last mixing so that names that differ in one digit do not lie side by side. */
function hashOf(text: string, seed: number): number {
  let hash = seed;
  for (let at = 0; at < text.length; at++) hash = Math.imul(hash ^ text.charCodeAt(at), 0x01000193);
  hash = Math.imul(hash ^ (hash >>> 16), 0x7feb352d);
  hash = Math.imul(hash ^ (hash >>> 15), 0x846ca68b);
  return (hash ^ (hash >>> 16)) >>> 0;
}

/** A MAC address as a number of 48 bits. */
export const macNumber = (mac: string): bigint => BigInt(`0x${mac.replaceAll(':', '')}`);
