import {
  type Address,
  type Prefix,
  contains,
  formatAddress,
  formatPrefix,
  isLinkLocal,
  maskOf,
  parseAddressOf,
  parsePrefix,
  subnetOf,
} from '../../address';
import { type Instance, type Reason } from '../devices';
import { type Distances } from './routing-options';
import { type InterfaceState, type Route, type RouteTable, allAddresses, numberOf } from './node';

interface Wanted {
  prefix: Prefix;
  via: Address | null;
  out: InterfaceState | null;
  distance: number;
  source: 'static' | 'gateway';
  isNull: boolean;
}

/** One way that a next hop was found to lead; neither an address nor an interface is a null route. */
interface Hop {
  readonly via: Address | null;
  readonly out: InterfaceState | null;
}
type Found = readonly Hop[] | null;

/**
 * Static routes and the gateway of a host. A next hop must lie in a connected subnet, or be found through another
 * route that is neither the default nor the route itself (recursive next hops); otherwise the route is not used. Through a
 * null route it is one, too.
 *
 * All next hops are looked up in the table as it was before any of them, round after round, until one changes nothing: so
 * the order of the list does not matter. Of routes to one prefix those of the least distance stand in the table. If the
 * rounds come back to a table they had before, what differs between these rounds is *unstable*.
 */
export function addStatics(
  instance: Instance,
  interfaceStates: readonly InterfaceState[],
  table: RouteTable,
  refused: Reason[],
  usual: Distances,
): void {
  const all = wantedRoutes(instance, interfaceStates, refused, usual);
  if (!all.length) return;
  const found = new Map<Wanted, Found>(all.map((wanted) => [wanted, null]));
  const prefixes = new Map<string, OfPrefix>();
  for (const wanted of all) {
    const key = prefixKey(wanted.prefix);
    const there = prefixes.get(key);
    if (there) there.wanted.push(wanted);
    else prefixes.set(key, { prefix: wanted.prefix, others: table.at(wanted.prefix), wanted: [wanted] });
  }
  const own = new Set(
    interfaceStates
      .filter(({ up }) => up)
      .flatMap(allAddresses)
      .map(numberOf),
  );
  const hopes = new Hopes(all);
  const circle = new Circle(found);
  let asked: ReadonlySet<Wanted> = new Set(all);
  while (asked.size) {
    const changed = [...asked].flatMap((wanted): [Wanted, Found][] => {
      const hops = resolve(wanted, table, own);
      return sameHops(hops, found.get(wanted)!) ? [] : [[wanted, hops]];
    });
    for (const [wanted, hops] of changed) found.set(wanted, hops);
    const next = new Set<Wanted>();
    for (const key of new Set(changed.map(([wanted]) => prefixKey(wanted.prefix)))) {
      const at = prefixes.get(key)!;
      const routes = bestOf(at, found);
      if (sameRoutes(routes, table.at(at.prefix))) continue;
      table.replace(at.prefix, routes);
      circle.moved.add(at);
      for (const hopeful of hopes.on(at.prefix)) next.add(hopeful);
    }
    if (circle.isClosed(changed, asked.size)) {
      for (const at of circle.moved) {
        const text = `The routes of ${instance.name} to ${formatPrefix(at.prefix)} depend on one another in a circle: which of them is used is not certain.`;
        table.replace(at.prefix, [unstable(at, text)]);
        refused.push({ code: 'ROUTE_UNSTABLE', at: { device: instance.id }, text });
      }
      break;
    }
    asked = next;
  }
  for (const [left, hops] of found)
    if (!hops && left.via) refused.push(...whyNot(instance, interfaceStates, left, own));
}

/** A prefix that routes are set for, and the routes that others have told of it. */
interface OfPrefix {
  readonly prefix: Prefix;
  readonly others: readonly Route[];
  readonly wanted: Wanted[];
}

/** The routes of least distance among those to one prefix that are found; what others told goes by its own. */
function bestOf({ prefix, others, wanted }: OfPrefix, found: ReadonlyMap<Wanted, Found>): Route[] {
  let best = [...others];
  for (const one of wanted)
    for (const hop of found.get(one) ?? []) {
      const { source, distance } = one;
      const order = best.length ? distance - best[0]!.distance || 0 - best[0]!.metric : -1;
      if (order < 0) best = [{ prefix, source, distance, metric: 0, ...hop }];
      else if (order === 0) best.push({ prefix, source, distance, metric: 0, ...hop });
    }
  return inOrder(best);
}
function unstable({ prefix, wanted }: OfPrefix, why: string): Route {
  const least = wanted.reduce((best, one) => (one.distance < best.distance ? one : best));
  return { prefix, source: least.source, distance: least.distance, metric: 0, via: null, out: null, unstable: why };
}

const sameRoutes = (first: readonly Route[], second: readonly Route[]): boolean =>
  first.length === second.length &&
  first.every((route, at) => route.distance === second[at]!.distance && sameHop(route, second[at]!));
const sameHops = (first: Found, second: Found): boolean =>
  first === second ||
  (first !== null &&
    second !== null &&
    first.length === second.length &&
    first.every((hop, at) => sameHop(hop, second[at]!)));
const sameHop = (first: Hop, second: Hop): boolean =>
  first.out === second.out && first.via?.value === second.via?.value;

/**
 * Whether rounds come back to where they were. What was found is compared with how it stood after a round whose number is
 * a power of two (R. P. Brent, An improved Monte Carlo factorization algorithm, BIT 20, 1980), so that a circle of any
 * length is noticed and only what changed is looked at.
 */
class Circle {
  /** Prefixes whose routes have changed since. */
  readonly moved = new Set<OfPrefix>();
  private readonly stood: Map<Wanted, Found>;
  private readonly differing = new Set<Wanted>();
  private rounds = 0;
  private until = 1;
  private lookups = 0;

  constructor(private readonly found: ReadonlyMap<Wanted, Found>) {
    this.stood = new Map(found);
  }

  /** After a round in which so many were looked up and these were found to have other hops. */
  isClosed(changed: readonly (readonly [Wanted, Found])[], lookups: number): boolean {
    for (const [wanted, hops] of changed)
      if (sameHops(hops, this.stood.get(wanted)!)) this.differing.delete(wanted);
      else this.differing.add(wanted);
    if (changed.length && !this.differing.size) return true;
    this.lookups += lookups;
    if (++this.rounds < this.until) return false;
    // Circles that turn side by side may take long to come back together: by then all that turns has moved many times.
    if (this.lookups > MOST_LOOKUPS) return true;
    this.until *= 2;
    this.rounds = 0;
    for (const wanted of this.differing) this.stood.set(wanted, this.found.get(wanted)!);
    this.differing.clear();
    this.moved.clear();
    return false;
  }
}
/** Many times what a chain of as many routes as a device may have takes: two for each. */
const MOST_LOOKUPS = 1_000_000;

function whyNot(
  instance: Instance,
  interfaceStates: readonly InterfaceState[],
  { via, prefix, source }: Wanted,
  own: ReadonlySet<number | bigint>,
): Reason[] {
  // What a tunnel carries is not computed: that is said of answers, and such a route is no mistake.
  const byTunnel = interfaceStates.some(
    ({ config, addresses }) => config.on.kind === 'tunnel' && addresses.some((on) => contains(subnetOf(on), via!)),
  );
  if (byTunnel) return [];
  const isOwn = own.has(numberOf(via!));
  const { name } = instance;
  const text =
    source === 'gateway'
      ? isOwn
        ? `The gateway ${formatAddress(via!)} of ${name} is its own address.`
        : `The gateway ${formatAddress(via!)} of ${name} lies in none of its subnets that are up.`
      : isOwn
        ? `The route of ${name} to ${formatPrefix(prefix)} is not used: its next hop ${formatAddress(via!)} is an address of ${name} itself.`
        : `The route of ${name} to ${formatPrefix(prefix)} is not used: its next hop ${formatAddress(via!)} lies in no connected subnet.`;
  return [{ code: 'GATEWAY_OUTSIDE', at: { device: instance.id }, text }];
}

/** Which routes have a next hop in a prefix, for the lengths of prefixes that occur. */
class Hopes {
  private readonly byLength = new Map<string, Map<bigint, Wanted[]>>();

  constructor(all: readonly Wanted[]) {
    for (const { prefix } of all) this.byLength.set(lengthKey(prefix), new Map());
    for (const [key, hopes] of this.byLength) {
      const [family, length] = key.split(' ').map(Number) as [4 | 6, number];
      for (const wanted of all) {
        if (wanted.via?.family !== family || wanted.out) continue;
        const value = wanted.via.value & maskOf(family, length);
        const there = hopes.get(value);
        if (there) there.push(wanted);
        else hopes.set(value, [wanted]);
      }
    }
  }

  on = (prefix: Prefix): readonly Wanted[] => this.byLength.get(lengthKey(prefix))?.get(prefix.value) ?? [];
}
const lengthKey = ({ family, length }: Prefix): string => `${family} ${length}`;
const prefixKey = (prefix: Prefix): string => `${lengthKey(prefix)} ${prefix.value}`;

function resolve(wanted: Wanted, table: RouteTable, own: ReadonlySet<number | bigint>): Found {
  if (wanted.isNull) return [NOWHERE];
  if (wanted.via && own.has(numberOf(wanted.via))) return null;
  if (wanted.out) return wanted.out.up ? [{ via: wanted.via, out: wanted.out }] : null;
  const via = wanted.via!;
  const direct = table.lookup(
    via,
    (prefix) => prefix.length > 0 && !(prefix.value === wanted.prefix.value && prefix.length === wanted.prefix.length),
  );
  if (!direct.length) return null;
  if (direct[0]!.source !== 'connected' && wanted.source === 'gateway') return null;
  const usable = direct.filter(
    (route) =>
      !(contains(wanted.prefix, via) && route.source === 'static' && wanted.prefix.length > route.prefix.length),
  );
  return usable.length
    ? inOrder(usable.map(({ via: next, out }): Hop => (out ? { via: next ?? via, out } : NOWHERE)))
    : null;
}

/** Hops in an order of their own, each once: the same whichever was found first. */
const inOrder = <T extends Hop>(hops: readonly T[]): T[] =>
  hops.length < 2
    ? [...hops]
    : [...new Map(hops.map((hop) => [wordOf(hop), hop]))].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, hop]) => hop);
const wordOf = ({ via, out }: Hop): string => `${out?.key ?? ''} ${via?.value.toString(16).padStart(32, '0') ?? ''}`;
const NOWHERE: Hop = { via: null, out: null };

/** Where an address for the link alone is looked for if no interface is named: on the only one that speaks IPv6. */
function onLink(interfaceStates: readonly InterfaceState[], via: Address | null): InterfaceState | null {
  if (!via || !isLinkLocal(via)) return null;
  const speaking = interfaceStates.filter((interfaceState) => interfaceState.up && interfaceState.linkLocal);
  return speaking.length === 1 ? speaking[0]! : null;
}

function wantedRoutes(
  instance: Instance,
  interfaceStates: readonly InterfaceState[],
  refused: Reason[],
  usual: Distances,
): Wanted[] {
  const wanted: Wanted[] = [];
  const unreadable = (what: string, text: string): void => {
    refused.push({
      code: 'ADDRESS_UNREADABLE',
      text: `${instance.name}, ${what}: ${text}`,
      at: { device: instance.id },
    });
  };
  for (const route of instance.settings.routes ?? []) {
    const prefix = parsePrefix(route.prefix);
    if (!prefix.ok) {
      unreadable('route', prefix.error.text);
      continue;
    }
    const via = route.via === undefined ? null : parseAddressOf(prefix.value.family, route.via);
    if (via && !via.ok) {
      unreadable(`next hop of ${route.prefix}`, via.error.text);
      continue;
    }
    const out =
      route.interface === undefined
        ? onLink(interfaceStates, via?.value ?? null)
        : (interfaceStates.find((interfaceState) => interfaceState.key === route.interface) ?? null);
    // One that leaves by an interface that is not there is not used; that the name says nothing is a problem of its own.
    if (route.interface !== undefined && !out) continue;
    wanted.push({
      prefix: prefix.value,
      via: via?.value ?? null,
      out,
      distance: route.distance ?? usual.static,
      source: 'static',
      isNull: !via && route.interface === undefined,
    });
  }
  for (const [family, text] of [
    [4, instance.settings.gateway4],
    [6, instance.settings.gateway6],
  ] as const) {
    if (text === undefined || text === '') continue;
    const via = parseAddressOf(family, text);
    if (!via.ok) unreadable('gateway', via.error.text);
    else
      wanted.push({
        prefix: { family, value: 0n, length: 0 },
        via: via.value,
        out: onLink(interfaceStates, via.value),
        distance: usual.static,
        source: 'gateway',
        isNull: false,
      });
  }
  return wanted;
}
