import { type CheckResult } from './result';
import { givenBack, total } from './score';
import { type Penalty } from './showing';

/** One step to a mark, with what it adds or takes off. */
export interface MarkLine {
  readonly what:
    | 'requirements'
    | 'followThrough'
    | 'decisions'
    | 'deductions'
    | 'bonus'
    | 'sections'
    | 'rounding'
    | 'hints'
    | 'late';
  readonly points: number;
  /** how many requirements or hints it is about, or days of lateness; absent where it is about none. */
  readonly count?: number;
}

/**
 * How a mark comes about, in the order in which it is worked out: what was judged, what is given back of it, what persons decided, what is taken off,
 * what is earned beyond the total, that no section goes below 0, the rounding, the hints that were asked for, the lateness. Steps that change nothing are
 * left out but for the first. The points of all of them together are the mark.
 */
export function markLines(
  {
    points,
    sections,
    requirements,
    diagnosis,
  }: Pick<CheckResult, 'points' | 'sections' | 'requirements' | 'diagnosis'>,
  penalty: Penalty | null,
): MarkLine[] {
  const kinds = {
    requirements: requirements.filter(({ bonus, deduction, decided }) => !bonus && !deduction && !decided),
    decisions: requirements.filter(({ bonus, deduction, decided }) => !bonus && !deduction && decided),
    deductions: requirements.filter(({ deduction }) => deduction),
    bonus: requirements.filter(({ bonus }) => bonus),
  } as const;
  const lines = (['requirements', 'decisions', 'deductions', 'bonus'] as const).map((what): MarkLine => {
    // What is not found takes nothing off.
    const own = what === 'requirements' ? kinds[what] : kinds[what].filter((each) => each.points !== 0 || each.decided);
    return { what, points: total(own, (each) => each.points), count: own.length };
  });
  const raw = total(lines, (line) => line.points);
  const sum = total(sections, (section) => section.points);
  const all = total(
    requirements.filter(({ bonus, deduction, verdict }) => !bonus && !deduction && verdict !== 'notApplying'),
    ({ of }) => of,
  );
  // No more than what is left to earn is given back.
  const back = diagnosis ? Math.max(0, Math.min(givenBack(diagnosis.followThrough, requirements), all - sum)) : 0;
  lines.splice(1, 0, { what: 'followThrough', points: back, count: back ? diagnosis!.followThrough.costs.length : 0 });
  const more: MarkLine[] = [
    { what: 'sections', points: total([sum, -raw], (each) => each) },
    { what: 'rounding', points: total([points, -sum, -back], (each) => each) },
    ...(penalty?.hints ? [{ what: 'hints' as const, points: -penalty.hints.points, count: penalty.hints.count }] : []),
    ...(penalty?.late ? [{ what: 'late' as const, points: -penalty.late.points, count: penalty.late.days }] : []),
  ];
  return [
    ...lines.filter(({ what, count }) => what === 'requirements' || count),
    ...more.filter((line) => line.points !== 0),
  ];
}
