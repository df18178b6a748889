import {
  type Prefix,
  bitsOf,
  contains,
  formatInterfaceAddress,
  formatPrefix,
  overlaps,
  samePrefix,
  subnetOf,
  usableCount,
} from '../../../address';
import { AddressText, Closed, Count, ListOf } from '../../../topology';
import { type CheckContext, Ref, absent, defineRule, eachRole, lost, met, placeOf, slot } from '../../rule';
import { Family, familyOf, familySlot } from '../family';
import { Type } from '@sinclair/typebox';
import { prefixProblem, blockOf, withoutAddress, eachAddress } from './shared';

/** The subnet of a group: the one most of its members are in; ties go to the lower prefix. */
export function commonSubnet(context: CheckContext, ref: string, family: 4 | 6): Prefix | null {
  const count = new Map<string, { subnet: Prefix; n: number }>();
  for (const role of context.roles(ref)) {
    const instance = context.device(role);
    for (const on of instance ? context.addresses(instance, family).slice(0, 1) : []) {
      const subnet = subnetOf(on);
      const known = count.get(formatPrefix(subnet));
      if (known) known.n++;
      else count.set(formatPrefix(subnet), { subnet, n: 1 });
    }
  }
  return [...count.entries()].sort(([a, x], [b, y]) => y.n - x.n || (a < b ? -1 : 1))[0]?.[1].subnet ?? null;
}

export const oneSubnetRule = defineRule({
  kind: 'oneSubnet',
  family: 'addressing',
  title: 'A group shares one subnet',
  schema: Closed({ kind: Type.Literal('oneSubnet'), who: Ref, family: Family }),
  slots: { who: { type: 'ref' }, family: familySlot },
  fresh: { kind: 'oneSubnet', who: '@hosts', family: '4' },
  sentence: 'One {family} subnet holds {who}.',
  evaluate: (rule, context) => {
    const family = familyOf(rule);
    const subnet = commonSubnet(context, rule.who, family);
    return eachRole(context, rule.who, (instance) => {
      const on = context.addresses(instance, family)[0];
      if (!on) return withoutAddress(context, instance, family);
      const text = `${instance.name} is in ${formatPrefix(subnetOf(on))}`;
      return samePrefix(subnetOf(on), subnet!)
        ? met(`${text}.`, placeOf(instance))
        : lost(`${text}, the others are in ${formatPrefix(subnet!)}.`, placeOf(instance));
    });
  },
});

export const roomForRule = defineRule({
  kind: 'roomFor',
  family: 'addressing',
  title: 'A subnet with room for a group',
  schema: Closed({ kind: Type.Literal('roomFor'), who: Ref, n: Count, block: AddressText }),
  slots: { who: { type: 'ref' }, n: { type: 'number', min: 1, max: 1_000_000 }, block: { type: 'prefix' } },
  fresh: { kind: 'roomFor', who: '@hosts', n: 40, block: '10.0.0.0/8' },
  problems: (rule) => prefixProblem('block', rule.block),
  sentence: 'The subnet of {who} has room for {n} hosts and the gateway, inside {block}.',
  evaluate: (rule, context) => {
    const block = blockOf(rule.block);
    if (!block) return [absent(`${rule.block} is no block.`)];
    const subnet = commonSubnet(context, rule.who, block.family);
    if (!subnet) return [absent(`No device for ${context.ref(rule.who)} has an address.`)];
    const places = context
      .roles(rule.who)
      .map((role) => context.device(role))
      .filter((instance) => instance !== null)
      .map((instance) => placeOf(instance));
    const room = usableCount(subnet);
    const [fits, inside] = [room >= BigInt(rule.n) + 1n, contains(block, subnet)];
    return [
      {
        text: `${formatPrefix(subnet)} has ${room} usable addresses${context.mark(`, ${rule.n + 1} are wanted`, '', rule.n)}.`,
        met: fits,
        places,
        grounded: true,
      },
      {
        text: `${formatPrefix(subnet)} lies ${inside ? 'inside' : 'outside'} ${context.mark(rule.block, 'what is asked for', rule.block)}.`,
        met: inside,
        places,
        grounded: true,
      },
    ];
  },
});

export const prefixLengthRule = defineRule({
  kind: 'prefixLength',
  family: 'addressing',
  title: 'Exact prefix length',
  schema: Closed({ kind: Type.Literal('prefixLength'), who: Ref, length: Count }),
  slots: { who: { type: 'ref' }, length: { type: 'number', min: 0, max: 128 } },
  fresh: { kind: 'prefixLength', who: '@hosts', length: 24 },
  problems: (rule) => (rule.length > bitsOf(6) ? [{ place: 'length', text: 'A prefix has at most 128 bits.' }] : []),
  words: (rule, names) => [
    'The prefix length of ',
    slot('who', names.ref(rule.who)),
    ' is ',
    slot('length', `/${rule.length}`),
    '.',
  ],
  evaluate: (rule, context) =>
    eachAddress(context, rule.who, rule.length > 32 ? 6 : 4, (on, instance) => {
      const text = `${instance.name} has ${formatInterfaceAddress(on)}.`;
      return on.length === rule.length
        ? met(text, placeOf(instance))
        : lost(
            `${text} Wanted is ${context.mark(`/${rule.length}`, 'another length', `/${rule.length}`)}.`,
            placeOf(instance),
          );
    }),
});

export const noOverlapRule = defineRule({
  kind: 'noOverlap',
  family: 'addressing',
  title: 'Subnets of groups do not overlap',
  schema: Closed({ kind: Type.Literal('noOverlap'), groups: ListOf(Ref, 64) }),
  slots: { groups: { type: 'refs' } },
  fresh: { kind: 'noOverlap', groups: [] },
  sentence: 'The subnets of {groups} do not overlap.',
  evaluate: (rule, context) => {
    const subnets = rule.groups.map((ref) => ({ ref, subnet: commonSubnet(context, ref, 4) }));
    if (!subnets.length) return [absent('The requirement names no group.')];
    return subnets.map(({ ref, subnet }) => {
      if (!subnet) return absent(`No device for ${context.ref(ref)} has an address.`);
      const places = context
        .roles(ref)
        .map((role) => context.device(role))
        .filter((instance) => instance !== null)
        .map((instance) => placeOf(instance));
      const other = subnets.find(
        (candidate) => candidate.ref !== ref && candidate.subnet && overlaps(candidate.subnet, subnet),
      );
      return other
        ? lost(
            `${formatPrefix(subnet)} of ${context.ref(ref)} overlaps ${formatPrefix(other.subnet!)} of ${context.ref(other.ref)}.`,
            ...places,
          )
        : met(`${formatPrefix(subnet)} of ${context.ref(ref)} overlaps no other.`, ...places);
    });
  },
});
