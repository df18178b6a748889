import { sameValue } from '../../changes';
import { AnalysisSession, type NetworkModel } from '../../engine';
import { type Topology } from '../../topology';
import { type Earned, type PreparedLab, type Submitted, judgeAgain } from '../check';
import { positive } from '../combining';
import { type RoleMatch } from '../matching/match';
import { type Place } from '../rule';
import { ruleKind } from '../rules';
import { kindsIn } from '../evaluate';
import { type RequirementResult } from '../result';
import { type Change, SOURCES } from './change';

/** A drawing with some changes, and what it earns. */
export interface Trial {
  readonly changes: readonly Change[];
  readonly topology: Topology;
  readonly earned: Earned;
}

/** Tries changes of one drawing, each set of them once, and no more than so many. */
export class Trials {
  private readonly known = new Map<string, Trial | null>();
  private readonly judged: ReadonlyMap<string, boolean>;
  private readonly apart: ReadonlySet<string>;
  runs = 0;
  /** The best that was found so far. */
  best: readonly Change[] = [];

  constructor(
    private readonly prepared: PreparedLab,
    private readonly model: NetworkModel,
    private readonly handed: Omit<Submitted, 'drawing'>,
    private readonly matching: readonly RoleMatch[],
    private readonly most: number,
    private readonly isOver: () => boolean,
    private readonly onTried: (runs: number, best: readonly Change[]) => void = () => undefined,
  ) {
    const requirements = prepared.lab.spec.sections.flatMap((section) => section.requirements);
    this.judged = new Map(requirements.map(({ id, rule }) => [id, kindsIn(rule).every((kind) => !isForPersons(kind))]));
    this.apart = new Set(
      requirements.filter(({ rule }) => positive(rule).some(({ kind }) => kind === 'apart')).map(({ id }) => id),
    );
  }

  get isSpent(): boolean {
    return this.runs >= this.most || this.isOver();
  }

  /**
   * What the drawing earns with these changes; null where they do not go together, or no more may be tried.
   *
   * @param isFound whether they were found already: what they come to is worked out beyond the bound, too
   */
  of(changes: readonly Change[], isFound = false): Trial | null {
    const key = changes
      .map(({ thing, repair }) => `${thing}\n${repair.join('\n')}`)
      .sort()
      .join('\n\n');
    const known = this.known.get(key);
    if (known !== undefined) return known;
    if (this.isSpent && changes.length && !isFound) return null;
    const trial = this.tried(changes);
    this.known.set(key, trial);
    return trial;
  }

  private tried(changes: readonly Change[]): Trial | null {
    const session = AnalysisSession.from(this.model);
    for (const { commands } of changes) for (const command of commands) if (!session.apply(command).ok) return null;
    this.runs++;
    this.onTried(this.runs, this.best);
    const plays = new Map(changes.flatMap(({ plays = [] }) => plays));
    const gone = new Set(
      plays.size || changes.some(({ sort, what }) => sort === 'devices' && what === 'extra')
        ? this.matching.flatMap(({ device }) => (device !== null && !session.model.instances.has(device) ? device : []))
        : [],
    );
    const matching = this.matching.map((match): RoleMatch => {
      const device = plays.get(match.role);
      if (device !== undefined) return { ...match, device };
      return match.device !== null && gone.has(match.device) ? { ...match, device: null } : match;
    });
    return {
      changes,
      topology: session.topology,
      earned: judgeAgain(this.prepared, session.model, this.handed, matching),
    };
  }

  /** Whether some of it is judged by nothing but the drawing, and costs points. */
  isFailing(requirement: RequirementResult): boolean {
    const { id, verdict, of, points, waitsFor } = requirement;
    if (!this.judged.get(id) || verdict === 'notApplying' || waitsFor) return false;
    return requirement.deduction ? points < 0 : points < of;
  }

  /** Whether a separation that held is lost by it. */
  losesSeparation(before: Earned, after: Earned): boolean {
    return after.requirements.some(
      ({ id, points }, at) => this.apart.has(id) && points < before.requirements[at]!.points,
    );
  }
}
const isForPersons = (kind: string): boolean => ['questions', 'signOff'].includes(ruleKind(kind)?.family ?? '');

/** A change with how it did beside others. */
interface Candidate {
  readonly change: Change;
  readonly trial: Trial;
  readonly gain: number;
}

/** A change that is part of the best set, with others that would do as well in its place. */
export interface Found {
  readonly change: Change;
  readonly instead: readonly Change[];
}

/** More mistakes than these are not told apart. */
const MOST_CAUSES = 8;
/** So many that gain nothing by themselves are tried together. */
const MOST_TOGETHER = 40;

const gainOf = (before: Earned, after: Earned): number => Math.round((after.sum - before.sum) * 100) / 100;

/**
 * The fewest changes after which a drawing earns most. First each by itself, the best one stays, and so on; what nothing
 * mends by itself is mended by all together, of which as many are taken away again as it goes.
 */
export function search(trials: Trials, changes: readonly Change[]): { found: Found[]; best: Trial } {
  const base = trials.of([])!;
  let current = base;
  const found: Found[] = [];
  while (found.length < MOST_CAUSES) {
    trials.best = found.map(({ change }) => change);
    const failing = current.earned.requirements.filter((requirement) => trials.isFailing(requirement));
    if (!failing.length || trials.isSpent) break;
    const taken = found.map(({ change }) => change);
    const free = changes.filter((change) => !taken.some((each) => excludes(each, change)));
    const ranked = byRelevance(free, failing);
    const tried = ranked.flatMap(({ change }): Candidate[] => {
      const trial = trials.of([...taken, change]);
      const gain = trial ? gainOf(current.earned, trial.earned) : 0;
      if (!trial || gain <= 0 || (change.opens && trials.losesSeparation(current.earned, trial.earned))) return [];
      return [{ change, trial, gain }];
    });
    const [first] = tried.sort((one, other) => other.gain - one.gain || compare(one.change, other.change));
    if (first) {
      found.push({ change: first.change, instead: insteadOf(first, tried) });
      current = first.trial;
      continue;
    }
    const several = severalFor(
      trials,
      taken,
      current,
      ranked.map(({ change }) => change),
      failing,
    );
    if (!several) break;
    found.push(...several.changes.map((change): Found => ({ change, instead: [] })));
    current = several.trial;
  }
  return minimised(trials, found, current);
}

/** Others that gain the same for as little, and make another drawing of it. */
const insteadOf = (first: Candidate, tried: readonly Candidate[]): Change[] =>
  tried
    .filter(
      ({ change, gain, trial }) =>
        change !== first.change &&
        gain === first.gain &&
        change.fields <= first.change.fields &&
        change.members <= first.change.members &&
        !sameValue(trial.topology, first.trial.topology),
    )
    .map(({ change }) => change)
    .slice(0, 4);

/** Two changes of one thing, or of something in it, are not made together. */
const excludes = (one: Change, other: Change): boolean => {
  const parts = (thing: string): string[] => thing.split(' & ');
  return parts(one.thing).some((part) => parts(other.thing).includes(part));
};

/** Which of two changes is the likelier mistake: the smaller one, the one better known, never one that opens before one that does not. */
function compare(one: Change, other: Change): number {
  const order = ({ opens, leftOut, what, source, fields, members }: Change): number[] => [
    Number(opens),
    fields,
    SOURCES.indexOf(source),
    Number(leftOut),
    Number(what === 'extra'),
    members,
  ];
  const [a, b] = [order(one), order(other)];
  const at = a.findIndex((value, nth) => value !== b[nth]);
  return at < 0 ? (one.thing < other.thing ? -1 : 1) : a[at]! - b[at]!;
}

/** What failing requirements read goes first; what none of them looked at goes last, and stays. */
function byRelevance(
  changes: readonly Change[],
  failing: readonly RequirementResult[],
): { change: Change; relevance: number }[] {
  const read = new Map<string, number>();
  const put = (key: string, n: number): void => void read.set(key, (read.get(key) ?? 0) + n);
  for (const { items } of failing)
    for (const { met, dependsOn = [], places } of items)
      if (met !== true) {
        for (const place of [...dependsOn, ...places]) for (const key of keysOf(place)) put(key, 1);
      }
  return changes
    .map((change) => ({
      change,
      relevance:
        change.places.flatMap(keysOf).reduce((sum, key) => sum + (read.get(key) ?? 0), change.places.length ? 0 : 0.5) /
        change.members,
    }))
    .sort((a, b) => b.relevance - a.relevance || compare(a.change, b.change));
}
function keysOf({ device, port, link }: Place): string[] {
  return [
    ...(device === undefined ? [] : [`device ${device}`]),
    ...(device === undefined || port === undefined ? [] : [`port ${device} ${port}`]),
    ...(link === undefined ? [] : [`link ${link}`]),
  ];
}

/** Changes that win something only together, as few as it goes; null where none do. */
function severalFor(
  trials: Trials,
  taken: readonly Change[],
  current: Trial,
  ranked: readonly Change[],
  failing: readonly RequirementResult[],
): { changes: Change[]; trial: Trial } | null {
  const together: Change[] = [];
  for (const change of ranked)
    if (together.length < MOST_TOGETHER && !change.opens && !together.some((each) => excludes(each, change)))
      together.push(change);
  if (together.length < 2) return null;
  const all = trials.of([...taken, ...together]);
  if (!all) return null;
  const won = failing.filter(({ id }) => pointsOf(all.earned, id) > pointsOf(current.earned, id));
  const [first] = won;
  if (!first) return null;
  const wanted = pointsOf(all.earned, first.id);
  const wins = (changes: readonly Change[]): boolean => {
    const trial = trials.of([...taken, ...changes]);
    return trial !== null && pointsOf(trial.earned, first.id) >= wanted && gainOf(current.earned, trial.earned) > 0;
  };
  if (!wins(together)) return null;
  const changes = fewest(together, wins);
  const trial = trials.of([...taken, ...changes]);
  return trial && changes.length ? { changes, trial } : null;
}
const pointsOf = ({ requirements }: Earned, id: string): number => requirements.find((each) => each.id === id)!.points;

/** A smallest part of a list that still does, by halves (Junker, QuickXplain, AAAI 2004). */
function fewest(all: readonly Change[], does: (part: readonly Change[]) => boolean): Change[] {
  const explain = (base: readonly Change[], part: readonly Change[], isNew: boolean): Change[] => {
    if (isNew && does(base)) return [];
    if (part.length === 1) return [...part];
    const half = Math.ceil(part.length / 2);
    const [one, other] = [part.slice(0, half), part.slice(half)];
    const second = explain([...base, ...one], other, one.length > 0);
    const first = explain([...base, ...second], one, second.length > 0);
    return [...first, ...second];
  };
  return explain([], all, false);
}

/** Takes away again what the others do without it. */
function minimised(trials: Trials, found: readonly Found[], best: Trial): { found: Found[]; best: Trial } {
  let left = [...found];
  let trial = best;
  if (left.length > 1)
    for (const each of [...found].reverse()) {
      const others = left.filter((other) => other !== each);
      const without = trials.of(others.map(({ change }) => change));
      if (without && without.earned.sum >= trial.earned.sum) [left, trial] = [others, without];
    }
  // What is another part of the set stands for nothing else.
  const parts = new Set(left.map(({ change }) => change));
  return {
    found: left.map(({ change, instead }) => ({ change, instead: instead.filter((other) => !parts.has(other)) })),
    best: trial,
  };
}
