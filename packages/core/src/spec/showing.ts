import { type CheckResult, type RequirementResult, type Verdict } from './result';
import { type Place } from './rule';
import { givenBack } from './score';
import { type Policy } from './schema';

export type Shown = Required<NonNullable<Policy['shown']>>;
/** Where a lab says nothing: points, as soon as there are any. */
export const SHOWN_AT_FIRST: Shown = { what: 'points', strength: 'that', when: 'at-once' };
export const shownBy = ({ shown }: Policy): Shown => ({ ...SHOWN_AT_FIRST, ...shown });

/**
 * What a student may see of a result at a moment. Until marks can be given back, `when-returned` is as `after-due`; a lab
 * that is never due shows nothing after it is.
 */
export function shownNow(policy: Policy, dueAt: Date | null, now: Date): Shown['what'] {
  const { what, when } = shownBy(policy);
  return when === 'at-once' || (dueAt !== null && now > dueAt) ? what : 'nothing';
}

/** A requirement as its student sees it. */
export interface Finding {
  /** Which of the result's sections it belongs to, from 0. */
  section: number;
  /** Null for a result that was made before sentences were told for students. */
  sentence: string | null;
  points: number;
  of: number;
  bonus: boolean;
  /** Whether its points are taken off. */
  deduction?: boolean;
  verdict: Verdict;
  /** Where it is not met: what the spec says of it that tells most of what may be told. */
  hint?: string;
  /** Where in the student's own drawing and plan something is lost or open; absent where only *that* is shown. */
  places?: Place[];
  /** What was found out about each; absent where less is shown. */
  items?: { text: string; met: boolean | null; places: Place[] }[];
}

/**
 * What a student may read of a result: of each requirement its sentence, points, verdict and hint; with *where* also the places
 * in their own drawing; with *what* also the texts of its items. Whom of the reference a device stands for, how sure that
 * is, and what else the spec holds never goes out.
 */
export function findingsFor(
  { sections, requirements, forStudents }: CheckResult,
  strength: Shown['strength'],
): Finding[] {
  const ids = sections.map(({ id }) => id);
  return requirements.map(
    ({ section, sentence, theirSentence, points, of, bonus, deduction, verdict, hints, items }) => ({
      section: ids.indexOf(section),
      sentence: forStudents ? (theirSentence ?? sentence) : null,
      points,
      of,
      bonus,
      ...(deduction && { deduction }),
      verdict,
      ...hintOf(verdict, hints, strength),
      ...(strength !== 'that' && {
        places: distinct(items.flatMap(({ met, places }) => (met === true ? [] : places))),
      }),
      ...(strength === 'what' &&
        forStudents && {
          items: items.map(({ text, theirText, met, places }) => ({ text: theirText ?? text, met, places })),
        }),
    }),
  );
}

/** Mistakes that counted once, as their student may read of them. */
export interface CountedOnce {
  /** The points that are given back for what followed from them. */
  back: number;
  /** Each with what it costs; where it is, or what is wrong, as far as that is told. */
  mistakes: { cost: number; text?: string; places?: Place[] }[];
}

/**
 * What a student may read of the mistakes that counted once; undefined where there are none. What is wrong waits as long as
 * it may still be put right.
 *
 * @param mayCorrect whether the student may hand in once more
 */
export function countedOnce(
  { diagnosis, requirements }: Pick<CheckResult, 'diagnosis' | 'requirements'>,
  strength: Shown['strength'],
  mayCorrect: boolean,
): CountedOnce | undefined {
  const back = diagnosis ? givenBack(diagnosis.followThrough, requirements) : 0;
  if (!diagnosis || back <= 0) return undefined;
  const told = strength === 'what' && mayCorrect ? 'where' : strength;
  return {
    back,
    mistakes: diagnosis.followThrough.costs.map(({ letter, cost }) => {
      const cause = diagnosis.causes.find((each) => each.letter === letter);
      if (!cause || told === 'that') return { cost };
      return { cost, text: told === 'what' ? cause.theirText : cause.where, places: cause.places };
    }),
  };
}

/** How much a hint or a finding tells, the least first. */
export const STRENGTHS = ['that', 'where', 'what'] as const;
function hintOf(
  verdict: Verdict,
  hints: RequirementResult['hints'],
  strength: Shown['strength'],
): Pick<Finding, 'hint'> {
  const told = STRENGTHS.slice(0, STRENGTHS.indexOf(strength) + 1).flatMap((each) => hints?.[each] ?? []);
  const hint = verdict === 'lost' || verdict === 'partly' ? told.at(-1) : undefined;
  return hint === undefined ? {} : { hint };
}

const distinct = (places: readonly Place[]): Place[] => [
  ...new Map(places.map((place) => [JSON.stringify(place), place])).values(),
];

/** What lateness takes off the points that an attempt won. */
export interface LatePenalty {
  /** Begun times of 24 hours after the due instant. */
  days: number;
  percent: number;
  /** Taken off, in points. */
  points: number;
}

/** What is taken off the points that an attempt won: first for hints, then for lateness of what is left. */
export interface Penalty {
  /** Both together. */
  points: number;
  /** Null where none was asked for. */
  hints: { count: number; points: number } | null;
  /** Null where it was in time. */
  late: LatePenalty | null;
}

/** A hint that a student asked for, with what they were told that it costs. */
export interface AskedHint {
  readonly at: Date;
  readonly cost: number;
}

const DAY_MS = 86_400_000;
const hundredths = (points: number): number => Math.round(points * 100) / 100;

/**
 * What is taken off the points of an attempt: for the hints that were asked for before it was handed in, at most all of
 * them; then for lateness. Null where nothing is.
 *
 * @param late whether the attempt was late when it was handed in
 */
export function penaltyFor(
  policy: Policy,
  dueAt: Date | null,
  { handedInAt, late }: { readonly handedInAt: Date; readonly late: boolean },
  points: number,
  asked: readonly AskedHint[],
): Penalty | null {
  const before = asked.filter(({ at }) => at <= handedInAt);
  const cost = hundredths(before.reduce((sum, each) => sum + each.cost, 0));
  const hints = before.length ? { count: before.length, points: Math.max(0, Math.min(cost, points)) } : null;
  const left = points - (hints?.points ?? 0);
  const lateness = late ? latePenalty(policy, dueAt, handedInAt, left) : null;
  return hints || lateness
    ? { points: hundredths((hints?.points ?? 0) + (lateness?.points ?? 0)), hints, late: lateness }
    : null;
}

/**
 * For each begun 24 hours after the due instant, per cent of the points that this attempt won, and at most `most` of them
 * (100 where nothing is said). Null where the attempt is in time, or the lab takes nothing off.
 */
export function latePenalty(
  { latePenalty: rule }: Policy,
  dueAt: Date | null,
  handedInAt: Date,
  points: number,
): LatePenalty | null {
  if (!rule || dueAt === null || handedInAt <= dueAt) return null;
  const days = Math.ceil((handedInAt.getTime() - dueAt.getTime()) / DAY_MS);
  const percent = Math.min(days * rule.percentPerDay, rule.most ?? 100);
  return { days, percent, points: Math.round(points * percent) / 100 };
}
