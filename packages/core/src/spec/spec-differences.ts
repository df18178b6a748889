import { sameValue } from '../changes';
import { plural } from '../plural';
import { namesOf } from './context';
import { type JudgingLab, judgedBy } from './judging';
import { sentenceOf } from './rule';
import { type Requirement, type Section } from './schema';
import { requirementWords } from './spec-problems';

/** Something in which a lab judges otherwise than it did. */
export interface SpecDifference {
  readonly what: 'added' | 'removed' | 'changed' | 'other';
  /** The requirement, as its sentence with its id before it; or what else it is. */
  readonly text: string;
  /** What of it is otherwise: from what to what. */
  readonly changes: readonly string[];
}

const points = ({ requirement }: Placed): string => plural(requirement.points, 'point');

interface Placed {
  readonly requirement: Requirement;
  readonly section: Section;
  readonly sentence: string;
}
const placedIn = (lab: JudgingLab): Map<string, Placed> => {
  const names = namesOf(lab);
  return new Map(
    lab.spec.sections.flatMap((section) =>
      section.requirements.map((requirement): [string, Placed] => [
        requirement.id,
        { requirement, section, sentence: sentenceOf(requirementWords(requirement, names)) },
      ]),
    ),
  );
};

/**
 * In what a lab judges otherwise than it did before, requirement by requirement in the order of the spec, those that are gone
 * after them; then sections, groups, the reference and the rules. Requirements are told apart by their ids.
 */
export function specDifferences(before: JudgingLab, after: JudgingLab): SpecDifference[] {
  const [old, now] = [placedIn(before), placedIn(after)];
  const told = ({ requirement, sentence }: Placed): string => `${requirement.id} ${sentence}`;
  const found: SpecDifference[] = [];
  for (const [id, placed] of now) {
    const known = old.get(id);
    if (!known) found.push({ what: 'added', text: told(placed), changes: [points(placed)] });
    else if (changesOf(known, placed).length)
      found.push({ what: 'changed', text: told(placed), changes: changesOf(known, placed) });
  }
  for (const [id, placed] of old)
    if (!now.has(id)) found.push({ what: 'removed', text: told(placed), changes: [points(placed)] });
  return [...found, ...others(before, after)];
}

function changesOf(old: Placed, now: Placed): string[] {
  const [a, b] = [old.requirement, now.requirement];
  const changes: string[] = [];
  const say = (was: string, is: string): void => void (was !== is && changes.push(`${was} → ${is}`));
  say(points(old), points(now));
  if (old.sentence !== now.sentence) changes.push(`it was: ${old.sentence}`);
  else if (!sameValue(a.rule, b.rule)) changes.push('what it asks is another, in the same words');
  if (old.section.id !== now.section.id) changes.push(`moved from ${old.section.title} to ${now.section.title}`);
  say(credit(a), credit(b));
  say(worth(a), worth(b));
  say(a.hurdle ? 'needed to pass' : 'not needed to pass', b.hurdle ? 'needed to pass' : 'not needed to pass');
  say(standing(a), standing(b));
  say(given(a), given(b));
  say(carried(a), carried(b));
  if (a.task !== b.task) changes.push('it belongs to another task');
  if (!sameValue(a.hints, b.hints)) changes.push('its hints are others');
  return changes;
}
const credit = ({ credit }: Requirement): string => (credit === 'share' ? 'a share for each part' : 'all or nothing');
const worth = ({ bonus, deduction }: Requirement): string =>
  bonus ? 'a bonus' : deduction ? 'taken off where it does not hold' : 'required';
const standing = ({ standsOn = [] }: Requirement): string =>
  standsOn.length
    ? `counts once ${standsOn.join(' and ')} ${standsOn.length === 1 ? 'is' : 'are'} met`
    : 'counts by itself';
const carried = ({ carried }: Requirement): string =>
  carried === false ? 'never given back where a mistake counts once' : 'may be given back where a mistake counts once';
const given = ({ given }: Requirement): string =>
  given ? 'counts what the starter has, too' : 'counts what goes beyond the starter';

/** What is otherwise beside the requirements. */
function others(before: JudgingLab, after: JudgingLab): SpecDifference[] {
  const [old, now] = [judgedBy(before), judgedBy(after)];
  const other = (text: string, changes: string[] = []): SpecDifference => ({ what: 'other', text, changes });
  const terms = ({ title, hurdle, standsOn }: Section): object => ({ title, hurdle, standsOn });
  const sections = now.spec.sections.flatMap((section) => {
    const known = old.spec.sections.find(({ id }) => id === section.id);
    if (!known || sameValue(terms(known), terms(section))) return [];
    return [
      other(
        `Section ${section.title}`,
        known.title === section.title ? ['what is needed of it'] : [`it was: ${known.title}`],
      ),
    ];
  });
  const titles = [
    ...new Set([...Object.entries(old.spec.groups), ...Object.entries(now.spec.groups)].map(([id]) => id)),
  ]
    .filter((id) => !sameValue(old.spec.groups[id], now.spec.groups[id]))
    .map((id) => (now.spec.groups[id] ?? old.spec.groups[id])!.title);
  return [
    ...sections,
    ...(titles.length ? [other('Groups', titles)] : []),
    ...(sameValue(old.reference, now.reference) ? [] : [other('The reference')]),
    ...(sameValue(old.starter, now.starter) ? [] : [other('The starter')]),
    ...(sameValue(old.policy, now.policy) ? [] : [other('The rules by which is judged')]),
    ...(sameValue(old.brief, now.brief) ? [] : [other('What the brief asks of plans')]),
  ];
}
