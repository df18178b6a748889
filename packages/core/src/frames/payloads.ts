import { type Address, formatAddress, formatMask, maskOf } from '../address';
import { type Field, type Header, field, hex } from './header';
import { mac } from './layouts';

/** What UDP carries for names and leases, as RFC 1035 and RFC 2131 lay it out. */
const bytes = (text: string): number[] => [...new TextEncoder().encode(text)];
const raw = (name: string, all: readonly number[], text: string): Field =>
  field(
    name,
    all.length * 8,
    all.reduce((sum, byte) => (sum << 8n) | BigInt(byte), 0n),
    text,
  );
const octets = ({ family, value }: Address): number[] => {
  const length = family === 4 ? 4 : 16;
  return Array.from({ length }, (_, at) => Number((value >> BigInt(8 * (length - 1 - at))) & 0xffn));
};

const TYPES = { A: 1, AAAA: 28 } as const;
const INTERNET = 1;
/** How long an answer holds, in seconds. */
const HOLDS = 3600;
/** Longest label of a name (RFC 1035 2.3.4). */
const LONGEST_LABEL = 63;

/** A name as labels, each with its length before it, and the root's empty one at the end (RFC 1035 3.1). */
function nameField(name: string): Field {
  const labels = name.split('.').filter(Boolean);
  const all = labels.flatMap((text) => {
    const label = bytes(text).slice(0, LONGEST_LABEL);
    return [label.length, ...label];
  });
  return raw('Name', [...all, 0], name);
}

/** A question for the address of a name, or the answer to it; an answer without an address says that there is no such name. */
export function dns(id: number, name: string, family: 4 | 6, answer: Address | null | undefined): Header {
  const type = family === 4 ? 'A' : 'AAAA';
  const isAnswer = answer !== undefined;
  const question = [nameField(name), field('Type', 16, TYPES[type], type), field('Class', 16, INTERNET, 'IN')];
  const record = answer
    ? [
        // A pointer to the name in the question (RFC 1035 4.1.4), which begins behind the 12 bytes of the header.
        field('Answer name', 16, 0xc00c, name),
        field('Answer type', 16, TYPES[type], type),
        field('Answer class', 16, INTERNET, 'IN'),
        field('Holds', 32, HOLDS, `${HOLDS} s`),
        field('Data length', 16, octets(answer).length),
        raw('Address', octets(answer), formatAddress(answer)),
      ]
    : [];
  const code = isAnswer && !answer ? 3 : 0;
  return {
    name: 'DNS',
    source: 'RFC 1035',
    fields: [
      hex('Identification', 16, id),
      field('Answer', 1, isAnswer ? 1 : 0, isAnswer ? 'yes' : 'no'),
      field('Operation', 4, 0, 'query (0)'),
      field('Authoritative', 1, isAnswer ? 1 : 0),
      field('Truncated', 1, 0),
      field('Recursion desired', 1, 1),
      field('Recursion available', 1, 0),
      field('Reserved', 3, 0),
      field('Code', 4, code, code ? 'no such name (3)' : 'no error (0)'),
      field('Questions', 16, 1),
      field('Answers', 16, answer ? 1 : 0),
      field('Authorities', 16, 0),
      field('Additional', 16, 0),
      ...question,
      ...record,
    ],
  };
}

export type DhcpKind = 'discover' | 'offer' | 'request' | 'ack';
const DHCP_TYPES: Readonly<Record<DhcpKind, number>> = { discover: 1, offer: 2, request: 3, ack: 5 };
const [COOKIE, END] = [0x63825363, 255];
const NOBODY: Address = { family: 4, value: 0n };

export interface DhcpFacts {
  readonly kind: DhcpKind;
  readonly clientMac: string;
  /** What is offered. */
  readonly address: Address;
  readonly length: number;
  readonly server: Address;
  readonly router: Address | null;
  readonly dns: readonly Address[];
  /** The relay that passed it on, where one did. */
  readonly relay: Address | null;
}

/** A message between a client and a server (RFC 2131 2, options of RFC 2132). */
export function dhcp(facts: DhcpFacts): Header[] {
  const { kind, clientMac, address, length, server, router, relay } = facts;
  const isReply = kind === 'offer' || kind === 'ack';
  const at = (name: string, address: Address): Field => field(name, 32, address.value, formatAddress(address));
  const option = (code: number, name: string, data: readonly number[], text: string): Field =>
    raw(`Option ${code}, ${name}`, [code, data.length, ...data], text);
  const addressOption = (code: number, name: string, all: readonly Address[]): Field[] =>
    all.length ? [option(code, name, all.flatMap(octets), all.map(formatAddress).join(', '))] : [];
  const options = [
    option(53, 'message type', [DHCP_TYPES[kind]], `${kind} (${DHCP_TYPES[kind]})`),
    ...(kind === 'request' ? addressOption(50, 'requested address', [address]) : []),
    ...(kind === 'discover' ? [] : addressOption(54, 'server', [server])),
    ...(isReply
      ? [
          option(51, 'lease time', [0, 1, 0x51, 0x80], '86400 s'),
          option(1, 'mask', octets({ family: 4, value: maskOf(4, length) }), formatMask(length)),
          ...addressOption(3, 'router', router ? [router] : []),
          ...addressOption(
            6,
            'servers for names',
            facts.dns.filter((address) => address.family === 4),
          ),
        ]
      : []),
    raw('End', [END], ''),
  ];
  return [
    {
      name: 'DHCP',
      source: 'RFC 2131',
      fields: [
        field('Operation', 8, isReply ? 2 : 1, isReply ? 'reply (2)' : 'request (1)'),
        field('Hardware type', 8, 1, 'Ethernet (1)'),
        field('Hardware length', 8, 6),
        field('Hops', 8, relay && !isReply ? 1 : 0),
        hex('Transaction', 32, 0x5b1d0001),
        field('Seconds', 16, 0),
        field('Flags', 16, 0),
        at('Client address', NOBODY),
        at('Your address', isReply ? address : NOBODY),
        at('Next server', NOBODY),
        at('Relay', relay ?? NOBODY),
        mac('Client MAC', clientMac),
        field('Padding', 80, 0),
        field('Server name', 512, 0, ''),
        field('Boot file', 1024, 0, ''),
        hex('Magic cookie', 32, COOKIE),
        ...options,
      ],
    },
  ];
}
