import {
  type Address,
  type Prefix,
  broadcastAddress,
  parsePrefix,
  prefixKey,
  prefixKeyAt,
  prefixOf,
  subnetOf,
} from '../../address';
import { type FilterRule } from '../../topology';
import { addressMatcher } from '../filters';
import { forwards } from '../devices';
import { leaseKey, numbersOf, type InterfaceState, type Node, type RouteTable, numberOf } from '../network';
import { type Layers } from '../forwarding';

/** What sets addresses apart from their neighbours, anywhere in a network. */
export class Distinctions {
  /** By family and length, the values of all prefixes that any table, interface or filter speaks of. */
  private readonly prefixes = new Map<number | string, Prefix>();
  /** Words of filters about addresses that are no prefixes. */
  private readonly matchers = new Map<string, (address: Address) => boolean>();
  /** Next hops, gateways, addresses of translations and the broadcast addresses of subnets. */
  private readonly singled = new Set<number | bigint>();
  private readonly lengths: { readonly 4: Set<number>; readonly 6: Set<number> } = { 4: new Set(), 6: new Set() };

  constructor(nodes: ReadonlyMap<string, Node>) {
    for (const node of nodes.values()) {
      const { keys, prefixes, singled } = distinctionsOf(node);
      for (const [at, key] of keys.entries()) if (!this.prefixes.has(key)) this.addPrefix(key, prefixes[at]!);
      for (const value of singled) this.singled.add(value);
      const { filters } = node.instance.settings;
      for (const { rules } of Object.values(filters ?? {}))
        for (const matcher of rules.flatMap((rule) => [rule.src, rule.dst])) this.addMatcher(matcher);
    }
  }

  private addPrefix(key: number | string, prefix: Prefix): void {
    this.prefixes.set(key, prefix);
    this.lengths[prefix.family].add(prefix.length);
  }

  private addMatcher(matcher: FilterRule['src']): void {
    if (matcher.kind === 'any') return;
    const prefix = matcher.kind === 'prefix' ? parsePrefix(matcher.prefix) : null;
    if (prefix?.ok) this.addPrefix(prefixKey(prefix.value), prefix.value);
    else if (!prefix) this.matchers.set(JSON.stringify(matcher), addressMatcher(matcher));
  }

  isSingled = (address: Address): boolean => this.singled.has(numberOf(address));

  /** The prefixes and words that hold an address, as one text. */
  holders(address: Address): string {
    const found: (number | string)[] = [];
    for (const length of this.lengths[address.family]) {
      const key = prefixKeyAt(address, length);
      if (this.prefixes.has(key)) found.push(key);
    }
    for (const [text, matches] of this.matchers) if (matches(address)) found.push(text);
    return found.sort().join(' ');
  }

  /** Whether the same addresses are set apart from the same others. */
  equals(other: Distinctions): boolean {
    return this.holdsLike(other) && sameKeys(this.singled, other.singled);
  }

  /** Whether the same prefixes and words hold addresses. */
  holdsLike(other: Distinctions): boolean {
    return sameKeys(this.prefixes, other.prefixes) && sameKeys(this.matchers, other.matchers);
  }
}

/** Whether two maps or sets have the same keys. */
function sameKeys<K>(first: Keyed<K>, second: Keyed<K>): boolean {
  if (first.size !== second.size) return false;
  for (const key of first.keys()) if (!second.has(key)) return false;
  return true;
}

type Keyed<K> = Pick<ReadonlyMap<K, unknown>, 'size' | 'keys' | 'has'>;

interface OwnDistinctions {
  /** Keys of the prefixes. */
  readonly keys: readonly (number | string)[];
  readonly prefixes: readonly Prefix[];
  readonly singled: ReadonlySet<number | bigint>;
}
/** By the table of a device, which is made anew whenever anything here changes. */
const known = new WeakMap<RouteTable, OwnDistinctions>();
function distinctionsOf(node: Node): OwnDistinctions {
  let found = known.get(node.table);
  if (!found) known.set(node.table, (found = ownDistinctions(node)));
  return found;
}

function ownDistinctions({ table, interfaceStates, instance }: Node): OwnDistinctions {
  const prefixes: Prefix[] = [];
  const singled = new Set<number | bigint>();
  const hops = new Set<Address | null>();
  for (const routes of table.sets()) {
    prefixes.push(routes[0]!.prefix);
    for (const { via } of routes) hops.add(via);
  }
  for (const via of hops) if (via) singled.add(numberOf(via));
  for (const { inside, outside, sources = [] } of instance.settings.nat ?? []) {
    for (const text of [inside, outside]) {
      const parsed = text === undefined ? null : parsePrefix(`${text}/32`);
      if (parsed?.ok) singled.add(numberOf(parsed.value));
    }
    for (const text of sources) {
      const prefix = parsePrefix(text);
      if (prefix.ok) prefixes.push(prefix.value);
    }
  }
  for (const on of interfaceStates.flatMap((interfaceState) => interfaceState.addresses)) {
    const subnet = subnetOf(on);
    prefixes.push(subnet);
    const broadcast = broadcastAddress(subnet);
    if (broadcast) singled.add(numberOf(broadcast));
  }
  return { keys: prefixes.map(prefixKey), prefixes, singled };
}

/**
 * Devices of a class are alike in everything a packet's way depends on: the domain they are in, their subnets as they see
 * them, their gateways, and which of the prefixes anywhere in the drawing hold their addresses. Devices with several
 * interfaces or routes of their own, and addresses that exist twice, are classes by themselves.
 */
export function classKey({ layer2, layer3 }: Layers, node: Node, distinctions: Distinctions): string {
  const { instance, interfaceStates } = node;
  const alone = `device ${instance.id}`;
  // Devices of one domain may stand on different sides of a bundle of which nobody knows what it lets through.
  if (layer2.bundles.doubtful.size) return alone;
  const [interfaceState] = interfaceStates;
  if (
    !interfaceState?.addresses.length ||
    interfaceStates.length > 1 ||
    !interfaceState.up ||
    interfaceState.point === null
  )
    return alone;
  if (forwards(instance, 4) || forwards(instance, 6)) return alone;
  const { routes, nat, firewall } = instance.settings;
  if (routes?.length || nat?.length || firewall || filtersAt(interfaceState)) return alone;
  for (const number of numbersOf(interfaceState)) if (layer3.owners.get(number)!.length > 1) return alone;
  const parts = [String(layer2.domainOf(interfaceState.point)), interfaceState.linkLocal ? 'v6' : ''];
  for (const on of interfaceState.addresses) {
    const { family } = on.address;
    if (distinctions.isSingled(on.address)) return alone;
    if (layer3.leases.size && layer3.leases.get(leaseKey(instance.id, interfaceState.key, family))?.rivals)
      return alone;
    const gateways = node.table
      .lookup({ family, value: 0n })
      .map((route) => (route.via ? String(numberOf(route.via)) : ''));
    parts.push(`${prefixKey(prefixOf(on.address, on.length))} ${gateways.join()} ${distinctions.holders(on.address)}`);
  }
  return parts.join(' | ');
}

/** Whether a device is a class by itself for addresses that others use as well, or speak of singly. */
export const standsOut = (
  { owners }: Layers['layer3'],
  { interfaceStates }: Node,
  distinctions: Distinctions,
): boolean =>
  interfaceStates.some(
    (interfaceState) =>
      interfaceState.addresses.some((on) => distinctions.isSingled(on.address)) ||
      (interfaceState.up && [...numbersOf(interfaceState)].some((number) => owners.get(number)!.length > 1)),
  );

/** Whether an interface asks a filter. */
export const filtersAt = ({ config }: InterfaceState): boolean =>
  Boolean(config.filterIn4 ?? config.filterOut4 ?? config.filterIn6 ?? config.filterOut6);
