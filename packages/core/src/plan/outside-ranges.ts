import { type Prefix, bitsOf, parseAddress, parsePrefix } from '../address';
import { type Brief } from './schema';

/** Ranges that the provider hands out, as far as they can be read; an address alone counts as a block of one. */
export function outsideRanges(brief: Brief): Prefix[] {
  return (brief.outside ?? []).flatMap((text) => {
    const read = parsePrefix(text.trim());
    if (read.ok) return [read.value];
    const alone = parseAddress(text.trim());
    return alone.ok ? [{ ...alone.value, length: bitsOf(alone.value.family) }] : [];
  });
}
