import { type Device, type Interface, type Topology } from './schema';

/** Addresses that an interface has without being set: by a lease, or made of what a router tells (RFC 2131, RFC 4862). */
export interface GivenAddress {
  readonly device: string;
  /** The member of a tile of several. */
  readonly member: string | null;
  readonly interface: string;
  /** As they are written, such as "10.84.1.37/26". */
  readonly addresses: readonly string[];
}

/** Devices as they were made last: what is drawn of them is drawn anew only where something of it changed. */
const made = new WeakMap<Device, { of: string; with: Device }>();

/** What the devices that were made were given: a document says only what is set. */
const addressesOf = new WeakMap<Device, ReadonlySet<string>>();

/** Whether an address of a device of `withGiven` was given to it. */
export const wasGiven = (device: Device, address: string): boolean => addressesOf.get(device)?.has(address) ?? false;

/**
 * A drawing as it is looked at: with the addresses that were given where none is set. Devices that were given nothing stay
 * the same values, and those that were given the same again, too.
 */
export function withGiven(topology: Topology, given: readonly GivenAddress[]): Topology {
  if (!given.length) return topology;
  const byDevice = new Map<string, GivenAddress[]>();
  for (const each of given) byDevice.set(each.device, [...(byDevice.get(each.device) ?? []), each]);
  const devices = { ...topology.devices };
  for (const [id, list] of byDevice) {
    const device = devices[id];
    if (!device) continue;
    const of = JSON.stringify(list);
    const known = made.get(device);
    if (known?.of !== of) {
      const seen = list.reduce(withOne, device);
      made.set(device, { of, with: seen });
      addressesOf.set(seen, new Set(list.flatMap(({ addresses }) => addresses)));
    }
    devices[id] = made.get(device)!.with;
  }
  return { ...topology, devices };
}

function withOne(device: Device, { member, interface: key, addresses }: GivenAddress): Device {
  if (member === null) return { ...device, interfaces: withAddresses(device.interfaces, key, addresses) };
  const one = device.members?.[member];
  if (!one) return device;
  const interfaces = withAddresses(one.interfaces, key, addresses);
  return { ...device, members: { ...device.members, [member]: { ...one, interfaces } } };
}

function withAddresses(
  interfaces: Record<string, Interface> | undefined,
  key: string,
  addresses: readonly string[],
): Record<string, Interface> {
  const config: Interface = interfaces?.[key] ?? { on: { kind: 'port', port: key } };
  const [four, six] = [addresses.filter((text) => !text.includes(':')), addresses.filter((text) => text.includes(':'))];
  const isOpen = (family: 'v4' | 'v6'): boolean => !config[family]?.addresses?.length;
  return {
    ...interfaces,
    [key]: {
      ...config,
      ...(four.length && isOpen('v4') && { v4: { ...config.v4, addresses: four } }),
      ...(six.length && isOpen('v6') && { v6: { ...config.v6, addresses: six } }),
    },
  };
}
