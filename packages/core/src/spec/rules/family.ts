import { OneOf } from '../../topology';
import { type Slot } from '../rule';

/** The family of addresses that a rule speaks of, in its shape and as a slot of its sentence. */
export const Family = OneOf('4', '6');
export const familySlot = {
  type: 'choice',
  options: [
    { value: '4', text: 'IPv4' },
    { value: '6', text: 'IPv6' },
  ],
} as const satisfies Slot;
export const familyOf = (rule: { family: '4' | '6' }): 4 | 6 => (rule.family === '4' ? 4 : 6);
