import { formatAddress, formatPrefix, parseAddress, parseInterfaceAddress, sameAddress, subnetOf } from '../address';
import { type NetworkModel, type Probe, type Trace, analyse, leaseKey, listensAt, outcomeOf } from '../engine';
import { type CaseFile, readCase } from './kernel-case';

/** One measured answer that the engine does not share. */
export interface Disagreement {
  from: string;
  to: string;
  address: string;
  port: number | null;
  measured: string;
  ours: string;
  reason: string;
  certain: boolean;
}
export interface CaseComparison {
  pairs: number;
  agree: number;
  tcp: number;
  tcpAgree: number;
  uncertain: number;
  disagreements: Disagreement[];
  evidence: Evidence;
}
/** What tells more than the answers: whether failed requests arrived, and the tables behind them. */
export interface Evidence {
  reached: number;
  reachedAgree: number;
  routes: number;
  routesAgree: number;
  leases: number;
  leasesAgree: number;
}

/** Compares the engine's answers with the measured ones of a case: every judged ping, and every TCP test. */
export function compareCase(file: CaseFile): CaseComparison {
  const model = analyse(readCase(file.topology));
  const evidence = evidenceOf(model, file);
  const result: CaseComparison = { pairs: 0, agree: 0, tcp: 0, tcpAgree: 0, uncertain: 0, disagreements: [], evidence };
  const left = new Set(file.expected.excluded.map((row) => row.join(' ')));
  const note = (
    from: string,
    to: string,
    address: string,
    port: number | null,
    measured: string,
    ours: string,
    trace: Trace | null,
  ): void => {
    const certain = ours !== 'uncertain';
    if (!certain) result.uncertain++;
    const reason = trace?.reason ? `${trace.reason.code}: ${trace.reason.text}` : '';
    result.disagreements.push({ from, to, address, port, measured, ours, reason, certain });
  };
  for (const [from, to, address, measured, , , reached = 0] of file.expected.pings) {
    if (left.has(`${from} ${to} ${address}`)) continue;
    const trace = askFor(model, from, to, address);
    const ours = trace === null || trace.answer === 'no' ? 'fail' : trace.answer === 'yes' ? 'ok' : 'uncertain';
    result.pairs++;
    if (measured === 'fail') {
      evidence.reached++;
      if ((trace?.reached ?? false) === (reached === 1)) evidence.reachedAgree++;
    }
    if (ours === measured) result.agree++;
    else note(from, to, address, null, measured, ours, trace);
  }
  for (const [from, to, address, port, measured] of file.expected.tcp ?? []) {
    const trace = askFor(model, from, to, address, { protocol: 'tcp', port });
    const ours = trace ? (outcomeOf(model, trace, listensAt(model, to, port)) ?? 'uncertain') : 'unreachable';
    result.tcp++;
    if (ours === measured) result.tcpAgree++;
    else note(from, to, address, port, measured, ours, trace);
  }
  return result;
}

/** The trace to an address of a device; of one that a server gave, to the one that it gave here. Null where there is none. */
function askFor(model: NetworkModel, from: string, to: string, address: string, probe?: Probe): Trace | null {
  const read = parseAddress(address);
  if (!read.ok) throw new Error(`${address}: ${read.error.text}`);
  const own = model.reach.targets().filter((one) => one.device === to);
  const isTyped = own.some((one) => sameAddress(one.address, read.value));
  const leased = isTyped
    ? undefined
    : [...model.layer3.leases].find(([key]) => key.startsWith(`${to} `))?.[1].address.address;
  const asked = isTyped ? read.value : leased;
  return asked ? model.reach.ask(from, { device: to, address: asked }, probe) : null;
}

function evidenceOf(model: NetworkModel, { expected }: CaseFile): Evidence {
  const evidence = { reached: 0, reachedAgree: 0, routes: 0, routesAgree: 0, leases: 0, leasesAgree: 0 };
  for (const [device, rows] of Object.entries(expected.routes ?? {})) {
    const [ours, theirs] = [new Map<string, Set<string>>(), new Map<string, Set<string>>()];
    const note = (table: Map<string, Set<string>>, prefix: string, hop: string): void =>
      void table.set(prefix, (table.get(prefix) ?? new Set()).add(hop));
    for (const { prefix, via, out } of model.layer3.nodes.get(device)?.table.all() ?? [])
      note(ours, formatPrefix(prefix), via ? formatAddress(via) : out ? 'connected' : 'blackhole');
    for (const [prefix, hops] of rows)
      for (const hop of hops)
        note(theirs, prefix !== 'default' ? prefix : hop.includes(':') ? '::/0' : '0.0.0.0/0', hop);
    for (const prefix of new Set([...ours.keys(), ...theirs.keys()])) {
      evidence.routes++;
      const text = (table: Map<string, Set<string>>): string => [...(table.get(prefix) ?? [])].sort().join();
      if (text(ours) === text(theirs)) evidence.routesAgree++;
    }
  }
  for (const [name, measured] of Object.entries(expected.leases ?? {})) {
    const at = name.lastIndexOf('.');
    const lease = model.layer3.leases.get(leaseKey(name.slice(0, at), name.slice(at + 1)));
    const read = measured && parseInterfaceAddress(measured.address);
    const theirs = read?.ok ? `${formatPrefix(subnetOf(read.value))} ${measured?.router}` : 'none';
    const router = lease?.router ? formatAddress(lease.router) : null;
    evidence.leases++;
    if (theirs === (lease ? `${formatPrefix(subnetOf(lease.address))} ${router}` : 'none')) evidence.leasesAgree++;
  }
  return evidence;
}
