import { type EntityManager } from 'typeorm';
import { type Assignment } from '../assignments/assignment.entity';
import { Submission } from '../submissions/submission.entity';

/** The newest attempt of each student, without what was handed in. */
export const newestAttempts = (
  manager: EntityManager,
  { id }: Assignment,
): Promise<Pick<Submission, 'id' | 'studentId' | 'attempt' | 'handedInAt' | 'late'>[]> =>
  manager
    .createQueryBuilder(Submission, 'submission')
    .select(['id', 'studentId', 'attempt', 'handedInAt', 'late'].map((column) => `submission.${column}`))
    .distinctOn(['submission.studentId'])
    .where('submission.assignmentId = :id', { id })
    .orderBy('submission.studentId')
    .addOrderBy('submission.attempt', 'DESC')
    .getMany();
