import { documentHash } from '../topology';
import { type JudgingLab } from './judging';
import { type CheckResult, type RequirementResult } from './result';
import { type Requirement } from './schema';
import { scoreOf, summed } from './score';
import { STANDS_ON, standing } from './standing';

/** What a person said of a requirement, or of one of its facts. */
export interface Decision {
  requirement: string;
  /** The key of a fact; null for the whole requirement. */
  item: string | null;
  /** Of a fact: whether it is met. Null for a whole requirement. */
  isMet: boolean | null;
  /** Of a whole requirement: what it earns; of a deduction 0 or less. Null for a fact. */
  points: number | null;
  /** What was asked when it was made: see askedBy. */
  asked: string;
}

/** What a requirement asks and what for, as a hash: a decision holds as long as that is the same. */
export const askedBy = ({ rule, points, credit, deduction, bonus, given }: Requirement): string =>
  documentHash({ rule, points, credit, deduction, bonus, given });

/** Why a decision cannot be made, as a sentence; null if it can. */
export function decisionProblem(
  result: CheckResult,
  { requirement: id, item, isMet, points }: Omit<Decision, 'asked'>,
): string | null {
  const requirement = result.requirements.find((each) => each.id === id);
  if (!requirement) return `The spec that judged has no requirement "${id}".`;
  if (item !== null)
    return !requirement.items.some(({ key }) => key === item)
      ? `Requirement ${id} has no such fact.`
      : isMet === null || points !== null
        ? 'A fact is decided as met or not met.'
        : null;
  const [least, most] = requirement.deduction ? [-requirement.of, 0] : [0, requirement.of];
  if (points === null || isMet !== null) return 'A requirement is decided by its points.';
  if (Math.round(points * 100) / 100 !== points) return 'Points are given to the hundredth.';
  return points < least || points > most ? `Requirement ${id} is worth ${least} to ${most} points.` : null;
}

/**
 * A result with what persons decided on top: facts first, which earn what facts earn; then points of whole requirements;
 * then what stands on others, sections and mark. A decision about what is no longer asked in the same way does nothing.
 */
export function decided(
  { spec, policy }: Pick<JudgingLab, 'spec' | 'policy'>,
  result: CheckResult,
  decisions: readonly Decision[],
): CheckResult {
  const asked = new Map(
    spec.sections.flatMap((section) => section.requirements.map((each) => [each.id, each] as const)),
  );
  const holding = decisions.filter(({ requirement, asked: then }) => {
    const now = asked.get(requirement);
    return now !== undefined && askedBy(now) === then;
  });
  if (!holding.length) return result;
  const requirements = result.requirements.map((judged): RequirementResult => {
    const own = holding.filter(({ requirement }) => requirement === judged.id);
    const facts = new Map(own.flatMap(({ item, isMet }) => (item === null ? [] : [[item, isMet] as const])));
    // What it waits for is found anew.
    const { waitsFor: _waited, ...rest } = judged;
    const items = judged.items
      .filter(({ key }) => key !== STANDS_ON)
      .map((item) =>
        item.key !== undefined && facts.has(item.key)
          ? { ...item, met: facts.get(item.key)!, decided: true as const }
          : item,
      );
    const score = scoreOf(asked.get(judged.id)!, judged.verdict === 'notApplying' && !judged.given ? null : items);
    const points = own.find(({ item }) => item === null)?.points ?? null;
    return {
      ...rest,
      ...score,
      ...(points !== null && { points, verdict: verdictFor(judged, points) }),
      ...(own.length && { decided: true as const }),
      items,
    };
  });
  const { sum: _exact, ...sums } = summed(
    { spec, policy },
    standing(spec, requirements),
    result.diagnosis?.followThrough,
  );
  const { hurdlesMissed: _before, ...before } = result;
  return { ...before, ...sums };
}

const verdictFor = ({ of, deduction }: RequirementResult, points: number): RequirementResult['verdict'] =>
  (deduction ? points === 0 : points === of) ? 'met' : (deduction ? points === -of : points === 0) ? 'lost' : 'partly';
