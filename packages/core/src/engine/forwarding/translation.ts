import {
  type Address,
  contains,
  formatAddress,
  parseAddressOf,
  parsePrefix,
  sameAddress,
  subnetOf,
} from '../../address';
import { entryOf } from '../../topology';
import { type Packet, addressMatcher } from '../filters';
import { type InterfaceState, type Node } from '../network';

/** A translation that a packet made on its way: what answers it is translated back by the same device. */
export interface Translation {
  readonly device: string;
  /** Whether the source or the destination of the packet was changed. */
  readonly side: 'source' | 'destination';
  readonly before: Address;
  readonly after: Address;
  readonly beforePort: number | undefined;
  readonly afterPort: number | undefined;
}
type Rule = NonNullable<Node['instance']['settings']['nat']>[number];

const rulesOf = (node: Node): readonly Rule[] => node.instance.settings.nat ?? [];
const parsed = (text: string | undefined): Address | null => {
  const read = text === undefined ? null : parseAddressOf(4, text);
  return read?.ok ? read.value : null;
};
const ownAddress = ({ addresses }: InterfaceState): Address | null =>
  addresses.find(({ address }) => address.family === 4)?.address ?? null;

/** Where a packet from outside is really meant for: a static translation or a forwarded port; null for neither. */
export function translateDestination(node: Node, arrived: InterfaceState, packet: Packet): Translation | null {
  if (arrived.config.natSide !== 'outside' || packet.destination.family !== 4) return null;
  for (const rule of rulesOf(node)) {
    if (rule.kind !== 'static' && rule.kind !== 'portForward') continue;
    const [inside, outside] = [parsed(rule.inside), outsideOf(node, rule)];
    if (!inside || !outside || !sameAddress(outside, packet.destination)) continue;
    if (rule.kind === 'portForward') {
      if (packet.protocol !== (rule.proto ?? 'tcp') || packet.destinationPort !== rule.outsidePort) continue;
      return translated(node, 'destination', packet, inside, rule.insidePort ?? rule.outsidePort);
    }
    return translated(node, 'destination', packet, inside, packet.destinationPort);
  }
  return null;
}

/**
 * Under which address a packet from inside goes out: its own by a static translation, else one of a pool or the
 * interface's.
 */
export function translateSource(
  node: Node,
  arrived: InterfaceState,
  out: InterfaceState,
  packet: Packet,
): Translation | null {
  if (arrived.config.natSide !== 'inside' || out.config.natSide !== 'outside' || packet.source.family !== 4)
    return null;
  const rules = rulesOf(node);
  const fixed = rules.find((rule) => rule.kind === 'static' && sameOrNull(parsed(rule.inside), packet.source));
  const outside = fixed && outsideOf(node, fixed);
  if (outside) return translated(node, 'source', packet, outside, packet.sourcePort);
  for (const rule of rules) {
    if (rule.kind !== 'overload' && rule.kind !== 'pool') continue;
    if (rule.outsideInterface !== undefined && rule.outsideInterface !== out.key) continue;
    if (rule.sources && !rule.sources.some((text) => isSource(node, text, packet))) continue;
    const address = rule.kind === 'pool' || rule.pool ? parsed(rule.pool?.from) : ownAddress(out);
    if (address) return translated(node, 'source', packet, address, packet.sourcePort);
  }
  return null;
}

/** Addresses that a device answers for on a wire although no interface has them: those it translates to. */
export function answersFor(node: Node, at: InterfaceState, address: Address): boolean {
  if (at.config.natSide !== 'outside' || address.family !== 4) return false;
  const isNear = at.addresses.some((on) => contains(subnetOf(on), address));
  return (
    isNear &&
    rulesOf(node).some((rule) => {
      if (rule.kind === 'static' || rule.kind === 'portForward') return sameOrNull(parsed(rule.outside), address);
      const [from, to] = [parsed(rule.pool?.from), parsed(rule.pool?.to)];
      return Boolean(from && to && address.value >= from.value && address.value <= to.value);
    })
  );
}

/** Translates back what answers a packet that was translated on its way; null where the device knows of none. */
export function translatedBack(
  made: readonly Translation[],
  device: string,
  packet: Packet,
  side: Translation['side'],
): Packet | null {
  const found = made.find(
    (translation) =>
      translation.device === device &&
      translation.side === side &&
      (side === 'source'
        ? sameAddress(translation.after, packet.destination) && translation.afterPort === packet.destinationPort
        : sameAddress(translation.after, packet.source) && translation.afterPort === packet.sourcePort),
  );
  if (!found) return null;
  return side === 'source'
    ? {
        ...packet,
        destination: found.before,
        ...(found.beforePort !== undefined && { destinationPort: found.beforePort }),
      }
    : { ...packet, source: found.before, ...(found.beforePort !== undefined && { sourcePort: found.beforePort }) };
}

/** A packet after a translation. */
export const applied = (packet: Packet, { side, after, afterPort }: Translation): Packet =>
  side === 'source'
    ? { ...packet, source: after, ...(afterPort !== undefined && { sourcePort: afterPort }) }
    : { ...packet, destination: after, ...(afterPort !== undefined && { destinationPort: afterPort }) };

const translated = (
  node: Node,
  side: Translation['side'],
  packet: Packet,
  after: Address,
  afterPort: number | undefined,
): Translation => ({
  device: node.instance.id,
  side,
  before: side === 'source' ? packet.source : packet.destination,
  after,
  beforePort: side === 'source' ? packet.sourcePort : packet.destinationPort,
  afterPort,
});

function outsideOf(node: Node, rule: Rule): Address | null {
  const set = parsed(rule.outside);
  if (set) return set;
  const interfaceConfig = node.interfaceStates.find((interfaceState) => interfaceState.key === rule.outsideInterface);
  return interfaceConfig ? ownAddress(interfaceConfig) : null;
}

const sameOrNull = (first: Address | null, second: Address): boolean => first !== null && sameAddress(first, second);

/** Whether a word of a rule, a prefix or the id of a filter, speaks of the source of a packet. */
function isSource(node: Node, text: string, packet: Packet): boolean {
  const filter = entryOf(node.instance.settings.filters, text);
  if (filter) {
    const rule = filter.rules.find((rule) => rule.enabled !== false && addressMatcher(rule.src)(packet.source));
    return rule?.action === 'permit';
  }
  const prefix = parsePrefix(text);
  return prefix.ok && contains(prefix.value, packet.source);
}

/** A translation in words: which side of the packet, and what becomes of it. */
export const wordsOf = ({ side, before, after }: Translation): string =>
  `${side} ${formatAddress(before)} becomes ${formatAddress(after)}`;
