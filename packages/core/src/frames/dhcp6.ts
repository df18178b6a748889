import { type Address, formatAddress } from '../address';
import { macNumber } from '../engine';
import { type Field, type Header, field, hex, lengthOf } from './header';
import { mac } from './layouts';

/** Messages between clients and servers, and those of relays, by their numbers (RFC 8415 7.3). */
const TYPES = { solicit: 1, advertise: 2, request: 3, reply: 7, 'relay forward': 12, 'relay reply': 13 } as const;
export type Dhcp6Kind = 'solicit' | 'advertise' | 'request' | 'reply';

/** Options of RFC 8415 21 and RFC 3646. */
const [CLIENT, SERVER, ADDRESSES, ADDRESS, ELAPSED, RELAYED, NAMES] = [1, 2, 3, 5, 8, 9, 23];
/** A unique identifier made of an Ethernet address (RFC 8415 11.4). */
const [BY_LINK_LAYER, ETHERNET] = [3, 1];
/** Seconds that a lease holds; it is renewed after half of them, by any server after four fifths (RFC 8415 21.4). */
const HOLDS = 86_400;

export interface Dhcp6Facts {
  readonly kind: Dhcp6Kind;
  readonly clientMac: string;
  readonly serverMac: string;
  readonly address: Address;
  readonly dns: readonly Address[];
}

const at = (name: string, address: Address): Field => field(name, 128, address.value, formatAddress(address));
const option = (code: number, name: string, content: readonly Field[]): Field[] => [
  field('Option', 16, code, `${name} (${code})`),
  field('Length', 16, content.reduce((sum, { bits }) => sum + bits, 0) / 8),
  ...content,
];
const identifier = (code: number, name: string, of: string): Field[] =>
  option(code, name, [
    field('Kind of identifier', 16, BY_LINK_LAYER, `link layer (${BY_LINK_LAYER})`),
    field('Hardware type', 16, ETHERNET, `Ethernet (${ETHERNET})`),
    mac('MAC', of),
  ]);

/** A message between a client and a server (RFC 8415 8). */
export function dhcp6({ kind, clientMac, serverMac, address, dns }: Dhcp6Facts): Header[] {
  const isTold = kind === 'advertise' || kind === 'reply';
  const names = dns.filter((address) => address.family === 6);
  const given = option(ADDRESS, 'address', [
    at('Address', address),
    field('Preferred for', 32, HOLDS, `${HOLDS} s`),
    field('Valid for', 32, HOLDS, `${HOLDS} s`),
  ]);
  const wanted = option(ADDRESSES, 'addresses that are kept', [
    hex('Interface', 32, macNumber(clientMac) & 0xffffffffn),
    field('Renew after', 32, isTold ? HOLDS / 2 : 0),
    field('Rebind after', 32, isTold ? (HOLDS * 4) / 5 : 0),
    ...(kind === 'solicit' ? [] : given),
  ]);
  return [
    {
      name: 'DHCPv6',
      source: 'RFC 8415',
      fields: [
        field('Message', 8, TYPES[kind], `${kind} (${TYPES[kind]})`),
        hex('Transaction', 24, 0x5b1d01),
        ...identifier(CLIENT, 'client', clientMac),
        ...(kind === 'solicit' ? [] : identifier(SERVER, 'server', serverMac)),
        ...wanted,
        ...(isTold ? [] : option(ELAPSED, 'elapsed', [field('Hundredths of a second', 16, 0)])),
        ...(isTold && names.length
          ? option(
              NAMES,
              'servers for names',
              names.map((address) => at('Server', address)),
            )
          : []),
      ],
    },
  ];
}

/** A message as a relay and a server send it to one another: whole, in an option (RFC 8415 9). */
export function relayed6(
  way: 'relay forward' | 'relay reply',
  { link, peer }: { link: Address; peer: Address },
  message: readonly Header[],
): Header[] {
  const fields = [
    field('Message', 8, TYPES[way], `${way} (${TYPES[way]})`),
    field('Hops', 8, 0),
    at('Link address', link),
    at('Peer address', peer),
    field('Option', 16, RELAYED, `relayed message (${RELAYED})`),
    field('Length', 16, lengthOf(message)),
  ];
  return [{ name: 'DHCPv6 relay', source: 'RFC 8415', fields }, ...message];
}
