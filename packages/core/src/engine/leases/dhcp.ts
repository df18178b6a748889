import {
  type Address,
  type Family,
  type Prefix,
  contains,
  formatAddress,
  lastOf,
  parseAddressOf,
  parseMac,
  parsePrefix,
  sameAddress,
} from '../../address';
import { type DataLink } from '../datalink';
import { type Packet, judge } from '../filters';
import { interfaceMac } from '../devices';
import {
  type Lease,
  type Leases,
  leaseKey,
  type Network,
  type InterfaceState,
  type Node,
  allAddresses,
} from '../network';

type Pool = NonNullable<Node['instance']['settings']['dhcpPools']>[number];
/** Whether a packet sent by a device to an address arrives at another one. */
export type Arrives = (from: string, source: Address, to: string, destination: Address) => boolean;

interface Offer {
  server: Node;
  /** Where the server was asked. */
  at: Address;
  relay: Lease['relay'];
  pool: Pool;
  network: Prefix;
  /** The interface that heard the client. */
  heardBy: InterfaceState;
}
/** What is offered on a wire, to whoever asks there. */
interface Offered {
  offers: readonly Offer[];
  servers: number;
}

/** What a client sends first, to everybody or to all servers and relays (RFC 2131 4.1, RFC 8415 7.1 and 7.2). */
const DISCOVER: Readonly<Record<Family, Packet>> = {
  4: {
    source: { family: 4, value: 0n },
    destination: { family: 4, value: 0xffffffffn },
    protocol: 'udp',
    sourcePort: 68,
    destinationPort: 67,
  },
  6: {
    source: { family: 6, value: 0n },
    destination: { family: 6, value: (0xff02n << 112n) | 0x10002n },
    protocol: 'udp',
    sourcePort: 546,
    destinationPort: 547,
  },
};
const poolsOf = ({ instance: { settings } }: Node, family: Family): readonly Pool[] =>
  (family === 4 ? settings.dhcpPools : settings.dhcp6Pools) ?? [];
const isClient = ({ config }: InterfaceState, family: Family): boolean =>
  family === 4 ? config.v4?.dhcp === true : config.v6?.dhcp === 'stateful';

/** All leases of both families. */
export const leasesOf = (layer2: DataLink, network: Network, arrives: Arrives): Leases =>
  new Map(([4, 6] as const).flatMap((family) => [...leasesIn(family, layer2, network, arrives)]));
const NO_LEASES: Leases = new Map();

/**
 * Who is given which address (RFC 2131, RFC 8415): a server on the wire offers one of its pool for that subnet, or a relay asks
 * one elsewhere, as two exchanges that must both arrive. Clients come one after the other in the order of their ids, and
 * each gets the first free address; reservations go before.
 */
function leasesIn(family: Family, layer2: DataLink, { nodes }: Network, arrives: Arrives): Leases {
  const servers = [...nodes.values()].filter((node) => poolsOf(node, family).length);
  if (!servers.length) return NO_LEASES;
  const clients = [...nodes.values()].flatMap((node) =>
    node.interfaceStates.flatMap((interfaceState) =>
      isClient(interfaceState, family) && interfaceState.up && interfaceState.point !== null
        ? [{ node, interfaceState }]
        : [],
    ),
  );
  if (!clients.length) return NO_LEASES;
  const typed = new Set(
    [...nodes.values()].flatMap(({ interfaceStates }) =>
      interfaceStates.flatMap((interfaceState) =>
        interfaceState.up && !isClient(interfaceState, family) ? allAddresses(interfaceState).map(formatAddress) : [],
      ),
    ),
  );
  const reserved = new Set(
    servers.flatMap((node) =>
      poolsOf(node, family)
        .flatMap(reservationsOf)
        .map((reservation) => reservation.address),
    ),
  );
  const given = new Set<string>();
  const free = (text: string): boolean => !typed.has(text) && !given.has(text);
  const leases = new Map<string, Lease>();
  // Who is on one wire is offered the same.
  const offered = new Map<number, Offered>();
  const pools = new Map<Pool, OpenPool>();
  for (const { node, interfaceState } of clients) {
    const wire = layer2.domainOf(interfaceState.point!);
    let known = offered.get(wire);
    if (!known) offered.set(wire, (known = offeredOn(interfaceState.point!, family, layer2, nodes, servers, arrives)));
    // Nobody hears itself.
    const { offers, servers: count } = known.offers.some(({ heardBy }) => heardBy === interfaceState)
      ? counted(known.offers.filter(({ heardBy }) => heardBy !== interfaceState))
      : known;
    const mac = interfaceMac(node.instance, interfaceState);
    for (const { server, at, relay, pool, network } of offers) {
      let open = pools.get(pool);
      if (!open) pools.set(pool, (open = openPool(pool, network)));
      const own = open.reserved.get(mac);
      const address = own && free(own) ? parsed(own, family) : open.next((text) => free(text) && !reserved.has(text));
      if (!address) continue;
      given.add(formatAddress(address));
      leases.set(leaseKey(node.instance.id, interfaceState.key, family), {
        address: { address, length: network.length },
        client: { device: node.instance.id, interface: interfaceState.key },
        // In IPv6 the way out is told by routers, not by servers (RFC 4861 6.3.4).
        router: pool.router === undefined || family === 6 ? null : parsed(pool.router, family),
        dns: (pool.dns ?? []).flatMap((text) => parsed(text, family) ?? []),
        server: server.instance.id,
        serverAddress: at,
        relay,
        rivals: count > 1,
      });
      break;
    }
  }
  return leases;
}

/**
 * The servers for names that a host without a lease is told of when it asks for nothing else (RFC 8415 6.1): those of the
 * first server that hears it.
 */
export function toldNames(client: InterfaceState, layer2: DataLink, { nodes }: Network, arrives: Arrives): Address[] {
  if (client.config.v6?.dhcp !== 'stateless' || !client.up || client.point === null) return [];
  const servers = [...nodes.values()].filter((node) => poolsOf(node, 6).length);
  const first = offeredOn(client.point, 6, layer2, nodes, servers, arrives).offers.find(
    ({ heardBy }) => heardBy !== client,
  );
  return (first?.pool.dns ?? []).flatMap((text) => parsed(text, 6) ?? parsed(text, 4) ?? []);
}

const counted = (offers: readonly Offer[]): Offered => ({
  offers,
  servers: new Set(offers.map(({ server }) => server)).size,
});

/** Pools that are offered to who asks at a point, those of servers on its own wire first. */
function offeredOn(
  point: number,
  family: Family,
  layer2: DataLink,
  nodes: ReadonlyMap<string, Node>,
  servers: readonly Node[],
  arrives: Arrives,
): Offered {
  const onWire = (interfaceState: InterfaceState): boolean =>
    interfaceState.up && interfaceState.point !== null && layer2.meets(point, interfaceState.point);
  const direct = servers.flatMap((server) =>
    server.interfaceStates
      .filter((interfaceState) => onWire(interfaceState) && takes(server, interfaceState, DISCOVER[family]))
      .flatMap((interfaceState) =>
        interfaceState.addresses.flatMap((on) =>
          poolsFor(server, family, on.address, interfaceState, null, (network) => contains(network, on.address)),
        ),
      ),
  );
  const relayed = [...nodes.values()].flatMap((relay) =>
    relay.interfaceStates
      .filter((interfaceState) => interfaceState.config.relays?.length && onWire(interfaceState))
      .filter((interfaceState) => takes(relay, interfaceState, DISCOVER[family]))
      .flatMap((interfaceState) => {
        const own = interfaceState.addresses.find(({ address }) => address.family === family);
        if (!own) return [];
        return interfaceState.config.relays!.flatMap((text) => {
          const to = parsed(text, family);
          const server = to && servers.find((each) => ownsTyped(each, to));
          if (!to || !server || server === relay) return [];
          const both =
            arrives(relay.instance.id, own.address, server.instance.id, to) &&
            arrives(server.instance.id, to, relay.instance.id, own.address);
          const by = { device: relay.instance.id, interface: interfaceState.key, address: own.address };
          return both
            ? poolsFor(server, family, to, interfaceState, by, (network) => contains(network, own.address))
            : [];
        });
      }),
  );
  return counted([...direct, ...relayed]);
}

const takes = ({ instance }: Node, at: InterfaceState, packet: Packet): boolean =>
  judge(instance, packet.destination.family === 4 ? at.config.filterIn4 : at.config.filterIn6, packet)?.passes ?? true;

const ownsTyped = (node: Node, address: Address): boolean =>
  node.interfaceStates.some(
    (interfaceState) => interfaceState.up && interfaceState.addresses.some((on) => sameAddress(on.address, address)),
  );

function poolsFor(
  server: Node,
  family: Family,
  at: Address,
  heardBy: InterfaceState,
  relay: Lease['relay'],
  fits: (network: Prefix) => boolean,
): Offer[] {
  return poolsOf(server, family).flatMap((pool) => {
    const network = parsePrefix(pool.network);
    return network.ok && network.value.family === family && fits(network.value)
      ? [{ server, at, relay, pool, network: network.value, heardBy }]
      : [];
  });
}

/** A pool out of which addresses are given. */
interface OpenPool {
  /** Reserved addresses by hardware address. */
  readonly reserved: ReadonlyMap<string, string>;
  /**
   * The first address that nobody has; neither that of the network or its broadcast, nor one that is left out. What was
   * passed once was taken, and stays so.
   */
  next(free: (text: string) => boolean): Address | null;
}

function openPool(pool: Pool, network: Prefix): OpenPool {
  const { family } = network;
  const end = lastOf(network).value;
  const spans = pool.ranges?.length
    ? pool.ranges.flatMap((range) => spanOf(range, family))
    : [{ from: network.value, to: end }];
  const out = (pool.exclusions ?? []).flatMap((exclusion) => spanOf(exclusion, family));
  const router = pool.router === undefined ? null : parsed(pool.router, family);
  let span = 0;
  let from: bigint | null = null;
  return {
    reserved: new Map(
      reservationsOf(pool)
        .toReversed()
        .map(({ mac, address }) => [mac, address]),
    ),
    // Whatever is taken was given to somebody: so many are soon passed, but what lies outside of the network is endless.
    next: (free) => {
      for (; span < spans.length; span++, from = null) {
        const { from: first, to } = spans[span]!;
        for (let value: bigint = from ?? max(first, network.value); value <= min(to, end); value++) {
          const at = value;
          const hole = out.find((gap) => at >= gap.from && at <= gap.to);
          if (hole) {
            value = hole.to;
            continue;
          }
          from = value;
          const address: Address = { family, value };
          const isEdge = value === network.value || (family === 4 && value === end);
          if (!isEdge && value !== router?.value && free(formatAddress(address))) return address;
        }
        // The last one of it was looked at.
        from = to + 1n;
      }
      return null;
    },
  };
}
const min = (a: bigint, b: bigint): bigint => (a < b ? a : b);
const max = (a: bigint, b: bigint): bigint => (a > b ? a : b);

function spanOf({ from, to }: { from: string; to: string }, family: Family): { from: bigint; to: bigint }[] {
  const [first, last] = [parsed(from, family), parsed(to, family)];
  return first && last ? [{ from: first.value, to: last.value }] : [];
}

const reservationsOf = ({ reservations = [] }: Pool): { mac: string; address: string }[] =>
  reservations.flatMap(({ mac, address }) => {
    const read = parseMac(mac);
    return read.ok ? [{ mac: read.value, address }] : [];
  });

function parsed(text: string, family: Family): Address | null {
  const read = parseAddressOf(family, text);
  return read.ok ? read.value : null;
}
