import { type Drill, drill } from '@sobrin/core/spec';
import { loadLab } from './check';
import { type Output, STATUS } from './output';

export interface DrillOptions {
  /** As it is typed. */
  readonly seed?: string;
  readonly json?: boolean;
}

/** Plants known mistakes in the reference of a lab and says which its spec notices. */
export async function drillLab(
  file: string,
  { seed = '1', json }: DrillOptions,
  out: Output,
  err: Output,
): Promise<number> {
  const number = Number(seed);
  if (!Number.isInteger(number) || number < 0 || number > 2 ** 31) {
    err.write(`--seed: "${seed}" is no whole number from 0 to ${2 ** 31}.\n`);
    return STATUS.unusable;
  }
  const lab = await loadLab(file, err);
  if (!lab) return STATUS.unusable;
  const found = drill(lab, { seed: number });
  out.write(json ? `${JSON.stringify(published(found), null, 2)}\n` : report(found));
  const isMissed = found.faults.some(({ outcome }) => outcome === 'missed');
  return isMissed || found.variations.some(({ requirements }) => requirements.length) ? STATUS.short : STATUS.well;
}

const countOf = ({ faults }: Drill, outcome: Drill['faults'][number]['outcome']): number =>
  faults.filter((fault) => fault.outcome === outcome).length;

/** Only what the README documents, so that the shape stays as it is. */
function published(found: Drill): unknown {
  const sentences = new Map(found.proposals.map(({ id, sentence }) => [id, sentence]));
  const lost = found.variations.filter(({ requirements }) => requirements.length);
  return {
    faults: {
      noticed: countOf(found, 'noticed'),
      missed: countOf(found, 'missed'),
      harmless: countOf(found, 'harmless'),
      list: found.faults.map(({ operator, text, places, outcome, noticedBy, proposal }) => ({
        operator,
        text,
        places,
        outcome,
        noticedBy,
        proposal: proposal === null ? null : (sentences.get(proposal) ?? null),
      })),
    },
    variations: {
      kept: found.variations.length - lost.length,
      lost: lost.length,
      list: found.variations.map(({ operator, text, requirements }) => ({
        operator,
        text,
        requirements: requirements.map(({ id }) => id),
      })),
    },
  };
}

function report(found: Drill): string {
  const { faults, proposals, variations, halves, cheapest, pairs, score, of, notPlanted } = found;
  const missed = faults.filter(({ outcome }) => outcome === 'missed');
  const lost = variations.filter(({ requirements }) => requirements.length);
  const lines = [
    `Of ${faults.length} planted faults ${countOf(found, 'noticed')} are noticed, ${missed.length} missed, ${countOf(found, 'harmless')} harmless; by kind ${Math.round(100 * score.all)} %.`,
    ...score.kinds
      .filter((kind) => kind.missed > 0)
      .map(({ title, noticed, missed: n }) => `  ${noticed} of ${noticed + n}  ${title}`),
    ...missed.map(({ text, works }) => `  missed${works ? ' (works, but wrong)' : ''}: ${text}`),
    ...pairs.hidden.map(({ texts }) => `  together not noticed: ${texts.join(' And: ')}`),
    ...(proposals.length ? ['Sentences that would notice some of it:'] : []),
    ...proposals.slice(0, 10).map(({ sentence, notices }) => `  ${notices.length}  ${sentence}`),
    `Of ${variations.length} right drawings of the same network ${lost.length} lose points for nothing.`,
    ...lost.map(
      ({ text, requirements }) => `  ${text}: ${requirements.map((each) => `${each.id} (${each.text})`).join('; ')}`,
    ),
    'What part of the lab earns:',
    ...halves.map(({ what, points }) => `  ${what}: ${points} of ${of}`),
    ...(cheapest ? [`  the full mark without ${cheapest.without.join(', ')}`] : []),
    ...notPlanted.map((what) => `Not planted yet: ${what}.`),
  ];
  return `${lines.join('\n')}\n`;
}
