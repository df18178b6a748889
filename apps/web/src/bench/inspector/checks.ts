import { type Result } from '@sobrin/core';
import { interfaceAddressHint, parseAddress, parsePrefix } from '@sobrin/core/address';

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
