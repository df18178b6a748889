import { fail, ok, type Result } from '../result';
import { type Prefix, compareAddresses, firstOf, lastOf } from './address';
import { type AddressRange } from './blocks';
import { formatAddress } from './format';
import { type AddressError, parseAddress } from './parse';

/**
 * Reads addresses from one to another, both included: "10.84.16.21 - 10.84.16.40", with or without spaces, "–" or "to"
 * between; or with the last number alone ("10.84.16.21-40", "fd5e::21-2f"), which takes the place of the last number or
 * group of the first.
 */
export function parseRange(text: string): Result<AddressRange, AddressError> {
  const cut = /^\s*(\S+?)\s*(?:-|–|\bto\b)\s*(\S+)\s*$/.exec(text);
  if (!cut) return fail({ code: 'CHARACTER', text: `"${text}" is no range: write for instance 10.84.16.21-40.` });
  const from = parseAddress(cut[1]!);
  if (!from.ok) return from;
  const to = parseAddress(endOf(cut[1]!, cut[2]!));
  if (!to.ok) return to;
  if (from.value.family !== to.value.family)
    return fail({
      code: 'FAMILY',
      text: `"${text}" begins as IPv${from.value.family} and ends as IPv${to.value.family}.`,
    });
  if (compareAddresses(to.value, from.value) < 0)
    return fail({
      code: 'PREFIX_RANGE',
      text: `"${text}" runs backwards: ${formatAddress(to.value)} comes before ${formatAddress(from.value)}.`,
    });
  return ok({ from: from.value, to: to.value });
}

/** The second address in full where only its last number or group was written. */
function endOf(first: string, last: string): string {
  const short = first.includes(':') ? /^[0-9a-fA-F]{1,4}$/ : /^\d{1,3}$/;
  return short.test(last) ? first.replace(/[^.:]*$/, last) : last;
}

/** "10.84.16.21 - 10.84.16.40"; one address alone where both ends are the same. */
export const formatRange = ({ from, to }: AddressRange): string =>
  from.value === to.value ? formatAddress(from) : `${formatAddress(from)} - ${formatAddress(to)}`;

/** All addresses of a prefix as a range. */
export const rangeOf = (prefix: Prefix): AddressRange => ({ from: firstOf(prefix), to: lastOf(prefix) });

/** Whether two ranges share an address. */
export const rangesMeet = (a: AddressRange, b: AddressRange): boolean =>
  a.from.family === b.from.family && a.from.value <= b.to.value && b.from.value <= a.to.value;
