import { parseAddress, sameAddress } from '../address';
import { type NetworkModel, type Probe, type Trace, analyse, attemptOf, trace } from '../engine';
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

/** Rows of a file where a standard says otherwise than what was measured. */
export interface Otherwise {
  file: string;
  clause: string;
  why: string;
  /** As "from to address". */
  rows: string[];
}

/** What measuring decides by chance: one of several ways that differ, one of several that answer, a bundle of unlike ends. */
const CHANCE = /^(EQUAL_COST_DIFFERS|DUPLICATE_ADDRESS|BUNDLE_NOT_FORMED):/;
/** Whether an answer that differs from the measured one is not certain for a reason that makes measuring a matter of chance. */
export const isByChance = ({ certain, reason }: Disagreement): boolean => !certain && CHANCE.test(reason);
export interface CaseComparison {
  pairs: number;
  agree: number;
  /** Attempts to connect by TCP. */
  tcp: number;
  tcpAgree: number;
  /** Questions to a service by UDP. */
  udp: number;
  udpAgree: number;
  uncertain: number;
  disagreements: Disagreement[];
  evidence: Evidence;
}
/** Compares the engine's answers with the measured ones of a case: every judged ping, and every test by TCP and UDP. */
export function compareCase(file: CaseFile): CaseComparison {
  const model = analyse(readCase(file.topology));
  const evidence = noEvidence();
  compareTables(model, file, evidence);
  const ownerOf = ownersIn(model);
  const result: CaseComparison = {
    pairs: 0,
    agree: 0,
    tcp: 0,
    tcpAgree: 0,
    udp: 0,
    udpAgree: 0,
    uncertain: 0,
    disagreements: [],
    evidence,
  };
  const left = new Set(file.expected.excluded.map((row) => row.join(' ')));
  const disagree = (
    asked: Pick<Disagreement, 'from' | 'to' | 'address' | 'port'>,
    measured: string,
    ours: string,
    trace: Trace | null,
  ): void => {
    const certain = ours !== 'uncertain';
    if (!certain) result.uncertain++;
    const reason = trace?.reason ? `${trace.reason.code}: ${trace.reason.text}` : '';
    result.disagreements.push({ ...asked, measured, ours, reason, certain });
  };
  for (const [from, to, address, measured, why = '', by, reached = 0] of file.expected.pings) {
    if (left.has(`${from} ${to} ${address}`)) continue;
    const found = askFor(model, file, from, to, address);
    const ours = found === null || found.answer === 'no' ? 'fail' : found.answer === 'yes' ? 'ok' : 'uncertain';
    result.pairs++;
    if (measured === 'fail') {
      const failure = found ? whyOf(model, found) : { why: 'no_route', from: null };
      const where = `${from} to ${to} ${address}`;
      note(evidence, 'reached', String(found?.reached ?? false), String(reached === 1), where);
      note(evidence, 'why', failure.why, why, where);
      // An address of one link says nothing to others.
      if (by && failure.from && !by.startsWith('fe80:'))
        note(evidence, 'complains', failure.from, ownerOf(by) ?? by, where);
    }
    if (ours === measured) result.agree++;
    else disagree({ from, to, address, port: null }, measured, ours, found);
  }
  for (const protocol of ['tcp', 'udp'] as const)
    for (const [from, to, address, port, measured] of file.expected[protocol] ?? []) {
      const found = askFor(model, file, from, to, address, { protocol, port });
      const outcome = found ? attemptOf(model, found, { protocol, port }) : 'unreachable';
      const ours = outcome === 'open' && protocol === 'udp' ? 'answer' : (outcome ?? 'uncertain');
      result[protocol]++;
      if (ours === measured) result[`${protocol}Agree`]++;
      else disagree({ from, to, address, port }, measured, ours, found);
    }
  return result;
}

/**
 * The trace to an address of a device; of one that a server gave or that was made of what a router advertised, to the one
 * that the interface has here. Null where it has none. What no interface has is asked for as it stands: a translation may
 * have it.
 */
function askFor(
  model: NetworkModel,
  { expected }: CaseFile,
  from: string,
  to: string,
  address: string,
  probe?: Probe,
): Trace | null {
  const read = parseAddress(address);
  if (!read.ok) throw new Error(`${address}: ${read.error.text}`);
  const isTyped = model.reach.targets().some((own) => own.device === to && sameAddress(own.address, read.value));
  if (isTyped) return trace(model, from, to, read.value, probe);
  const given = [
    ...Object.entries(expected.leases ?? {}).map(([at, lease]) => [at, lease?.address.split('/')[0]]),
    ...Object.entries(expected.leases6 ?? {}),
    ...(expected.auto ?? []).map(([device, name, made]) => [`${device}.${name}`, made.split('/')[0]]),
  ].find(([, text]) => text === address)?.[0];
  if (!given) {
    // A virtual address is answered by whoever is active: which router that is was a matter of who began (see the README).
    const active = model.reach.targets().find((own) => sameAddress(own.address, read.value))?.device;
    return trace(model, from, expected.virtual && active ? active : to, read.value, probe);
  }
  const own = model.layer3.nodes
    .get(to)
    ?.interfaceStates.find(({ key }) => `${to}.${key}` === given)
    ?.addresses.find((on) => on.address.family === read.value.family);
  return own ? trace(model, from, to, own.address, probe) : null;
}
