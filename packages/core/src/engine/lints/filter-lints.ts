import { type Filter, entriesById } from '../../topology';
import { type NetworkModel } from '../analysis';
import { type Reason } from '../devices';

/** Types of an echo and its answer: of ICMP (RFC 792), and of ICMPv6 (RFC 4443 section 4). */
const ECHO = { 4: { 8: 'an echo request', 0: 'an echo reply' }, 6: { 128: 'an echo request', 129: 'an echo reply' } };
const OTHER: Readonly<Record<4 | 6, Readonly<Record<number, number>>>> = {
  4: { 128: 8, 129: 0 },
  6: { 8: 128, 0: 129 },
};

/** The type that was meant by a rule which asks for an echo of the other family; null where it does not. */
export const meantType = ({ family }: Filter, type: number | undefined): number | null =>
  type === undefined ? null : (OTHER[family][type] ?? null);

/** Filters of one family with rules about messages that only the other one has: they match nothing. */
export const filterLintsOf = ({ instances }: NetworkModel): Reason[] => {
  // Members of a tile are set alike: it is told once.
  const seen = new Set<string>();
  return [...instances.values()].flatMap(({ id, deviceId, name, settings }): Reason[] => {
    if (seen.has(deviceId)) return [];
    seen.add(deviceId);
    return entriesById(settings.filters).flatMap(([key, filter]) =>
      filter.rules.flatMap(({ icmpType }, at): Reason[] => {
        const meant = meantType(filter, icmpType);
        if (meant === null) return [];
        const words = (ECHO[filter.family] as Record<number, string>)[meant]!;
        return [
          {
            code: 'ICMP_OTHER_FAMILY',
            text: `${name}, ${key}, rule ${at + 1}: type ${icmpType} is of ${filter.family === 6 ? 'ICMP' : 'ICMPv6'} and matches nothing in IPv${filter.family}, where ${words} is type ${meant}.`,
            at: { device: id },
          },
        ];
      }),
    );
  });
};
