import {
  type Address,
  type Family,
  type InterfaceAddress,
  type Prefix,
  broadcastAddress,
  contains,
  maskOf,
  subnetOf,
} from '../../address';
import { type Interface } from '../../topology';
import { type Instance, type Reason } from '../devices';

/** An interface with addresses as it stands: active only with carrier. */
export interface InterfaceState {
  readonly instance: string;
  readonly key: string;
  readonly config: Interface;
  /** The point of layer 2 where it hears frames; null for loopbacks and where there is no carrier. */
  readonly point: number | null;
  readonly up: boolean;
  /** Those that are set, by a lease and made of what routers tell. */
  readonly addresses: readonly InterfaceAddress[];
  /** Those that are set. */
  readonly typed: readonly InterfaceAddress[];
  /** Its IPv6 address for the link alone; null where it does not speak IPv6. */
  readonly linkLocal: Address | null;
  /** Addresses of virtual routers that it is active for. */
  readonly virtual?: readonly Address[];
}

/** What an interface answers for: its addresses, that for the link, and those of virtual routers. */
export const allAddresses = ({ addresses, linkLocal, virtual = [] }: InterfaceState): Address[] => [
  ...addresses.map((on) => on.address),
  ...(linkLocal ? [linkLocal] : []),
  ...virtual,
];

export type RouteSource = 'connected' | 'static' | 'gateway' | 'ra' | 'dhcp' | 'ospf' | 'rip';
export interface Route {
  readonly prefix: Prefix;
  readonly source: RouteSource;
  /** How much a source is believed, by the table of the lab; connected is 0. */
  readonly distance: number;
  /** What the way costs by the measure of its source; 0 where it has none. */
  readonly metric: number;
  /** Next hop; null where the destination itself is asked for on the wire, or for a null route. */
  readonly via: Address | null;
  /** Where packets leave; null for a null route. */
  readonly out: InterfaceState | null;
  /** Why it is not certain what the device does with packets there; `via` and `out` are null then. */
  readonly unstable?: string;
}

/** What one device knows on layer 3. */
export interface Node {
  readonly instance: Instance;
  readonly interfaceStates: readonly InterfaceState[];
  readonly addressSets: AddressSets;
  readonly table: RouteTable;
  /** Addresses, gateways and routes that could not be read or used, with the reason. */
  readonly refused: readonly Reason[];
}

/** Routes to prefixes of one length: those of IPv4 by numbers, which are quicker looked up. */
interface OfLength {
  readonly length: number;
  readonly mask: bigint;
  readonly mask4: number;
  readonly routes: Map<number | bigint, Route[]>;
}

/** Longest prefix first; each prefix with its best routes (several of equal cost). */
export class RouteTable {
  /** By family, lengths in falling order; every route set is non-empty and of one distance and metric. */
  private readonly byLength: Record<Family, OfLength[]> = { 4: [], 6: [] };

  /**
   * Offers a route: it replaces routes of a larger distance or, of the same source, of a larger metric to the same
   * prefix, and joins those of equal ones.
   */
  add(route: Route): void {
    const { routes } = this.ofLength(route.prefix);
    const key = numberOf(route.prefix);
    const known = routes.get(key);
    const order = known ? route.distance - known[0]!.distance || route.metric - known[0]!.metric : -1;
    if (order < 0) routes.set(key, [route]);
    else if (order === 0) known!.push(route);
  }

  /** The routes to a prefix itself. */
  at(prefix: Prefix): readonly Route[] {
    return this.ofLength(prefix).routes.get(numberOf(prefix)) ?? NO_ROUTES;
  }

  /** Puts routes, all of one distance, in the place of those to a prefix. */
  replace(prefix: Prefix, routes: Route[]): void {
    const { routes: ofLength } = this.ofLength(prefix);
    if (routes.length) ofLength.set(numberOf(prefix), routes);
    else ofLength.delete(numberOf(prefix));
  }

  private ofLength({ family, length }: Prefix): OfLength {
    const lengths = this.byLength[family];
    let found = lengths.find((table) => table.length === length);
    if (!found) {
      const mask = maskOf(family, length);
      found = { length, mask, mask4: family === 4 ? Number(mask) | 0 : 0, routes: new Map() };
      lengths.push(found);
      lengths.sort((a, b) => b.length - a.length);
    }
    return found;
  }

  /** The best routes to an address; `accept` leaves prefixes out. */
  lookup({ family, value }: Address, accept?: (prefix: Prefix) => boolean): readonly Route[] {
    const number = family === 4 ? Number(value) | 0 : 0;
    for (const { mask, mask4, routes } of this.byLength[family]) {
      const found = routes.get(family === 4 ? number & mask4 : value & mask);
      if (found && (!accept || accept(found[0]!.prefix))) return found;
    }
    return NO_ROUTES;
  }

  all(): Route[] {
    return [...this.byLength[4], ...this.byLength[6]].flatMap(({ routes }) => [...routes.values()].flat());
  }

  /** The routes to each prefix, those to shorter ones first. */
  *sets(): Iterable<readonly Route[]> {
    for (const lengths of [this.byLength[6], this.byLength[4]])
      for (let at = lengths.length - 1; at >= 0; at--) yield* lengths[at]!.routes.values();
  }
}
const NO_ROUTES: readonly Route[] = [];

/** Whether an address belongs to the device itself on an active interface. */
export const owns = ({ addressSets }: Node, address: Address): boolean => addressSets.addresses.has(numberOf(address));

/** Whether an address is the directed broadcast address of a subnet the device is in (RFC 919): never sent to singly. */
export const isBroadcast = ({ addressSets }: Node, address: Address): boolean =>
  addressSets.broadcasts.has(numberOf(address));

/** One number for each address, of a kind for each family: for IPv4 one of 32 bits with a sign, which is quick to find. */
export const numberOf = ({ family, value }: Address): number | bigint => (family === 4 ? Number(value) | 0 : value);

/** What the interfaces of a device that are up say of addresses, as numbers. */
export interface AddressSets {
  readonly addresses: ReadonlySet<number | bigint>;
  readonly broadcasts: ReadonlySet<number | bigint>;
}
export function addressSetsOf(interfaceStates: readonly InterfaceState[]): AddressSets {
  const addresses = new Set<number | bigint>();
  const broadcasts = new Set<number | bigint>();
  for (const { up, addresses: all, linkLocal, virtual = [] } of interfaceStates) {
    if (!up) continue;
    for (const on of all) {
      addresses.add(numberOf(on.address));
      const broadcast = broadcastAddress(subnetOf(on));
      if (broadcast) broadcasts.add(numberOf(broadcast));
    }
    if (linkLocal) addresses.add(numberOf(linkLocal));
    for (const address of virtual) addresses.add(numberOf(address));
  }
  return { addresses, broadcasts };
}

/** The source address of packets that leave by an interface towards a next hop: one of the next hop's subnet, else the first. */
export function sourceAddress(out: InterfaceState, towards: Address): Address | null {
  const own = out.addresses.filter(({ address }) => address.family === towards.family);
  return (own.find((address) => contains(subnetOf(address), towards)) ?? own[0])?.address ?? null;
}
