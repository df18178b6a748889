import {
  type Address,
  contains,
  formatAddress,
  parseAddress,
  parseInterfaceAddress,
  parsePrefix,
  subnetOf,
} from '../../address';
import { type Device, type Interface, type Model, type Topology } from '../../topology';

/** The interface of a provider's cloud that stands for the rest of the internet. */
export const OUTSIDE = 'outside';

/** Whether a device stands for a provider and what lies behind it. */
export const isProvider = ({ class: kind, forwards }: Model): boolean => kind === 'cloud' && forwards === true;

/**
 * The cloud of a provider has the addresses of the names it knows: those that nobody in the drawing has, and that it knows
 * no way to. Null where there are none.
 */
export function outsideOf(topology: Topology, { interfaces = {}, settings = {} }: Device): Interface | null {
  const ways = [
    ...Object.values(interfaces)
      .flatMap(addressesOf)
      .flatMap((text) => {
        const on = parseInterfaceAddress(text);
        return on.ok ? [subnetOf(on.value)] : [];
      }),
    ...(settings.routes ?? []).flatMap(({ prefix }) => {
      const read = parsePrefix(prefix);
      return read.ok && read.value.length ? [read.value] : [];
    }),
  ];
  const found = new Map<string, Address>();
  for (const { type, value } of settings.dnsRecords ?? []) {
    if (type !== 'A' && type !== 'AAAA') continue;
    const read = parseAddress(value);
    if (read.ok && !ways.some((way) => contains(way, read.value))) found.set(formatAddress(read.value), read.value);
  }
  if (!found.size) return null;
  for (const text of takenIn(topology)) found.delete(text);
  const of = (family: 4 | 6): string[] =>
    [...found].filter(([, address]) => address.family === family).map(([text]) => `${text}/${family === 4 ? 32 : 128}`);
  const [four, six] = [of(4), of(6)];
  if (!four.length && !six.length) return null;
  return {
    on: { kind: 'loopback' },
    ...(four.length && { v4: { addresses: four } }),
    ...(six.length && { v6: { addresses: six } }),
  };
}

const addressesOf = ({ v4, v6 }: Interface): string[] => [...(v4?.addresses ?? []), ...(v6?.addresses ?? [])];

function* takenIn({ devices }: Topology): Iterable<string> {
  for (const { interfaces = {}, members = {} } of Object.values(devices))
    for (const interfaceConfigs of [interfaces, ...Object.values(members).map((member) => member.interfaces ?? {})])
      for (const interfaceConfig of Object.values(interfaceConfigs))
        for (const text of addressesOf(interfaceConfig)) {
          const read = parseInterfaceAddress(text);
          if (read.ok) yield formatAddress(read.value.address);
        }
}
