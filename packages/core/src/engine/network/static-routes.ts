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
import { type InterfaceState, type RouteTable } from './node';

interface Wanted {
  prefix: Prefix;
  via: Address | null;
  out: InterfaceState | null;
  distance: number;
  source: 'static' | 'gateway';
  isNull: boolean;
}

/**
 * Static routes and the gateway of a host. A next hop must lie in a connected subnet, or be found through another
 * route that is neither the default nor the route itself (recursive next hops); otherwise the route is not used.
 */
export function addStatics(
  instance: Instance,
  interfaceStates: readonly InterfaceState[],
  table: RouteTable,
  refused: Reason[],
): void {
  const all = wantedRoutes(instance, interfaceStates, refused);
  const waiting = new Set(all);
  const hopes = new Hopes(all);
  const queue = [...all];
  // A route that is found may be what others wait for: those alone are looked at again.
  for (const wanted of queue) {
    const resolved = waiting.has(wanted) ? resolve(wanted, table) : null;
    if (!resolved) continue;
    for (const { via, out } of resolved)
      table.add({ prefix: wanted.prefix, source: wanted.source, distance: wanted.distance, metric: 0, via, out });
    waiting.delete(wanted);
    for (const hopeful of hopes.on(wanted.prefix)) if (waiting.has(hopeful)) queue.push(hopeful);
  }
  // What a tunnel carries is not computed: that is said of answers, and such a route is no mistake.
  const byTunnel = (via: Address): boolean =>
    interfaceStates.some(
      ({ config, addresses }) => config.on.kind === 'tunnel' && addresses.some((on) => contains(subnetOf(on), via)),
    );
  for (const left of waiting)
    if (left.via && !byTunnel(left.via))
      refused.push({
        code: 'GATEWAY_OUTSIDE',
        at: { device: instance.id },
        text:
          left.source === 'gateway'
            ? `The gateway ${formatAddress(left.via)} of ${instance.name} lies in none of its subnets that are up.`
            : `The route of ${instance.name} to ${formatPrefix(left.prefix)} is not used: its next hop ${formatAddress(left.via)} lies in no connected subnet.`,
      });
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

function resolve(wanted: Wanted, table: RouteTable): { via: Address | null; out: InterfaceState | null }[] | null {
  if (wanted.isNull) return [{ via: null, out: null }];
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
      route.out &&
      !(contains(wanted.prefix, via) && route.source === 'static' && wanted.prefix.length > route.prefix.length),
  );
  return usable.length ? usable.map((route) => ({ via: route.via ?? via, out: route.out })) : null;
}

/** Where an address for the link alone is looked for if no interface is named: on the only one that speaks IPv6. */
function onLink(interfaceStates: readonly InterfaceState[], via: Address | null): InterfaceState | null {
  if (!via || !isLinkLocal(via)) return null;
  const speaking = interfaceStates.filter((interfaceState) => interfaceState.up && interfaceState.linkLocal);
  return speaking.length === 1 ? speaking[0]! : null;
}

function wantedRoutes(instance: Instance, interfaceStates: readonly InterfaceState[], refused: Reason[]): Wanted[] {
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
      distance: route.distance ?? 1,
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
        distance: 1,
        source: 'gateway',
        isNull: false,
      });
  }
  return wanted;
}
