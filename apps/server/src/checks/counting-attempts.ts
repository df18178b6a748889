import { type AskedHint, type Penalty, type Policy, penaltyFor } from '@sobrin/core/spec';
import { type EntityManager } from 'typeorm';
import { type Assignment } from '../assignments/assignment.entity';
import { Submission } from '../submissions/submission.entity';
import { newestChecks } from './newest-checks';

/** An attempt without what was handed in. */
export type Attempt = Pick<Submission, 'id' | 'studentId' | 'attempt' | 'handedInAt' | 'late'>;

/** By what a mark is worked out besides what was judged. */
export interface Marking {
  readonly policy: Policy;
  readonly dueAt: Date | null;
  /** The hints that each student asked for. */
  readonly hints: ReadonlyMap<string, readonly AskedHint[]>;
  /** The attempt that each student chose to count. */
  readonly chosen: ReadonlyMap<string, string>;
}

/**
 * What hints and lateness take off an attempt; null where nothing is, or it is not checked yet. A due date that is set
 * earlier afterwards makes nobody late who was not; one that is set later takes nothing off any more.
 */
export const penaltyOf = (
  { policy, dueAt, hints }: Marking,
  attempt: Pick<Attempt, 'studentId' | 'handedInAt' | 'late'> | undefined,
  check: { points: number } | undefined,
): Penalty | null =>
  attempt && check ? penaltyFor(policy, dueAt, attempt, check.points, hints.get(attempt.studentId) ?? []) : null;

/**
 * Of one student's attempts, given in their order, the one that counts: the last one; or as the lab says the one that the
 * student chose, else the last; or the best that is checked, of equal ones the later. Undefined where there is none.
 */
export function countingOf<A extends Attempt>(
  attempts: readonly A[],
  checks: ReadonlyMap<string, { points: number }>,
  marking: Marking,
): A | undefined {
  const { counts = 'last' } = marking.policy;
  if (counts === 'chosen')
    return attempts.find(({ id, studentId }) => marking.chosen.get(studentId) === id) ?? attempts.at(-1);
  if (counts === 'last') return attempts.at(-1);
  let best: { attempt: A; mark: number } | undefined;
  for (const attempt of attempts) {
    const check = checks.get(attempt.id);
    if (!check) continue;
    const mark = check.points - (penaltyOf(marking, attempt, check)?.points ?? 0);
    if (!best || mark >= best.mark) best = { attempt, mark };
  }
  return best?.attempt ?? attempts.at(-1);
}

/** By what the marks of some assignments are worked out, by their ids; those of one student where one is named. */
export async function markingsOf(
  manager: EntityManager,
  assignments: readonly (Pick<Assignment, 'id' | 'dueAt'> & { policy: Policy })[],
  student: string | null = null,
): Promise<ReadonlyMap<string, Marking>> {
  const markings = new Map(
    assignments.map(({ id, dueAt, policy }) => [
      id,
      { policy, dueAt, hints: new Map<string, AskedHint[]>(), chosen: new Map<string, string>() },
    ]),
  );
  const works = await manager.query<
    { assignment: string; student: string; chosen: string | null; hints: Hint[] | null }[]
  >(
    `SELECT work.assignment_id AS assignment, work.student_id AS student, work.chosen_id AS chosen, asked.hints
       FROM work LEFT JOIN LATERAL (
         SELECT json_agg(json_build_object('at', at, 'cost', cost)) AS hints FROM asked_hint WHERE work_id = work.id
       ) asked ON true
      WHERE work.assignment_id = ANY($1) AND ($2::uuid IS NULL OR work.student_id = $2)
        AND (work.chosen_id IS NOT NULL OR asked.hints IS NOT NULL)`,
    [[...markings.keys()], student],
  );
  for (const { assignment, student: who, chosen, hints } of works) {
    const marking = markings.get(assignment)!;
    if (chosen !== null) marking.chosen.set(who, chosen);
    if (hints)
      marking.hints.set(
        who,
        hints.map(({ at, cost }) => ({ at: new Date(at), cost })),
      );
  }
  return markings;
}
interface Hint {
  at: string;
  cost: number;
}

/** By what the marks of an assignment are worked out; those of one student where one is named. */
export const markingOf = async (
  manager: EntityManager,
  { id, dueAt }: Pick<Assignment, 'id' | 'dueAt'>,
  policy: Policy,
  student: string | null = null,
): Promise<Marking> => (await markingsOf(manager, [{ id, dueAt, policy }], student)).get(id)!;

/** All attempts of a class in their order, by student. */
export async function attemptsOf(
  manager: EntityManager,
  { id: assignmentId }: Assignment,
): Promise<ReadonlyMap<string, Attempt[]>> {
  const all = await manager.find(Submission, {
    where: { assignmentId },
    select: { id: true, studentId: true, attempt: true, handedInAt: true, late: true },
    order: { attempt: 'ASC' },
  });
  const attempts = new Map<string, Attempt[]>();
  for (const attempt of all) attempts.set(attempt.studentId, [...(attempts.get(attempt.studentId) ?? []), attempt]);
  return attempts;
}

/**
 * By student, the attempt that counts, with how many there are.
 *
 * @param known the attempts of the class, and what marks are worked out by, where they are known already
 */
export async function countingAttempts(
  manager: EntityManager,
  assignment: Assignment,
  policy: Policy,
  known: { all?: ReadonlyMap<string, Attempt[]>; marking?: Marking } = {},
): Promise<ReadonlyMap<string, Attempt & { attempts: number }>> {
  const marking = known.marking ?? (await markingOf(manager, assignment, policy));
  let { all } = known;
  all ??= await attemptsOf(manager, assignment);
  const checks =
    policy.counts === 'best'
      ? await newestChecks(
          manager,
          [...all.values()].flat().map(({ id }) => id),
        )
      : new Map<string, never>();
  return new Map(
    [...all].map(([student, attempts]) => {
      const counting = countingOf(attempts, checks, marking)!;
      return [student, { ...counting, attempts: attempts.length }];
    }),
  );
}

/** The attempts that must be judged for what counts to be known, or chosen: the last of each student, or all of them. */
export const toBeJudged = (all: ReadonlyMap<string, Attempt[]>, { counts }: Policy): Attempt[] =>
  [...all.values()].flatMap((attempts) => ((counts ?? 'last') === 'last' ? attempts.slice(-1) : attempts));
