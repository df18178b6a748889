import {
  type Address,
  type Prefix,
  broadcastAddress,
  contains,
  formatAddress,
  networkAddress,
  parseAddressOf,
  parsePrefix,
} from '../address';
import { type DataLink } from './datalink';
import { type Packet, judge } from './filters';
import { macOf } from './mac';
import { type Lease, type Leases, type Network, leaseKey } from './network';
import { type Attachment, type Node } from './node';

type Pool = NonNullable<Node['instance']['settings']['dhcpPools']>[number];
/** Whether a packet sent by a device to an address arrives at another one. */
export type Arrives = (from: string, source: Address, to: string, destination: Address) => boolean;

interface Offer {
  server: Node;
  pool: Pool;
  network: Prefix;
}

const NOBODY: Address = { family: 4, value: 0n };
const EVERYBODY: Address = { family: 4, value: 0xffffffffn };
const DISCOVER = { protocol: 'udp' as const, sourcePort: 68, destinationPort: 67 };

/**
 * Who is given which address (RFC 2131): a server on the wire offers one of its pool for that subnet, or a relay asks
 * one elsewhere, as two exchanges that must both arrive. Clients come one after the other in the order of their ids, and
 * each gets the first free address; reservations go before.
 */
export function leasesOf(layer2: DataLink, { nodes, owners }: Network, arrives: Arrives): Leases {
  const clients = [...nodes.values()].flatMap((node) =>
    node.attachments.flatMap((attachment) =>
      attachment.config.v4?.dhcp && attachment.up && attachment.point !== null ? [{ node, attachment }] : [],
    ),
  );
  if (!clients.length) return new Map();
  const servers = [...nodes.values()].filter((node) => node.instance.settings.dhcpPools?.length);
  const typed = new Set(
    [...owners].filter(([, list]) => list.some((one) => !one.config.v4?.dhcp)).map(([address]) => address),
  );
  const reserved = new Set(
    servers.flatMap((node) =>
      (node.instance.settings.dhcpPools ?? []).flatMap(reservationsOf).map((one) => one.address),
    ),
  );
  const given = new Set<string>();
  const leases = new Map<string, Lease>();
  for (const { node, attachment } of clients) {
    const offers = offersTo(attachment, layer2, nodes, servers, arrives);
    for (const { server, pool, network } of offers) {
      const mac = macAt(node, attachment);
      const own = reservationsOf(pool).find((one) => one.mac === mac)?.address;
      const free = (text: string): boolean => !typed.has(text) && !given.has(text);
      const address =
        own && free(own) ? parsed(own) : firstFree(pool, network, (text) => free(text) && !reserved.has(text));
      if (!address) continue;
      given.add(formatAddress(address));
      leases.set(leaseKey(node.instance.id, attachment.key), {
        address: { address, length: network.length },
        router: pool.router === undefined ? null : parsed(pool.router),
        server: server.instance.id,
        rivals: new Set(offers.map((one) => one.server)).size > 1,
      });
      break;
    }
  }
  return leases;
}

/** Pools that are offered to a client, those of servers on its own wire first. */
function offersTo(
  client: Attachment,
  layer2: DataLink,
  nodes: ReadonlyMap<string, Node>,
  servers: readonly Node[],
  arrives: Arrives,
): Offer[] {
  const onWire = (one: Attachment): boolean =>
    one.up &&
    one.point !== null &&
    one !== client &&
    layer2.hears(client.point!, one.point) &&
    layer2.hears(one.point, client.point!);
  const direct = servers.flatMap((server) =>
    server.attachments
      .filter((one) => onWire(one) && takes(server, one, { ...DISCOVER, source: NOBODY, destination: EVERYBODY }))
      .flatMap((one) => one.addresses.flatMap((on) => poolsFor(server, (network) => contains(network, on.address)))),
  );
  const relayed = [...nodes.values()].flatMap((relay) =>
    relay.attachments
      .filter((one) => one.config.relays?.length && onWire(one))
      .filter((one) => takes(relay, one, { ...DISCOVER, source: NOBODY, destination: EVERYBODY }))
      .flatMap((one) => {
        const own = one.addresses.find(({ address }) => address.family === 4);
        if (!own) return [];
        return one.config.relays!.flatMap((text) => {
          const to = parsed(text);
          const server = to && servers.find((each) => ownsTyped(each, to));
          if (!to || !server || server === relay) return [];
          const both =
            arrives(relay.instance.id, own.address, server.instance.id, to) &&
            arrives(server.instance.id, to, relay.instance.id, own.address);
          return both ? poolsFor(server, (network) => contains(network, own.address)) : [];
        });
      }),
  );
  return [...direct, ...relayed];
}

const takes = ({ instance }: Node, at: Attachment, packet: Packet): boolean =>
  judge(instance, at.config.filterIn4, packet)?.passes ?? true;

const ownsTyped = (node: Node, address: Address): boolean =>
  node.attachments.some(
    (one) => one.up && one.addresses.some((on) => on.address.family === 4 && on.address.value === address.value),
  );

function poolsFor(server: Node, fits: (network: Prefix) => boolean): Offer[] {
  return (server.instance.settings.dhcpPools ?? []).flatMap((pool) => {
    const network = parsePrefix(pool.network);
    return network.ok && fits(network.value) ? [{ server, pool, network: network.value }] : [];
  });
}

/** The first address of a pool that nobody has; neither that of the network or its broadcast, nor one that is left out. */
function firstFree(pool: Pool, network: Prefix, free: (text: string) => boolean): Address | null {
  const end = broadcastAddress(network)?.value ?? network.value;
  const whole = [{ from: networkAddress(network)?.value ?? network.value, to: end }];
  const spans = pool.ranges?.length ? pool.ranges.flatMap(spanOf) : whole;
  const out = (pool.exclusions ?? []).flatMap(spanOf);
  const router = pool.router === undefined ? null : parsed(pool.router);
  for (const { from, to } of spans)
    for (let value = from; value <= to; value++) {
      const hole = out.find((one) => value >= one.from && value <= one.to);
      if (hole) {
        value = hole.to;
        continue;
      }
      const address: Address = { family: 4, value };
      const isEdge = value === network.value || value === end;
      if (contains(network, address) && !isEdge && value !== router?.value && free(formatAddress(address)))
        return address;
    }
  return null;
}

function spanOf({ from, to }: { from: string; to: string }): { from: bigint; to: bigint }[] {
  const [first, last] = [parsed(from), parsed(to)];
  return first && last ? [{ from: first.value, to: last.value }] : [];
}

const reservationsOf = ({ reservations = [] }: Pool): { mac: string; address: string }[] =>
  reservations.map(({ mac, address }) => ({ mac: mac.toLowerCase(), address }));

function macAt({ instance }: Node, { config: { on }, key }: Attachment): string {
  const port = on.kind === 'port' || on.kind === 'sub' ? on.port : key;
  return instance.ports.get(port)?.config.mac ?? macOf(instance.id, port);
}

function parsed(text: string): Address | null {
  const read = parseAddressOf(4, text);
  return read.ok ? read.value : null;
}
