import { formatAddress, formatPrefix, parseAddress, parseInterfaceAddress, sameAddress, subnetOf } from '../address';
import { type NetworkModel, type ReasonCode, type Trace, complaints, leaseKey, trace, whoStops } from '../engine';
import { type CaseFile } from './kernel-case';

/** What measured networks tell beyond yes and no; of each kind how much there is, and how much the engine agrees with. */
export const EVIDENCE = ['reached', 'why', 'complains', 'routes', 'leases', 'traces', 'down', 'virtual'] as const;
export type Evidence = Record<(typeof EVIDENCE)[number], { of: number; agree: number; differs: string[] }>;

export const noEvidence = (): Evidence =>
  Object.fromEntries(EVIDENCE.map((kind) => [kind, { of: 0, agree: 0, differs: [] as string[] }])) as Evidence;

export function note(evidence: Evidence, kind: keyof Evidence, ours: string, theirs: string, where: string): void {
  const about = evidence[kind];
  about.of++;
  if (ours === theirs) about.agree++;
  else about.differs.push(`${where}: measured ${theirs}, ours ${ours}`);
}

/** What the sender of a ping that fails is told, in the words of the measurements, by where and why our request ends. */
export function whyOf(model: NetworkModel, found: Trace): { why: string; from: string | null } {
  const { hops } = found.request;
  const [source, stopped] = [hops[0]!.device, hops.at(-1)!.device];
  if (found.reached) return { why: 'no_reply', from: null };
  const code = found.reason?.code;
  const goesOn = code === 'ROUTE_LOOP' && found.packet?.source.family === 6;
  if (goesOn && whoStops(found.request) === source) return { why: 'local_ttl_exceeded', from: source };
  if (stopped === source && !goesOn) {
    const asked = code === 'NO_ANSWER' || code === 'NEXT_HOP_UNREACHABLE' || code === 'DUPLICATE_ADDRESS';
    if (asked) return { why: 'local_host_unreachable', from: source };
    return { why: (code && AT_SOURCE[code]) ?? 'no_route', from: null };
  }
  const isTold = complaints(model, found).some((way) => way.delivered === source);
  const why = code && ON_THE_WAY[code];
  return isTold && why ? { why, from: whoStops(found.request) } : { why: 'timeout', from: null };
}
const AT_SOURCE: Partial<Record<ReasonCode, string>> = {
  NULL_ROUTE: 'null_route',
  ONE_WAY_WIRE: 'timeout',
  // What comes back to its own sender is dropped there, as a packet from a stranger with its address.
  ROUTE_LOOP: 'timeout',
  BROADCAST_ADDRESS: 'prohibited',
  FILTERED: 'admin_prohibited',
};
const ON_THE_WAY: Partial<Record<ReasonCode, string>> = {
  NO_ROUTE: 'net_unreachable',
  NO_ANSWER: 'host_unreachable',
  NEXT_HOP_UNREACHABLE: 'host_unreachable',
  FILTERED: 'admin_prohibited',
  ROUTE_LOOP: 'ttl_exceeded',
  BEYOND_SCOPE: 'unreachable_2',
};

/** Who has an address in the drawing, active or not. */
export function ownersIn(model: NetworkModel): (address: string) => string | null {
  const owners = new Map<string, string>();
  for (const { instance, interfaceStates } of model.layer3.nodes.values())
    for (const { addresses, typed } of interfaceStates)
      for (const { address } of [...typed, ...addresses]) owners.set(formatAddress(address), instance.id);
  return (text) => {
    const read = parseAddress(text);
    return (read.ok && owners.get(formatAddress(read.value))) || null;
  };
}

/** Tables, leases, interfaces that are down and traces of a case, beside those of the engine. */
export function compareTables(model: NetworkModel, { expected }: CaseFile, evidence: Evidence): void {
  for (const [device, rows] of Object.entries(expected.routes ?? {})) {
    const [ours, theirs] = [new Map<string, Set<string>>(), new Map<string, Set<string>>()];
    // Addresses of one link are made of MAC addresses, which are not told: they are counted.
    const put = (table: Map<string, Set<string>>, prefix: string, hop: string): void => {
      const there = table.get(prefix) ?? new Set<string>();
      table.set(prefix, there.add(hop.startsWith('fe80:') ? `on a link ${there.size}` : hop));
    };
    for (const { prefix, via, out } of model.layer3.nodes.get(device)?.table.all() ?? [])
      // A loopback's address is no line of the table that was read.
      if (out?.config.on.kind !== 'loopback')
        put(ours, formatPrefix(prefix), via ? formatAddress(via) : out ? 'connected' : 'blackhole');
    for (const [prefix, hops] of rows)
      for (const hop of hops)
        put(theirs, prefix !== 'default' ? prefix : hop.includes(':') ? '::/0' : '0.0.0.0/0', hop);
    const text = (table: Map<string, Set<string>>, prefix: string): string =>
      [...(table.get(prefix) ?? [])].sort().join() || 'none';
    for (const prefix of new Set([...ours.keys(), ...theirs.keys()]))
      note(evidence, 'routes', text(ours, prefix), text(theirs, prefix), `${device} ${prefix}`);
  }
  for (const [name, measured] of Object.entries(expected.leases ?? {})) {
    const at = name.lastIndexOf('.');
    const lease = model.layer3.leases.get(leaseKey(name.slice(0, at), name.slice(at + 1)));
    const read = measured && parseInterfaceAddress(measured.address);
    const theirs = read?.ok ? `${formatPrefix(subnetOf(read.value))} ${measured?.router}` : 'none';
    const router = lease?.router ? formatAddress(lease.router) : null;
    note(evidence, 'leases', lease ? `${formatPrefix(subnetOf(lease.address))} ${router}` : 'none', theirs, name);
  }
  for (const [name, measured] of Object.entries(expected.leases6 ?? {})) {
    const at = name.lastIndexOf('.');
    const lease = model.layer3.leases.get(leaseKey(name.slice(0, at), name.slice(at + 1), 6));
    // Which address of its pool a server gives is its own affair.
    note(evidence, 'leases', lease ? 'given' : 'none', measured ? 'given' : 'none', name);
  }
  if (expected.virtual) {
    const active = [...model.layer3.nodes.values()].flatMap(({ instance, interfaceStates }) =>
      interfaceStates.flatMap(({ virtual = [] }) => virtual.map((own) => `${instance.id} ${formatAddress(own)}`)),
    );
    const measured = expected.virtual.map((row) => row.join(' '));
    for (const which of new Set([...active, ...measured]))
      note(evidence, 'virtual', String(active.includes(which)), String(measured.includes(which)), which);
  }
  const down = new Set((expected.down_addresses ?? []).map(([device, , address]) => `${device} ${address}`));
  for (const { instance, interfaceStates } of model.layer3.nodes.values())
    for (const { typed, up } of interfaceStates)
      for (const { address } of typed) {
        const text = `${instance.id} ${formatAddress(address)}`;
        note(evidence, 'down', up ? 'up' : 'down', down.has(text) ? 'down' : 'up', text);
      }
  if (!expected.ecmp) for (const row of expected.traces ?? []) compareTrace(model, row, evidence);
}

/** Who answered at each hop; silent ones are left out of both. */
function compareTrace(
  model: NetworkModel,
  [source, address, rows]: [string, string, string[]],
  evidence: Evidence,
): void {
  const read = parseAddress(address);
  if (!read.ok) return;
  const target = model.reach.targets().find((target) => sameAddress(target.address, read.value));
  if (!target) return;
  const ownerOf = ownersIn(model);
  const found = trace(model, source, target.device, target.address);
  const ours = found.request.hops.slice(1).map((hop) => hop.device);
  const complaint = rows.at(-1)?.startsWith('!') ? rows.at(-1)! : null;
  const theirs = (complaint ? rows.slice(0, -1) : rows).map((row) => (row === '*' ? null : ownerOf(row)));
  // A circle is told once, and measured until somebody gave up.
  const length = found.request.reason?.code === 'ROUTE_LOOP' ? ours.length : theirs.length;
  const spoken = (all: readonly (string | null)[]): string =>
    all
      .slice(0, length)
      .flatMap((hop, at) => (theirs[at] === null || hop === null ? [] : [hop]))
      .join(' ');
  const end = complaint ? `, ${complaint.slice(1).split(' ')[0]}` : '';
  const ourEnd = complaint && !found.reached ? `, ${whyOf(model, found).why}` : '';
  note(evidence, 'traces', spoken(ours) + ourEnd, spoken(theirs) + end, `${source} to ${address}`);
}
