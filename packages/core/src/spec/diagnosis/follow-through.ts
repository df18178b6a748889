import { type Earned, type PreparedLab } from '../check';
import { leavesIn } from '../combining';
import { type CheckResult, type RequirementResult } from '../result';
import { type Place } from '../rule';
import { ruleKind } from '../rules';
import { total } from '../score';
import { type Change } from './change';
import { type Trials } from './search';

/** The mark where a mistake costs once: as handed in, repaired, and what each mistake costs. */
export interface FollowThrough {
  /** The mark as it was handed in. */
  readonly raw: number;
  /** The mark with the mistakes repaired that are carried forward. */
  readonly repaired: number;
  readonly mark: number;
  /** The arithmetic, line by line. */
  readonly lines: readonly string[];
}

/** No more mistakes are carried forward. */
const MOST_CARRIED = 3;

interface Carried {
  readonly letter: string;
  readonly explains: readonly string[];
  readonly change: Change;
}

/**
 * Only mistakes are carried forward, never what was left out: all of them repaired, less what each costs. That is what was
 * lost on the requirements that judge the mistaken thing itself, else on the dearest of those that failed by it, and never
 * more than it took.
 */
export function followThrough(
  prepared: PreparedLab,
  { points: raw }: Pick<CheckResult, 'points'>,
  base: Earned,
  causes: readonly Carried[],
  trials: Trials,
): FollowThrough {
  const carried = causes.filter(({ change }) => !change.leftOut).slice(0, MOST_CARRIED);
  const repaired = carried.length ? trials.of(carried.map(({ change }) => change))?.earned : undefined;
  const handed = `As handed in: ${raw}`;
  if (!repaired || repaired.points <= raw) return { raw, repaired: raw, mark: raw, lines: [handed, `Mark: ${raw}`] };
  const costs = carried.map((cause) => ({ ...cause, ...costOf(prepared, base, repaired, cause, carried, trials) }));
  const cost = total(costs, (each) => each.cost);
  const rounding = prepared.lab.policy.rounding ?? 0.5;
  const rounded = Math.floor((repaired.points - cost) / rounding + 1e-9) * rounding;
  const mark = Math.max(raw, Math.round(rounded * 100) / 100);
  return {
    raw,
    repaired: repaired.points,
    mark,
    lines: [
      handed,
      `With ${carried.map(({ letter }) => letter).join(', ')} repaired: ${repaired.points}`,
      ...costs.map(({ letter, cost, by }) => `Cost of ${letter} (${by}): −${cost}`),
      `Mark: the larger of ${raw} and ${rounded} = ${mark}`,
    ],
  };
}

function costOf(
  { lab }: PreparedLab,
  base: Earned,
  repaired: Earned,
  { change, explains }: Carried,
  carried: readonly Carried[],
  trials: Trials,
): { cost: number; by: string } {
  const rules = new Map(
    lab.spec.sections.flatMap(({ requirements }) => requirements.map(({ id, rule }) => [id, rule] as const)),
  );
  const lostOn = (requirement: RequirementResult): number => {
    const after = repaired.requirements.find(({ id }) => id === requirement.id)!;
    return Math.max(0, after.points - requirement.points);
  };
  const failed = base.requirements.filter(
    (requirement) => explains.includes(requirement.id) && lostOn(requirement) > 0,
  );
  const direct = failed.filter(({ id, items }) => {
    const judgesThings = leavesIn(rules.get(id)!).every(({ kind }) => ruleKind(kind)?.family !== 'connectivity');
    return (
      judgesThings &&
      items.some(({ met, places }) => met === false && places.some((place) => isAt(change.places, place)))
    );
  });
  const [dearest] = [...failed].sort((one, other) => lostOn(other) - lostOn(one));
  const counted = direct.length ? direct : dearest ? [dearest] : [];
  const without = trials.of(carried.filter((each) => each.change !== change).map((each) => each.change))?.earned;
  const took = without ? Math.max(0, repaired.sum - without.sum) : Infinity;
  return {
    cost: Math.round(Math.min(total(counted, lostOn), took) * 100) / 100,
    by: counted.map(({ id }) => id).join(', ') || 'nothing',
  };
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
