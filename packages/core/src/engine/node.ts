import {
  type Address,
  type Family,
  type InterfaceAddress,
  type Prefix,
  bitsOf,
  contains,
  maskOf,
  sameAddress,
  subnetOf,
} from '../address';
import { type Interface } from '../topology';
import { type Instance } from './instances';
import { type Reason } from './reason';

/** An interface with addresses as it stands: active only with carrier. */
export interface Attachment {
  readonly instance: string;
  readonly key: string;
  readonly config: Interface;
  /** The point of layer 2 where it hears frames; null for loopbacks and where there is no carrier. */
  readonly point: number | null;
  readonly up: boolean;
  readonly addresses: readonly InterfaceAddress[];
  /** Its IPv6 address for the link alone; null where it does not speak IPv6. */
  readonly linkLocal: Address | null;
  /** Addresses of virtual routers that it is active for. */
  readonly virtual?: readonly Address[];
}

export type RouteSource = 'connected' | 'static' | 'gateway' | 'ra' | 'dhcp' | 'ospf' | 'rip';
export interface Route {
  readonly prefix: Prefix;
  readonly source: RouteSource;
  /** How much a source is believed: connected 0, static 1, OSPF 110, RIP 120, learnt by DHCP or advertised 254. */
  readonly distance: number;
  /** What the way costs by the measure of its source; 0 where it has none. */
  readonly metric: number;
  /** Next hop; null where the destination itself is asked for on the wire, or for a null route. */
  readonly via: Address | null;
  /** Where packets leave; null for a null route. */
  readonly out: Attachment | null;
}

/** What one device knows on layer 3. */
export interface Node {
  readonly instance: Instance;
  readonly attachments: readonly Attachment[];
  readonly table: RouteTable;
  /** Addresses, gateways and routes that could not be read or used, with the reason. */
  readonly refused: readonly Reason[];
}

/** Longest prefix first; each prefix with its best routes (several of equal cost). */
export class RouteTable {
  /** By family, lengths in falling order; every route set is non-empty and of one distance and metric. */
  private readonly byLength: Record<Family, { length: number; mask: bigint; routes: Map<bigint, Route[]> }[]> = {
    4: [],
    6: [],
  };

  /**
   * Offers a route: it replaces routes of a larger distance or, of the same source, of a larger metric to the same
   * prefix, and joins those of equal ones.
   */
  add(route: Route): void {
    const { family, length, value } = route.prefix;
    const lengths = this.byLength[family];
    let found = lengths.find((one) => one.length === length);
    if (!found) {
      found = { length, mask: maskOf(family, length), routes: new Map() };
      lengths.push(found);
      lengths.sort((a, b) => b.length - a.length);
    }
    const known = found.routes.get(value);
    const order = known ? route.distance - known[0]!.distance || route.metric - known[0]!.metric : -1;
    if (order < 0) found.routes.set(value, [route]);
    else if (order === 0) known!.push(route);
  }

  /** The best routes to an address; `accept` leaves prefixes out. */
  lookup(address: Address, accept?: (prefix: Prefix) => boolean): readonly Route[] {
    for (const { mask, routes } of this.byLength[address.family]) {
      const found = routes.get(address.value & mask);
      if (found && (!accept || accept(found[0]!.prefix))) return found;
    }
    return [];
  }

  all(): Route[] {
    return [...this.byLength[4], ...this.byLength[6]].flatMap(({ routes }) => [...routes.values()].flat());
  }
}

/** Whether an address belongs to the device itself on an active interface. */
export const owns = (node: Node, address: Address): boolean =>
  node.attachments.some(
    (one) =>
      one.up &&
      (one.addresses.some((own) => sameAddress(own.address, address)) ||
        (one.linkLocal !== null && sameAddress(one.linkLocal, address)) ||
        (one.virtual?.some((own) => sameAddress(own, address)) ?? false)),
  );

/** Whether an address is the directed broadcast address of a subnet the device is in (RFC 919): never sent to singly. */
export function isBroadcast(node: Node, address: Address): boolean {
  if (address.family === 6) return false;
  return node.attachments.some(
    (one) =>
      one.up &&
      one.addresses.some(
        (own) =>
          own.address.family === 4 &&
          own.length < bitsOf(4) - 1 &&
          (address.value | maskOf(4, own.length)) === 0xffffffffn &&
          contains(subnetOf(own), address),
      ),
  );
}

/** The source address of packets that leave by an interface towards a next hop: one of the next hop's subnet, else the first. */
export function sourceAddress(out: Attachment, towards: Address): Address | null {
  const own = out.addresses.filter(({ address }) => address.family === towards.family);
  return (own.find((one) => contains(subnetOf(one), towards)) ?? own[0])?.address ?? null;
}
