import { type Address, type Family, type Prefix, compareAddresses, lastOf } from '../../address';
import { filtersAt } from './classes';
import { type Packet } from '../filters';
import { type Instance, forwards, type ReasonCode } from '../devices';
import { type InterfaceState, type Node, type Route, numberOf, owns } from '../network';
import {
  type Handing,
  type Layers,
  type PacketAt,
  type Step,
  type Unsent,
  resolveNextHop,
  leadsOut,
  stepsOf,
  type Trace,
  isCertain,
} from '../forwarding';

/** Where a packet may end: accepted by a device, or not for a reason. */
export interface End {
  readonly delivered: string | null;
  readonly code: ReasonCode | null;
}

/** What one host gets from an address of another one, without the way. */
export type Reachability = Pick<Trace, 'answer' | 'reached' | 'direction'>;

/** A device as packets see it. */
export interface ForwardingView {
  readonly device: string;
  readonly node: Node;
  /** Its number among those that forward; -1 for a host. */
  readonly number: number;
  /** Whether it looks at more of a packet than where it goes. */
  readonly inspects: boolean;
  /** Where packets end that it accepts. */
  readonly accepts: readonly End[];
  /** The next hops that it has, null where there are none to go on by; the first stands for what nobody has asked. */
  readonly ways: (readonly Hop[] | null | undefined)[];
  /** Which of them lead to each address in order; only for those who are asked often. */
  all: Uint32Array | null;
  /** The first few that were asked for. */
  readonly firstAsked: Map<number, readonly Hop[] | null>;
}
interface Hop {
  /** The place of the address that the device itself sends from on this way. */
  readonly home: number;
  readonly next: ForwardingView;
}
/** A packet as it leaves its source, by the place of its address, and where it may end; null where it never left. */
interface Sent {
  readonly home: number | null;
  readonly ends: readonly End[] | null;
}

/** Where packets for one destination end from each device on that forwards; null where each has to be walked. */
type EndsByDevice = (readonly End[] | null | undefined)[];

/** Looking up a few routes is quicker than going through all of them. */
const A_FEW = 8;

/**
 * Where packets end, without telling how, a destination at a time: what a device does with a packet depends on nothing but
 * its address, wherever the packet came from, as long as no device on the way filters, translates or remembers. So each
 * device is asked once for a destination, and all sources are answered.
 */
export class Destinations {
  // Shared with drawings between which lie edits of hosts.
  /** Shared while the addresses are the same ones. */
  private readonly addresses: SortedAddresses;
  /**
   * By the place of the destination; filled when it is asked for. A column is left behind when the edit concerned who has
   * that address.
   */
  private readonly columns: (EndsByDevice | undefined)[];

  // Of this drawing alone, gone with it.
  /** Of devices that forward. */
  private readonly numbers = new Map<string, number>();
  /** Filled when a device is asked or passed. */
  private readonly views = new Map<string, ForwardingView>();
  /** Hops of one list and another together: many destinations share them. */
  private readonly pairs = new Map<readonly Hop[], Map<readonly Hop[], readonly Hop[]>>();
  /** The next device by an interface and a next hop, as a list of one: routes to many prefixes share it. */
  private readonly byWay = new Map<InterfaceState, Map<Address, readonly Hop[] | null>>();

  // Of one question.
  /** Whether the way that is followed has closed on itself: then nothing is remembered of it. */
  private circles = false;
  /** Whom the last question was about, and that its answers arrive. */
  private last: { from?: ForwardingView; to?: ForwardingView; by?: readonly Hop[] } = {};

  /** @param before what was known before an edit that changed nothing but the way to and from some addresses */
  constructor(
    private readonly layers: Layers,
    before?: { readonly known: Destinations; readonly without: ReadonlySet<number | bigint> },
  ) {
    const all: Address[] = [];
    for (const [id, { instance, interfaceStates }] of layers.layer3.nodes) {
      if (forwards(instance, 4) || forwards(instance, 6)) this.numbers.set(id, this.numbers.size);
      for (const interfaceState of interfaceStates) for (const on of interfaceState.addresses) all.push(on.address);
    }
    const old = before?.known;
    this.addresses = old?.addresses.holds(all) ? old.addresses : new SortedAddresses(all);
    this.columns = old
      ? this.addresses.sorted.map((address) => {
          const number = numberOf(address);
          const place = before.without.has(number) ? undefined : old.addresses.placeOf(number);
          return place === undefined ? undefined : old.columns[place];
        })
      : [];
  }

  /** The place of an address that an interface has. */
  placeOf = (address: Address): number => this.addresses.placeOf(numberOf(address))!;

  viewOf(device: string): ForwardingView {
    let view = this.views.get(device);
    if (!view) {
      const node = this.layers.layer3.nodes.get(device)!;
      const number = this.numbers.get(device) ?? -1;
      const accepts = [{ delivered: device, code: null }];
      view = {
        device,
        node,
        number,
        inspects: inspectsPackets(node),
        accepts,
        ways: [undefined],
        all: null,
        firstAsked: new Map(),
      };
      this.views.set(device, view);
    }
    return view;
  }

  /**
   * What a device gets from the address at a place that another one has, put together from where packets end. Null where
   * each packet has to be walked: somebody looks into it, or ways go in circles.
   */
  verdict(from: ForwardingView, to: ForwardingView, place: number): Reachability | null {
    this.circles = false;
    const hops = this.hopsAt(from, place);
    if (hops && this.arriveAt(to, hops, place) && this.isAnswered(from, to, hops)) return this.circles ? null : YES;
    const found = new Verdict();
    if (hops) {
      for (const { home, next } of hops)
        if (!this.addWay(found, this.at(next, place), home, from, to, place)) return null;
    } else
      for (const { home, ends } of this.sentBy(from, place))
        // What is sent from an address of one link fares in ways of its own.
        if (home === undefined || !this.addWay(found, ends, home, from, to, place)) return null;
    return this.circles ? null : found.settled();
  }

  /** Whether packets by all these next hops end at a device and nowhere else: so it is nearly always. */
  private arriveAt(to: ForwardingView, hops: readonly Hop[], place: number): boolean {
    for (const { next } of hops) if (this.at(next, place) !== to.accepts) return false;
    return true;
  }

  /** Whether the answers to packets that went by these next hops end where they came from. */
  private isAnswered(from: ForwardingView, to: ForwardingView, by: readonly Hop[]): boolean {
    // The addresses of a device are asked for one after the other, and mostly by the same way.
    const { last } = this;
    if (last.from === from && last.to === to && last.by === by) return true;
    for (const { home } of by) {
      const hops = this.hopsAt(to, home);
      if (hops === null || !this.arriveAt(from, hops, home)) return false;
    }
    if (!this.circles) this.last = { from, to, by };
    return true;
  }

  private addWay(
    found: Verdict,
    ends: readonly End[] | null,
    home: number | null,
    from: ForwardingView,
    to: ForwardingView,
    place: number,
  ): boolean {
    if (!ends) return false;
    for (const end of ends)
      if (end.delivered !== to.device) found.add(isLost(end) ? LOST : UNSURE);
      else if (!this.addAnswer(found, from, to, home!, place)) return false;
    return true;
  }

  /** What answers a packet that came from the address at a place. */
  private addAnswer(found: Verdict, from: ForwardingView, to: ForwardingView, home: number, own: number): boolean {
    const hops = this.hopsAt(to, home);
    if (!hops) {
      // Whoever answers sends from the address that was asked for, and needs no other.
      for (const { ends } of this.sentBy(to, home, this.addresses.sorted[own]))
        if (!addEnds(found, ends, from)) return false;
      return true;
    }
    for (const { next } of hops) if (!addEnds(found, this.at(next, home), from)) return false;
    return true;
  }

  /** By each way out that a device has, where more than its routes matters. */
  private sentBy({ device }: ForwardingView, place: number, given?: Address): Sent[] {
    const address = this.addresses.sorted[place]!;
    const unsent: Unsent = given ? { protocol: 'icmp', source: given } : { protocol: 'icmp' };
    return stepsOf(this.layers, { ...NOWHERE, device, unsent, address }).map((step) => {
      const ends = step.kind === 'on' ? this.at(this.viewOf(step.next.instance), place) : [endOf(step, device)];
      return { home: step.packet && this.placeOf(step.packet.source), ends };
    });
  }

  /** Where a packet that came to a device ends. */
  private at(here: ForwardingView, place: number): readonly End[] | null {
    if (here.inspects) return null;
    // Hosts are asked for their own addresses only, and by few.
    if (here.number < 0) return this.endsAt(here, place);
    const column = (this.columns[place] ??= []);
    const known = column[here.number];
    if (known === OPEN) {
      this.circles = true;
      return known;
    }
    if (known !== undefined) return known;
    column[here.number] = OPEN;
    const ends = this.endsAt(here, place);
    // What was found while a circle is open holds for this way in only.
    column[here.number] = this.circles ? undefined : ends;
    return ends;
  }

  private endsAt(here: ForwardingView, place: number): readonly End[] | null {
    const { device, node, accepts } = here;
    const address = this.addresses.sorted[place]!;
    if (owns(node, address)) return accepts;
    const hops = forwards(node.instance, address.family) ? this.hopsAt(here, place) : null;
    if (!hops) {
      const unsent = { ...NOWHERE, device, arrived: node.interfaceStates[0]!, packet: packetTo(address), address };
      return together(
        stepsOf(this.layers, unsent).map((step) =>
          step.kind === 'on' ? this.at(this.viewOf(step.next.instance), place) : [endOf(step, device)],
        ),
      );
    }
    const first = this.at(hops[0]!.next, place);
    for (let other = 1; other < hops.length; other++)
      if (this.at(hops[other]!.next, place) !== first) return together(hops.map(({ next }) => this.at(next, place)));
    return first;
  }

  /** The next devices on the way to an address; null where the packet ends at this one, or something is doubtful. */
  private hopsAt(here: ForwardingView, place: number): readonly Hop[] | null {
    const { node, all, firstAsked } = here;
    const known = all ? here.ways[all[place]!] : firstAsked.get(place);
    if (known !== undefined) return known;
    if (!all && firstAsked.size === A_FEW) {
      this.indexAllRoutes(here);
      return this.hopsAt(here, place);
    }
    const address = this.addresses.sorted[place]!;
    const number = numberOf(address);
    const isOwn = node.addressSets.addresses.has(number) || node.addressSets.broadcasts.has(number);
    const routes = isOwn ? [] : node.table.lookup(address);
    const hops = routes.length ? this.nextOf(node, routes, address) : null;
    if (all) all[place] = here.ways.push(hops) - 1;
    else firstAsked.set(place, hops);
    return hops;
  }

  /** All hops at once: each route set covers some addresses that follow one another, and longer prefixes go before. */
  private indexAllRoutes(here: ForwardingView): void {
    const { node, ways, firstAsked } = here;
    const numbers = new Map<readonly Hop[] | null, number>();
    const numbered = (hops: readonly Hop[] | null): number => {
      let number = numbers.get(hops);
      if (number === undefined) numbers.set(hops, (number = ways.push(hops) - 1));
      return number;
    };
    const nowhere = numbered(null);
    const all = new Uint32Array(this.addresses.sorted.length).fill(nowhere);
    for (const set of node.table.sets()) {
      // Where the destination itself is asked for on the wire, that is done for each when it is wanted.
      const isForAll = set.every((route) => route.via !== null);
      const [from, to] = this.addresses.within(set[0]!.prefix);
      all.fill(isForAll ? numbered(this.nextOf(node, set, NOWHERE_ADDRESS)) : 0, from, to);
    }
    for (const list of [node.addressSets.addresses, node.addressSets.broadcasts])
      for (const number of list) {
        const place = this.addresses.placeOf(number);
        if (place !== undefined) all[place] = nowhere;
      }
    firstAsked.clear();
    here.all = all;
  }

  private nextOf({ instance }: Node, routes: readonly Route[], address: Address): readonly Hop[] | null {
    let all: readonly Hop[] | null = null;
    for (const route of routes) {
      const hop = this.hopBy(instance, route, address);
      if (!hop) return null;
      all = all ? this.both(all, hop) : hop;
    }
    return all;
  }

  private both(first: readonly Hop[], second: readonly Hop[]): readonly Hop[] {
    let known = this.pairs.get(first);
    if (!known) this.pairs.set(first, (known = new Map<readonly Hop[], readonly Hop[]>()));
    let all = known.get(second);
    if (!all) known.set(second, (all = [...first, ...second]));
    return all;
  }

  private hopBy(instance: Instance, route: Route, address: Address): readonly Hop[] | null {
    if (!leadsOut(route)) return null;
    if (!route.via) return this.hopTo(resolveNextHop(this.layers, instance, route, address));
    let byVia = this.byWay.get(route.out);
    if (!byVia) this.byWay.set(route.out, (byVia = new Map<Address, readonly Hop[] | null>()));
    let hop = byVia.get(route.via);
    if (hop === undefined)
      byVia.set(route.via, (hop = this.hopTo(resolveNextHop(this.layers, instance, route, route.via))));
    return hop;
  }

  private hopTo({ source, next, rivals }: Handing): readonly Hop[] | null {
    return source && next && !rivals ? [{ home: this.placeOf(source), next: this.viewOf(next.instance) }] : null;
  }
}

function addEnds(found: Verdict, ends: readonly End[] | null, from: ForwardingView): boolean {
  if (!ends) return false;
  for (const home of ends) found.add(home.delivered === from.device ? YES : isLost(home) ? LOST_BACK : UNSURE_BACK);
  return true;
}

/** Where packets may end that go one of several ways; null where one of these has to be walked. */
function together(all: readonly (readonly End[] | null)[]): readonly End[] | null {
  const ends: End[] = [];
  for (const further of all) {
    if (!further) return null;
    for (const end of further)
      if (!ends.some((known) => known.delivered === end.delivered && known.code === end.code)) ends.push(end);
  }
  return ends;
}

/** What all ways of a packet come to: what each does, or no certainty where they differ. */
class Verdict {
  private first: Reachability | null = null;
  private failing: Reachability | null = null;
  private differs = false;

  add(reachability: Reachability): void {
    this.first ??= reachability;
    if (reachability.answer !== 'yes') this.failing ??= reachability;
    if (reachability.answer !== this.first.answer) this.differs = true;
  }

  settled(): Reachability {
    return this.differs ? { ...this.failing!, answer: 'uncertain' } : this.first!;
  }
}

const isLost = ({ delivered, code }: End): boolean => delivered === null && isCertain(code ?? undefined);
const YES: Reachability = { answer: 'yes', reached: true, direction: null };
const LOST: Reachability = { answer: 'no', reached: false, direction: 'request' };
const UNSURE: Reachability = { answer: 'uncertain', reached: false, direction: 'request' };
const LOST_BACK: Reachability = { answer: 'no', reached: true, direction: 'reply' };
const UNSURE_BACK: Reachability = { answer: 'uncertain', reached: true, direction: 'reply' };

/** Addresses of both families in order, so that those within a prefix follow one another. */
class SortedAddresses {
  readonly sorted: readonly Address[];
  private readonly places = new Map<number | bigint, number>();
  /** What was counted once: tables of a network have the same prefixes. */
  private readonly spans = new WeakMap<Prefix, readonly [number, number]>();
  /** Their values by family: numbers are quicker to compare, and hold what IPv4 has. */
  private readonly values: Readonly<Record<Family, readonly (number | bigint)[]>>;

  constructor(all: readonly Address[]) {
    const unique = [...new Map(all.map((address) => [numberOf(address), address])).values()];
    this.sorted = unique.sort(compareAddresses);
    for (const [at, address] of this.sorted.entries()) this.places.set(numberOf(address), at);
    const of = (family: Family): Address[] => this.sorted.filter((address) => address.family === family);
    this.values = { 4: of(4).map((address) => Number(address.value)), 6: of(6).map((address) => address.value) };
  }

  placeOf = (number: number | bigint): number | undefined => this.places.get(number);

  /** Whether these are the same addresses. */
  holds(all: readonly Address[]): boolean {
    const found = new Set<number>();
    for (const address of all) {
      const place = this.places.get(numberOf(address));
      if (place === undefined) return false;
      found.add(place);
    }
    return found.size === this.sorted.length;
  }

  /** The places of those within a prefix: from the first to before the second. */
  within(prefix: Prefix): readonly [number, number] {
    let span = this.spans.get(prefix);
    if (!span) {
      const { family } = prefix;
      const before = family === 4 ? 0 : this.values[4].length;
      const [first, last] = [prefix.value, lastOf(prefix).value];
      span = [before + this.countBelow(family, first), before + this.countBelow(family, last + 1n)];
      this.spans.set(prefix, span);
    }
    return span;
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

/** For routes with a next hop, which do not look at it. */
const NOWHERE_ADDRESS: Address = { family: 4, value: 0n };
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
const inspectsPackets = ({ instance: { settings }, interfaceStates }: Node): boolean =>
  Boolean(settings.nat?.length) ||
  settings.firewall !== undefined ||
  (settings.filters !== undefined && interfaceStates.some(filtersAt));
