import {
  type Address,
  type Prefix,
  broadcastAddress,
  contains,
  formatAddress,
  formatPrefix,
  subnetOf,
} from '../address';
import { forwards } from './instances';
import { type Node } from './network';
import { type Layers, type Trace, trace } from './trace';

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
  ask(from: string, target: Target): Trace {
    const [a, b] = [this.classOf.get(from), this.classOf.get(target.device)];
    const single = this.addressesOf(target.device) === 1;
    const key = `${a} > ${b}${single ? '' : ` ${formatAddress(target.address)}`}`;
    let found = this.known.get(key);
    if (!found) this.known.set(key, (found = trace(this.layers, from, target.device, target.address)));
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
  const singled = new Set<string>();
  for (const node of layer3.nodes.values()) {
    for (const { prefix, via } of node.table.all()) {
      prefixes.set(formatPrefix(prefix), prefix);
      if (via) singled.add(formatAddress(via));
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
      list
        .filter(([, prefix]) => contains(prefix, address))
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
    one.config.filterOut4
  )
    return alone;
  const gateway = node.table
    .lookup({ family: on.address.family, value: 0n })
    .map((route) => (route.via ? formatAddress(route.via) : ''))
    .join();
  return [layer2.domainOf(one.point), formatPrefix(subnetOf(on)), gateway, special.holders(on.address)].join(' | ');
}
