import { type LatePenalty, latePenalty, type Policy } from '@sobrin/core/spec';
import { type EntityManager } from 'typeorm';
import { type Assignment } from '../assignments/assignment.entity';
import { Submission } from '../submissions/submission.entity';
import { newestChecks } from './newest-checks';

/** An attempt without what was handed in. */
export type Attempt = Pick<Submission, 'id' | 'studentId' | 'attempt' | 'handedInAt' | 'late'>;

/**
 * What lateness takes off an attempt; null where it is in time, or not checked yet. A due date that is set earlier afterwards
 * makes nobody late who was not; one that is set later takes nothing off any more.
 */
export const penaltyOf = (
  policy: Policy,
  { dueAt }: Pick<Assignment, 'dueAt'>,
  attempt: Pick<Attempt, 'handedInAt' | 'late'> | undefined,
  check: { points: number } | undefined,
): LatePenalty | null => (attempt?.late && check ? latePenalty(policy, dueAt, attempt.handedInAt, check.points) : null);

/**
 * Of one student's attempts, given in their order, the one that counts: the last one, or as the lab says the best that is
 * checked, of equal ones the later. Undefined where there is none.
 */
export function countingOf<A extends Attempt>(
  attempts: readonly A[],
  checks: ReadonlyMap<string, { points: number }>,
  policy: Policy,
  assignment: Pick<Assignment, 'dueAt'>,
): A | undefined {
  if (policy.counts !== 'best') return attempts.at(-1);
  let best: { attempt: A; mark: number } | undefined;
  for (const attempt of attempts) {
    const check = checks.get(attempt.id);
    if (!check) continue;
    const mark = check.points - (penaltyOf(policy, assignment, attempt, check)?.points ?? 0);
    if (!best || mark >= best.mark) best = { attempt, mark };
  }
  return best?.attempt ?? attempts.at(-1);
}

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
 * @param all the attempts of the class, where they are known already
 */
export async function countingAttempts(
  manager: EntityManager,
  assignment: Assignment,
  policy: Policy,
  all?: ReadonlyMap<string, Attempt[]>,
): Promise<ReadonlyMap<string, Attempt & { attempts: number }>> {
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
      const counting = countingOf(attempts, checks, policy, assignment)!;
      return [student, { ...counting, attempts: attempts.length }];
    }),
  );
}

/** The attempts that must be judged for what counts to be known: the last of each student, or all of them. */
export const toBeJudged = (all: ReadonlyMap<string, Attempt[]>, { counts }: Policy): Attempt[] =>
  [...all.values()].flatMap((attempts) => (counts === 'best' ? attempts : attempts.slice(-1)));
