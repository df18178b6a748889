import {
  type Address,
  type Family,
  type InterfaceAddress,
  type Prefix,
  bitsOf,
  contains,
  formatAddress,
  formatPrefix,
  maskOf,
  parseAddressOf,
  parseInterfaceAddress,
  parsePrefix,
  sameAddress,
  subnetOf,
} from '../address';
import { type Interface } from '../topology';
import { type DataLink } from './datalink';
import { type Instance } from './instances';
import { type Physical, portId } from './physical';
import { type Reason } from './reason';

/** An interface with addresses as it stands: active only with carrier. */
export interface Attachment {
  readonly instance: string;
  readonly key: string;
  readonly config: Interface;
  /** The point of layer 2 where it hears frames; null for loopbacks and where there is no carrier. */
  readonly point: number | null;
  readonly up: boolean;
  readonly addresses: readonly InterfaceAddress[];
}

export interface Route {
  readonly prefix: Prefix;
  readonly source: 'connected' | 'static' | 'gateway';
  readonly distance: number;
  /** Next hop; null where the destination itself is asked for on the wire, or for a null route. */
  readonly via: Address | null;
  /** Where packets leave; null for a null route. */
  readonly out: Attachment | null;
}

/** What one device knows on layer 3. */
export interface Node {
  readonly instance: Instance;
  readonly attachments: readonly Attachment[];
  readonly table: RouteTable;
  /** Addresses, gateways and routes that could not be read or used, with the reason. */
  readonly refused: readonly Reason[];
}

/** Longest prefix first; each prefix with its best routes (several of equal cost). */
export class RouteTable {
  /** Invariant: lengths in falling order; every route set is non-empty and of one distance. */
  private readonly byLength = new Map<string, Map<bigint, Route[]>>();
  private lengths: Record<Family, number[]> = { 4: [], 6: [] };

  /** Offers a route: it replaces routes of a larger distance to the same prefix, and joins those of an equal one. */
  add(route: Route): void {
    const { family, length, value } = route.prefix;
    const key = `${family}/${length}`;
    let map = this.byLength.get(key);
    if (!map) {
      this.byLength.set(key, (map = new Map<bigint, Route[]>()));
      this.lengths[family] = [...this.lengths[family], length].sort((a, b) => b - a);
    }
    const known = map.get(value);
    if (!known || route.distance < known[0]!.distance) map.set(value, [route]);
    else if (route.distance === known[0]!.distance) known.push(route);
  }

  /** The best routes to an address; `accept` leaves prefixes out. */
  lookup(address: Address, accept: (prefix: Prefix) => boolean = () => true): readonly Route[] {
    for (const length of this.lengths[address.family]) {
      const found = this.byLength
        .get(`${address.family}/${length}`)
        ?.get(address.value & maskOf(address.family, length));
      if (found && accept(found[0]!.prefix)) return found;
    }
    return [];
  }

  all(): Route[] {
    return [...this.byLength.values()].flatMap((map) => [...map.values()].flat());
  }
}

export interface Network {
  readonly nodes: ReadonlyMap<string, Node>;
  /** Active attachments by address text. */
  readonly owners: ReadonlyMap<string, readonly Attachment[]>;
}

export function network(instances: ReadonlyMap<string, Instance>, layer1: Physical, layer2: DataLink): Network {
  const nodes = new Map<string, Node>();
  const owners = new Map<string, Attachment[]>();
  for (const instance of instances.values()) {
    const node = nodeOf(instance, layer1, layer2);
    nodes.set(instance.id, node);
    for (const attachment of node.attachments)
      if (attachment.up)
        for (const { address } of attachment.addresses) {
          const text = formatAddress(address);
          owners.set(text, [...(owners.get(text) ?? []), attachment]);
        }
  }
  return { nodes, owners };
}

function nodeOf(instance: Instance, layer1: Physical, layer2: DataLink): Node {
  const refused: Reason[] = [];
  const attachments = instance.interfaces.map(([key, config]): Attachment => {
    const { point, up } = standing(instance, config, layer1, layer2);
    return { instance: instance.id, key, config, point, up, addresses: addressesOf(instance, key, config, refused) };
  });
  const table = new RouteTable();
  for (const out of attachments)
    if (out.up)
      for (const on of out.addresses)
        table.add({ prefix: subnetOf(on), source: 'connected', distance: 0, via: null, out });
  addStatics(instance, attachments, table, refused);
  return { instance, attachments, table, refused };
}

/** Where an interface hears frames and whether it is up: a sub-interface follows its port, a VLAN interface its VLAN. */
function standing(
  instance: Instance,
  config: Interface,
  layer1: Physical,
  layer2: DataLink,
): { point: number | null; up: boolean } {
  const down = { point: null, up: false };
  if (layer1.unpowered.has(instance.id) || config.enabled === false) return down;
  const carrier = (port: string): boolean =>
    (layer1.atPort.get(portId(instance.id, port)) ?? []).some((id) => layer1.links.get(id)?.up);
  const { on } = config;
  switch (on.kind) {
    case 'loopback':
      return { point: null, up: true };
    case 'port':
    case 'sub': {
      if (!carrier(on.port) || instance.ports.get(on.port)?.switched) return down;
      return {
        point: layer2.portPoint(instance.id, on.port, on.kind === 'sub' && !on.untagged ? on.vlan : 0),
        up: true,
      };
    }
    case 'svi': {
      const vlan = layer2.vlanPoint(instance.id, on.vlan);
      return vlan?.up ? vlan : down;
    }
    case 'bundle': {
      if (!layer2.bundles.formed(instance.id, on.bundle)) return down;
      const ports = instance.settings.bundles?.[on.bundle]?.members ?? [];
      const port = ports.find((one) => carrier(one) && !instance.ports.get(one)?.switched);
      return port === undefined ? down : { point: layer2.portPoint(instance.id, port, 0), up: true };
    }
    case 'tunnel':
      return down; // the seam for tunnels
  }
}

function addressesOf(instance: Instance, key: string, config: Interface, refused: Reason[]): InterfaceAddress[] {
  const texts = [...(config.v4?.addresses ?? []), ...(config.v6?.addresses ?? [])];
  return texts.flatMap((text) => {
    const read = parseInterfaceAddress(text);
    if (read.ok) return [read.value];
    refused.push({
      code: 'ADDRESS_UNREADABLE',
      text: `${instance.name} ${key}: ${read.error.text}`,
      at: { device: instance.id, port: key },
    });
    return [];
  });
}

interface Wanted {
  prefix: Prefix;
  via: Address | null;
  out: Attachment | null;
  distance: number;
  source: 'static' | 'gateway';
  isNull: boolean;
}

/**
 * Static routes and the gateway of a host. A next hop must lie in a connected subnet, or be found through another
 * route that is neither the default nor the route itself (recursive next hops); otherwise the route is not used.
 */
function addStatics(
  instance: Instance,
  attachments: readonly Attachment[],
  table: RouteTable,
  refused: Reason[],
): void {
  const waiting = wantedRoutes(instance, attachments, refused);
  for (let progress = true; progress;) {
    progress = false;
    for (const [at, wanted] of waiting.entries()) {
      if (!wanted) continue;
      const resolved = resolve(wanted, table);
      if (!resolved) continue;
      for (const { via, out } of resolved)
        table.add({ prefix: wanted.prefix, source: wanted.source, distance: wanted.distance, via, out });
      waiting[at] = null;
      progress = true;
    }
  }
  for (const left of waiting)
    if (left?.via)
      refused.push({
        code: 'GATEWAY_OUTSIDE',
        at: { device: instance.id },
        text:
          left.source === 'gateway'
            ? `The gateway ${formatAddress(left.via)} of ${instance.name} lies in none of its subnets that are up.`
            : `The route of ${instance.name} to ${formatPrefix(left.prefix)} is not used: its next hop ${formatAddress(left.via)} lies in no connected subnet.`,
      });
}

function resolve(wanted: Wanted, table: RouteTable): { via: Address | null; out: Attachment | null }[] | null {
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

function wantedRoutes(instance: Instance, attachments: readonly Attachment[], refused: Reason[]): (Wanted | null)[] {
  const wanted: (Wanted | null)[] = [];
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
    const out = route.interface === undefined ? null : (attachments.find((one) => one.key === route.interface) ?? null);
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
        out: null,
        distance: 1,
        source: 'gateway',
        isNull: false,
      });
  }
  return wanted;
}

/** Whether an address belongs to the device itself on an active interface. */
export const owns = (node: Node, address: Address): boolean =>
  node.attachments.some((one) => one.up && one.addresses.some((own) => sameAddress(own.address, address)));

/** Whether an address is the directed broadcast address of a subnet the device is in (RFC 919): never sent to singly. */
export function isBroadcast(node: Node, address: Address): boolean {
  if (address.family === 6) return false;
  return node.attachments.some(
    (one) =>
      one.up &&
      one.addresses.some(
        (own) =>
          own.address.family === 4 &&
          own.length < bitsOf(4) - 1 &&
          (address.value | maskOf(4, own.length)) === 0xffffffffn &&
          contains(subnetOf(own), address),
      ),
  );
}

/** The source address of packets that leave by an interface towards a next hop: one of the next hop's subnet, else the first. */
export function sourceAddress(out: Attachment, towards: Address): Address | null {
  const own = out.addresses.filter(({ address }) => address.family === towards.family);
  return (own.find((one) => contains(subnetOf(one), towards)) ?? own[0])?.address ?? null;
}
