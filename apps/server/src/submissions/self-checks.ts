import { type SelfChecksView } from '@sobrin/contracts';
import { type Policy } from '@sobrin/core/spec';
import { type EntityManager } from 'typeorm';
import { SelfCheckRecord, type Work } from './submission.entity';

/** How often a student has asked, and what was told last; null where the lab tells nothing. */
export async function selfChecksOf(
  manager: EntityManager,
  { id: workId }: Work,
  { selfChecks }: Pick<Policy, 'selfChecks'>,
): Promise<SelfChecksView | null> {
  if (!selfChecks) return null;
  const [records, used] = await manager.findAndCount(SelfCheckRecord, {
    where: { workId },
    order: { at: 'DESC' },
    take: 1,
  });
  const [last] = records;
  return { most: selfChecks.most, used, last: last ? { ...last.told, at: last.at.toISOString() } : null };
}
