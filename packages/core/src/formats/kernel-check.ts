import { parseAddress } from '../address';
import { type NetworkModel, type Trace, analyse } from '../engine';
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
}

/** Compares the engine's answers with the measured ones of a case: every judged ping, and every TCP test. */
export function compareCase(file: CaseFile): CaseComparison {
  const model = analyse(readCase(file.topology));
  const result: CaseComparison = { pairs: 0, agree: 0, tcp: 0, tcpAgree: 0, uncertain: 0, disagreements: [] };
  const left = new Set(file.expected.excluded.map((row) => row.join(' ')));
  const note = (
    from: string,
    to: string,
    address: string,
    port: number | null,
    measured: string,
    ours: string,
    trace: Trace,
  ): void => {
    const certain = ours !== 'uncertain';
    if (!certain) result.uncertain++;
    const reason = trace.reason ? `${trace.reason.code}: ${trace.reason.text}` : '';
    result.disagreements.push({ from, to, address, port, measured, ours, reason, certain });
  };
  for (const [from, to, address, measured] of file.expected.pings) {
    if (left.has(`${from} ${to} ${address}`)) continue;
    const trace = askFor(model, from, to, address);
    const ours = trace.answer === 'yes' ? 'ok' : trace.answer === 'no' ? 'fail' : 'uncertain';
    result.pairs++;
    if (ours === measured) result.agree++;
    else note(from, to, address, null, measured, ours, trace);
  }
  for (const [from, to, address, port, measured] of file.expected.tcp ?? []) {
    const trace = askFor(model, from, to, address);
    const ours = tcpOutcome(model, to, port, trace);
    result.tcp++;
    if (ours === measured) result.tcpAgree++;
    else note(from, to, address, port, measured, ours, trace);
  }
  return result;
}

function askFor(model: NetworkModel, from: string, to: string, address: string): Trace {
  const read = parseAddress(address);
  if (!read.ok) throw new Error(`${address}: ${read.error.text}`);
  return model.reach.ask(from, { device: to, address: read.value });
}

/** A connection is open where both ways work and the service runs there. A packet lost on the way back says nothing. */
function tcpOutcome(model: NetworkModel, to: string, port: number, trace: Trace): string {
  if (trace.answer === 'uncertain') return 'uncertain';
  const listens = Object.values(model.instances.get(to)?.settings.services ?? {}).some(
    (service) => service.enabled && service.port === port,
  );
  if (trace.answer === 'yes') return listens ? 'open' : 'refused';
  return trace.direction === 'reply' ? 'timeout' : 'unreachable';
}
