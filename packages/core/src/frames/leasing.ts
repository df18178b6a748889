import { type Address } from '../address';
import { type InterfaceState, type Lease } from '../engine';
import { type Dhcp6Kind, dhcp6, relayed6 } from './dhcp6';
import { type Header } from './header';
import { BROADCAST_MAC, groupMac } from './layouts';
import { type DhcpKind, dhcp } from './payloads';

/** How a client comes by an address: it calls to everybody, is told, asks for what it was told, and is told again. */
export interface Leasing {
  readonly name: 'DHCP' | 'DHCPv6';
  readonly kinds: readonly string[];
  /** Of the client, and of servers and relays. */
  readonly ports: readonly [number, number];
  /** What the client sends. */
  readonly asks: { readonly source: Address; readonly destination: Address; readonly mac: string };
  /** What it is sent. */
  readonly tells: { readonly source: Address; readonly destination: Address };
  /** Message by its place among the four, as client and server send it, and as it goes between a relay and the server. */
  message(at: number): Header[];
  passed(at: number): Header[];
}

const NOBODY: Address = { family: 4, value: 0n };
const EVERYBODY: Address = { family: 4, value: 0xffffffffn };
/** ff02::1:2, all relays and servers of a link (RFC 8415 7.1). */
const ALL_SERVERS: Address = { family: 6, value: (0xff02n << 112n) | 0x10002n };

const KINDS: readonly DhcpKind[] = ['discover', 'offer', 'request', 'ack'];
const KINDS_6: readonly Dhcp6Kind[] = ['solicit', 'advertise', 'request', 'reply'];

/**
 * The exchange of RFC 2131 or RFC 8415 that gave a lease; null where an interface has no address to take part with.
 *
 * @param near the server's interface on the client's wire, or that of the relay
 */
export function leasingOf(
  { address: { address, length }, router, dns, serverAddress: server, relay }: Lease,
  client: { readonly interfaceState: InterfaceState; readonly mac: string },
  near: InterfaceState,
  serverMac: string,
): Leasing | null {
  if (address.family === 4) {
    const facts = { clientMac: client.mac, address, length, router, dns, server };
    const message = (at: number, by: Address | null): Header[] => dhcp({ ...facts, kind: KINDS[at]!, relay: by });
    return {
      name: 'DHCP',
      kinds: KINDS,
      ports: [68, 67],
      asks: { source: NOBODY, destination: EVERYBODY, mac: BROADCAST_MAC },
      tells: { source: relay?.address ?? server, destination: address },
      // A relay writes its address into what it passes on, both ways.
      message: (at) => message(at, at % 2 ? (relay?.address ?? null) : null),
      passed: (at) => message(at, relay?.address ?? null),
    };
  }
  const [own, there] = [client.interfaceState.linkLocal, near.linkLocal];
  if (!own || !there) return null;
  const facts = { clientMac: client.mac, serverMac, address, dns };
  const message = (at: number): Header[] => dhcp6({ ...facts, kind: KINDS_6[at]! });
  return {
    name: 'DHCPv6',
    kinds: KINDS_6,
    ports: [546, 547],
    asks: { source: own, destination: ALL_SERVERS, mac: groupMac(ALL_SERVERS) },
    tells: { source: there, destination: own },
    message,
    passed: (at) =>
      relayed6(at % 2 ? 'relay reply' : 'relay forward', { link: relay?.address ?? there, peer: own }, message(at)),
  };
}
