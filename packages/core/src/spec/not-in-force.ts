import { plural } from '../plural';
import { type LabFile } from './schema';

/** What a lab holds that is kept but not acted upon yet, as a sentence; null where there is nothing of it. */
export function notInForce({
  policy,
  spec,
  handout = {},
  stages = [],
}: Pick<LabFile, 'policy' | 'spec' | 'handout' | 'stages'>): string | null {
  const hinted = spec.sections.flatMap(({ requirements }) => requirements.filter(({ hints }) => hints !== undefined));
  const { introduction, blanks = [], resources = [] } = handout;
  const kept = [
    policy.followThrough === 'on' && 'marks for what follows from a mistake',
    hinted.length > 0 && `the hints of ${plural(hinted.length, 'requirement')}`,
    stages.length > 0 && plural(stages.length, 'stage'),
    introduction !== undefined && 'the introduction of the handout',
    blanks.length > 0 && plural(blanks.length, 'blank'),
    resources.length > 0 && plural(resources.length, 'resource'),
  ].filter((part) => part !== false);
  return kept.length ? `Kept with the lab, but not in force yet: ${kept.join(', ')}.` : null;
}
