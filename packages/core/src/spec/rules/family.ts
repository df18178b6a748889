import { Maybe, OneOf } from '../../topology';
import { type Slot } from '../rule';

/**
 * The family of addresses that a rule speaks of, in its shape and as a slot of its sentence; where it names none, each
 * family in which the reference addresses the roles concerned.
 */
export const Family = Maybe(OneOf('4', '6'));
export const familySlot = {
  type: 'choice',
  options: [
    { value: '', text: 'IP', choice: 'IP, each family in use' },
    { value: '4', text: 'IPv4' },
    { value: '6', text: 'IPv6' },
  ],
} as const satisfies Slot;
/** A family as rules name it. */
export const named = (family: 4 | 6) => ({ family: `${family}` as const });
