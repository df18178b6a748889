import { type Result } from '@sobrin/core';
import { interfaceAddressHint, parseAddress, parseMac, parsePrefix } from '@sobrin/core/address';

type Check = (text: string) => string | null;
const problemOf = (read: Result<unknown, { text: string } | string>): string | null =>
  read.ok ? null : typeof read.error === 'string' ? read.error : read.error.text;

/** What is wrong with a text, as the sentence that helps; null where nothing is. */
export const checkBy =
  (parse: (text: string) => Result<unknown, { text: string } | string>): Check =>
  (text) =>
    problemOf(parse(text));
export const addressProblem = checkBy(parseAddress);
export const interfaceAddressProblem = interfaceAddressHint;
export const prefixProblem = checkBy(parsePrefix);
export const macProblem = checkBy(parseMac);

/** Words of a list as people write it: with commas or spaces, each once. */
export const wordsOf = (text: string): string[] => [...new Set(text.split(/[\s,;]+/).filter(Boolean))];
/** What is wrong with a list of words, each judged by itself. */
export const eachOf =
  (check: Check): Check =>
  (text) =>
    wordsOf(text).reduce<string | null>((wrong, word) => wrong ?? check(word), null);

/** What is wrong with a text that should be a whole number from one to another: "A cost is a number from 1 to 65535." */
export const numberFrom =
  (low: number, high: number, what: string): Check =>
  (text) =>
    /^\d{1,10}$/.test(text) && Number(text) >= low && Number(text) <= high
      ? null
      : `${what} is a number from ${low} to ${high}.`;
