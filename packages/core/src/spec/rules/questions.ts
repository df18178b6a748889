import { Type } from '@sinclair/typebox';
import {
  type Prefix,
  broadcastAddress,
  formatAddress,
  formatMask,
  formatPrefix,
  networkAddress,
  usableCount,
  usableRange,
} from '../../address';
import { Closed, Id, Line, Maybe, OneOf } from '../../topology';
import { type CheckContext, type Item, Ref, absent, defineRule, familiesFor, lost, met } from '../rule';
import { commonSubnet } from './addressing';
import { ALL_GROUPS, GroupRef, groupsOf, subnetsFor } from './plan';
import { Family, familySlot } from './family';

/** Requirements that ask for what is written under a task: computed, given in some readings, or read by a person. */

/** What an answer is compared by: without blanks at its ends, doubled blanks and case, and a full stop at its end. */
const plain = (text: string): string => text.trim().replace(/\s+/g, ' ').replace(/\.$/, '').toLowerCase();
/** Numbers are the same however their thousands are parted; none where a text is no whole number. */
const numberIn = (text: string): string | null =>
  /^[0-9][0-9'’ .,  ]*$/.test(text) ? text.replace(/[^0-9]/g, '').replace(/^0+(?=.)/, '') : null;
const isSame = (answer: string, reading: string): boolean => {
  const [one, other] = [plain(answer), plain(reading)];
  // 10.5 and 10.0.0.1 are no whole numbers: only marks between groups of three are left out.
  const grouped = (text: string): boolean => /^[0-9]{1,3}(?:['’ .,  ][0-9]{3})*$|^[0-9]+$/.test(text);
  return one === other || (grouped(one) && grouped(other) && numberIn(one) === numberIn(other));
};
const readingsIn = (text: string): string[] =>
  text
    .split('|')
    .map((each) => each.trim())
    .filter(Boolean);
const readingsTrouble = (text: string): string | null =>
  readingsIn(text).length ? null : 'Write the answer; several readings are parted by | as in “62 | sixty-two”.';

const answerTo = (context: CheckContext, task: string): string =>
  (Object.hasOwn(context.answers, task) ? context.answers[task]! : '').trim();
/** The beginning of an answer, for a sentence. */
const quoted = (answer: string): string => {
  const line = answer.replace(/\s+/g, ' ');
  return `“${line.length > 120 ? `${line.slice(0, 119)}…` : line}”`;
};
const nothing = (context: CheckContext, task: string): Item =>
  absent(`Nothing is written under ${context.task(task)}.`);

export const answerIsRule = defineRule({
  kind: 'answerIs',
  family: 'questions',
  title: 'The answer to a task is given',
  schema: Closed({ kind: Type.Literal('answerIs'), task: Id, accepted: Line }),
  slots: { task: { type: 'task' }, accepted: { type: 'text', problem: readingsTrouble } },
  fresh: { kind: 'answerIs', task: 'task', accepted: 'yes' },
  problems: (rule) => {
    const text = readingsTrouble(rule.accepted);
    return text === null ? [] : [{ place: 'accepted', text }];
  },
  // Students read which task it is, never the answer.
  words: (rule, names) => [
    'What is written under ',
    { slot: 'task', text: names.task(rule.task) },
    ' is ',
    { slot: 'accepted', text: names.secret(rule.accepted, 'as asked') },
    '.',
  ],
  evaluate: (rule, context) => {
    const answer = answerTo(context, rule.task);
    if (!answer) return [nothing(context, rule.task)];
    const found = readingsIn(rule.accepted).find((reading) => isSame(answer, reading));
    return [
      found === undefined
        ? lost(`The answer is ${quoted(answer)}.`)
        : { ...met(`The answer is ${quoted(answer)}.`), by: answer },
    ];
  },
});

const choicesTrouble = (text: string): string | null =>
  readingsIn(text).length < 2 ? 'Write two choices or more, parted by | as in “hub | switch | router”.' : null;

/** The choices that students find under a task; null where it is not answered by choosing. */
export const choicesIn = (rule: { readonly kind: string; readonly [property: string]: unknown }): string[] | null =>
  rule.kind === 'answerChosen' && typeof rule.choices === 'string' ? readingsIn(rule.choices) : null;

export const answerChosenRule = defineRule({
  kind: 'answerChosen',
  family: 'questions',
  title: 'One of several answers to a task is chosen',
  schema: Closed({ kind: Type.Literal('answerChosen'), task: Id, choices: Line, right: Line }),
  slots: {
    task: { type: 'task' },
    choices: { type: 'text', title: 'Choices', problem: choicesTrouble },
    right: {
      type: 'text',
      title: 'The right one',
      problem: (text) => (text.trim() ? null : 'Write which of them is right.'),
    },
  },
  fresh: { kind: 'answerChosen', task: 'task', choices: 'yes | no', right: 'yes' },
  problems: (rule) => {
    const choices = choicesTrouble(rule.choices);
    if (choices !== null) return [{ place: 'choices', text: choices }];
    return readingsIn(rule.choices).some((choice) => isSame(choice, rule.right))
      ? []
      : [{ place: 'right', text: `“${rule.right}” is none of the choices.` }];
  },
  words: (rule, names) => [
    'Under ',
    { slot: 'task', text: names.task(rule.task) },
    ', of ',
    { slot: 'choices', text: readingsIn(rule.choices).join(', ') },
    ' ',
    { slot: 'right', text: names.secret(rule.right, 'the right one') },
    ' is chosen.',
  ],
  evaluate: (rule, context) => {
    const answer = answerTo(context, rule.task);
    if (!answer) return [nothing(context, rule.task)];
    const text = `Chosen is ${quoted(answer)}.`;
    return [isChosenRight(rule, answer) ? { ...met(text), by: answer } : lost(text)];
  },
});
const isChosenRight = ({ right }: { right: string }, answer: string): boolean => isSame(answer, right);

/** The readings of a number as people write it, with a unit after it or none: “1,234” is two. */
export function quantitiesIn(text: string): number[] {
  const unit = '(?:\\s*[\\p{L}%°/].*)?$';
  const [plain, grouped] = [
    '^([-+−]?)\\s*(\\d+)(?:[.,](\\d+))?',
    "^([-+−]?)\\s*(\\d{1,3}(?:['’ \\u00a0\\u202f,.]\\d{3})+)",
  ];
  return [plain, grouped].flatMap((shape) => {
    const found = new RegExp(shape + unit, 'u').exec(text.trim());
    if (!found) return [];
    const [, sign, whole, part = '0'] = found as unknown as [string, string, string, string?];
    return (sign === '' || sign === '+' ? 1 : -1) * Number(`${whole.replace(/\D/g, '')}.${part}`);
  });
}
const quantityTrouble = (text: string): string | null =>
  quantitiesIn(text).length === 0 ? `“${text}” is no number: write it as in 62 or 1.5.` : null;

export const answerNumberRule = defineRule({
  kind: 'answerNumber',
  family: 'questions',
  title: 'The answer to a task is a number',
  schema: Closed({ kind: Type.Literal('answerNumber'), task: Id, value: Line, within: Maybe(Line) }),
  slots: {
    task: { type: 'task' },
    value: { type: 'text', title: 'The number', problem: quantityTrouble },
    within: {
      type: 'text',
      title: 'How far off it may be',
      before: ', give or take ',
      empty: 'how far off it may be; nothing for not at all',
      problem: quantityTrouble,
    },
  },
  fresh: { kind: 'answerNumber', task: 'task', value: '62' },
  problems: (rule) =>
    (['value', 'within'] as const).flatMap((place) => {
      const text = rule[place] === undefined ? null : quantityTrouble(rule[place]);
      return text === null ? [] : [{ place, text }];
    }),
  words: (rule, names) => [
    'What is written under ',
    { slot: 'task', text: names.task(rule.task) },
    ' is the number ',
    { slot: 'value', text: names.secret(rule.value, 'asked for') },
    { slot: 'within', text: rule.within === undefined ? '' : names.secret(`, give or take ${rule.within}`, '') },
    '.',
  ],
  evaluate: (rule, context) => {
    const answer = answerTo(context, rule.task);
    if (!answer) return [nothing(context, rule.task)];
    if (!quantitiesIn(answer).length) return [lost(`The answer ${quoted(answer)} is no number.`)];
    const text = `The answer is ${quoted(answer)}.`;
    return [isNumberRight(rule, answer) ? { ...met(text), by: answer } : lost(text)];
  },
});
function isNumberRight(rule: { value: string; within?: string | undefined }, answer: string): boolean {
  // Whoever writes the lab writes numbers plainly: the first reading is meant.
  const [value, within = 0] = [quantitiesIn(rule.value)[0]!, quantitiesIn(rule.within ?? '')[0]];
  return quantitiesIn(answer).some((number) => Math.abs(number - value) <= Math.abs(within) + 1e-9);
}

/** Whether an answer is right by a rule that needs nothing but the answer: a choice, a number; null for any other rule. */
export function isRightBy(rule: { readonly kind: string }, answer: string): boolean | null {
  if (rule.kind === answerChosenRule.kind) return isChosenRight(rule as unknown as { right: string }, answer.trim());
  if (rule.kind === answerNumberRule.kind)
    return isNumberRight(rule as unknown as { value: string; within?: string }, answer.trim());
  return null;
}

/** What is asked of a subnet, with all the readings of its answer. */
const ASKED: Readonly<Record<string, { text: string; readings: (subnet: Prefix) => string[] }>> = {
  network: {
    text: 'the network address',
    readings: (subnet) => [
      formatPrefix(subnet),
      formatAddress(networkAddress(subnet) ?? { family: subnet.family, value: subnet.value }),
    ],
  },
  broadcast: {
    text: 'the broadcast address',
    readings: (subnet) => {
      const address = broadcastAddress(subnet);
      return address ? [formatAddress(address), `${formatAddress(address)}/${subnet.length}`] : [];
    },
  },
  first: { text: 'the first usable address', readings: (subnet) => edge(subnet, 'from') },
  last: { text: 'the last usable address', readings: (subnet) => edge(subnet, 'to') },
  hosts: { text: 'the number of usable addresses', readings: (subnet) => [usableCount(subnet).toString()] },
  mask: {
    text: 'the mask',
    readings: (subnet) => [
      `/${subnet.length}`,
      String(subnet.length),
      ...(subnet.family === 4 ? [formatMask(subnet.length)] : []),
    ],
  },
};
const edge = (subnet: Prefix, side: 'from' | 'to'): string[] => {
  const text = formatAddress(usableRange(subnet)[side]);
  return [text, `${text}/${subnet.length}`];
};
const SOURCES = { own: 'as the student has drawn it', reference: 'as in the reference' } as const;

export const answerComputedRule = defineRule({
  kind: 'answerComputed',
  family: 'questions',
  title: 'The answer to a task is computed',
  schema: Closed({
    kind: Type.Literal('answerComputed'),
    task: Id,
    what: OneOf(...Object.keys(ASKED)),
    who: Ref,
    of: OneOf('own', 'reference'),
    family: Family,
  }),
  slots: {
    task: { type: 'task' },
    what: { type: 'choice', options: Object.entries(ASKED).map(([value, { text }]) => ({ value, text })) },
    family: familySlot,
    who: { type: 'ref' },
    of: { type: 'choice', options: Object.entries(SOURCES).map(([value, text]) => ({ value, text })) },
  },
  fresh: { kind: 'answerComputed', task: 'task', what: 'broadcast', who: '@hosts', of: 'own' },
  sentence: 'What is written under {task} is {what} of the {family} subnet of {who}, {of}.',
  evaluate: (rule, context) => {
    const answer = answerTo(context, rule.task);
    if (!answer) return [nothing(context, rule.task)];
    const families = familiesFor(context, rule, context.roles(rule.who));
    // One answer under one task: where nothing is said, of the first family in use.
    const family = families[0]!;
    const subnet =
      rule.of === 'own' ? commonSubnet(context, rule.who, family) : context.referenceSubnet(rule.who, family);
    if (!subnet) return [absent(`There is no IPv${family} subnet of ${context.ref(rule.who)} to compute it from.`)];
    const readings = ASKED[rule.what]!.readings(subnet);
    if (!readings.length) return [absent(`An IPv${family} subnet has no such thing.`)];
    const text = `The answer is ${quoted(answer)}`;
    return [
      readings.some((reading) => isSame(answer, reading))
        ? { ...met(`${text}.`), by: answer }
        : lost(`${text}${context.mark(`, ${formatPrefix(subnet)} has ${readings[0]!}`, '')}.`),
    ];
  },
});

export const answerPlannedRule = defineRule({
  kind: 'answerPlanned',
  family: 'questions',
  title: 'The answer to a task is computed of the student’s plan',
  schema: Closed({
    kind: Type.Literal('answerPlanned'),
    task: Id,
    what: OneOf(...Object.keys(ASKED)),
    group: GroupRef,
    family: Maybe(OneOf('6')),
  }),
  slots: {
    task: { type: 'task' },
    what: { type: 'choice', options: Object.entries(ASKED).map(([value, { text }]) => ({ value, text })) },
    family: {
      type: 'choice',
      title: 'The family',
      options: [
        { value: '', text: 'IPv4' },
        { value: '6', text: 'IPv6' },
      ],
    },
    group: { type: 'group' },
  },
  fresh: { kind: 'answerPlanned', task: 'task', what: 'broadcast', group: ALL_GROUPS },
  sentence: 'What is written under {task} is {what} of the {family} subnet that the student planned for {group}.',
  evaluate: (rule, context) => {
    const answer = answerTo(context, rule.task);
    if (!answer) return [nothing(context, rule.task)];
    const family = rule.family === '6' ? 6 : 4;
    const subnets = groupsOf(context, rule.group).flatMap((group) =>
      subnetsFor(context, group).flatMap((node) => node.space[family] ?? []),
    );
    if (!subnets.length)
      return [absent(`The plan has no IPv${family} subnet for ${context.group(rule.group)} to compute it from.`)];
    // A group in several subnets has an answer in each of them.
    const readings = subnets.flatMap((subnet) => ASKED[rule.what]!.readings(subnet));
    if (!readings.length) return [absent(`An IPv${family} subnet has no such thing.`)];
    const text = `The answer is ${quoted(answer)}`;
    return [
      readings.some((reading) => isSame(answer, reading))
        ? { ...met(`${text}.`), by: answer }
        : lost(`${text}${context.mark(`, ${formatPrefix(subnets[0]!)} has ${readings[0]!}`, '')}.`),
    ];
  },
});

export const answerReadRule = defineRule({
  kind: 'answerRead',
  family: 'questions',
  title: 'A person reads the answer to a task',
  schema: Closed({ kind: Type.Literal('answerRead'), task: Id, ideas: Line }),
  slots: {
    task: { type: 'task' },
    ideas: {
      type: 'text',
      problem: (text) =>
        readingsIn(text).length ? null : 'Write what must be in it; several ideas are parted by | and count each.',
    },
  },
  fresh: { kind: 'answerRead', task: 'task', ideas: 'why it is so' },
  problems: (rule) =>
    readingsIn(rule.ideas).length ? [] : [{ place: 'ideas', text: 'Write what must be in the answer.' }],
  words: (rule, names) => [
    'What is written under ',
    { slot: 'task', text: names.task(rule.task) },
    ' says ',
    { slot: 'ideas', text: names.secret(rule.ideas, 'what is asked') },
    ', as a person reads it.',
  ],
  evaluate: (rule, context) => {
    const answer = answerTo(context, rule.task);
    const ideas = readingsIn(rule.ideas);
    if (!answer) return ideas.map(() => nothing(context, rule.task));
    return ideas.map((idea, at) => ({
      ...lost(`${context.mark(idea, `Idea ${at + 1}`)}: ${quoted(answer)}`),
      met: null,
      code: 'UNCERTAIN' as const,
    }));
  },
});
