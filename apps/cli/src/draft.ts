import { writeFile } from 'node:fs/promises';
import { type LabFile, type Proposal, draftOf, withProposals } from '@sobrin/core/spec';
import { loadLab } from './check';
import { type Output, STATUS } from './output';

export interface DraftOptions {
  /** The points of all that is drafted together, as it is typed. */
  readonly points?: string;
  /** Where the lab is written with its draft; absent for nowhere. */
  readonly out?: string;
  /** Whether what the lab asks already stays, and only what it lacks is drafted. */
  readonly keep?: boolean;
  readonly json?: boolean;
}
const [LEAST, MOST] = [1, 10_000];

/** Drafts the spec of a lab, prints its sentences, and writes the lab with it. */
export async function draftSpec(file: string, options: DraftOptions, out: Output, err: Output): Promise<number> {
  const total = options.points === undefined ? undefined : Number(options.points);
  if (total !== undefined && !(Number.isInteger(total) && total >= LEAST && total <= MOST)) {
    err.write(`--points: "${options.points}" is no whole number from ${LEAST} to ${MOST}.\n`);
    return STATUS.unusable;
  }
  const lab = await loadLab(file, err);
  if (!lab) return STATUS.unusable;
  const begun: LabFile = options.keep ? lab : { ...lab, spec: { groups: {}, sections: [] } };
  const draft = draftOf(begun);
  const taken = draft.proposals.filter(({ leftOut }) => leftOut === undefined);
  const spec = withProposals(begun.spec, draft, taken, total);
  if (options.out !== undefined) {
    try {
      await writeFile(options.out, `${JSON.stringify({ ...lab, spec }, null, 2)}\n`);
    } catch (error) {
      err.write(
        `${options.out}: The file cannot be written (${(error as NodeJS.ErrnoException).code ?? String(error)}).\n`,
      );
      return STATUS.unusable;
    }
  }
  const noticed = new Set([...draft.noticed, ...taken.flatMap(({ notices }) => notices)]).size;
  const of = new Map(taken.map((proposal) => [proposal.rule, proposal]));
  const sections = spec.sections.flatMap(({ title, requirements }) => {
    const drafted = requirements.flatMap(({ id, points, rule }) => {
      const proposal = of.get(rule);
      return proposal
        ? [{ id, points, sentence: proposal.sentence, why: proposal.why, notices: proposal.notices.length }]
        : [];
    });
    return drafted.length ? [{ title, requirements: drafted }] : [];
  });
  const leftOut = draft.proposals.filter(isLeftOut).map(({ sentence, leftOut: reason }) => ({ sentence, reason }));
  const faults = { noticed, of: draft.faults.length };
  out.write(
    options.json
      ? `${JSON.stringify({ faults, sections, leftOut }, null, 2)}\n`
      : [
          ...sections.flatMap(({ title, requirements }) => [
            title,
            ...requirements.map(({ id, points, sentence, why }) => `  ${id} ${sentence} ${points} (${why})`),
          ]),
          `Of ${faults.of} planted faults ${noticed} are noticed; ${leftOut.length} more sentences were left out.`,
          '',
        ].join('\n'),
  );
  return STATUS.well;
}
const isLeftOut = (proposal: Proposal): proposal is Proposal & { leftOut: string } => proposal.leftOut !== undefined;
