import { type Address, type Prefix, contains, formatPrefix, parseAddress, parsePrefix, subnetOf } from '../../address';
import { type DataLink } from '../datalink';
import { judge } from '../filters';
import { type InterfaceState, type Node, type Route } from './node';

/** Routes learnt by RIPv2 (RFC 2453), by device. */
export type Learnt = ReadonlyMap<string, readonly Route[]>;

const UNREACHABLE = 16;
const PORT = 520;
const ALL_ROUTERS = address4('224.0.0.9');

interface Face {
  node: Node;
  interfaceState: InterfaceState;
  address: Address;
  subnet: Prefix;
  passive: boolean;
  version: number;
}
interface Entry {
  prefix: Prefix;
  metric: number;
  via: Address | null;
  out: InterfaceState | null;
}

/**
 * What the exchange of distances settles in. Every round computes all tables afresh from what neighbours told in the
 * round before; after at most 16 rounds nothing can change, since a metric of 16 is unreachable (§2.2).
 */
export function ripRoutes(nodes: ReadonlyMap<string, Node>, layer2: DataLink, distance: number): Learnt {
  const interfaces = [...nodes.values()].flatMap(ripInterfacesOf);
  if (!interfaces.length) return new Map();
  const byDomain = new Map<number, Face[]>();
  for (const ripInterface of interfaces) {
    if (ripInterface.interfaceState.point === null) continue;
    const domain = layer2.domainOf(ripInterface.interfaceState.point);
    byDomain.set(domain, [...(byDomain.get(domain) ?? []), ripInterface]);
  }
  const speakers = [...new Set(interfaces.map((ripInterface) => ripInterface.node))];
  const own = new Map(speakers.map((node) => [node, entriesOf(node, interfaces)]));
  let tables = own;
  for (let round = 0; round < UNREACHABLE; round++) {
    const next = new Map(speakers.map((node) => [node, new Map(own.get(node))]));
    for (const group of byDomain.values())
      for (const teller of group)
        for (const hearer of group)
          if (teller.node !== hearer.node && isHeard(teller, hearer))
            for (const entry of tables.get(teller.node)!.values()) offer(next.get(hearer.node)!, entry, teller, hearer);
    const settled = speakers.every((node) => sameTable(tables.get(node)!, next.get(node)!));
    tables = next;
    if (settled) break;
  }
  return new Map(
    [...tables].map(([node, table]) => [
      node.instance.id,
      [...table.values()].flatMap(({ prefix, metric, via, out }): Route[] =>
        via === null ? [] : [{ prefix, source: 'rip', distance, metric, via, out }],
      ),
    ]),
  );
}

/** A metric of one more than was told (§3.9.2); of equal ways the one that the lower address told stays. */
function offer(table: Map<string, Entry>, { prefix, metric }: Entry, teller: Face, hearer: Face): void {
  const cost = metric + 1;
  if (cost >= UNREACHABLE) return;
  const key = formatPrefix(prefix);
  const there = table.get(key);
  const isBetter =
    !there ||
    cost < there.metric ||
    (cost === there.metric && there.via !== null && teller.address.value < there.via.value);
  if (isBetter) table.set(key, { prefix, metric: cost, via: teller.address, out: hearer.interfaceState });
}

function isHeard(teller: Face, hearer: Face): boolean {
  if (teller.passive || teller.version !== hearer.version || !contains(hearer.subnet, teller.address)) return false;
  const verdict = judge(hearer.node.instance, hearer.interfaceState.config.filterIn4, {
    source: teller.address,
    destination: ALL_ROUTERS,
    protocol: 'udp',
    sourcePort: PORT,
    destinationPort: PORT,
  });
  return verdict?.passes ?? true;
}

function ripInterfacesOf(node: Node): Face[] {
  const { rip } = node.instance.settings;
  if (!rip) return [];
  const networks = (rip.networks ?? []).flatMap((text) => {
    const read = parsePrefix(text);
    return read.ok ? [read.value] : [];
  });
  return node.interfaceStates.flatMap((interfaceState): Face[] => {
    const on = interfaceState.addresses.find(
      ({ address }) => address.family === 4 && networks.some((network) => contains(network, address)),
    );
    if (!interfaceState.up || !on) return [];
    const { passive = false, version = 2 } = interfaceState.config.rip ?? {};
    return [{ node, interfaceState, address: on.address, subnet: subnetOf(on), passive, version }];
  });
}

/** What a router tells of its own: its networks, and what it takes over from elsewhere (metric 1). */
function entriesOf(node: Node, interfaces: readonly Face[]): Map<string, Entry> {
  const { redistribute = [], defaultOriginate } = node.instance.settings.rip!;
  const entries = new Map<string, Entry>();
  const tell = (prefix: Prefix): void =>
    void entries.set(formatPrefix(prefix), { prefix, metric: 1, via: null, out: null });
  for (const ripInterface of interfaces) if (ripInterface.node === node) tell(ripInterface.subnet);
  for (const { prefix, source } of node.table.all())
    if (prefix.family === 4 && redistribute.some((taken) => takesOver(taken, source))) tell(prefix);
  if (defaultOriginate) tell({ family: 4, value: 0n, length: 0 });
  return entries;
}

/** Whether a route of a source is meant by a word of the configuration. */
export const takesOver = (word: 'connected' | 'static' | 'rip' | 'ospf', source: Route['source']): boolean =>
  word === 'static' ? source === 'static' || source === 'gateway' : word === source;

const sameTable = (first: ReadonlyMap<string, Entry>, second: ReadonlyMap<string, Entry>): boolean =>
  first.size === second.size &&
  [...first].every(([key, { metric, via, out }]) => {
    const there = second.get(key);
    return there?.metric === metric && there.via?.value === via?.value && there.out === out;
  });

function address4(text: string): Address {
  const read = parseAddress(text);
  if (!read.ok) throw new Error(read.error.text);
  return read.value;
}
