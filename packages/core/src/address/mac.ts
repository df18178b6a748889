import { type Result, fail, ok } from '../result';

/**
 * Reads a MAC address as it is written: "02:00:00:00:00:0a", "02-00-00-00-00-0A" (IEEE 802-2014 §8.1), or twelve digits
 * with dots or nothing between. As it is stored: in small letters with colons.
 */
export function parseMac(text: string): Result<string, string> {
  const plain = text.trim();
  const digits = plain.replace(/[:.-]/g, '').toLowerCase();
  const isGrouped = /^(?:[0-9a-f]{2}([:-]?))(?:[0-9a-f]{2}\1){4}[0-9a-f]{2}$|^[0-9a-f]{4}\.[0-9a-f]{4}\.[0-9a-f]{4}$/i;
  if (!isGrouped.test(plain))
    return fail(`“${plain}” is no MAC address: write six pairs of hexadecimal digits, for instance 02:00:00:00:00:0a.`);
  // The lowest bit of the first pair marks addresses of groups (IEEE 802-2014 §8.2.2).
  if (parseInt(digits.slice(0, 2), 16) & 1)
    return fail(`“${plain}” is the address of a group: no port has it. The first pair of a port’s own is even.`);
  return ok(digits.match(/../g)!.join(':'));
}
