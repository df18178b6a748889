import { parseAddress, sameAddress } from '../address';
import { type NetworkModel, type Probe, type Trace, analyse, listensAt, outcomeOf, trace } from '../engine';
import { type CaseFile, readCase } from './kernel-case';
import { type Evidence, compareTables, noEvidence, note, ownersIn, whyOf } from './kernel-evidence';

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
/** Compares the engine's answers with the measured ones of a case: every judged ping, and every TCP test. */
export function compareCase(file: CaseFile): CaseComparison {
  const model = analyse(readCase(file.topology));
  const evidence = noEvidence();
  compareTables(model, file, evidence);
  const ownerOf = ownersIn(model);
  const result: CaseComparison = { pairs: 0, agree: 0, tcp: 0, tcpAgree: 0, uncertain: 0, disagreements: [], evidence };
  const left = new Set(file.expected.excluded.map((row) => row.join(' ')));
  const disagree = (
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
  for (const [from, to, address, measured, why = '', by, reached = 0] of file.expected.pings) {
    if (left.has(`${from} ${to} ${address}`)) continue;
    const found = askFor(model, from, to, address);
    const ours = found === null || found.answer === 'no' ? 'fail' : found.answer === 'yes' ? 'ok' : 'uncertain';
    result.pairs++;
    if (measured === 'fail') {
      const failure = found ? whyOf(model, found) : { why: 'no_route', from: null };
      const where = `${from} to ${to} ${address}`;
      note(evidence, 'reached', String(found?.reached ?? false), String(reached === 1), where);
      note(evidence, 'why', failure.why, why, where);
      if (by && failure.from) note(evidence, 'complains', failure.from, ownerOf(by) ?? by, where);
    }
    if (ours === measured) result.agree++;
    else disagree(from, to, address, null, measured, ours, found);
  }
  for (const [from, to, address, port, measured] of file.expected.tcp ?? []) {
    const found = askFor(model, from, to, address, { protocol: 'tcp', port });
    const ours = found ? (outcomeOf(model, found, listensAt(model, to, port)) ?? 'uncertain') : 'unreachable';
    result.tcp++;
    if (ours === measured) result.tcpAgree++;
    else disagree(from, to, address, port, measured, ours, found);
  }
  return result;
}

/** The trace to an address of a device; of one that a server gave, to the one that it gave here. Null where there is none. */
function askFor(model: NetworkModel, from: string, to: string, address: string, probe?: Probe): Trace | null {
  const read = parseAddress(address);
  if (!read.ok) throw new Error(`${address}: ${read.error.text}`);
  const own = model.reach.targets().filter((target) => target.device === to);
  const isTyped = own.some((target) => sameAddress(target.address, read.value));
  const leased = isTyped
    ? undefined
    : [...model.layer3.leases].find(([key]) => key.startsWith(`${to} `))?.[1].address.address;
  const asked = isTyped ? read.value : leased;
  return asked ? trace(model, from, to, asked, probe) : null;
}
