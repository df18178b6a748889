import { type NetworkModel, analyse } from '../../engine';
import { type Plan, emptyPlan } from '../../plan';
import { type Earned, type PreparedLab, type Submitted } from '../check';
import { type CheckResult } from '../result';
import { type Sureness } from '../matching/match';
import { type Place } from '../rule';
import { byProblems } from './by-problems';
import { byReference } from './by-reference';
import { bySiblings } from './by-siblings';
import { bySubnets } from './by-subnets';
import { type Change, together, whereOf } from './change';
import { Trials, search } from './search';
import { Translation } from './translation';
import { type FollowThrough, followThrough } from './follow-through';

/** One mistake behind what failed. */
export interface Cause {
  /** A, B, C … */
  readonly letter: string;
  /** What is wrong and what it should be. */
  readonly text: string;
  /** Where to look, without what it should be. */
  readonly where: string;
  /** The mistaken thing itself. */
  readonly places: readonly Place[];
  readonly repair: { readonly texts: readonly string[]; readonly commands: Change['commands'] };
  /** The requirements that fail by it, in their order. */
  readonly explains: readonly string[];
  /** The points that it took, as they come back where it alone is repaired beside the others. */
  readonly took: number;
  /** Other repairs that would win back as much for as little. */
  readonly alternatives: readonly { readonly text: string; readonly repair: readonly string[] }[];
  readonly sure: Sureness;
  /** What sort of thing became what, the same in any submission. */
  readonly sort: string;
}

/** The mistakes behind a result. */
export interface Diagnosis {
  readonly causes: readonly Cause[];
  /** Requirements that cost points and that no repair wins back. */
  readonly unexplained: readonly string[];
  /** Whether the search came to its end within its bound. */
  readonly complete: boolean;
  /** How many drawings were tried, and how many could be. */
  readonly runs: number;
  readonly bound: number;
  readonly followThrough: FollowThrough;
}

/** So many drawings are tried where a lab does not say otherwise. */
export const MOST_RUNS = 240;

/** What ends a search before its bound; whoever lets it end by time gets `complete: false`. */
export interface Bounds {
  /** Drawings that may be tried. */
  readonly runs?: number;
  readonly isOver?: () => boolean;
}

/**
 * Finds the smallest repairs that turn what failed into what holds. In: a lab, what was handed in, and how it was judged.
 * Out: causes, with the letter A for the one that took most. Pure; without `isOver` the same for the same input.
 */
export function diagnose(
  prepared: PreparedLab,
  { drawing, plan = emptyPlan(), ...rest }: Submitted,
  result: CheckResult,
  { runs = MOST_RUNS, isOver = () => false }: Bounds = {},
): Diagnosis {
  const model = analyse(drawing, prepared.reference.options);
  const trials = new Trials(prepared, model, { plan, ...rest }, result.matching, runs, isOver);
  const base = trials.of([])!.earned;
  const isWhole = !base.requirements.some((requirement) => trials.isFailing(requirement));
  const changes = isWhole ? [] : changesOf(prepared, model, plan, result);
  const { found, best } = search(trials, changes);
  const all = found.map(({ change }) => change);
  const causes = found
    .map(({ change, instead }, at) => {
      const alone = trials.of([change])?.earned;
      const without = trials.of(all.filter((_each, nth) => nth !== at))?.earned;
      return { change, instead, ...told(base, best.earned, alone, without) };
    })
    .sort((one, other) => other.took - one.took);
  const named = causes.map(({ change, instead, explains, took }, at): Cause & { change: Change } => ({
    change,
    letter: String.fromCharCode(65 + at),
    text: change.text,
    where: whereOf(change),
    places: change.places,
    repair: { texts: change.repair, commands: change.commands },
    explains,
    took,
    alternatives: instead.map(({ text, repair }) => ({ text, repair })),
    sure: instead.length ? 'likely' : change.source === 'siblings' ? 'unsure' : 'sure',
    sort: `${change.sort} ${change.what}`,
  }));
  const explained = new Set(named.flatMap(({ explains }) => explains));
  return {
    causes: named.map(({ change: _change, ...cause }) => cause),
    unexplained: base.requirements
      .filter((requirement) => trials.isFailing(requirement) && !explained.has(requirement.id))
      .map(({ id }) => id),
    complete: !trials.isSpent,
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
): { explains: string[]; took: number } {
  const explains = base.requirements.flatMap(({ id, points }, at) => {
    const isWonAlone = alone !== undefined && alone.requirements[at]!.points > points;
    const isLostWithout = without !== undefined && without.requirements[at]!.points < best.requirements[at]!.points;
    return isWonAlone || isLostWithout ? [id] : [];
  });
  const took = without ? best.sum - without.sum : alone ? alone.sum - base.sum : 0;
  return { explains, took: Math.max(0, Math.round(took * 100) / 100) };
}

/** All that could be otherwise, each by itself and where it is the same mistake at several, together. */
function changesOf(
  { reference, lab }: PreparedLab,
  model: NetworkModel,
  plan: Plan,
  { matching }: CheckResult,
): Change[] {
  const translation = new Translation(reference, model, matching);
  const own = [
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
