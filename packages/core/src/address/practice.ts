import { type Prefix, lastOf, maskOf, prefixOf, sizeOf } from './address';
import { broadcastAddress, split, summarise, usableCount, usableRange } from './blocks';
import { formatAddress, formatMask, formatPrefix } from './format';
import { sizeWords } from './workings';

/** A question to be worked out by hand, with its answer. */
export interface PracticeQuestion {
  question: string;
  answer: string;
}

/** A repeatable source of numbers from 0 up to `below` (mulberry32). */
function numbers(seed: number): (below: number) => number {
  let state = Math.imul(seed | 0, 0x9e3779b9);
  return (below) => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return Math.floor((((t ^ (t >>> 14)) >>> 0) / 4294967296) * below);
  };
}
type Numbers = ReturnType<typeof numbers>;

/** Addresses for questions come from the private ranges (RFC 1918, RFC 4193). */
function v4(next: Numbers, length: number): { address: string; prefix: Prefix } {
  const [base, bits] = [
    [10n << 24n, 24],
    [(172n << 24n) | (16n << 16n), 20],
    [(192n << 24n) | (168n << 16n), 16],
  ][next(3)]! as [bigint, number];
  const value = base + BigInt(next(2 ** bits));
  return { address: formatAddress({ family: 4, value }), prefix: prefixOf({ family: 4, value }, length) };
}
function v6(next: Numbers, length: number): { address: string; prefix: Prefix } {
  let value = 0xfdn;
  for (let at = 0; at < 15; at++) value = (value << 8n) | BigInt(at > 5 && next(3) > 0 ? 0 : next(256));
  return { address: formatAddress({ family: 6, value }), prefix: prefixOf({ family: 6, value }, length) };
}

const KINDS: readonly ((next: Numbers) => PracticeQuestion)[] = [
  (next) => {
    const length = 18 + next(13);
    const { address, prefix } = v4(next, length);
    return { question: `Which block does ${address}/${length} lie in?`, answer: formatPrefix(prefix) };
  },
  (next) => {
    const length = 20 + next(11);
    const { address, prefix } = v4(next, length);
    return {
      question: `What is the broadcast address of the subnet of ${address} with the mask ${formatMask(length)}?`,
      answer: formatAddress(broadcastAddress(prefix)!),
    };
  },
  (next) => {
    const length = 20 + next(10);
    const { address, prefix } = v4(next, length);
    const { from, to } = usableRange(prefix);
    return {
      question: `Give the first and the last usable address of the subnet of ${address}/${length}.`,
      answer: `${formatAddress(from)} and ${formatAddress(to)}`,
    };
  },
  (next) => {
    const hosts = 3 + next(900);
    const { length } = sizeWords(hosts + 1);
    return {
      question: `A subnet must hold ${hosts} hosts and a gateway. Which prefix length is enough, and how many usable addresses has it?`,
      answer: `/${length}, with ${usableCount({ family: 4, value: 0n, length })} usable addresses`,
    };
  },
  (next) => {
    const length = 17 + next(14);
    return next(2)
      ? { question: `Write the mask of /${length} in dotted notation.`, answer: formatMask(length) }
      : { question: `Which prefix length is the mask ${formatMask(length)}?`, answer: `/${length}` };
  },
  (next) => {
    const length = 20 + next(6);
    const { prefix } = v4(next, length);
    const bits = 1 + next(3);
    const parts = split(prefix, length + bits);
    const wanted = next(2 ** bits);
    return {
      question: `${formatPrefix(prefix)} is split into ${2 ** bits} equal parts. Which is the ${nth(wanted + 1)}?`,
      answer: parts.ok ? formatPrefix(parts.value[wanted]!) : '',
    };
  },
  (next) => {
    const length = 21 + next(8);
    const { prefix } = v4(next, length);
    const other = { ...prefix, value: prefix.value ^ sizeOf(prefix) };
    const pair = next(3) ? [prefix, other] : [prefix, { ...prefix, value: prefix.value + sizeOf(prefix) }];
    const joined = summarise(pair);
    return {
      question: `Can ${pair.map(formatPrefix).join(' and ')} be written as one block? If so, as which?`,
      answer: joined.length === 1 ? formatPrefix(joined[0]!) : 'No: they are not the two halves of one block.',
    };
  },
  (next) => {
    const length = 22 + next(8);
    const { address, prefix } = v4(next, length);
    const far = next(2) === 0;
    const value = far
      ? lastOf(prefix).value + BigInt(1 + next(40))
      : prefix.value + BigInt(next(Number(sizeOf(prefix))));
    const same = (value & maskOf(4, length)) === prefix.value;
    return {
      question: `Do ${address} and ${formatAddress({ family: 4, value })} lie in the same /${length}?`,
      answer: same
        ? `Yes, in ${formatPrefix(prefix)}.`
        : `No: the first lies in ${formatPrefix(prefix)}, the second in ${formatPrefix(prefixOf({ family: 4, value }, length))}.`,
    };
  },
  (next) => {
    const length = [48, 52, 56, 60, 64][next(5)]!;
    const { address, prefix } = v6(next, length);
    return { question: `Which /${length} does ${address} lie in?`, answer: formatPrefix(prefix) };
  },
  (next) => {
    const length = [48, 52, 56, 60][next(4)]!;
    const { prefix } = v6(next, length);
    return {
      question: `How many subnets of /64 has ${formatPrefix(prefix)}, and which is the last?`,
      answer: `${2 ** (64 - length)}; the last is ${formatPrefix(prefixOf(lastOf(prefix), 64))}`,
    };
  },
];

const nth = (n: number): string => `${n}${n === 1 ? 'st' : n === 2 ? 'nd' : n === 3 ? 'rd' : 'th'}`;
/** More questions than this fill no sheet that anybody works through. */
export const MAX_QUESTIONS = 200;

/**
 * A practice sheet: `count` questions on subnetting with their answers. The same seed gives the same sheet on every
 * machine; the kinds of question take turns, so that a short sheet has all of them.
 */
export function practiceSheet(seed: number, count: number): PracticeQuestion[] {
  const next = numbers(seed);
  return Array.from({ length: Math.min(count, MAX_QUESTIONS) }, (_, at) => KINDS[at % KINDS.length]!(next));
}
