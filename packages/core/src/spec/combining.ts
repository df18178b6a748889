import { type Names, type Part, sentenceOf } from './rule';

/** One checkable statement. The leaves are the kinds of spec/rules; they combine freely. */
export type Rule = LeafRule | Combination;
export type LeafRule = { kind: string; [property: string]: unknown };
/** Rules that are made of others. */
export type Combination =
  | { kind: 'allOf' | 'anyOf'; rules: Rule[] }
  /** At least so many of them. */
  | { kind: 'nOf'; n: number; rules: Rule[] }
  /** Of a rule with several facts: none of them holds; `notAll`: not all of them do. */
  | { kind: 'not' | 'notAll'; rule: Rule }
  /** Where the condition does not hold: the other rule, or the requirement does not apply. */
  | { kind: 'ifThen'; if: Rule; then: Rule; else?: Rule }
  /** The rule for each member of a ref, which it calls `@each`. */
  | { kind: 'forEach'; who: string; rule: Rule };

const COMBINATIONS: ReadonlySet<string> = new Set(['allOf', 'anyOf', 'nOf', 'not', 'notAll', 'ifThen', 'forEach']);
export const isCombination = (rule: Rule): rule is Combination => COMBINATIONS.has(rule.kind);

/** Stands for the member that is looked at, inside of `forEach`. */
export const EACH = '@each';

/** The rules that a combination is made of, each with the property or place at which it stands. */
export function partsOf(rule: Combination): [place: string, part: Rule][] {
  switch (rule.kind) {
    case 'allOf':
    case 'anyOf':
    case 'nOf':
      return rule.rules.map((part, at) => [`rules › ${at}`, part]);
    case 'not':
    case 'notAll':
    case 'forEach':
      return [['rule', rule.rule]];
    case 'ifThen':
      return [['if', rule.if], ['then', rule.then], ...(rule.else ? [['else', rule.else] as [string, Rule]] : [])];
  }
}

/** All the rules that a rule is made of, without the combinations. */
export const leavesIn = (rule: Rule): LeafRule[] =>
  isCombination(rule) ? partsOf(rule).flatMap(([, part]) => leavesIn(part)) : [rule];

/** The leaves that are asked for as they stand: not those that are turned round, nor conditions. */
export function positive(rule: Rule): LeafRule[] {
  if (!isCombination(rule)) return [rule];
  if (rule.kind === 'not' || rule.kind === 'notAll') return [];
  if (rule.kind === 'ifThen') return [rule.then, ...(rule.else ? [rule.else] : [])].flatMap(positive);
  return partsOf(rule).flatMap(([, part]) => positive(part));
}

/** A rule in which `@each` stands for one member. */
export function withEach<R extends Rule>(rule: R, member: string): R {
  const put = (value: unknown): unknown => {
    if (value === EACH) return member;
    if (Array.isArray(value)) return value.map(put);
    if (value === null || typeof value !== 'object') return value;
    return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, put(inner)]));
  };
  return put(rule) as R;
}

/** The sentence of a combination out of those of its parts; `words` gives the sentence of a part. */
export function combinedWords(rule: Combination, names: Names, words: (part: Rule) => Part[]): Part[] {
  const inner = (part: Rule): string => sentenceOf(words(part)).replace(/\.$/, '');
  const list = (parts: readonly Rule[], joint: string): string => parts.map(inner).join(`; ${joint} `);
  switch (rule.kind) {
    case 'allOf':
      return ['All of: ', list(rule.rules, 'and'), '.'];
    case 'anyOf':
      return ['Any of: ', list(rule.rules, 'or'), '.'];
    case 'nOf':
      return [`At least ${rule.n} of: `, list(rule.rules, 'or'), '.'];
    case 'not':
      return ['It is not so that: ', sentenceOf(words(rule.rule))];
    case 'notAll':
      return ['It is not altogether so that: ', sentenceOf(words(rule.rule))];
    case 'ifThen':
      return [
        'If: ',
        inner(rule.if),
        '; then: ',
        inner(rule.then),
        ...(rule.else ? ['; else: ', inner(rule.else)] : []),
        '.',
      ];
    case 'forEach':
      return [`For each of ${names.ref(rule.who)}: `, sentenceOf(words(rule.rule))];
  }
}
