import { type Earned, type PreparedLab } from '../check';
import { leavesIn } from '../combining';
import { type CheckResult, type FollowThrough, type RequirementResult } from '../result';
import { type Place } from '../rule';
import { ruleKind } from '../rules';
import { type Requirement } from '../schema';
import { givenBack, marked, total } from '../score';
import { type Change } from './change';
import { type Trials } from './search';

/** No more mistakes are carried forward. */
const MOST_CARRIED = 3;

interface Carried {
  readonly letter: string;
  readonly explains: readonly string[];
  readonly change: Change;
}

/**
 * Only mistakes are carried forward, never what was left out: all of them repaired, less what each costs. That is what was
 * lost on the requirements that judge the mistaken thing itself, else on the dearest of those that failed by it, or what the
 * lab says; and never more than it took.
 */
export function followThrough(
  { lab }: PreparedLab,
  { points: raw }: Pick<CheckResult, 'points'>,
  base: Earned,
  causes: readonly Carried[],
  trials: Trials,
): FollowThrough {
  const carried = causes.filter(({ change }) => !change.leftOut).slice(0, MOST_CARRIED);
  const repaired = carried.length
    ? trials.of(
        carried.map(({ change }) => change),
        true,
      )?.earned
    : undefined;
  const asIs: FollowThrough = {
    raw,
    repaired: raw,
    mark: raw,
    won: {},
    costs: [],
    lines: [`As handed in: ${raw}`, `Mark: ${raw}`],
  };
  if (!repaired || repaired.sum <= base.sum) return asIs;
  const asked = new Map(
    lab.spec.sections.flatMap(({ requirements }) => requirements.map((each) => [each.id, each] as const)),
  );
  const wonIn = (after: Earned, before: Earned): Record<string, number> =>
    Object.fromEntries(
      after.requirements.flatMap(({ id, points }, at) => {
        const more = total([points, -before.requirements[at]!.points], (each) => each);
        // What a repair loses elsewhere is taken off, too; what the lab is about is never given back.
        return more === 0 || (more > 0 && asked.get(id)!.carried === false) ? [] : [[id, more]];
      }),
    );
  const sumOf = (won: Readonly<Record<string, number>>): number => total(Object.values(won), (each) => each);
  const won = wonIn(repaired, base);
  const costs = carried.map((cause) => {
    const others = carried.filter((each) => each !== cause).map(({ change }) => change);
    const without = trials.of(others, true)?.earned;
    const took = without ? Math.max(0, sumOf(wonIn(repaired, without))) : sumOf(won);
    const by = costing(asked, base, cause, won);
    const dear = lab.policy.mistakeCost ?? total(by, (id) => Math.max(0, won[id] ?? 0));
    return { letter: cause.letter, cost: Math.min(dear, took), by };
  });
  const sum = total([base.sum, givenBack({ won, costs }, base.requirements)], (each) => each);
  const mark = Math.max(raw, marked(Math.min(sum, Math.max(base.of, base.sum)), base.of, lab.policy));
  if (mark <= raw) return asIs;
  const full = total([base.sum, sumOf(won)], (each) => each);
  return {
    raw,
    repaired: marked(full, base.of, lab.policy),
    mark,
    won,
    costs,
    lines: [
      `As handed in: ${raw}`,
      `With ${carried.map(({ letter }) => letter).join(', ')} repaired: ${full}`,
      ...costs.map(({ letter, cost, by }) => `Cost of ${letter}${by.length ? ` (${by.join(', ')})` : ''}: −${cost}`),
      `Mark, the larger of ${raw} and ${sum}: ${mark}`,
    ],
  };
}

/** The requirements whose points a mistake costs: those that judge the thing itself, else the dearest that failed by it. */
function costing(
  asked: ReadonlyMap<string, Requirement>,
  base: Earned,
  { change, explains }: Carried,
  won: Readonly<Record<string, number>>,
): string[] {
  const failed = base.requirements.filter(({ id }) => explains.includes(id) && (won[id] ?? 0) > 0);
  const direct = failed.filter(({ id, items }) => {
    const judgesThings = leavesIn(asked.get(id)!.rule).every(({ kind }) => ruleKind(kind)?.family !== 'connectivity');
    return (
      judgesThings &&
      items.some(({ met, places }) => met === false && places.some((place) => isAt(change.places, place)))
    );
  });
  const dearest = (list: readonly RequirementResult[]): RequirementResult[] =>
    [...list].sort((one, other) => won[other.id]! - won[one.id]!).slice(0, 1);
  return (direct.length ? direct : dearest(failed)).map(({ id }) => id);
}

/** Whether a place is, or lies at, one of the mistaken things. */
const isAt = (things: readonly Place[], { device, port, link }: Place): boolean =>
  things.some(
    (thing) =>
      (thing.link !== undefined && thing.link === link) ||
      (thing.device !== undefined &&
        thing.device === device &&
        (thing.port === undefined || port === undefined || thing.port === port)),
  );
