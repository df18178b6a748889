import { type Problem, entryOf } from '../topology';
import {
  type Combination,
  EACH,
  type Rule,
  combinedWords,
  isCombination,
  leavesIn,
  partsOf,
  withEach,
} from './combining';
import { type CheckContext, type Item, NETWORKS, type Names, type Part, absent, lost, met, sentenceOf } from './rule';
import { ruleKind } from './rules';

/** The sentence of a rule in pieces; a combination joins the sentences of its parts. */
export const wordsOf = (rule: Rule, names: Names): Part[] =>
  isCombination(rule)
    ? combinedWords(rule, names, (part) => wordsOf(part, names))
    : (ruleKind(rule.kind)?.words(rule, names) ?? [`Unknown rule "${rule.kind}".`]);

/** The kinds of all the rules that a rule is made of. */
export const kindsIn = (rule: Rule): string[] => leavesIn(rule).map(({ kind }) => kind);
/** The groups and devices that a rule speaks of. */
export function refsIn(rule: Rule): string[] {
  if (isCombination(rule))
    return [...(rule.kind === 'forEach' ? [rule.who] : []), ...partsOf(rule).flatMap(([, part]) => refsIn(part))];
  return Object.entries(ruleKind(rule.kind)?.slots ?? {}).flatMap(([property, { type }]) => {
    const value = rule[property];
    return type === 'ref' && typeof value === 'string'
      ? value
      : type === 'refs' && Array.isArray(value)
        ? (value as string[])
        : [];
  });
}

/** An item with the place in the rule that it comes from; equal for the same fact of any submission. */
export interface KeyedItem extends Item {
  key: string;
  /** Whether the starter fulfils it already: then it is neither won nor lost. */
  given?: true;
  /** How a person would most likely decide what is not certain. */
  proposed?: 'lost';
}
/** What a rule comes to: items, never none; null where it does not apply. */
export type Judged = KeyedItem[] | null;

/** @param at where the rule stands in that of its requirement */
export function evaluate(rule: Rule, context: CheckContext, at = ''): Judged {
  if (isCombination(rule)) return combined(rule, context, at);
  const items = ruleKind(rule.kind)?.evaluate(rule, context) ?? [];
  return keyed(items.length ? items : [absent(`The rule "${rule.kind}" found nothing to judge.`)], at);
}

/** Keys are made of the place in the rule, the roles and the family; of facts that are alike in these, the how manieth. */
function keyed(items: readonly Item[], at: string): KeyedItem[] {
  const count = new Map<string, number>();
  return items.map((item) => {
    const { roles = [], family } = item.about ?? {};
    const own = [at, roles.join('~'), ...(family === undefined ? [] : [family])].join('|');
    const nth = (count.get(own) ?? 0) + 1;
    count.set(own, nth);
    return { ...item, key: nth === 1 ? own : `${own}#${nth}` };
  });
}

function combined(rule: Combination, context: CheckContext, at: string): Judged {
  const judged = (part: Rule, place: string): Judged => evaluate(part, context, at ? `${at}.${place}` : place);
  switch (rule.kind) {
    case 'allOf':
      return applying(rule.rules.map((part, nth) => judged(part, `${nth}`)))?.flat() ?? null;
    case 'anyOf':
      return applying(rule.rules.map((part, nth) => judged(part, `${nth}`)))?.reduce(better) ?? null;
    case 'nOf': {
      const parts = applying(rule.rules.map((part, nth) => judged(part, `${nth}`)));
      if (!parts) return null;
      // The best of them count: each is one of those that are wanted, whatever the number of its facts.
      const best = [...parts].sort((one, other) => share(other) - share(one)).slice(0, rule.n);
      return keyed(
        Array.from({ length: rule.n }, (_, nth): Item => {
          const items = best[nth];
          if (!items) return absent(`Fewer than ${rule.n} of these statements can be judged.`);
          return together(items);
        }),
        at,
      );
    }
    case 'not':
    case 'notAll': {
      const items = judged(rule.rule, 'not');
      return items && keyed([negated(items, sentenceOf(wordsOf(rule.rule, context)), rule.kind)], at);
    }
    case 'ifThen': {
      const condition = judged(rule.if, 'if');
      if (!condition) return rule.else ? judged(rule.else, 'else') : null;
      if (share(condition) === 1) return judged(rule.then, 'then');
      const missing = condition.find((item) => !item.grounded);
      // What is not there fulfils no condition, and breaks none: nothing is won by leaving it out.
      if (missing) return keyed([{ ...missing, met: false }], at);
      if (condition.every((item) => item.met !== false)) return keyed([{ ...together(condition), met: null }], at);
      return rule.else ? judged(rule.else, 'else') : null;
    }
    case 'forEach': {
      const members = context.roles(rule.who);
      if (!members.length) return keyed([absent(`The spec speaks of ${context.ref(rule.who)}, which is nobody.`)], at);
      const each = members.map((member) => {
        const items = evaluate(withEach(rule.rule, member), context, at);
        return items && { ...together(items), about: { roles: [member] } };
      });
      const items = each.filter((item) => item !== null);
      return items.length ? keyed(items, at) : null;
    }
  }
}

/** Those parts that apply; null where none does. */
const applying = (parts: readonly Judged[]): KeyedItem[][] | null => {
  const found = parts.filter((items) => items !== null);
  return found.length ? found : null;
};
const better = (best: KeyedItem[], next: KeyedItem[]): KeyedItem[] => (share(next) > share(best) ? next : best);

/** Several facts as one: met where all of them are. */
function together(items: readonly Item[]): Item {
  const worst =
    items.find((item) => !item.grounded) ??
    items.find((item) => item.met === false) ??
    items.find((item) => item.met === null);
  if (worst) return { ...worst, weight: 1 };
  return { ...items[0]!, places: items.flatMap((item) => item.places), weight: 1 };
}

const weigh = (items: readonly Pick<Item, 'weight'>[]): number =>
  items.reduce((sum, { weight = 1 }) => sum + weight, 0);

/** The share of items that are met, from 0 to 1, by how many devices each stands for; uncertain ones count as not met. */
export function share(items: readonly Pick<Item, 'met' | 'weight'>[]): number {
  const all = weigh(items);
  return all === 0 ? 0 : weigh(items.filter((item) => item.met === true)) / all;
}

/** "Not" is met only where everything the inner rule speaks of exists, and none of it holds; "not all" where some does not. */
function negated(items: readonly Item[], sentence: string, kind: 'not' | 'notAll'): Item {
  const places = items.flatMap((item) => item.places);
  const missing = items.find((item) => !item.grounded);
  if (missing) return absent(`Shows nothing yet, as something is missing: ${missing.text}`, ...places);
  const holding = items.filter((item) => item.met === true).length;
  const open = items.some((item) => item.met === null);
  const [isMet, isLost] =
    kind === 'not'
      ? [holding === 0 && !open, holding > 0]
      : [items.some((item) => item.met === false), holding === items.length];
  if (isMet) return met(`It is not so that: ${sentence}`, ...places);
  if (isLost) return lost(`It is so that: ${sentence}`, ...places);
  const code = items.find((item) => item.met === null)?.code ?? 'UNCERTAIN';
  return { ...lost(`It is not certain whether: ${sentence}`, ...places), met: null, code };
}

interface Known {
  refs: ReadonlySet<string>;
  sites: Readonly<Record<string, unknown>>;
  groups: ReadonlySet<string>;
  /** Absent where nobody knows which there are. */
  tasks?: ReadonlySet<string>;
}

/** What is wrong with the values of a rule: places are relative to it. */
export function ruleProblems(rule: Rule, known: Known): Problem[] {
  if (isCombination(rule)) return combinationProblems(rule, known);
  const kind = ruleKind(rule.kind);
  if (!kind) return [{ place: 'kind', text: `There is no kind of rule "${rule.kind}".` }];
  const values: Readonly<Record<string, unknown>> = rule;
  const pointers = Object.entries(kind.slots).flatMap(([property, slot]): Problem[] => {
    const value = values[property];
    if (value === undefined) return [];
    if (slot.type === 'site' && value !== 'anywhere' && !entryOf(known.sites, value as string))
      return [{ place: property, text: `The reference has no site "${value as string}".` }];
    if (slot.type === 'task' && known.tasks && !known.tasks.has(value as string))
      return [{ place: property, text: 'The lab has no such task: write one in the brief, and choose it here.' }];
    if (slot.type === 'group' && !known.groups.has(value as string))
      return [{ place: property, text: `The brief has no group "${value as string}".` }];
    const refs = slot.type === 'ref' ? [value as string] : slot.type === 'refs' ? (value as string[]) : [];
    return refs
      .filter((ref) => !known.refs.has(ref))
      .map((ref) => ({
        place: property,
        text:
          ref === EACH
            ? 'Only inside of "for each" there is a member that is looked at.'
            : ref === NETWORKS
              ? 'Local networks are spoken of one by one: put the rule into a "for each" of them.'
              : `"${ref}" is no group of the spec and no device of the reference.`,
      }));
  });
  return [...pointers, ...(kind.problems?.(rule) ?? [])];
}

function combinationProblems(rule: Combination, known: Known): Problem[] {
  const inside = rule.kind === 'forEach' ? { ...known, refs: new Set([...known.refs, EACH]) } : known;
  const own: Problem[] =
    rule.kind === 'forEach' && rule.who !== NETWORKS && !known.refs.has(rule.who)
      ? [{ place: 'who', text: `"${rule.who}" is no group of the spec and no device of the reference.` }]
      : rule.kind === 'nOf' && rule.n > rule.rules.length
        ? [{ place: 'n', text: `Of ${rule.rules.length} statements ${rule.n} can never hold.` }]
        : [];
  return [
    ...own,
    ...partsOf(rule).flatMap(([place, part]) =>
      ruleProblems(part, inside).map((problem) => ({ ...problem, place: `${place} › ${problem.place}` })),
    ),
  ];
}
