import { type AskedView } from '@sobrin/contracts';
import { type EntityManager, LessThanOrEqual } from 'typeorm';
import { AskedHintRecord, type Submission, TriedAnswer, Work } from './submission.entity';

/** What a student tried, and which hints they asked for, before an attempt was handed in. */
export async function askedBefore(
  manager: EntityManager,
  { assignmentId, studentId, handedInAt }: Pick<Submission, 'assignmentId' | 'studentId' | 'handedInAt'>,
): Promise<AskedView> {
  const work = await manager.findOneBy(Work, { assignmentId, studentId });
  if (!work) return { tried: [], hints: [] };
  const [where, order] = [
    { workId: work.id, at: LessThanOrEqual(handedInAt) },
    { at: 'ASC', id: 'ASC' },
  ] as const;
  const tried = await manager.find(TriedAnswer, { where, order });
  const hints = await manager.find(AskedHintRecord, { where, order });
  return {
    tried: tried.map(({ task, answer, right }) => ({ task, answer, right })),
    hints: hints.map(({ requirement, text, cost }) => ({ requirement, text, cost })),
  };
}
