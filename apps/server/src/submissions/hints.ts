import { type HintsView } from '@sobrin/contracts';
import { type Hinted, type Policy, type Spec, hintedIn } from '@sobrin/core/spec';
import { createHash } from 'node:crypto';
import { type EntityManager } from 'typeorm';
import { AskedHintRecord, type Work } from './submission.entity';

/** What a student calls a requirement by that has hints: its id may tell what is asked. */
const keyOf = ({ id }: Work, { requirement }: Hinted): string =>
  createHash('sha256').update(`${id} ${requirement}`).digest('base64url').slice(0, 22);
export const hintedBy = (spec: Spec, work: Work, key: string): Hinted | undefined =>
  hintedIn(spec).find((hinted) => keyOf(work, hinted) === key);

/** The hints that a student may ask for, and those that they did; null where the lab gives none. */
export async function hintsView(
  manager: EntityManager,
  work: Work,
  { hintCost: cost }: Pick<Policy, 'hintCost'>,
  spec: Spec,
): Promise<HintsView | null> {
  const hinted = hintedIn(spec);
  if (cost === undefined || !hinted.length) return null;
  const asked = await manager.find(AskedHintRecord, { where: { workId: work.id }, order: { at: 'ASC', id: 'ASC' } });
  return {
    cost,
    of: hinted.map((each) => {
      const told = asked.filter(({ requirement }) => requirement === each.requirement);
      return {
        key: keyOf(work, each),
        task: each.task ?? null,
        left: Math.max(0, each.hints - told.length),
        told: told.map((hint) => ({ text: hint.text, cost: hint.cost, at: hint.at.toISOString() })),
      };
    }),
  };
}
