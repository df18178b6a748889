import {
  type Address,
  type InterfaceAddress,
  type Prefix,
  isLinkLocal,
  parseAddressOf,
  parsePrefix,
  subnetOf,
} from '../../address';
import { type Interface } from '../../topology';
import { type DataLink } from '../datalink';
import { type Instance, forwards, interfaceMac, macNumber } from '../devices';
import { type InterfaceState } from './node';

/** fe80::/64, where every interface has an address (RFC 4291 2.5.6). */
const LINK_LOCAL = 0xfe80n << 112n;
/** The only length that an interface identifier of 64 bits goes with (RFC 4862 5.5.3 d). */
const AUTONOMOUS_LENGTH = 64;

/** The interface identifier made of a MAC address: ff:fe in the middle, and the universal bit turned (RFC 4291, Appendix A). */
export function modifiedEui64(mac: string): bigint {
  const value = macNumber(mac);
  return (((value >> 24n) << 40n) ^ (0x02n << 56n)) | (0xfffen << 24n) | (value & 0xffffffn);
}

/** 169.254.1.0 to 169.254.254.255, of which a host takes one by its MAC address where no server answers (RFC 3927 2.1). */
const [FIRST_AUTOMATIC, AUTOMATIC] = [0xa9fe0100n, 254n * 256n];
export const automaticAddress = (mac: string): InterfaceAddress => ({
  address: { family: 4, value: FIRST_AUTOMATIC + (macNumber(mac) % AUTOMATIC) },
  length: 16,
});

/** Whether an interface speaks IPv6: it is switched on, or something of it is set. */
export const speaksIpv6 = ({ v6 }: Interface): boolean =>
  v6 !== undefined &&
  (v6.enabled ?? Boolean(v6.addresses?.length || v6.slaac || (v6.dhcp && v6.dhcp !== 'none') || v6.linkLocal || v6.ra));

/** The address for the link alone: the one that is set, else one made of the MAC address. */
export function linkLocalOf(instance: Instance, key: string, config: Interface): Address | null {
  if (!speaksIpv6(config)) return null;
  const set = config.v6?.linkLocal === undefined ? null : parseAddressOf(6, config.v6.linkLocal);
  if (set?.ok && isLinkLocal(set.value)) return set.value;
  return { family: 6, value: LINK_LOCAL | modifiedEui64(interfaceMac(instance, { key, config })) };
}

/** What a router tells the hosts of a wire (RFC 4861 4.2): who it is, and the prefixes they may make addresses of. */
export interface Advertisement {
  readonly from: InterfaceState;
  readonly router: Address;
  readonly prefixes: readonly Prefix[];
  /** Addresses come from a server. */
  readonly managed: boolean;
}

/** Who advertises: interfaces of routers that are up and speak IPv6, unless they are told to be silent. */
export function advertisementsOf(
  interfaceStates: readonly InterfaceState[],
  instances: ReadonlyMap<string, Instance>,
): Advertisement[] {
  const speaking = interfaceStates.filter((interfaceState) => interfaceState.up && interfaceState.linkLocal);
  return speaking.flatMap((from): Advertisement[] => {
    const { linkLocal: router, config, point, up } = from;
    if (!up || point === null || !router || config.v6?.ra?.send === false || config.v6?.slaac) return [];
    if (!forwards(instances.get(from.instance)!, 6)) return [];
    const advertised = config.v6?.ra?.prefixes?.flatMap((text) => {
      const read = parsePrefix(text);
      return read.ok && read.value.family === 6 ? [read.value] : [];
    });
    const own = from.addresses.filter((on) => on.address.family === 6).map(subnetOf);
    return [{ from, router, prefixes: advertised ?? own, managed: config.v6?.ra?.managed ?? false }];
  });
}

/** A router that told of itself, or a prefix that it told to be near (then there is no `via`), and where it was heard. */
export interface WayOut {
  readonly prefix: Prefix;
  readonly via: Address | null;
  readonly out: InterfaceState;
}

export interface Autoconfigured {
  readonly addresses: readonly InterfaceAddress[];
  /** The routers that told, as ways out. */
  readonly routers: readonly Address[];
  /** Prefixes that are on the wire, whether or not addresses are made of them (RFC 4861 §6.3.4). */
  readonly near: readonly Prefix[];
}

/** What a host makes of the advertisements that it hears: addresses of its own, and the way out (RFC 4862 5.5.3, RFC 4861 6.3.4). */
export function autoconfigured(
  instance: Instance,
  { key, config, point, up }: InterfaceState,
  advertisements: readonly Advertisement[],
  layer2: DataLink,
): Autoconfigured {
  const listens = config.v6?.slaac || config.v6?.dhcp === 'stateful' || config.v6?.dhcp === 'stateless';
  if (!up || point === null || !listens) return { addresses: [], routers: [], near: [] };
  const heard = advertisements.filter(({ from }) => from.instance !== instance.id && layer2.hears(from.point!, point));
  const identifier = modifiedEui64(interfaceMac(instance, { key, config }));
  const prefixes = new Map(
    heard
      .filter((advertisement) => !advertisement.managed && config.v6?.dhcp !== 'stateful')
      .flatMap((advertisement) => advertisement.prefixes)
      .filter((prefix) => prefix.length === AUTONOMOUS_LENGTH)
      .map((prefix) => [prefix.value, prefix]),
  );
  return {
    addresses: [...prefixes.values()].map(({ value, length }) => ({
      address: { family: 6, value: value | identifier },
      length,
    })),
    routers: heard.map((advertisement) => advertisement.router),
    near: heard.flatMap((advertisement) => advertisement.prefixes),
  };
}
