import { plural } from '../plural';
import { type LabFile } from './schema';

/** What a lab holds that is kept but not acted upon yet, as a sentence; null where there is nothing of it. */
export function notInForce({ handout = {}, stages = [] }: Pick<LabFile, 'handout' | 'stages'>): string | null {
  const { introduction, blanks = [], resources = [] } = handout;
  const kept = [
    stages.length > 0 && plural(stages.length, 'stage'),
    introduction !== undefined && 'the introduction of the handout',
    blanks.length > 0 && plural(blanks.length, 'blank'),
    resources.length > 0 && plural(resources.length, 'resource'),
  ].filter((part) => part !== false);
  return kept.length ? `Kept with the lab, but not in force yet: ${kept.join(', ')}.` : null;
}
