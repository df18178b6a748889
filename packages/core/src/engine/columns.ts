import { type Address, type Family, type Prefix, compareAddresses, lastOf } from '../address';
import { filtersAt } from './classes';
import { type Packet } from './filters';
import { type Instance, forwards } from './instances';
import { type Node, type Route, numberOf } from './node';
import { type ReasonCode } from './reason';
import { type Handing, type Layers, type PacketAt, type Step, type Unsent, handingBy, leadsOut, stepsOf } from './step';

/** Where a packet may end: accepted by a device, or not for a reason. */
export interface End {
  readonly delivered: string | null;
  readonly code: ReasonCode | null;
}

/** A packet as it leaves its source: under which address, and where it may end; its source is null where it never left. */
export interface Sent {
  readonly source: Address | null;
  /** The place of its source. */
  readonly place: number | null;
  readonly ends: readonly End[];
}

type Wanted = Omit<Sent, 'ends'> & { readonly ends: readonly End[] | null };
const isKnown = (one: Wanted): one is Sent => one.ends !== null;

/** Where packets for one destination end from each device on; null where each has to be walked. */
type Column = Map<string, readonly End[] | null>;

/**
 * Where packets end, without telling how, a destination at a time: what a device does with a packet depends on nothing but
 * its address, wherever the packet came from, as long as no device on the way filters, translates or remembers. So each
 * device is asked once for a destination, and all sources are answered.
 */
export class Columns {
  private readonly addresses: SortedAddresses;
  /** By the place of the destination. */
  private readonly columns: Column[];
  /** Devices that look at more of a packet than where it goes. */
  private readonly minding: ReadonlySet<string>;
  private readonly forwarding: ReadonlySet<string>;
  private readonly outlooks = new Map<string, Outlook>();
  private readonly hopsOf = new Map<Handing, readonly Hop[] | null>();
  private circles = false;

  /** @param before what was known before an edit that changed nothing but the way to and from some addresses */
  constructor(
    private readonly layers: Layers,
    before?: { readonly columns: Columns; readonly without: ReadonlySet<number | bigint> },
  ) {
    const nodes = [...layers.layer3.nodes.values()];
    this.minding = new Set(nodes.filter(minds).map((one) => one.instance.id));
    this.forwarding = new Set(
      nodes.filter(({ instance }) => forwards(instance, 4) || forwards(instance, 6)).map((one) => one.instance.id),
    );
    const all: Address[] = [];
    for (const node of nodes) for (const one of node.attachments) for (const on of one.addresses) all.push(on.address);
    const old = before?.columns.addresses;
    this.addresses = old?.holds(all) ? old : new SortedAddresses(all);
    this.columns = this.addresses.sorted.map((address) => {
      const number = numberOf(address);
      const known = before?.without.has(number) ? undefined : before?.columns.columnOf(number);
      return known ?? new Map<string, readonly End[] | null>();
    });
  }

  private columnOf(number: number | bigint): Column | undefined {
    const place = this.addresses.placeOf(number);
    return place === undefined ? undefined : this.columns[place];
  }

  /** The place of an address that an interface has. */
  placeOf = (address: Address): number => this.addresses.placeOf(numberOf(address))!;

  /** What a device makes of all destinations. */
  outlookOf(device: string): Outlook {
    let outlook = this.outlooks.get(device);
    if (!outlook) {
      const node = this.layers.layer3.nodes.get(device)!;
      this.outlooks.set(device, (outlook = { node, hops: null, asked: 0 }));
    }
    return outlook;
  }

  /**
   * What a device sends to the address at a place, by each of its ways out. Null where each packet has to be walked:
   * somebody looks into it, or ways go in circles.
   */
  from(outlook: Outlook, place: number, given?: Address): readonly Sent[] | null {
    const column = this.columns[place]!;
    const hops = given ? null : this.hopsAt(outlook, place);
    this.circles = false;
    if (hops?.length === 1) {
      // By far the most: one way out.
      const [{ source, place: home, next }] = hops as [Hop];
      const ends = this.at(next, place, column);
      return ends && !this.circles ? [{ source, place: home, ends }] : null;
    }
    const found = hops
      ? hops.map(({ source, place: home, next }) => ({ source, place: home, ends: this.at(next, place, column) }))
      : this.fromAll(outlook.node.instance.id, place, given);
    return this.circles || !found.every(isKnown) ? null : found;
  }

  private fromAll(device: string, place: number, given: Address | undefined): Wanted[] {
    const address = this.addresses.sorted[place]!;
    const unsent: Unsent = given ? { protocol: 'icmp', source: given } : { protocol: 'icmp' };
    return stepsOf(this.layers, { ...NOWHERE, device, unsent, address }).map((step) => {
      const ends =
        step.kind === 'on' ? this.at(step.next.instance, place, this.columns[place]!) : [endOf(step, device)];
      const source = step.packet?.source ?? null;
      return { source, place: source && this.placeOf(source), ends };
    });
  }

  /** What answers a packet that came from the address at a place to an address of the device. */
  back(outlook: Outlook, own: Address, place: number): readonly Sent[] | null {
    const found = this.from(outlook, place);
    // Whoever answers sends from the address that was asked for, and needs no other.
    const isStuck = found?.some((one) => one.ends[0]?.code === 'NO_ADDRESS');
    return isStuck ? this.from(outlook, place, own) : found;
  }

  /** Where a packet that came to a device ends. */
  private at(device: string, place: number, column: Column): readonly End[] | null {
    const known = column.get(device);
    if (known === OPEN) {
      this.circles = true;
      return known;
    }
    if (known !== undefined) return known;
    if (this.minding.has(device)) return null;
    // Hosts are asked for their own addresses only, and by few.
    if (!this.forwarding.has(device)) return this.endsAt(device, place, column);
    column.set(device, OPEN);
    const ends = this.endsAt(device, place, column);
    // What was found while a circle is open holds for this way in only.
    if (this.circles) column.delete(device);
    else column.set(device, ends);
    return ends;
  }

  private endsAt(device: string, place: number, column: Column): readonly End[] | null {
    const address = this.addresses.sorted[place]!;
    const node = this.layers.layer3.nodes.get(device)!;
    const next = forwards(node.instance, address.family) ? this.hopsAt(this.outlookOf(device), place) : null;
    const all = next
      ? next.map((one) => this.at(one.next, place, column))
      : stepsOf(this.layers, {
          ...NOWHERE,
          device,
          arrived: node.attachments[0]!,
          packet: packetTo(address),
          address,
        }).map((step) => (step.kind === 'on' ? this.at(step.next.instance, place, column) : [endOf(step, device)]));
    const [one] = all;
    if (all.length === 1) return one!;
    const ends: End[] = [];
    for (const further of all) {
      if (!further) return null;
      for (const end of further)
        if (!ends.some((known) => known.delivered === end.delivered && known.code === end.code)) ends.push(end);
    }
    return ends;
  }

  private hopsAt(outlook: Outlook, place: number): readonly Hop[] | null {
    if (outlook.hops) return outlook.hops[place]!;
    const { node } = outlook;
    if (++outlook.asked > A_FEW) outlook.hops = this.allHops(node);
    const address = this.addresses.sorted[place]!;
    const number = numberOf(address);
    if (node.own.addresses.has(number) || node.own.broadcasts.has(number)) return null;
    return this.nextOf(node, node.table.lookup(address));
  }

  /** Each route set covers some addresses that follow one another, and longer prefixes go before. */
  private allHops(node: Node): (readonly Hop[] | null)[] {
    const { addresses } = this;
    const routes = new Array<readonly Route[] | null>(addresses.sorted.length).fill(null);
    for (const set of node.table.sets()) routes.fill(set, ...addresses.within(set[0]!.prefix));
    for (const list of [node.own.addresses, node.own.broadcasts])
      for (const number of list) {
        const at = addresses.placeOf(number);
        if (at !== undefined) routes[at] = null;
      }
    const known = new Map<readonly Route[] | null, readonly Hop[] | null>([[null, null]]);
    return routes.map((set) => {
      let hops = known.get(set);
      if (hops === undefined) known.set(set, (hops = this.nextOf(node, set!)));
      return hops;
    });
  }

  private nextOf({ instance }: Node, routes: readonly Route[]): readonly Hop[] | null {
    const [first] = routes;
    if (!first) return null;
    if (routes.length === 1) return this.hopBy(instance, first);
    const hops = routes.map((route) => this.hopBy(instance, route));
    return hops.every((one) => one !== null) ? hops.flat() : null;
  }

  /** The next device by a route, as a list of one; routes to many prefixes share it. */
  private hopBy(instance: Instance, route: Route): readonly Hop[] | null {
    if (!route.via || !leadsOut(route)) return null;
    const handing = handingBy(this.layers, instance, route, route.via);
    let hop = this.hopsOf.get(handing);
    if (hop === undefined) {
      const { source, next, rivals } = handing;
      hop = source && next && !rivals ? [{ source, place: this.placeOf(source), next: next.instance }] : null;
      this.hopsOf.set(handing, hop);
    }
    return hop;
  }
}

/** Addresses of both families in order, so that those within a prefix follow one another. */
class SortedAddresses {
  readonly sorted: readonly Address[];
  private readonly places = new Map<number | bigint, number>();
  /** Their values by family: numbers are quicker to compare, and hold what IPv4 has. */
  private readonly values: Readonly<Record<Family, readonly (number | bigint)[]>>;

  constructor(all: readonly Address[]) {
    const unique = [...new Map(all.map((one) => [numberOf(one), one])).values()];
    this.sorted = unique.sort(compareAddresses);
    for (const [at, one] of this.sorted.entries()) this.places.set(numberOf(one), at);
    const of = (family: Family): Address[] => this.sorted.filter((one) => one.family === family);
    this.values = { 4: of(4).map((one) => Number(one.value)), 6: of(6).map((one) => one.value) };
  }

  placeOf = (number: number | bigint): number | undefined => this.places.get(number);

  /** Whether these are the same addresses. */
  holds(all: readonly Address[]): boolean {
    const found = new Set<number>();
    for (const one of all) {
      const place = this.places.get(numberOf(one));
      if (place === undefined) return false;
      found.add(place);
    }
    return found.size === this.sorted.length;
  }

  /** The places of those within a prefix: from the first to before the second. */
  within(prefix: Prefix): [number, number] {
    const { family } = prefix;
    const before = family === 4 ? 0 : this.values[4].length;
    const [first, last] = [prefix.value, lastOf(prefix).value];
    return [before + this.countBelow(family, first), before + this.countBelow(family, last + 1n)];
  }

  private countBelow(family: Family, value: bigint): number {
    const all = this.values[family];
    const bound = family === 4 ? Number(value) : value;
    let [low, high] = [0, all.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (all[middle]! < bound) low = middle + 1;
      else high = middle;
    }
    return low;
  }
}

/** A device with the next hops to each destination, in the order of addresses; null where more than the route matters. */
export interface Outlook {
  readonly node: Node;
  /** Made when it is asked for more than a few. */
  hops: readonly (readonly Hop[] | null)[] | null;
  asked: number;
}
/** Looking up a few routes is quicker than going through all of them. */
const A_FEW = 8;
interface Hop {
  readonly source: Address;
  /** The place of the source. */
  readonly place: number;
  readonly next: string;
}

const OPEN: readonly End[] = [];
const NOWHERE = {
  arrived: null,
  unsent: { protocol: 'icmp' },
  packet: null,
  flow: { flow: 'request', made: [], passed: [] },
} as const satisfies Partial<PacketAt>;
/** Any packet for an address: nobody looks at the rest. */
const packetTo = (destination: Address): Packet => ({ protocol: 'icmp', source: destination, destination });

const endOf = (step: Step, device: string): End =>
  step.kind === 'end' ? { delivered: null, code: step.code } : { delivered: device, code: null };

/** Whether a device filters, translates, or remembers connections. */
const minds = ({ instance: { settings }, attachments }: Node): boolean =>
  Boolean(settings.nat?.length) ||
  settings.firewall !== undefined ||
  (settings.filters !== undefined && attachments.some(filtersAt));
