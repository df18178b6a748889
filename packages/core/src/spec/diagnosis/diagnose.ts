import { type NetworkModel, analyse } from '../../engine';
import { type Plan, emptyPlan } from '../../plan';
import { type Earned, type PreparedLab, type Submitted } from '../check';
import { type Cause, type CheckResult, type Diagnosis } from '../result';
import { byNames } from './by-names';
import { byProblems } from './by-problems';
import { byReference } from './by-reference';
import { bySiblings } from './by-siblings';
import { bySubnets } from './by-subnets';
import { type Change, theirTextOf, together, whereOf } from './change';
import { Trials, search } from './search';
import { Translation } from './translation';
import { followThrough } from './follow-through';

/** So many drawings are tried where a lab does not say otherwise; fewer of large ones, counted in devices. */
export const MOST_RUNS = 240;
const [DEVICES_TRIED, LEAST_RUNS] = [24_000, 8];

/** What ends a search before its bound; whoever lets it end by time gets `complete: false`. */
export interface Bounds {
  /** Drawings that may be tried. */
  readonly runs?: number;
  readonly isOver?: () => boolean;
  /** Told after each drawing that was tried. */
  readonly onProgress?: (progress: DiagnosisProgress) => void;
}

/** How far a search is, and the best that it found so far. */
export interface DiagnosisProgress {
  /** Drawings that were tried, and that may be. */
  readonly runs: number;
  readonly bound: number;
  /** What is wrong, in the order in which it was found. */
  readonly found: readonly string[];
}

/**
 * Finds the smallest repairs that turn what failed into what holds. In: a lab, what was handed in, and how it was judged.
 * Out: causes, with the letter A for the one that took most. Pure; without `isOver` the same for the same input.
 */
export function diagnose(
  prepared: PreparedLab,
  { drawing, plan = emptyPlan(), ...rest }: Submitted,
  result: CheckResult,
  { runs: asked = MOST_RUNS, isOver = () => false, onProgress }: Bounds = {},
): Diagnosis {
  const model = analyse(drawing, prepared.reference.options);
  const runs = Math.min(asked, Math.max(LEAST_RUNS, Math.floor(DEVICES_TRIED / Math.max(1, model.instances.size))));
  const trials = new Trials(prepared, model, { plan, ...rest }, result.matching, runs, isOver, (tried, best) =>
    onProgress?.({ runs: tried, bound: runs, found: best.map(({ text }) => text) }),
  );
  const base = trials.of([])!.earned;
  const isWhole = !base.requirements.some((requirement) => trials.isFailing(requirement));
  const changes = isWhole ? [] : changesOf(prepared, model, plan, result);
  const { found, best } = search(trials, changes);
  const complete = !trials.isSpent;
  const all = found.map(({ change }) => change);
  const causes = found
    .map(({ change, instead }, at) => {
      const alone = trials.of([change], true)?.earned;
      // One that does not go by itself goes after those that it was found with.
      const commands = (alone ? [change] : all.slice(0, at + 1)).flatMap((each) => each.commands);
      const without = trials.of(
        all.filter((_each, nth) => nth !== at),
        true,
      )?.earned;
      return { change, instead, commands, ...told(base, best.earned, alone, without) };
    })
    .sort((one, other) => other.took - one.took);
  const named = causes.map(({ change, instead, commands, explains, took, mark }, at): Cause & { change: Change } => ({
    change,
    letter: String.fromCharCode(65 + at),
    text: change.text,
    theirText: theirTextOf(change),
    where: whereOf(change),
    places: [...change.places],
    repair: { texts: [...change.repair], commands },
    explains,
    took,
    mark,
    alternatives: instead.map(({ text, repair }) => ({ text, repair: [...repair] })),
    sure: instead.length ? 'likely' : change.source === 'siblings' ? 'unsure' : 'sure',
    leftOut: change.leftOut,
    sort: `${change.sort} ${change.what}${change.role === undefined ? '' : ` ${change.role}`}`,
  }));
  const explained = new Set(named.flatMap(({ explains }) => explains));
  return {
    causes: named.map(({ change: _change, ...cause }) => cause),
    unexplained: base.requirements
      .filter((requirement) => trials.isFailing(requirement) && !explained.has(requirement.id))
      .map(({ id }) => id),
    complete,
    runs: trials.runs,
    bound: runs,
    followThrough: followThrough(prepared, result, base, named, trials),
  };
}

/** What a cause explains: what fails without its repair, and what it alone wins back. */
function told(
  base: Earned,
  best: Earned,
  alone: Earned | undefined,
  without: Earned | undefined,
): { explains: string[]; took: number; mark: number } {
  const explains = base.requirements.flatMap(({ id, points }, at) => {
    const isWonAlone = alone !== undefined && alone.requirements[at]!.points > points;
    const isLostWithout = without !== undefined && without.requirements[at]!.points < best.requirements[at]!.points;
    return isWonAlone || isLostWithout ? [id] : [];
  });
  const took = without ? best.sum - without.sum : alone ? alone.sum - base.sum : 0;
  return { explains, took: Math.max(0, Math.round(took * 100) / 100), mark: (alone ?? base).points };
}

/** All that could be otherwise, each by itself and where it is the same mistake at several, together. */
function changesOf({ reference, lab }: PreparedLab, model: NetworkModel, plan: Plan, result: CheckResult): Change[] {
  const { matching, changes: names } =
    lab.policy.names === 'exact'
      ? byNames(reference, model, result.matching)
      : { matching: result.matching, changes: [] };
  const translation = new Translation(reference, model, matching);
  const own = [
    ...names,
    ...(reference.instances.size ? [...byReference(translation, matching), ...bySubnets(translation)] : []),
    ...byProblems(model, plan, lab.brief),
    ...bySiblings(model).filter(({ places }) => !translation.roles.has(places[0]?.device ?? '')),
  ];
  const alike = new Map<string, Change[]>();
  for (const change of own)
    if (change.alike !== null) {
      const key = `${change.source} ${change.alike}`;
      alike.set(key, [...(alike.get(key) ?? []), change]);
    }
  return [...[...alike.values()].filter((list) => list.length > 1).map(together), ...own];
}
