import { type Address } from '../address';
import { filtersAt } from './classes';
import { type Packet } from './filters';
import { forwards } from './instances';
import { type Node, type Route, isBroadcast, numberOf, owns } from './node';
import { type ReasonCode } from './reason';
import { type Layers, type PacketAt, type Step, type Unsent, stepsOf } from './step';

/** Where a packet may end: accepted by a device, or not for a reason. */
export interface End {
  readonly delivered: string | null;
  readonly code: ReasonCode | null;
}

/** A packet as it leaves its source: under which address, and where it may end; its source is null where it never left. */
export interface Sent {
  readonly source: Address | null;
  readonly ends: readonly End[];
}

/** Where packets for one destination end from each device on; null where each has to be walked. */
type Column = Map<string, readonly End[] | null>;

/**
 * Where packets end, without telling how, a destination at a time: what a device does with a packet depends on nothing but
 * its address, wherever the packet came from, as long as no device on the way filters, translates or remembers. So each
 * device is asked once for a destination, and all sources are answered.
 */
export class Columns {
  private readonly columns = new Map<number | bigint, Column>();
  /** Devices that look at more of a packet than where it goes. */
  private readonly minding: ReadonlySet<string>;
  /** Where routes with a next hop hand packets to, which is the same for all destinations; null where it is not. */
  private readonly hops = new Map<readonly Route[], readonly Hop[] | null>();
  private circles = false;

  /** @param before what was known before an edit that changed nothing but the way to and from some addresses */
  constructor(
    private readonly layers: Layers,
    before?: { readonly columns: Columns; readonly without: ReadonlySet<number | bigint> },
  ) {
    this.minding = new Set([...layers.layer3.nodes.values()].filter(minds).map((one) => one.instance.id));
    if (before)
      for (const [number, column] of before.columns.columns)
        if (!before.without.has(number)) this.columns.set(number, column);
  }

  /**
   * What a device sends to an address, by each of its ways out. Null where each packet has to be walked: somebody looks
   * into it, or ways go in circles.
   */
  from(device: string, address: Address): readonly Sent[] | null {
    return this.sent(device, { protocol: 'icmp' }, address);
  }

  /** What answers a packet that came from `source` to an address of the device. */
  back(device: string, own: Address, source: Address): readonly Sent[] | null {
    const found = this.from(device, source);
    // Whoever answers sends from the address that was asked for, and needs no other.
    const isStuck = found?.some((one) => one.ends[0]?.code === 'NO_ADDRESS');
    return isStuck ? this.sent(device, { protocol: 'icmp', source: own }, source) : found;
  }

  private sent(device: string, unsent: Unsent, address: Address): readonly Sent[] | null {
    const column = this.column(address);
    const node = this.layers.layer3.nodes.get(device)!;
    const hops = unsent.source ? null : this.hopsOf(node, address);
    const found: Sent[] = [];
    this.circles = false;
    if (hops)
      for (const { source, next } of hops) {
        const ends = this.at(next, address, column);
        if (!ends) return null;
        found.push({ source, ends });
      }
    else
      for (const step of stepsOf(this.layers, { ...NOWHERE, device, unsent, address })) {
        const ends = step.kind === 'on' ? this.at(step.next.instance, address, column) : [endOf(step, device)];
        if (!ends) return null;
        found.push({ source: step.packet?.source ?? null, ends });
      }
    return this.circles ? null : found;
  }

  private column(address: Address): Column {
    const number = numberOf(address);
    let column = this.columns.get(number);
    if (!column) this.columns.set(number, (column = new Map<string, readonly End[] | null>()));
    return column;
  }

  /** Where a packet that came to a device ends. */
  private at(device: string, address: Address, column: Column): readonly End[] | null {
    const known = column.get(device);
    if (known === OPEN) {
      this.circles = true;
      return known;
    }
    if (known !== undefined) return known;
    if (this.minding.has(device)) return null;
    column.set(device, OPEN);
    const ends = this.endsAt(device, address, column);
    // What was found while a circle is open holds for this way in only.
    if (this.circles) column.delete(device);
    else column.set(device, ends);
    return ends;
  }

  private endsAt(device: string, address: Address, column: Column): readonly End[] | null {
    const node = this.layers.layer3.nodes.get(device)!;
    const hops = forwards(node.instance, address.family) ? this.hopsOf(node, address) : null;
    const all = hops
      ? hops.map((one) => this.at(one.next, address, column))
      : stepsOf(this.layers, {
          ...NOWHERE,
          device,
          arrived: node.attachments[0]!,
          packet: packetTo(address),
          address,
        }).map((step) => (step.kind === 'on' ? this.at(step.next.instance, address, column) : [endOf(step, device)]));
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

  /** The next devices where a packet leaves by routes with a next hop; null where its own address matters. */
  private hopsOf(node: Node, address: Address): readonly Hop[] | null {
    if (owns(node, address) || isBroadcast(node, address)) return null;
    const routes = node.table.lookup(address);
    let hops = this.hops.get(routes);
    if (hops === undefined) this.hops.set(routes, (hops = this.nextOf(node, routes, address)));
    return hops;
  }

  private nextOf({ instance }: Node, routes: readonly Route[], address: Address): readonly Hop[] | null {
    if (!routes.length || routes.some((one) => !one.via || !one.out)) return null;
    const steps = stepsOf(this.layers, { ...NOWHERE, device: instance.id, address });
    return steps.every((one) => one.kind === 'on')
      ? steps.map((one) => ({ source: one.packet.source, next: one.next.instance }))
      : null;
  }
}

interface Hop {
  readonly source: Address;
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
