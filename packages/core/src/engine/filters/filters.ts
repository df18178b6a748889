import { type Address, contains, parseAddressOf, parsePrefix } from '../../address';
import { type Filter, type FilterRule, entryOf } from '../../topology';
import { type Instance } from '../devices';

/** What a packet is asked for by filters and translation. Ports are those of TCP and UDP. */
export interface Packet {
  readonly source: Address;
  readonly destination: Address;
  readonly protocol: 'icmp' | 'tcp' | 'udp' | 'ospf' | 'vrrp';
  readonly sourcePort?: number;
  readonly destinationPort?: number;
  readonly icmpType?: number;
  /** Whether a TCP segment belongs to a connection by its flags: ACK or RST. */
  readonly established?: boolean;
}

export interface Judgement {
  readonly passes: boolean;
  readonly filter: string;
  /** The rule that decided, from 1; null where none matched and the implicit deny decided. */
  readonly line: number | null;
}

/** The first rule that matches decides; a packet that none matches is denied. Null where the device has no such filter. */
export function judge({ settings }: Instance, id: string | undefined, packet: Packet): Judgement | null {
  const filter = id === undefined ? undefined : entryOf(settings.filters, id);
  if (!filter) return null;
  const rules = compiled(filter);
  const at = rules.findIndex((matches) => matches(packet));
  return { filter: id!, passes: filter.rules[at]?.action === 'permit', line: at < 0 ? null : at + 1 };
}

type Matches = (packet: Packet) => boolean;
/** Filters are values that never change: what was worked out once for one holds as long as it is there. */
const known = new WeakMap<Filter, Matches[]>();
function compiled(filter: Filter): Matches[] {
  let rules = known.get(filter);
  if (!rules) known.set(filter, (rules = filter.rules.map(matcherOf)));
  return rules;
}

function matcherOf(rule: FilterRule): Matches {
  if (rule.enabled === false) return () => false;
  const [source, destination] = [addressMatcher(rule.src), addressMatcher(rule.dst)];
  const isProtocol: Matches = rule.proto === 'ip' ? () => true : ({ protocol }) => protocol === rule.proto;
  return (packet) =>
    isProtocol(packet) &&
    source(packet.source) &&
    destination(packet.destination) &&
    inPorts(rule.srcPorts, packet.sourcePort) &&
    inPorts(rule.dstPorts, packet.destinationPort) &&
    (rule.icmpType === undefined || packet.icmpType === rule.icmpType) &&
    (!rule.established || packet.established === true);
}

/** Whether an address is one that a rule speaks of; what cannot be read matches nothing. */
export function addressMatcher(matcher: FilterRule['src']): (address: Address) => boolean {
  switch (matcher.kind) {
    case 'any':
      return () => true;
    case 'prefix': {
      const prefix = parsePrefix(matcher.prefix);
      return prefix.ok ? (address) => contains(prefix.value, address) : () => false;
    }
    case 'wildcard': {
      const [base, wildcard] = [parseAddressOf(4, matcher.address), parseAddressOf(4, matcher.wildcard)];
      if (!base.ok || !wildcard.ok) return () => false;
      const free = wildcard.value.value;
      return ({ family, value }) => family === 4 && (value | free) === (base.value.value | free);
    }
    case 'range': {
      const family = matcher.from.includes(':') ? 6 : 4;
      const [from, to] = [parseAddressOf(family, matcher.from), parseAddressOf(family, matcher.to)];
      if (!from.ok || !to.ok) return () => false;
      return (address) =>
        address.family === family && address.value >= from.value.value && address.value <= to.value.value;
    }
  }
}

function inPorts(wanted: FilterRule['srcPorts'], port: number | undefined): boolean {
  if (!wanted) return true;
  if (port === undefined) return false;
  switch (wanted.op) {
    case 'eq':
      return port === wanted.from;
    case 'gt':
      return port > wanted.from;
    case 'lt':
      return port < wanted.from;
    case 'range':
      return port >= wanted.from && port <= (wanted.to ?? wanted.from);
  }
}
