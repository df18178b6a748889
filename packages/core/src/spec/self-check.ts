import { type CheckResult, type Verdict } from './result';
import { type Policy, type Requirement, type Spec } from './schema';
import { asksPersons } from './spec-problems';

/** What a student is told of work that is not handed in: sums by section, or of chosen requirements whether they are met. */
export interface SelfCheck {
  sections?: { title: string; points: number; of: number }[];
  requirements?: { sentence: string; verdict: Verdict }[];
}

/**
 * The requirements that a self-check may tell of: no questions, nothing that a person sees or reads, and no deductions,
 * which tell what is looked for.
 */
export const tellable = ({ sections }: Spec): Requirement[] =>
  sections.flatMap(({ requirements }) =>
    requirements.filter(({ rule, deduction }) => !deduction && !asksPersons(rule)),
  );

/** What a self-check tells of a result, and nothing else of it. Points of bonuses are in no sum. */
export function selfCheckOf(
  { sections, requirements }: CheckResult,
  spec: Spec,
  { requirements: chosen }: NonNullable<Policy['selfChecks']>,
): SelfCheck {
  const ids = new Set(tellable(spec).map(({ id }) => id));
  const told = requirements.filter(({ id }) => ids.has(id));
  if (chosen)
    return {
      requirements: told
        .filter(({ id }) => chosen.includes(id))
        .map(({ sentence, theirSentence, verdict }) => ({ sentence: theirSentence ?? sentence, verdict })),
    };
  return {
    sections: sections.flatMap(({ id, title }) => {
      const own = told.filter(({ section, bonus }) => section === id && !bonus);
      const sum = (of: (each: (typeof own)[number]) => number): number =>
        Math.round(own.reduce((all, each) => all + of(each), 0) * 100) / 100;
      return own.length ? [{ title, points: sum(({ points }) => points), of: sum(({ of }) => of) }] : [];
    }),
  };
}
