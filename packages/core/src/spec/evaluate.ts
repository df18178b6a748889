import { type Problem, entryOf } from '../topology';
import { type CheckContext, type Item, type Names, type Part, sentenceOf } from './rule';
import { ruleKind } from './rules';
import { type Rule } from './schema';

const isList = (rule: Rule): rule is { kind: 'allOf' | 'anyOf'; rules: Rule[] } =>
  rule.kind === 'allOf' || rule.kind === 'anyOf';
const isNot = (rule: Rule): rule is { kind: 'not'; rule: Rule } => rule.kind === 'not';

/** The sentence of a rule in pieces; a combination joins the sentences of its parts. */
export function wordsOf(rule: Rule, names: Names): Part[] {
  if (isList(rule)) {
    const inner = rule.rules.map((rule) => sentenceOf(wordsOf(rule, names)).replace(/\.$/, ''));
    return [
      rule.kind === 'allOf' ? 'All of: ' : 'Any of: ',
      inner.join(rule.kind === 'allOf' ? '; and ' : '; or '),
      '.',
    ];
  }
  if (isNot(rule)) return ['It is not so that: ', sentenceOf(wordsOf(rule.rule, names))];
  return ruleKind(rule.kind)?.words(rule, names) ?? [`Unknown rule "${rule.kind}".`];
}

/** The kinds of all the rules that a rule is made of. */
export const kindsIn = (rule: Rule): string[] =>
  isList(rule) ? rule.rules.flatMap(kindsIn) : isNot(rule) ? kindsIn(rule.rule) : [rule.kind];

/** The items a rule comes to. Never empty. */
export function evaluate(rule: Rule, context: CheckContext): Item[] {
  if (isList(rule)) {
    const parts = rule.rules.map((rule) => evaluate(rule, context));
    return rule.kind === 'allOf'
      ? parts.flat()
      : parts.reduce((best, next) => (share(next) > share(best) ? next : best));
  }
  if (isNot(rule)) return [negated(evaluate(rule.rule, context), sentenceOf(wordsOf(rule.rule, context)))];
  const kind = ruleKind(rule.kind);
  const items = kind?.evaluate(rule, context) ?? [];
  return items.length
    ? items
    : [{ text: `The rule "${rule.kind}" found nothing to judge.`, met: false, places: [], grounded: false }];
}

/** The share of items that are met, from 0 to 1; uncertain ones count as not met. */
export const share = (items: readonly Item[]): number =>
  items.filter((item) => item.met === true).length / items.length;

/** "Not" is met only where everything the inner rule speaks of exists and the rule does not hold. */
function negated(items: readonly Item[], sentence: string): Item {
  const places = items.flatMap((item) => item.places);
  const holds = items.every((item) => item.met === true);
  const grounded = items.every((item) => item.grounded);
  if (!grounded)
    return {
      text: `Shows nothing yet, as something is missing: ${items.find((item) => !item.grounded)!.text}`,
      met: false,
      places,
      grounded,
    };
  const unsure = !holds && items.every((item) => item.met !== false);
  return {
    text: holds ? `It is so that: ${sentence}` : `It is not so that: ${sentence}`,
    met: unsure ? null : !holds,
    places,
    grounded,
  };
}

/** What is wrong with the values of a rule: places are relative to it. */
export function ruleProblems(
  rule: Rule,
  known: { refs: ReadonlySet<string>; sites: Readonly<Record<string, unknown>>; groups: ReadonlySet<string> },
): Problem[] {
  if (isList(rule))
    return rule.rules.flatMap((rule, at) =>
      ruleProblems(rule, known).map((problem) => ({ ...problem, place: `rules › ${at} › ${problem.place}` })),
    );
  if (isNot(rule))
    return ruleProblems(rule.rule, known).map((problem) => ({ ...problem, place: `rule › ${problem.place}` }));
  const kind = ruleKind(rule.kind);
  if (!kind) return [{ place: 'kind', text: `There is no kind of rule "${rule.kind}".` }];
  const values = rule as Record<string, unknown>;
  const pointers = Object.entries(kind.slots).flatMap(([property, slot]): Problem[] => {
    if (slot.type === 'site' && values[property] !== 'anywhere' && !entryOf(known.sites, values[property] as string))
      return [{ place: property, text: `The reference has no site "${String(values[property])}".` }];
    if (slot.type === 'group' && !known.groups.has(values[property] as string))
      return [{ place: property, text: `The brief has no group "${String(values[property])}".` }];
    const refs =
      slot.type === 'ref' ? [values[property] as string] : slot.type === 'refs' ? (values[property] as string[]) : [];
    return refs
      .filter((ref) => !known.refs.has(ref))
      .map((ref) => ({ place: property, text: `"${ref}" is no group of the spec and no device of the reference.` }));
  });
  return [...pointers, ...(kind.problems?.(rule) ?? [])];
}
