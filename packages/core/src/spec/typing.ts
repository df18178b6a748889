import { parsePrefix } from '../address';
import { type Rule } from './combining';
import { wordsOf } from './evaluate';
import { type Names, type RuleKind, type Slot, sentenceOf } from './rule';
import { ALL_GROUPS, ANY_SITE, RULE_KINDS } from './rules';
import { searchWords } from './rules/search-words';

/** What a typed sentence can speak of. */
export interface Sayable {
  readonly names: Names;
  readonly refs: readonly { ref: string; text: string }[];
  readonly sites: readonly { id: string; name: string }[];
  /** Of the brief. */
  readonly groups: readonly { id: string; name: string }[];
  readonly tasks: readonly { id: string }[];
  readonly blocks: readonly { prefix: string; name: string }[];
}

/** A rule that what was typed may mean. */
export interface TypedRule {
  readonly rule: Rule;
  readonly sentence: string;
  /** What was typed at the end as "3 points", and "bonus". */
  readonly points?: number;
  readonly bonus?: true;
}

/** A word as it is compared, as it was typed, and where it stood. */
interface Token {
  readonly word: string;
  readonly typed: string;
  readonly from: number;
  readonly to: number;
}
type Element = { readonly word: string } | { readonly slot: string };
interface Match {
  readonly value: unknown;
  /** In words. */
  readonly length: number;
  /** How much it says that it was meant. */
  readonly score: number;
}
interface Best {
  readonly score: number;
  readonly chosen: readonly (readonly [slot: string, value: unknown])[];
}

/** Words that say little: they stand in sentences of many kinds, or are left out as people write. */
const SMALL = new Set(
  'is are be has have can may in of at to on by over from for with and or its it that one each every all any there only'.split(
    ' ',
  ),
);
const ARTICLES = new Set(['the', 'a', 'an']);
/** Other words that people type for those of the sentences. */
const ALIKE: readonly (readonly [RegExp, string])[] = [
  [/\b(cannot|can't|can not|may not|mustn't|should not|shouldn't|do not|don't|does not)\b/g, 'must not'],
  [/\b(pings?|reaches|gets? to|connects? to|talks? to)\b/g, 'reach'],
  [/\bfiber\b/g, 'fibre'],
  [/\b(should|shall)\b/g, ''],
];
const NUMBERS = 'zero one two three four five six seven eight nine ten eleven twelve'.split(' ');
const EVERY: Readonly<Record<string, readonly string[]>> = {
  '@all': ['every device', 'all devices', 'devices', 'everything'],
  '@hosts': ['every host', 'all hosts', 'hosts', 'everybody'],
  '@network': ['every network device', 'all network devices', 'network devices'],
};
/** What a word of a name or a choice says, and one that is only begun; one of the sentence itself. */
const [NAMED, BEGUN, SAID] = [2.5, 1.2, 2];
const MOST_TYPED = 24;
const MOST_LETTERS = 1000;
const MOST_TOLD = 8;
/** Of those that have some of the words, where each lacks more of them. */
const MOST_UNSURE = 3;
/** A text of several words, and of several values. */
const [MOST_WORDS, MOST_LISTED] = [3, 6];

const stem = (word: string): string => word.replace(/(?<=..(?:ch|sh|x|s))es$|(?<=..[^s])s$/, '');
const wordsIn = (text: string): string[] =>
  text
    .toLowerCase()
    .split(/[\s,;“”"]+/)
    .map((word) => word.replace(/[.:]+$/, ''))
    .filter((word) => word !== '' && !ARTICLES.has(word));

const plain = (text: string): string =>
  ALIKE.reduce(
    (now, [pattern, other]) => now.replaceAll(new RegExp(pattern, 'gi'), other),
    text.slice(0, MOST_LETTERS),
  );

const tokensOf = (text: string): Token[] =>
  [...text.matchAll(/[^\s,;“”"]+/g)]
    .flatMap(({ 0: found, index }): Token[] => {
      const typed = found.replace(/[.:]+$/, '');
      const word = typed.toLowerCase();
      return word === '' || ARTICLES.has(word) ? [] : [{ word, typed, from: index, to: index + typed.length }];
    })
    .slice(0, MOST_TYPED);

/**
 * What somebody may mean who types a requirement, the likeliest first: each kind's sentence is laid along what was typed,
 * words may be left out on both sides, the last one may be begun only. What is not said is as the kind begins. Pure.
 * @param text such as "guests must not reach the winches by tcp 502, 3 points"
 */
export function rulesTyped(text: string, sayable: Sayable): TypedRule[] {
  const worth =
    /[\s,;]*(?:for\s+)?(\d{1,3}(?:[.,]\d{1,2})?)\s+points?\s*(bonus)?\s*\.?\s*$|[\s,;]+(bonus)\s*\.?\s*$/i.exec(text);
  const said = plain(worth ? text.slice(0, worth.index) : text);
  const tokens = tokensOf(said);
  if (!tokens.length) return [];
  const readings = [tokens, ...placeFirst(tokens)].map((order) => new Reading(said, order, sayable));
  const found = RULE_KINDS.flatMap((kind) => {
    const [best] = readings
      .flatMap((reading) => reading.along(kind) ?? [])
      .sort((one, other) => other.score - one.score);
    if (!best) return [];
    const rule = { ...(kind.fresh as Rule & Record<string, unknown>) };
    for (const [slot, value] of best.chosen) {
      if (value === undefined) delete rule[slot];
      else rule[slot] = value;
    }
    return [{ rule, score: best.score }];
  }).sort((one, other) => other.score - one.score);
  const most = found[0]?.score ?? 0;
  const [, points, withPoints, alone] = worth ?? [];
  return found
    .filter(({ score }) => (most > 0 ? score > 0 && score >= most * 0.4 : score === most))
    .slice(0, most > 0 ? MOST_TOLD : MOST_UNSURE)
    .map(({ rule }) => ({
      rule,
      sentence: sentenceOf(wordsOf(rule, sayable.names)),
      ...(points !== undefined && { points: Number(points.replace(',', '.')) }),
      ...((withPoints ?? alone) && { bonus: true as const }),
    }));
}

/** "3 switches at Valley Station" is "at Valley Station there are 3 switches" as well. */
function placeFirst(tokens: readonly Token[]): Token[][] {
  const at = tokens.findLastIndex(({ word }) => word === 'at');
  const isLeast = ['least', 'most'].includes(tokens[at + 1]?.word ?? '');
  return at > 0 && !isLeast ? [[...tokens.slice(at), ...tokens.slice(0, at)]] : [];
}

/** Which words of a kind begin what was typed: so that most kinds need not be looked at closely. */
const KNOWN = new WeakMap<RuleKind, { elements: readonly Element[]; words: ReadonlySet<string> }>();
function knownOf(kind: RuleKind): { elements: readonly Element[]; words: ReadonlySet<string> } {
  let known = KNOWN.get(kind);
  if (!known) {
    const elements = kind.sentence === undefined ? elementsOf(kind) : elementsIn(kind.sentence);
    const chosen = Object.values(kind.slots).flatMap((slot) =>
      slot.type === 'choice' || slot.type === 'choices' ? slot.options.flatMap(({ text }) => wordsIn(text)) : [],
    );
    const fixed = elements.flatMap((element) => ('word' in element ? [element.word] : []));
    const words = [...fixed, ...chosen, ...wordsIn(kind.title), ...wordsIn(searchWords(kind.kind))];
    known = { elements, words: new Set(words.filter((word) => !SMALL.has(word)).map(stem)) };
    KNOWN.set(kind, known);
  }
  return known;
}
const elementsIn = (sentence: string): Element[] =>
  sentence
    .split(/\{(\w+)\}/)
    .flatMap((piece, at): Element[] => (at % 2 ? [{ slot: piece }] : wordsIn(piece).map((word) => ({ word }))));
/** Of a kind that says itself by words: as it begins. */
const PLAIN: Names = {
  ref: (ref) => ref,
  site: (id) => id,
  group: (id) => id,
  task: (id) => id,
  secret: (full) => full,
};
const elementsOf = (kind: RuleKind): Element[] =>
  kind
    .words(kind.fresh, PLAIN)
    .flatMap((part): Element[] =>
      typeof part === 'string' ? wordsIn(part).map((word) => ({ word })) : [{ slot: part.slot }],
    );

class Reading {
  private readonly stems: readonly string[];
  /** What each place may name, by what is named. */
  private readonly named: Readonly<Record<'ref' | 'site' | 'group' | 'block', readonly (readonly Match[])[]>>;

  constructor(
    private readonly text: string,
    private readonly tokens: readonly Token[],
    private readonly sayable: Sayable,
  ) {
    this.stems = tokens.map(({ word }) => stem(word));
    const named = (options: readonly (readonly [value: string, text: string])[]): Match[][] => {
      const read = options.map(([value, text]) => ({ value, words: wordsIn(text).map(stem) }));
      return tokens.map(({ word }, at) => {
        const whole = read.flatMap(({ value, words }) => this.said(at, words, value));
        if (whole.length || SMALL.has(word) || word.length < 3) return whole;
        // A word of a longer name: "winches" for the winch controllers.
        return read.flatMap(({ value, words }) =>
          words.includes(this.stems[at]!) ? [{ value, length: 1, score: BEGUN }] : [],
        );
      });
    };
    const { refs, sites, groups, blocks } = sayable;
    // Who calls a group "the hosts" means that one.
    const own = new Set(refs.filter(({ ref }) => !EVERY[ref]).map(({ text }) => wordsIn(text).map(stem).join(' ')));
    const every = (ref: string): readonly string[] =>
      (EVERY[ref] ?? []).filter((text) => !own.has(wordsIn(text).map(stem).join(' ')));
    this.named = {
      ref: named(
        refs.flatMap(({ ref, text }) => (EVERY[ref] ? every(ref) : [text]).map((each) => [ref, each] as const)),
      ),
      site: named([
        [ANY_SITE, 'anywhere'],
        [ANY_SITE, 'any site'],
        ...sites.map(({ id, name }) => [id, name] as const),
      ]),
      group: named([
        [ALL_GROUPS, 'every group'],
        [ALL_GROUPS, 'all groups'],
        ...groups.map(({ id, name }) => [id, name] as const),
      ]),
      block: named(blocks.map(({ prefix, name }) => [prefix, name] as const)),
    };
  }

  /** Whether words stand at a place; the last one that was typed may be begun only. */
  private said(at: number, words: readonly string[], value: unknown): Match[] {
    if (!words.length || at + words.length > this.tokens.length) {
      // The beginning of a longer name that is being typed.
      const begun = this.tokens.length - at;
      if (begun < 1 || begun >= words.length) return [];
      const isSame = words.slice(0, begun).every((word, n) => this.isSaid(at + n, word));
      return isSame ? [{ value, length: begun, score: BEGUN * begun }] : [];
    }
    if (!words.every((word, n) => this.isSaid(at + n, word))) return [];
    const last = at + words.length - 1;
    const score = words.reduce((sum, word) => sum + (SMALL.has(word) ? 0.5 : NAMED), 0);
    return [{ value, length: words.length, score: this.stems[last] === words.at(-1) ? score : BEGUN * words.length }];
  }
  private isSaid(at: number, word: string): boolean {
    if (this.stems[at] === word) return true;
    const { word: typed } = this.tokens[at]!;
    return at === this.tokens.length - 1 && typed.length >= 2 && word.startsWith(typed);
  }

  /** A kind's sentence along what was typed; null where nothing of it was. */
  along(kind: RuleKind): Best | null {
    const { elements, words } = knownOf(kind);
    const last = this.tokens.at(-1)!.word;
    const isNear =
      this.stems.some((word) => words.has(word)) ||
      (last.length >= 3 && [...words].some((word) => word.startsWith(last)));
    if (!isNear) return null;
    const kept = new Map<number, Best>();
    const best = (element: number, at: number): Best => {
      const key = element * (MOST_TYPED + 1) + at;
      let known = kept.get(key);
      if (!known) kept.set(key, (known = this.better(kind, elements, words, element, at, best)));
      return known;
    };
    return best(0, 0);
  }

  private better(
    { slots, family }: RuleKind,
    elements: readonly Element[],
    words: ReadonlySet<string>,
    at: number,
    from: number,
    best: (element: number, at: number) => Best,
  ): Best {
    const element = elements[at];
    if (!element && from === this.tokens.length) return { score: 0, chosen: [] };
    let found: Best = { score: -Infinity, chosen: [] };
    const take = (score: number, rest: Best, chosen?: readonly [string, unknown]): void => {
      if (score + rest.score > found.score)
        found = { score: score + rest.score, chosen: chosen ? [chosen, ...rest.chosen] : rest.chosen };
    };
    if (from < this.tokens.length) {
      const word = this.stems[from]!;
      // A word that the sentence has not: what people also call it by says something, any other speaks against it.
      take(words.has(word) ? 0.8 : SMALL.has(word) ? -0.3 : -3, best(at, from + 1));
    }
    if (!element) return found;
    if ('word' in element) {
      take(SMALL.has(element.word) ? -0.02 : -0.25, best(at + 1, from));
      if (from < this.tokens.length && this.isSaid(from, stem(element.word)))
        take(SMALL.has(element.word) ? 0.5 : SAID, best(at + 1, from + 1));
      return found;
    }
    const slot = slots[element.slot]!;
    const isFree = family === 'questions' || family === 'signOff';
    take(-0.1, best(at + 1, from));
    if (from < this.tokens.length)
      for (const { value, length, score } of this.matchesOf(slot, from, isFree))
        take(score, best(at + 1, from + length), [element.slot, value]);
    return found;
  }

  /** @param isFree whether a text may be any words */
  private matchesOf(slot: Slot, at: number, isFree: boolean): readonly Match[] {
    const { word, typed } = this.tokens[at]!;
    switch (slot.type) {
      case 'ref':
        return this.after(slot.before, at).flatMap((from) => later(this.named.ref[from] ?? [], from - at));
      case 'refs':
        return this.listFrom(at);
      case 'site':
        return this.named.site[at]!;
      case 'group':
        return this.named.group[at]!;
      case 'choice':
        return slot.options.flatMap(({ value, text }) =>
          this.said(at, wordsIn(text).map(stem), value === '' ? undefined : value),
        );
      case 'choices':
        return slot.options.flatMap(({ value, text }) => this.said(at, wordsIn(text).map(stem), [value]));
      case 'number': {
        const number = /^\d{1,6}$/.test(word) ? Number(word) : NUMBERS.indexOf(word);
        return number >= slot.min && number <= slot.max && (number > 0 || word !== '') && number !== -1
          ? [{ value: number, length: 1, score: NAMED }]
          : [];
      }
      case 'task': {
        const nth = word === 'task' ? this.tokens[at + 1]?.word : undefined;
        const task = nth === undefined ? undefined : this.sayable.tasks[Number(nth) - 1];
        return task ? [{ value: task.id, length: 2, score: NAMED }] : [];
      }
      case 'prefix':
        return parsePrefix(typed).ok ? [{ value: typed, length: 1, score: NAMED }] : this.named.block[at]!;
      case 'text':
        // What its words lead up to is seen by itself only where it can be nothing else, as "tcp 443".
        return this.after(slot.before, at).flatMap((from) =>
          from > at || slot.before === undefined || slot.problem('any words') !== null
            ? later(this.textFrom(slot, from, isFree), from - at)
            : [],
        );
    }
  }

  /** The places where what stands after some words may begin; where these are small they may be left out. */
  private after(before: string | undefined, at: number): number[] {
    const words = wordsIn(before ?? '');
    const isThere = words.length > 0 && words.every((word, n) => this.stems[at + n] === stem(word));
    return isThere ? [at + words.length] : words.every((word) => SMALL.has(word)) ? [at] : [];
  }

  private textFrom(slot: Slot & { type: 'text' }, at: number, isFree: boolean): Match[] {
    const rest = this.tokens.slice(at).map(({ typed }) => typed);
    if (isFree) {
      // With the article before its first word.
      const { to: before = 0 } = this.tokens[at - 1] ?? {};
      const from = Math.min(before, this.tokens[at]!.from);
      return rest.flatMap((_word, n) => {
        const value = this.text.slice(from, this.tokens[at + n]!.to).replace(/^[\s,;]+/, '');
        return slot.problem(value) === null ? [{ value, length: n + 1, score: 0.3 * (n + 1) }] : [];
      });
    }
    for (let length = Math.min(slot.before === undefined ? MOST_LISTED : MOST_WORDS, rest.length); length > 0; length--)
      for (const joint of length > 1 && slot.before === undefined ? [', '] : [' ', ', ']) {
        const text = rest.slice(0, length).join(joint);
        // What could be any words is none: each has a number in it, or a sign.
        const isValue = rest.slice(0, length).every((word) => /[\d*?.:/]/.test(word) || slot.before !== undefined);
        if (isValue && /[\d*?.:/]/.test(text) && slot.problem(text) === null)
          return [{ value: text, length, score: NAMED }];
      }
    return [];
  }

  /** "A, B and C". */
  private listFrom(at: number): Match[] {
    const found: Match[] = [];
    let [from, values, score] = [at, [] as unknown[], 0];
    for (;;) {
      const [next] = [...(this.named.ref[from] ?? [])].sort((one, other) => other.length - one.length);
      if (!next) return found;
      values = [...values, next.value];
      from += next.length;
      found.push({ value: values, length: from - at, score: (score += next.score) });
      if (this.tokens[from]?.word === 'and' || this.tokens[from]?.word === 'or') from++;
    }
  }
}

const later = (matches: readonly Match[], by: number): Match[] =>
  by ? matches.map((match) => ({ ...match, length: match.length + by })) : [...matches];
