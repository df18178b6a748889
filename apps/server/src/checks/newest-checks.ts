import { type EntityManager, In } from 'typeorm';
import { CheckRecord } from './check.entity';

/** The newest check of each submission that has one. */
export async function newestChecks(
  manager: EntityManager,
  submissionIds: readonly string[],
): Promise<Map<string, CheckRecord>> {
  const records = await manager.find(CheckRecord, {
    where: { submissionId: In([...submissionIds]) },
    order: { madeAt: 'ASC' },
  });
  return new Map(records.map((record) => [record.submissionId, record]));
}
