import { formatAddress, parseAddress, parsePrefix, parseRange } from '../address';
import { fail, ok, type Result } from '../result';
import { type FilterRule } from '../topology';

type Read<T> = Result<T, string>;
type Matcher = FilterRule['src'];
type PortMatch = NonNullable<FilterRule['dstPorts']>;

const VLAN_LAST = 4094; // IEEE 802.1Q-2018 §9.6: 0 and 4095 are reserved

/** Reads one VLAN number. */
export function parseVlan(text: string): Read<number> {
  const number = Number(text.trim());
  return /^\s*\d+\s*$/.test(text) && number >= 1 && number <= VLAN_LAST
    ? ok(number)
    : fail(`“${text.trim()}” is no VLAN: a number from 1 to ${VLAN_LAST}.`);
}

/** Reads "all", or VLANs as "10, 20-23": sorted, each once. */
export function parseVlans(text: string): Read<'all' | number[]> {
  if (/^\s*all\s*$/i.test(text)) return ok('all');
  const found = new Set<number>();
  for (const part of text
    .replace(/\s*-\s*/g, '-')
    .split(/[,;\s]+/)
    .filter(Boolean)) {
    const [, from, to] = /^(\d+)(?:-(\d+))?$/.exec(part) ?? [];
    const [low, high] = [Number(from), Number(to ?? from)];
    if (from === undefined || low < 1 || high > VLAN_LAST)
      return fail(`“${part}” is no VLAN: write “all” or numbers from 1 to ${VLAN_LAST}, for instance 10, 20-23.`);
    if (low > high) return fail(`In “${part}” the first number is the larger one.`);
    for (let vlan = low; vlan <= high; vlan++) found.add(vlan);
  }
  return ok([...found].sort((a, b) => a - b));
}

/** "10, 20-23" */
export function formatVlans(vlans: 'all' | readonly number[]): string {
  if (vlans === 'all') return 'all';
  const runs: [number, number][] = [];
  for (const vlan of [...vlans].sort((a, b) => a - b)) {
    const last = runs[runs.length - 1];
    if (last && vlan <= last[1] + 1) last[1] = vlan;
    else runs.push([vlan, vlan]);
  }
  return runs
    .map(([from, to]) => (from === to ? String(from) : to === from + 1 ? `${from}, ${to}` : `${from}-${to}`))
    .join(', ');
}

/** Reads what a filter rule speaks of: "any", a prefix, one address, "from - to", or an address with a wildcard mask. */
export function parseMatcher(text: string): Read<Matcher> {
  const plain = text.trim();
  if (/^any$/i.test(plain) || plain === '') return ok({ kind: 'any' });
  const [, address, wildcard] = /^(\S+)\s+(\d+\.\d+\.\d+\.\d+)$/.exec(plain) ?? [];
  if (address !== undefined && parseAddress(address).ok && parseAddress(wildcard!).ok)
    return ok({ kind: 'wildcard', address, wildcard: wildcard! });
  if (plain.includes('-')) {
    const range = parseRange(plain);
    return range.ok
      ? ok({ kind: 'range', from: formatAddress(range.value.from), to: formatAddress(range.value.to) })
      : fail(range.error.text);
  }
  if (parseAddress(plain).ok) return ok({ kind: 'prefix', prefix: `${plain}/${plain.includes(':') ? 128 : 32}` });
  const prefix = parsePrefix(plain);
  return prefix.ok ? ok({ kind: 'prefix', prefix: plain }) : fail(prefix.error.text);
}
/** Addresses of a filter rule as they are typed: "any", a prefix, an address with a wildcard mask, or a range. */
export function formatMatcher(matcher: Matcher): string {
  switch (matcher.kind) {
    case 'any':
      return 'any';
    case 'prefix':
      return matcher.prefix.replace(/\/32$/, '').replace(/\/128$/, '');
    case 'wildcard':
      return `${matcher.address} ${matcher.wildcard}`;
    case 'range':
      return `${matcher.from} - ${matcher.to}`;
  }
}

const PORT_LAST = 65535;
/** Reads ports of a filter rule: "443", "1024-2047", "> 1023", "< 1024"; an empty text is any port. */
export function parsePorts(text: string): Read<PortMatch | null> {
  const plain = text.trim();
  if (plain === '' || /^any$/i.test(plain)) return ok(null);
  const [, sign, from, to] = /^(>|<)?\s*(\d+)(?:\s*-\s*(\d+))?$/.exec(plain) ?? [];
  const [low, high] = [Number(from), Number(to ?? from)];
  if (from === undefined || high > PORT_LAST || low > high || (sign && to !== undefined))
    return fail(`“${plain}” is no port: write 443, 1024-2047, > 1023 or < 1024; ports go up to ${PORT_LAST}.`);
  if (to !== undefined) return ok({ op: 'range', from: low, to: high });
  return ok({ op: sign === '>' ? 'gt' : sign === '<' ? 'lt' : 'eq', from: low });
}
/** Ports of a filter rule as they are typed; empty where the rule names none. */
export function formatPorts(ports: PortMatch | undefined): string {
  if (!ports) return '';
  const { op, from, to } = ports;
  return op === 'range'
    ? `${from}-${to ?? from}`
    : op === 'gt'
      ? `> ${from}`
      : op === 'lt'
        ? `< ${from}`
        : String(from);
}
