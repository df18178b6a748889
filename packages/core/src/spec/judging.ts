import { equipmentOf } from '../engine';
import { type Device, type Link, type Topology, documentHash } from '../topology';
import { kindsIn } from './evaluate';
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
  return {
    spec,
    // Which task is which, not what it says.
    ...(tasks &&
      kinds.some((kind) => ruleKind(kind)?.family === 'questions') && {
        tasks: tasks.map(({ id }) => ({ id, text: '' })),
      }),
    reference: withoutLayout(reference),
    ...(starter && { starter: { ...withoutLayout(starter), ...written(starter) } }),
    policy: {
      ...equipmentOf(policy),
      ...defined({ rounding: policy.rounding, kit: policy.kit }),
    },
    brief: judgesPlans ? defined({ groups, outside, rules, schemes, ratios }) : defined({ outside }),
  };
}

/** Equal for labs that judge alike: SHA-256 over what judges, in hex. */
export const specHash = (lab: JudgingLab): string => documentHash(judgedBy(lab));

/** A drawing without where things stand on it, how its cables bend and are labelled, and all that is said about it. */
export function withoutLayout(reference: Topology): Topology {
  const { format, version, sites, devices, links, models, fields } = reference;
  return {
    format,
    version,
    sites: mapped(sites, ({ area: _drawn, order: _place, ...site }) => site),
    devices: mapped(devices, ({ label: _label, pinned: _held, group: _moved, layer: _above, ...device }): Device => ({
      ...device,
      at: { x: 0, y: 0 },
    })),
    links: mapped(
      links,
      ({ bends: _bent, labelOffsets: _moved, label: _written, endTexts: _texts, ...link }): Link => link,
    ),
    ...defined({ models, fields }),
  };
}

/** What else of a starter a drawing is compared with. */
const written = ({ title, author, legend, locked }: Topology): Partial<Topology> =>
  defined({ title, author, legend, locked });

const mapped = <From, To>(map: Readonly<Record<string, From>>, change: (value: From) => To): Record<string, To> =>
  Object.fromEntries(Object.entries(map).map(([id, value]) => [id, change(value)]));

const defined = <T extends object>(values: T): T =>
  Object.fromEntries(Object.entries(values).filter(([, value]) => value !== undefined)) as T;
