import { equipmentOf } from '../engine';
import { type Topology, documentHash } from '../topology';
import { kindsIn } from './evaluate';
import { defined, withoutLayout } from './layout';
import { ruleKind } from './rules';
import { type LabFile } from './schema';

/** What of a lab decides how submissions are judged. */
export type JudgingLab = Pick<LabFile, 'reference' | 'spec' | 'policy' | 'brief'> &
  Partial<Pick<LabFile, 'starter' | 'tasks'>>;

/**
 * A lab without all that changes no verdict: where things stand on the reference, how its cables bend and are labelled,
 * its title, pictures, notes and comments; what of the policy is about handing in; and the brief, unless plans are judged
 * by its numbers. Submissions are judged alike by both (see judging.spec.ts). Pure.
 */
export function judgedBy({ reference, spec, policy, brief, starter, tasks }: JudgingLab): JudgingLab {
  const { groups, outside, rules, schemes, ratios } = brief;
  const kinds = spec.sections.flatMap((section) =>
    section.requirements.flatMap((requirement) => kindsIn(requirement.rule)),
  );
  const judgesPlans = kinds.some((kind) => ruleKind(kind)?.family === 'plan');
  const { meant: _said, ...judging } = spec;
  return {
    spec: judging,
    // Which task is which, not what it says.
    ...(tasks &&
      kinds.some((kind) => ruleKind(kind)?.family === 'questions') && {
        tasks: tasks.map(({ id }) => ({ id, text: '' })),
      }),
    reference: withoutLayout(reference),
    ...(starter && { starter: { ...withoutLayout(starter), ...written(starter) } }),
    policy: {
      ...equipmentOf(policy),
      ...defined({
        rounding: policy.rounding,
        kit: policy.kit,
        missing: policy.missing,
        names: policy.names === 'exact' ? policy.names : undefined,
        ...(policy.followThrough === 'on' && {
          followThrough: policy.followThrough,
          mistakeCost: policy.mistakeCost,
          mistakeRuns: policy.mistakeRuns,
        }),
      }),
    },
    brief: judgesPlans ? defined({ groups, outside, rules, schemes, ratios }) : defined({ outside }),
  };
}

/** Equal for labs that judge alike: SHA-256 over what judges, in hex. */
export const specHash = (lab: JudgingLab): string => documentHash(judgedBy(lab));

/** What else of a starter a drawing is compared with. */
const written = ({ title, author, legend, locked }: Topology): Partial<Topology> =>
  defined({ title, author, legend, locked });
