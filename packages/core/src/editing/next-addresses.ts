import {
  type Family,
  type InterfaceAddress,
  type Prefix,
  broadcastAddress,
  firstOf,
  formatInterfaceAddress,
  lastOf,
  parseInterfaceAddress,
  samePrefix,
  subnetOf,
} from '../address';
import { type Brief, type PlanTree, blockAt, drawnAddresses, nextFreeIn, readRanges } from '../plan';
import { type Interface, type Topology } from '../topology';

/** The address plan that new addresses are taken from, where the lab has one. */
export interface PlanOfLab {
  readonly tree: PlanTree;
  readonly brief: Brief;
}

/** Gives out addresses that neither the drawing nor the plan uses, each once. */
export class NextAddresses {
  private readonly used: Record<Family, Set<bigint>> = { 4: new Set(), 6: new Set() };
  private readonly ranges;

  /** @param given addresses of the drawing, one by one, that are given up for the new ones */
  constructor(
    topology: Topology,
    private readonly plan: PlanOfLab | undefined,
    given: readonly InterfaceAddress[] = [],
  ) {
    const left = new Map<string, number>();
    for (const on of given) left.set(formatInterfaceAddress(on), (left.get(formatInterfaceAddress(on)) ?? 0) + 1);
    for (const { on } of drawnAddresses(topology)) {
      const [text, { family, value }] = [formatInterfaceAddress(on), on.address];
      const count = left.get(text) ?? 0;
      // One that two have stays in use while one of them keeps it.
      if (count) left.set(text, count - 1);
      else this.used[family].add(value);
    }
    this.ranges = plan ? readRanges(plan.tree) : [];
  }

  /** The next free address of a subnet, as an interface carries it: by the plan, else after `from`. Null where it is full. */
  take(subnet: Prefix, from = subnet.value): string | null {
    const { family } = subnet;
    const planned = this.byPlan(subnet);
    const value = planned === undefined ? this.after(from, subnet) : planned;
    if (value === null) return null;
    this.used[family].add(value);
    return formatInterfaceAddress({ address: { family, value }, length: subnet.length });
  }

  /** An address itself where it is free, else the next free one of its subnet, whatever the plan says. */
  takeFrom({ address, length }: InterfaceAddress): string | null {
    const subnet = subnetOf({ address, length });
    const value = this.after(address.value - 1n, subnet);
    if (value === null) return null;
    this.used[subnet.family].add(value);
    return formatInterfaceAddress({ address: { family: subnet.family, value }, length });
  }

  /** An interface with the next free address for each of its own; what has no room or cannot be read is left out. */
  renew(interfaceConfig: Interface): Interface {
    return this.readdress(interfaceConfig, (address) => this.take(subnetOf(address), address.address.value));
  }

  /** An interface that keeps those of its addresses that nobody has, with the next free ones for the others. */
  settle(interfaceConfig: Interface): Interface {
    return this.readdress(interfaceConfig, (address) => this.takeFrom(address));
  }

  private readdress({ v4, v6, ...others }: Interface, next: (address: InterfaceAddress) => string | null): Interface {
    const layer = <T extends { addresses?: string[] }>({ addresses = [], ...rest }: T) => {
      const given = addresses.flatMap((text) => {
        const read = parseInterfaceAddress(text);
        return read.ok ? (next(read.value) ?? []) : [];
      });
      return { ...rest, ...(given.length && { addresses: given }) };
    };
    const { linkLocal: _linkLocal, ...six } = v6 ?? {};
    const [four, next6] = [v4 && layer(v4), v6 && layer(six)];
    return {
      ...others,
      ...(four && Object.keys(four).length && { v4: four }),
      ...(next6 && Object.keys(next6).length && { v6: next6 }),
    };
  }

  /** What the plan gives next; null where its subnet is full, undefined where it does not know the subnet. */
  private byPlan(subnet: Prefix): bigint | null | undefined {
    const { plan } = this;
    const node = plan && blockAt(plan.tree, firstOf(subnet));
    const space = node?.space[subnet.family];
    if (!node || !space || !samePrefix(space, subnet)) return undefined;
    const next = nextFreeIn(plan.tree, node, subnet.family, plan.brief, this.ranges, this.used[subnet.family]);
    return next?.value ?? null;
  }

  /** The next address of a subnet that is not in use, from one on and then from its beginning. */
  private after(from: bigint, subnet: Prefix): bigint | null {
    const ends = subnet.family === 4 && subnet.length < 31; // RFC 3021: a /31 has no ends to spare
    const first = subnet.value + (ends || (subnet.family === 6 && subnet.length < 127) ? 1n : 0n);
    const last = lastOf(subnet).value - (ends && broadcastAddress(subnet) ? 1n : 0n);
    const used = this.used[subnet.family];
    for (let value = from < first ? first : from + 1n; value <= last; value++) if (!used.has(value)) return value;
    for (let value = first; value < from; value++) if (!used.has(value)) return value;
    return null;
  }
}
