import { type TriesView } from '@sobrin/contracts';
import { type Policy, type Spec, type Tried, settledAnswer, triableTasks } from '@sobrin/core/spec';
import { type EntityManager } from 'typeorm';
import { TriedAnswer, type Work } from './submission.entity';

/** The answers of a work that were tried, by task, in their order. */
export async function triedIn(manager: EntityManager, { id: workId }: Work): Promise<ReadonlyMap<string, Tried[]>> {
  const rows = await manager.find(TriedAnswer, { where: { workId }, order: { at: 'ASC', id: 'ASC' } });
  const tried = new Map<string, Tried[]>();
  for (const { task, answer, right } of rows) tried.set(task, [...(tried.get(task) ?? []), { answer, right }]);
  return tried;
}

/** The answers that hold, since all tries of their tasks are used: by task. */
export async function settledIn(
  manager: EntityManager,
  work: Work,
  { tries }: Pick<Policy, 'tries'>,
): Promise<Record<string, string>> {
  if (tries === undefined) return {};
  return Object.fromEntries(
    [...(await triedIn(manager, work))].flatMap(([task, tried]): [string, string][] => {
      const settled = settledAnswer(tried, tries);
      return settled === undefined ? [] : [[task, settled]];
    }),
  );
}

/** What a student tried, and may still try; null where the lab lets nobody try, or asks for nothing that can be. */
export async function triesOf(
  manager: EntityManager,
  work: Work,
  { tries: most }: Pick<Policy, 'tries'>,
  spec: Spec,
): Promise<TriesView | null> {
  const tasks = triableTasks(spec);
  if (most === undefined || !tasks.length) return null;
  const all = await triedIn(manager, work);
  return {
    most,
    tasks: Object.fromEntries(
      tasks.map((task) => {
        const tried = all.get(task) ?? [];
        const view = { used: tried.length, last: tried.at(-1) ?? null, settled: settledAnswer(tried, most) ?? null };
        return [task, view];
      }),
    ),
  };
}
