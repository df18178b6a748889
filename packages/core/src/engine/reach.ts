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
import { type Layers } from './step';
import { ECHO, type Probe, type Trace, firstPacket, isCertain, trace } from './trace';
import { type End, Ways } from './ways';

/** An address that can be asked for, with the device that has it. */
export interface Target {
  readonly device: string;
  readonly address: Address;
}

/** More addresses than any drawing has: numbers of pairs are put together with it. */
const MOST_TARGETS = 2 ** 24;

/** An answer without its way. */
export type Reachability = Pick<Trace, 'answer' | 'reached' | 'direction'>;

/**
 * Who reaches whom, worked out once for each pair of classes. Devices of a class are alike in everything a packet's way
 * depends on: the layer-2 domain, the subnet as they see it, the gateway, and which of the prefixes anywhere in the
 * drawing hold their address. Devices with several interfaces or routes of their own, and addresses that exist twice, are
 * classes by themselves.
 */
export class ReachGrid {
  private readonly classOf = new Map<string, number>();
  /** How many addresses each device has. */
  private readonly counts = new Map<string, number>();
  private readonly known = new Map<string, Trace>();
  private readonly verdicts = new Map<string, Map<number, Reachability>>();
  private readonly numbers = new Map<string, number>();
  private readonly targetNumbers = new WeakMap<Target, number>();
  private readonly all: readonly Target[];
  private readonly ways: Ways | null;

  constructor(private readonly layers: Layers) {
    this.ways = Ways.hold(layers) ? new Ways(layers) : null;
    this.all = [...layers.layer3.nodes.values()].flatMap((node) =>
      node.attachments.flatMap((one) => one.addresses.map(({ address }) => ({ device: node.instance.id, address }))),
    );
    const special = specialOf(layers);
    const numbers = new Map<string, number>();
    for (const node of layers.layer3.nodes.values()) {
      const key = classKey(layers, node, special);
      if (!numbers.has(key)) numbers.set(key, numbers.size);
      this.classOf.set(node.instance.id, numbers.get(key)!);
      this.counts.set(
        node.instance.id,
        node.attachments.reduce((sum, one) => sum + one.addresses.length, 0),
      );
    }
  }

  /** Every address of every device, sorted by device. */
  targets(): readonly Target[] {
    return this.all;
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
    const key = this.keyOf(from, target, probe);
    let found = this.known.get(key);
    if (!found) this.known.set(key, (found = trace(this.layers, from, target.device, target.address, probe)));
    return found;
  }

  /** One number for all targets that are answered alike: the class of a device with one address, else the address. */
  private numberOf(target: Target): number {
    let number = this.targetNumbers.get(target);
    if (number === undefined) {
      const b = this.classOf.get(target.device)!;
      const text = this.counts.get(target.device) === 1 ? String(b) : `${b} ${formatAddress(target.address)}`;
      number = this.numbers.get(text) ?? this.numbers.size;
      this.numbers.set(text, number);
      this.targetNumbers.set(target, number);
    }
    return number;
  }

  private keyOf(from: string, target: Target, probe: Probe): string {
    const [a, b] = [this.classOf.get(from), this.classOf.get(target.device)];
    const single = this.counts.get(target.device) === 1;
    const asked = probe.protocol === 'icmp' ? '' : ` ${probe.protocol} ${probe.port}`;
    return `${a} > ${b}${single ? '' : ` ${formatAddress(target.address)}`}${asked}`;
  }

  /**
   * Only the answer for a pair. Where no device changes packets it is put together from where packets end, worked out
   * once for all sources; else it is that of the trace.
   */
  answer(from: string, target: Target, probe: Probe = ECHO): Reachability {
    const asked = probe.protocol === 'icmp' ? 'icmp' : `${probe.protocol} ${probe.port}`;
    let verdicts = this.verdicts.get(asked);
    if (!verdicts) this.verdicts.set(asked, (verdicts = new Map<number, Reachability>()));
    const key = this.classOf.get(from)! * MOST_TARGETS + this.numberOf(target);
    let verdict = verdicts.get(key);
    if (!verdict) verdicts.set(key, (verdict = this.quick(from, target, probe) ?? this.ask(from, target, probe)));
    return verdict;
  }

  private quick(from: string, { device: to, address }: Target, probe: Probe): Reachability | null {
    const first = firstPacket(probe);
    const sent = this.ways?.from(from, first, address);
    if (!sent) return null;
    const verdicts = new Set<Reachability>();
    for (const { source, end } of sent) {
      if (end.delivered !== to) {
        verdicts.add(isLost(end) ? VERDICTS.lost : VERDICTS.unsure);
        continue;
      }
      const back = this.ways!.back(to, { ...first, source: source!, destination: address });
      if (!back) return null;
      for (const { end: home } of back)
        verdicts.add(home.delivered === from ? VERDICTS.yes : isLost(home) ? VERDICTS.lostBack : VERDICTS.unsureBack);
    }
    const [one, ...others] = verdicts;
    if (others.every(({ answer }) => answer === one!.answer)) return one!;
    return { ...[...verdicts].find(({ answer }) => answer !== 'yes')!, answer: 'uncertain' };
  }
}

const isLost = ({ delivered, code }: End): boolean => delivered === null && isCertain(code ?? undefined);
/** Made once: there are as many verdicts as pairs of classes. */
const VERDICTS = {
  yes: { answer: 'yes', reached: true, direction: null },
  lost: { answer: 'no', reached: false, direction: 'request' },
  unsure: { answer: 'uncertain', reached: false, direction: 'request' },
  lostBack: { answer: 'no', reached: true, direction: 'reply' },
  unsureBack: { answer: 'uncertain', reached: true, direction: 'reply' },
} as const satisfies Record<string, Reachability>;

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
    layer3.leases.get(leaseKey(instance.id, one.key, on.address.family))?.rivals
  )
    return alone;
  const gateway = node.table
    .lookup({ family: on.address.family, value: 0n })
    .map((route) => (route.via ? formatAddress(route.via) : ''))
    .join();
  return [layer2.domainOf(one.point), formatPrefix(subnetOf(on)), gateway, special.holders(on.address)].join(' | ');
}
