import { type Rule, isCombination } from './combining';
import { isRightBy } from './rules/questions';
import { type Requirement, type Spec } from './schema';

/** What a student tried under a task, and whether it was right. */
export interface Tried {
  readonly answer: string;
  readonly right: boolean;
}

const taskOf = (rule: Rule): unknown => (isCombination(rule) ? undefined : rule.task);
/** Only what is asked by itself: inside of a combination, right and wrong mean something else. */
const asks = ({ rule, deduction }: Requirement): boolean => !deduction && isRightBy(rule, '') !== null;
const askedIn = ({ sections }: Spec): Requirement[] =>
  sections.flatMap(({ requirements }) => requirements.filter(asks));

/** The ids of the tasks whose answer a student may try: those that ask for a choice or a number. */
export const triableTasks = (spec: Spec): string[] => [
  ...new Set(askedIn(spec).map(({ rule }) => String(taskOf(rule)))),
];

/** Whether an answer is right by all that asks for a choice or a number under a task; null where nothing does. */
export function isRightUnder(spec: Spec, task: string, answer: string): boolean | null {
  const asked = askedIn(spec).filter(({ rule }) => taskOf(rule) === task);
  return asked.length ? asked.every(({ rule }) => isRightBy(rule, answer) === true) : null;
}

/** How answers are compared where it is asked whether one was tried before: "62 " and "62" are one. */
const asTried = (answer: string): string => answer.trim().toLowerCase().replace(/\s+/g, ' ');
export const triedBefore = (tried: readonly Tried[], answer: string): Tried | undefined =>
  tried.find((each) => asTried(each.answer) === asTried(answer));

/**
 * The answer that holds once all tries of a task are used: the right one, or the one that was tried last; undefined as long
 * as another may be written.
 *
 * @param tried in their order
 */
export const settledAnswer = (tried: readonly Tried[], most: number): string | undefined =>
  tried.length < most ? undefined : (tried.find(({ right }) => right) ?? tried.at(-1))?.answer;
