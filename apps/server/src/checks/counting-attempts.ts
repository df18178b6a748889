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
 * Of one student's attempts, given in their order, the one that counts: the last one, or as the lab says the best that is
 * checked, of equal ones the later. Undefined where there is none.
 */
export function countingOf<A extends Attempt>(
  attempts: readonly A[],
  checks: ReadonlyMap<string, { points: number }>,
  marking: Marking,
): A | undefined {
  if (marking.policy.counts !== 'best') return attempts.at(-1);
  let best: { attempt: A; mark: number } | undefined;
  for (const attempt of attempts) {
    const check = checks.get(attempt.id);
    if (!check) continue;
    const mark = check.points - (penaltyOf(marking, attempt, check)?.points ?? 0);
    if (!best || mark >= best.mark) best = { attempt, mark };
  }
  return best?.attempt ?? attempts.at(-1);
}

/** The hints that students asked for, by assignment and student; of one student only where one is named. */
export async function hintsOf(
  manager: EntityManager,
  assignments: readonly string[],
  student: string | null = null,
): Promise<ReadonlyMap<string, Marking['hints']>> {
  const rows = await manager.query<{ assignment: string; student: string; at: Date; cost: number }[]>(
    `SELECT work.assignment_id AS assignment, work.student_id AS student, hint.at, hint.cost
       FROM asked_hint hint JOIN work ON work.id = hint.work_id
      WHERE work.assignment_id = ANY($1) AND ($2::uuid IS NULL OR work.student_id = $2)`,
    [assignments, student],
  );
  const found = new Map<string, Map<string, AskedHint[]>>();
  for (const { assignment, student: who, at, cost } of rows) {
    const own = found.get(assignment) ?? new Map<string, AskedHint[]>();
    found.set(assignment, own.set(who, [...(own.get(who) ?? []), { at, cost }]));
  }
  return found;
}

/** By what the marks of an assignment are worked out; those of one student where one is named. */
export const markingOf = async (
  manager: EntityManager,
  { id, dueAt }: Pick<Assignment, 'id' | 'dueAt'>,
  policy: Policy,
  student: string | null = null,
): Promise<Marking> => ({
  policy,
  dueAt,
  hints: (await hintsOf(manager, [id], student)).get(id) ?? new Map<string, never>(),
});

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

/** The attempts that must be judged for what counts to be known: the last of each student, or all of them. */
export const toBeJudged = (all: ReadonlyMap<string, Attempt[]>, { counts }: Policy): Attempt[] =>
  [...all.values()].flatMap((attempts) => (counts === 'best' ? attempts : attempts.slice(-1)));
