import { type Address, type Family, bitsOf, formatAddress } from '../address';
import { macNumber } from '../engine';
import { type Field, type Header, bytesOf, field, hex, internetChecksum, lengthOf } from './header';

/** Layouts of headers as the standards give them. Checksums are worked out, never copied. */
export const BROADCAST_MAC = 'ff:ff:ff:ff:ff:ff';
const NO_MAC = '00:00:00:00:00:00';
const ETHER_TYPE = { 4: 0x0800, 6: 0x86dd, arp: 0x0806, tagged: 0x8100 } as const;
const ETHER_NAMES: Readonly<Record<number, string>> = {
  0x0800: 'IPv4',
  0x86dd: 'IPv6',
  0x0806: 'ARP',
  0x8100: '802.1Q tag',
};
export const PROTOCOL_NUMBERS = { icmp: 1, tcp: 6, udp: 17, icmpv6: 58 } as const;
export type TransportName = keyof typeof PROTOCOL_NUMBERS;

export const mac = (name: string, text: string): Field => field(name, 48, macNumber(text), text);
const address = (name: string, address: Address): Field =>
  field(name, bitsOf(address.family), address.value, formatAddress(address));
const etherType = (type: number): Field =>
  field('Type', 16, type, `${ETHER_NAMES[type]} (0x${type.toString(16).padStart(4, '0')})`);

/** Ethernet II, and the tag of a VLAN behind it where the frame has one (IEEE 802.3 3.1.1, IEEE 802.1Q 9.6). */
export function ethernet(destination: string, source: string, carries: Family | 'arp', tag: number): Header[] {
  const type = ETHER_TYPE[carries];
  const frame = (behind: number): Header => ({
    name: 'Ethernet',
    source: 'IEEE 802.3',
    fields: [mac('Destination', destination), mac('Source', source), etherType(behind)],
  });
  if (!tag) return [frame(type)];
  const vlan: Header = {
    name: 'VLAN tag',
    source: 'IEEE 802.1Q',
    fields: [field('Priority', 3, 0), field('Drop eligible', 1, 0), field('VLAN', 12, tag), etherType(type)],
  };
  return [frame(ETHER_TYPE.tagged), vlan];
}

/** RFC 826. The hardware address that is asked for is all zeros. */
export const arp = (
  operation: 'request' | 'reply',
  sender: { mac: string; address: Address },
  target: { mac: string | null; address: Address },
): Header => ({
  name: 'ARP',
  source: 'RFC 826',
  fields: [
    field('Hardware type', 16, 1, 'Ethernet (1)'),
    field('Protocol type', 16, ETHER_TYPE[4], 'IPv4 (0x0800)'),
    field('Hardware length', 8, 6),
    field('Protocol length', 8, 4),
    field('Operation', 16, operation === 'request' ? 1 : 2, operation === 'request' ? 'request (1)' : 'reply (2)'),
    mac('Sender MAC', sender.mac),
    address('Sender address', sender.address),
    mac('Target MAC', target.mac ?? NO_MAC),
    address('Target address', target.address),
  ],
});

export interface IpOptions {
  readonly source: Address;
  readonly destination: Address;
  readonly ttl: number;
  /** Tells packets of one way apart (IPv4 only). */
  readonly identification?: number;
}

/** An IP packet: its header before what it carries, whose length and protocol it tells (RFC 791 3.1, RFC 8200 3). */
export function ip(options: IpOptions, protocol: TransportName, carried: readonly Header[]): Header[] {
  const header = options.source.family === 4 ? ipv4(options, protocol, carried) : ipv6(options, protocol, carried);
  return [header, ...carried];
}

const protocolField = (name: string, protocol: TransportName): Field =>
  field(name, 8, PROTOCOL_NUMBERS[protocol], `${PROTOCOL_NAMES[protocol]} (${PROTOCOL_NUMBERS[protocol]})`);
const PROTOCOL_NAMES = { icmp: 'ICMP', tcp: 'TCP', udp: 'UDP', icmpv6: 'ICMPv6' } as const;

function ipv4(
  { source, destination, ttl, identification = 0 }: IpOptions,
  protocol: TransportName,
  carried: readonly Header[],
): Header {
  const header = (checksum: number): Header => ({
    name: 'IPv4',
    source: 'RFC 791',
    fields: [
      field('Version', 4, 4),
      field('Header length', 4, 5, '20 bytes (5)'),
      field('Type of service', 8, 0),
      field('Total length', 16, 20 + lengthOf(carried)),
      hex('Identification', 16, identification),
      field('Flags', 3, 2, 'do not fragment (2)'),
      field('Fragment offset', 13, 0),
      field('Time to live', 8, ttl),
      protocolField('Protocol', protocol),
      hex('Header checksum', 16, checksum),
      address('Source', source),
      address('Destination', destination),
    ],
  });
  return header(internetChecksum(bytesOf([header(0)])));
}

const ipv6 = (
  { source, destination, ttl }: IpOptions,
  protocol: TransportName,
  carried: readonly Header[],
): Header => ({
  name: 'IPv6',
  source: 'RFC 8200',
  fields: [
    field('Version', 4, 6),
    field('Traffic class', 8, 0),
    field('Flow label', 20, 0),
    field('Payload length', 16, lengthOf(carried)),
    protocolField('Next header', protocol),
    field('Hop limit', 8, ttl),
    address('Source', source),
    address('Destination', destination),
  ],
});

/** The sum over a pseudo-header and the segment itself (RFC 9293 3.1, RFC 768, RFC 8200 8.1). */
function transportChecksum(from: Address, to: Address, protocol: TransportName, segment: readonly Header[]): number {
  const length = lengthOf(segment);
  const pseudo: Header = {
    name: '',
    source: '',
    fields: [
      address('', from),
      address('', to),
      ...(from.family === 4
        ? [field('', 8, 0), field('', 8, PROTOCOL_NUMBERS[protocol]), field('', 16, length)]
        : [field('', 32, length), field('', 24, 0), field('', 8, PROTOCOL_NUMBERS[protocol])]),
    ],
  };
  return internetChecksum(bytesOf([pseudo, ...segment]));
}

const ICMP_NAMES = {
  icmp: { 0: 'echo reply', 3: 'destination unreachable', 8: 'echo request', 11: 'time exceeded' },
  icmpv6: {
    1: 'destination unreachable',
    3: 'time exceeded',
    128: 'echo request',
    129: 'echo reply',
    135: 'neighbour solicitation',
    136: 'neighbour advertisement',
  },
} as const;

/** What an ICMP message says after its checksum, which covers everything (RFC 792, RFC 4443 2.3). */
function icmp(
  from: Address,
  to: Address,
  type: number,
  code: number,
  rest: readonly Field[],
  data: readonly Header[],
): Header[] {
  const protocol = from.family === 4 ? 'icmp' : 'icmpv6';
  const names: Readonly<Record<number, string>> = ICMP_NAMES[protocol];
  const message = (checksum: number): Header[] => [
    {
      name: protocol === 'icmp' ? 'ICMP' : 'ICMPv6',
      source: from.family === 4 ? 'RFC 792' : type >= 133 ? 'RFC 4861' : 'RFC 4443',
      fields: [
        field('Type', 8, type, `${names[type] ?? ''} (${type})`),
        field('Code', 8, code),
        hex('Checksum', 16, checksum),
        ...rest,
      ],
    },
    ...data,
  ];
  const plain = message(0);
  return message(protocol === 'icmp' ? internetChecksum(bytesOf(plain)) : transportChecksum(from, to, protocol, plain));
}

/** What an echo carries: the bytes from 0 up. */
const ECHO_BYTES = 32;
const echoData: Header = {
  name: 'Data',
  source: '',
  fields: [
    field(
      'Bytes',
      ECHO_BYTES * 8,
      Array.from({ length: ECHO_BYTES }, (_, at) => BigInt(at)).reduce((sum, byte) => (sum << 8n) | byte, 0n),
      `${ECHO_BYTES}, from 0 up`,
    ),
  ],
};

export function echo(kind: 'request' | 'reply', from: Address, to: Address, sequence: number): Header[] {
  const type = from.family === 4 ? { request: 8, reply: 0 } : { request: 128, reply: 129 };
  return icmp(from, to, type[kind], 0, [hex('Identifier', 16, 1), field('Sequence number', 16, sequence)], [echoData]);
}

export type IcmpError = 'no route' | 'host unreachable' | 'prohibited' | 'time exceeded';
/** Type and code by family (RFC 792, RFC 1812 5.2.7.1; RFC 4443 3.1 and 3.3). */
const ERRORS: Readonly<Record<IcmpError, Readonly<Record<Family, readonly [number, number]>>>> = {
  'no route': { 4: [3, 0], 6: [1, 0] },
  'host unreachable': { 4: [3, 1], 6: [1, 3] },
  prohibited: { 4: [3, 13], 6: [1, 1] },
  'time exceeded': { 4: [11, 0], 6: [3, 0] },
};

/** An error message with what it is about: IPv4 quotes the header and 8 bytes, IPv6 all that fits. */
export function icmpError(error: IcmpError, from: Address, to: Address, about: readonly Header[]): Header[] {
  const [type, code] = ERRORS[error][from.family];
  const all = bytesOf(about);
  const quoted = from.family === 4 ? all.subarray(0, 28) : all.subarray(0, 1232);
  const value = quoted.reduce((sum, byte) => (sum << 8n) | BigInt(byte), 0n);
  const data: Header = {
    name: 'Quoted packet',
    source: '',
    fields: [field('Bytes', quoted.length * 8, value, `the first ${quoted.length} of the packet that was stopped`)],
  };
  return icmp(from, to, type, code, [field('Unused', 32, 0)], [data]);
}

/** RFC 4861 4.3 and 4.4, with the link-layer address of whoever sends it as an option (4.6.1). */
export function neighbour(
  kind: 'solicitation' | 'advertisement',
  from: { mac: string; address: Address },
  to: Address,
  about: Address,
): Header[] {
  const isAsking = kind === 'solicitation';
  return icmp(
    from.address,
    to,
    isAsking ? 135 : 136,
    0,
    [
      isAsking ? field('Reserved', 32, 0) : field('Flags', 32, 0x60000000, 'solicited, override'),
      address('Target', about),
      field(
        'Option',
        8,
        isAsking ? 1 : 2,
        isAsking ? 'source link-layer address (1)' : 'target link-layer address (2)',
      ),
      field('Option length', 8, 1, '8 bytes (1)'),
      mac('Link-layer address', from.mac),
    ],
    [],
  );
}

/** The group that everybody listens to whose address ends alike, and the MAC address of a group (RFC 4291 2.7.1, RFC 2464 7). */
export const solicitedNode = ({ value }: Address): Address => ({
  family: 6,
  value: 0xff0200000000000000000001ff000000n | (value & 0xffffffn),
});
export const groupMac = ({ value }: Address): string =>
  `33:33:${Array.from({ length: 4 }, (_, at) => ((value >> BigInt(24 - at * 8)) & 0xffn).toString(16).padStart(2, '0')).join(':')}`;

const FLAGS = ['FIN', 'SYN', 'RST', 'PSH', 'ACK'] as const;
export type TcpFlag = (typeof FLAGS)[number];

/** A segment without data (RFC 9293 3.1). */
export function tcp(
  from: { address: Address; port: number },
  to: { address: Address; port: number },
  flags: readonly TcpFlag[],
  sequence: number,
  acknowledged: number,
): Header[] {
  const bits = flags.reduce((sum, flag) => sum | (1 << FLAGS.indexOf(flag)), 0);
  const segment = (checksum: number): Header[] => [
    {
      name: 'TCP',
      source: 'RFC 9293',
      fields: [
        field('Source port', 16, from.port),
        field('Destination port', 16, to.port),
        field('Sequence number', 32, sequence),
        field('Acknowledgement number', 32, acknowledged),
        field('Header length', 4, 5, '20 bytes (5)'),
        field('Reserved', 4, 0),
        field('Flags', 8, bits, flags.join(', ')),
        field('Window', 16, 64240),
        hex('Checksum', 16, checksum),
        field('Urgent pointer', 16, 0),
      ],
    },
  ];
  return segment(transportChecksum(from.address, to.address, 'tcp', segment(0)));
}

/** A datagram (RFC 768); a sum of 0 is sent as all ones. */
export function udp(
  from: { address: Address; port: number },
  to: { address: Address; port: number },
  carried: readonly Header[],
): Header[] {
  const datagram = (checksum: number): Header[] => [
    {
      name: 'UDP',
      source: 'RFC 768',
      fields: [
        field('Source port', 16, from.port),
        field('Destination port', 16, to.port),
        field('Length', 16, 8 + lengthOf(carried)),
        hex('Checksum', 16, checksum),
      ],
    },
    ...carried,
  ];
  return datagram(transportChecksum(from.address, to.address, 'udp', datagram(0)) || 0xffff);
}
