import { share } from './evaluate';
import { type JudgingLab } from './judging';
import { type CheckResult, type FollowThrough, type ItemResult, type RequirementResult } from './result';
import { type Requirement } from './schema';
import { hurdles } from './standing';

/** What of a fact decides points. */
type Scored = Pick<ItemResult, 'met' | 'weight' | 'given' | 'see' | 'grounded' | 'decided'>;

/** Points and verdict of a requirement by its facts; null for one that does not apply. */
export const scoreOf = (
  requirement: Requirement,
  items: readonly Scored[] | null,
): Pick<RequirementResult, 'points' | 'verdict' | 'given'> =>
  requirement.deduction ? deducted(requirement, items ?? []) : earned(requirement, items);

function earned(
  requirement: Requirement,
  items: readonly Scored[] | null,
): Pick<RequirementResult, 'points' | 'verdict' | 'given'> {
  const counted = (items ?? []).filter((item) => item.see === undefined && !item.given);
  const won = share(counted);
  const isShared = requirement.credit === 'share';
  const points = part(requirement, isShared ? won : won === 1 ? 1 : 0);
  // All of it came with the starter and stands: nothing is left to earn.
  if (items?.length && items.every((item) => item.given)) return { points, verdict: 'notApplying', given: true };
  if (items === null) return { points, verdict: 'notApplying' };
  if (won === 1) return { points, verdict: 'met' };
  const isOpen = counted.some(({ met }) => met === null) && (isShared || !counted.some(({ met }) => met === false));
  return { points, verdict: isOpen ? 'unjudged' : points > 0 ? 'partly' : 'lost' };
}

/** What takes points off: only what is found, never what is missing. */
function deducted(requirement: Requirement, items: readonly Scored[]): Pick<RequirementResult, 'points' | 'verdict'> {
  const isFound = (item: Scored): boolean => item.met === false && (item.grounded !== false || item.decided === true);
  const found = items.filter(isFound);
  const off = !found.length
    ? 0
    : requirement.credit === 'share'
      ? 1 - share(items.map((item) => ({ ...item, met: !isFound(item) })))
      : 1;
  const points = part(requirement, off);
  return {
    points: points ? -points : 0,
    verdict: found.length ? (off < 1 ? 'partly' : 'lost') : items.some(({ met }) => met === null) ? 'unjudged' : 'met',
  };
}

/** A part of the points, rounded down to hundredths: a full mark is for a full answer only. */
const part = ({ points }: Requirement, of: number): number =>
  of === 1 ? points : Math.floor(points * of * 100 + 1e-7) / 100;

/** Sums in hundredths, so that halves and quarters add up exactly. */
export const total = <T>(list: readonly T[], points: (item: T) => number): number =>
  list.reduce((sum, each) => sum + Math.round(points(each) * 100), 0) / 100;

/**
 * What is given back where a mistake counts once: what its repair would have won, less what it costs. What a person decided
 * is as that person said.
 */
export function givenBack(
  { won, costs }: Pick<FollowThrough, 'won' | 'costs'>,
  requirements: readonly Pick<RequirementResult, 'id' | 'decided'>[],
): number {
  const open = requirements.filter(({ decided }) => !decided);
  return Math.max(
    0,
    total([total(open, ({ id }) => won[id] ?? 0), -total(costs, ({ cost }) => cost)], (each) => each),
  );
}

/** The mark of points: rounded down to the step of the lab. A full one is for a full answer only, and not cut by its step. */
export function marked(sum: number, of: number, { rounding = 0.5 }: JudgingLab['policy']): number {
  return sum >= of ? sum : Math.round(Math.floor(sum / rounding + 1e-9) * rounding * 100) / 100;
}

/**
 * Sections, mark and hurdles of requirements that are judged; `sum` are the points before they are rounded.
 *
 * @param followThrough what is given back of it
 */
export function summed(
  { spec, policy }: Pick<JudgingLab, 'spec' | 'policy'>,
  requirements: RequirementResult[],
  followThrough?: FollowThrough,
): Pick<CheckResult, 'points' | 'of' | 'sections' | 'requirements' | 'hurdlesMissed'> & { sum: number } {
  const sections = spec.sections.map(({ id, title }) => {
    const own = requirements.filter((requirement) => requirement.section === id);
    return {
      id,
      title,
      // Deductions take no more than there is.
      points: Math.max(
        0,
        total(own, (result) => result.points),
      ),
      of: total(own, (result) =>
        result.bonus || result.deduction || result.verdict === 'notApplying' ? 0 : result.of,
      ),
    };
  });
  const [sum, of] = [total(sections, (section) => section.points), total(sections, (section) => section.of)];
  const back = followThrough ? givenBack(followThrough, requirements) : 0;
  return {
    points: marked(
      back > 0
        ? Math.max(
            sum,
            Math.min(
              of,
              total([sum, back], (each) => each),
            ),
          )
        : sum,
      of,
      policy,
    ),
    sum,
    of,
    sections,
    requirements,
    ...hurdles(spec, sections, requirements),
  };
}
