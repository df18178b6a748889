import { analyse } from '../engine';
import { emptyPlan } from '../plan';
import { emptyTopology } from '../topology';
import { type PreparedLab } from './check';
import { contextOf } from './context';
import { Corresponding } from './corresponding';
import { type Requirement, type Spec } from './schema';
import { STRENGTHS } from './showing';

/** A requirement that has hints, with the task that it belongs to and how many there are. */
export interface Hinted {
  readonly requirement: string;
  /** Absent where it belongs to none. */
  readonly task?: string;
  readonly hints: number;
}

const textsOf = ({ hints }: Requirement): string[] => STRENGTHS.flatMap((strength) => hints?.[strength] ?? []);

/** The requirements of which a student may ask for hints, in the order of the spec. What is looked for to take points off is not told. */
export const hintedIn = ({ sections }: Spec): Hinted[] =>
  sections.flatMap(({ requirements }) =>
    requirements.flatMap((requirement): Hinted[] => {
      const { id, rule, task = 'task' in rule ? rule.task : undefined, deduction } = requirement;
      const hints = deduction ? 0 : textsOf(requirement).length;
      return hints ? [{ requirement: id, hints, ...(typeof task === 'string' && { task }) }] : [];
    }),
  );

/**
 * The hints of a requirement, those first that tell least, as a student reads them whose drawing nobody has looked at: what
 * has a name in the reference is called by its kind and site.
 */
export function hintsToAsk({ lab, reference }: PreparedLab, requirement: string): string[] {
  const nothing = analyse(emptyTopology(), reference.options);
  const playing = new Corresponding(reference, nothing, []);
  const { theirWording } = contextOf(lab, reference, nothing, playing, { plan: emptyPlan() });
  const found = lab.spec.sections.flatMap(({ requirements }) => requirements).find(({ id }) => id === requirement);
  return found ? textsOf(found).map(theirWording) : [];
}
