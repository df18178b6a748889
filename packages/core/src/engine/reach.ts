import {
  type Address,
  type Prefix,
  broadcastAddress,
  contains,
  formatAddress,
  formatPrefix,
  parsePrefix,
  subnetOf,
} from '../address';
import { addressMatcher } from './filters';
import { forwards } from './instances';
import { leaseKey } from './network';
import { type Node } from './node';
import { ECHO, type Layers, type Probe, type Trace, trace } from './trace';

/** An address that can be asked for, with the device that has it. */
export interface Target {
  readonly device: string;
  readonly address: Address;
}

/**
 * Who reaches whom, worked out once for each pair of classes. Devices of a class are alike in everything a packet's way
 * depends on: the layer-2 domain, the subnet as they see it, the gateway, and which of the prefixes anywhere in the
 * drawing hold their address. Devices with several interfaces or routes of their own, and addresses that exist twice, are
 * classes by themselves.
 */
export class ReachGrid {
  private readonly classOf = new Map<string, string>();
  private readonly known = new Map<string, Trace>();

  constructor(private readonly layers: Layers) {
    const special = specialOf(layers);
    for (const node of layers.layer3.nodes.values())
      this.classOf.set(node.instance.id, classKey(layers, node, special));
  }

  /** Every address of every device, sorted by device. */
  targets(): Target[] {
    return [...this.layers.layer3.nodes.values()].flatMap((node) =>
      node.attachments.flatMap((one) => one.addresses.map(({ address }) => ({ device: node.instance.id, address }))),
    );
  }

  /** How many classes the devices fall into. */
  get classCount(): number {
    return new Set(this.classOf.values()).size;
  }

  /**
   * The answer for a pair. The trace is that of a pair of the same two classes: its answer, reason code and place hold
   * for this pair too, its names and addresses may be those of the others.
   */
  ask(from: string, target: Target, probe: Probe = ECHO): Trace {
    const [a, b] = [this.classOf.get(from), this.classOf.get(target.device)];
    const single = this.addressesOf(target.device) === 1;
    const asked = probe.protocol === 'icmp' ? '' : ` ${probe.protocol} ${probe.port}`;
    const key = `${a} > ${b}${single ? '' : ` ${formatAddress(target.address)}`}${asked}`;
    let found = this.known.get(key);
    if (!found) this.known.set(key, (found = trace(this.layers, from, target.device, target.address, probe)));
    return found;
  }

  private addressesOf(device: string): number {
    return this.layers.layer3.nodes.get(device)!.attachments.reduce((sum, one) => sum + one.addresses.length, 0);
  }
}

/** What sets addresses apart from their neighbours. */
interface Special {
  /** The prefixes of any table or interface that hold an address, as one text. */
  holders(address: Address): string;
  /** Addresses that are a next hop or a gateway, or the broadcast address of somebody's subnet. */
  singled: ReadonlySet<string>;
}

function specialOf({ layer3 }: Layers): Special {
  const prefixes = new Map<string, Prefix>();
  const matchers = new Map<string, (address: Address) => boolean>();
  const singled = new Set<string>();
  for (const node of layer3.nodes.values()) {
    for (const { prefix, via } of node.table.all()) {
      prefixes.set(formatPrefix(prefix), prefix);
      if (via) singled.add(formatAddress(via));
    }
    const { filters, nat = [] } = node.instance.settings;
    for (const { rules } of Object.values(filters ?? {}))
      for (const matcher of rules.flatMap((rule) => [rule.src, rule.dst]))
        if (matcher.kind !== 'any') matchers.set(JSON.stringify(matcher), addressMatcher(matcher));
    for (const { inside, outside, sources = [] } of nat) {
      for (const text of [inside, outside]) if (text !== undefined) singled.add(text);
      for (const text of sources) {
        const prefix = parsePrefix(text);
        if (prefix.ok) prefixes.set(formatPrefix(prefix.value), prefix.value);
      }
    }
    for (const on of node.attachments.flatMap((one) => one.addresses)) {
      const subnet = subnetOf(on);
      prefixes.set(formatPrefix(subnet), subnet);
      const broadcast = broadcastAddress(subnet);
      if (broadcast) singled.add(formatAddress(broadcast));
    }
  }
  const list = [...prefixes];
  return {
    singled,
    holders: (address) =>
      [
        ...list.filter(([, prefix]) => contains(prefix, address)),
        ...[...matchers].filter(([, matches]) => matches(address)),
      ]
        .map(([text]) => text)
        .join(' '),
  };
}

function classKey({ layer2, layer3 }: Layers, node: Node, special: Special): string {
  const { instance, attachments } = node;
  const alone = `device ${instance.id}`;
  const [one] = attachments;
  const on = one?.addresses[0];
  if (!one || !on || attachments.length > 1 || one.addresses.length > 1 || !one.up || one.point === null) return alone;
  const text = formatAddress(on.address);
  if (special.singled.has(text) || (layer3.owners.get(text)?.length ?? 0) > 1 || forwards(instance, on.address.family))
    return alone;
  if (
    instance.settings.routes?.length ||
    instance.settings.nat?.length ||
    one.config.filterIn4 ||
    one.config.filterOut4 ||
    one.config.filterIn6 ||
    one.config.filterOut6 ||
    layer3.leases.get(leaseKey(instance.id, one.key))?.rivals
  )
    return alone;
  const gateway = node.table
    .lookup({ family: on.address.family, value: 0n })
    .map((route) => (route.via ? formatAddress(route.via) : ''))
    .join();
  return [layer2.domainOf(one.point), formatPrefix(subnetOf(on)), gateway, special.holders(on.address)].join(' | ');
}
