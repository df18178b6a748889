import { formatInterfaceAddress } from '../../address';
import { type DrawingFaultOperator } from '../fault';
import { hostAddresses, placeOf, retype } from '../places';

/** Beginnings of private ranges (RFC 1918, RFC 4193) and what fingers make of them. */
const MISTYPED: readonly (readonly [RegExp, string])[] = [
  [/^10\./, '1.'],
  [/^172\./, '127.'],
  [/^192\.168\./, '192.186.'],
  [/^fd/, 'df'],
];

export const mistypedRange: DrawingFaultOperator = {
  kind: 'mistypedRange',
  title: 'A private address is mistyped into a public one',
  *faultsIn(topology) {
    for (const typed of hostAddresses(topology)) {
      const text = formatInterfaceAddress(typed.on);
      const found = MISTYPED.find(([right]) => right.test(text));
      if (!found) continue;
      const wrong = text.replace(...found);
      yield { at: placeOf(typed), text: `${typed.name} has ${wrong} for ${text}.`, commands: [retype(typed, wrong)] };
    }
  },
};
