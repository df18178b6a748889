import {
  type Address,
  type Prefix,
  bitsOf,
  contains,
  formatAddress,
  formatInterfaceAddress,
  formatPrefix,
  overlaps,
  samePrefix,
  subnetOf,
  usableCount,
} from '../../../address';
import { AddressText, Closed, Count, ListOf } from '../../../topology';
import {
  type CheckContext,
  type Item,
  Ref,
  about,
  absent,
  compared,
  defineRule,
  eachRoleAndFamily,
  familiesFor,
  lost,
  met,
  placeOf,
  slot,
} from '../../rule';
import { Family, familySlot, named } from '../family';
import { Whose, strangersIn, whoseSlot } from '../whose';
import { type Instance, forwards } from '../../../engine';
import { Type } from '@sinclair/typebox';
import { prefixProblem, blockOf, withoutAddress, eachAddress } from './shared';

/** The subnets of a device in one family, each once. */
const subnetsOf = (context: CheckContext, instance: Instance, family: 4 | 6): Prefix[] => [
  ...new Map(
    context.addresses(instance, family).map((on) => {
      const subnet = subnetOf(on);
      return [formatPrefix(subnet), subnet];
    }),
  ).values(),
];

interface GroupSubnet {
  subnet: Prefix;
  /** Another one that as many devices are in, where no router is in just one of the two. */
  rival: Prefix | null;
}

/**
 * The subnet of a group: the one most of its members are in. Of two that as many are in it is the one with a router; where
 * that tells nothing either, the lower prefix, and the other one is its rival.
 */
function subnetOfGroup(context: CheckContext, ref: string, family: 4 | 6): GroupSubnet | null {
  const count = new Map<string, { subnet: Prefix; n: number }>();
  for (const role of context.roles(ref)) {
    const instance = context.device(role);
    for (const subnet of instance ? subnetsOf(context, instance, family) : []) {
      const known = count.get(formatPrefix(subnet));
      if (known) known.n++;
      else count.set(formatPrefix(subnet), { subnet, n: 1 });
    }
  }
  const sorted = [...count.entries()].sort(([a, x], [b, y]) => y.n - x.n || (a < b ? -1 : 1)).map(([, each]) => each);
  const best = sorted.filter(({ n }) => n === sorted[0]!.n).map(({ subnet }) => subnet);
  if (best.length < 2) return best[0] ? { subnet: best[0], rival: null } : null;
  const routed = best.filter((subnet) =>
    [...context.student.instances.values()].some(
      (other) => forwards(other, family) && context.addresses(other, family).some((on) => contains(subnet, on.address)),
    ),
  );
  return routed.length === 1 ? { subnet: routed[0]!, rival: null } : { subnet: best[0]!, rival: best[1]! };
}
export const commonSubnet = (context: CheckContext, ref: string, family: 4 | 6): Prefix | null =>
  subnetOfGroup(context, ref, family)?.subnet ?? null;

export const oneSubnetRule = defineRule({
  kind: 'oneSubnet',
  family: 'addressing',
  title: 'A group shares one subnet',
  schema: Closed({ kind: Type.Literal('oneSubnet'), who: Ref, family: Family }),
  slots: { who: { type: 'ref' }, family: familySlot },
  fresh: { kind: 'oneSubnet', who: '@hosts' },
  sentence: 'One {family} subnet holds {who}.',
  evaluate: (rule, context) => {
    const common = new Map(
      ([4, 6] as const).map((family) => [family, subnetOfGroup(context, rule.who, family)] as const),
    );
    const playing = context.roles(rule.who).flatMap((role) => context.device(role) ?? []);
    return eachRoleAndFamily(context, rule.who, rule, (instance, family) => {
      const own = subnetsOf(context, instance, family);
      if (!own.length) return withoutAddress(context, instance, family);
      const { subnet, rival } = common.get(family)!;
      const text = `${instance.name} is in ${own.map(formatPrefix).join(' and ')}`;
      if (own.some((each) => samePrefix(each, subnet))) return met(`${text}.`, placeOf(instance));
      // Nothing says which of two is right: it is their disagreement that is wrong, and both are pointed at.
      const others =
        rival && own.some((each) => samePrefix(each, rival))
          ? playing.filter((other) => subnetsOf(context, other, family).some((each) => samePrefix(each, subnet)))
          : [];
      return others.length
        ? lost(
            `${text}, ${others.map(({ name }) => name).join(' and ')} in ${formatPrefix(subnet)}: they do not agree.`,
            placeOf(instance),
            ...others.map((other) => placeOf(other)),
          )
        : lost(`${text}, the others are in ${formatPrefix(subnet)}.`, placeOf(instance));
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
  one: 'The subnet of {who} has room for {n} host and the gateway, inside {block}.',
  evaluate: (rule, context) => {
    const block = blockOf(rule.block);
    if (!block) return [absent(`${rule.block} is no block.`)];
    const subnet = commonSubnet(context, rule.who, block.family);
    if (!subnet) return [absent(`No device for ${context.ref(rule.who)} has an address.`)];
    const { family } = block;
    const playing = context.roles(rule.who).flatMap((role) => context.device(role) ?? []);
    const places = playing.map((instance) => placeOf(instance));
    // Whatever has an address there and is no host takes one of them: gateways, virtual routers, switches, access points.
    const equipment = [...context.student.instances.values()]
      .filter((instance) => instance.model.class !== 'end')
      .flatMap((instance) => [
        ...context.addresses(instance, family).map((on) => on.address),
        ...virtualAddresses(context, instance),
      ])
      .filter((address) => contains(subnet, address));
    const wanted = rule.n + Math.max(1, new Set(equipment.map(formatAddress)).size);
    const room = usableCount(subnet);
    const inside = contains(block, subnet);
    const fitting = `${formatPrefix(subnet)} has ${room} usable addresses${context.mark(`, ${wanted} are wanted`, '', rule.n)}.`;
    const lying = `${formatPrefix(subnet)} lies ${inside ? 'inside' : 'outside'} ${context.mark(rule.block, 'what is asked for', rule.block)}.`;
    return [
      compared(room >= BigInt(wanted), fitting, { found: room.toString(), wanted }, ...places),
      compared(inside, lying, { found: formatPrefix(subnet), wanted: rule.block }, ...places),
      ...playing.flatMap((instance) => {
        const own = subnetsOf(context, instance, family);
        return own.length && !own.some((each) => samePrefix(each, subnet))
          ? lost(
              `${instance.name} is in ${own.map(formatPrefix).join(' and ')}, not in ${formatPrefix(subnet)}.`,
              placeOf(instance),
            )
          : [];
      }),
    ];
  },
});

const virtualAddresses = ({ student }: CheckContext, { id }: Instance): Address[] =>
  (student.layer3.nodes.get(id)?.interfaceStates ?? []).flatMap((state) => state.virtual ?? []);

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
    eachAddress(context, rule.who, named(rule.length > 32 ? 6 : 4), (on, instance) => {
      const text = `${instance.name} has ${formatInterfaceAddress(on)}.`;
      const isMet = on.length === rule.length;
      const wanted = ` Wanted is ${context.mark(`/${rule.length}`, 'another length', `/${rule.length}`)}.`;
      return compared(
        isMet,
        isMet ? text : `${text}${wanted}`,
        { found: on.length, wanted: rule.length },
        placeOf(instance),
      );
    }),
});

interface Used {
  subnet: Prefix;
  realm: number;
  users: Instance[];
}
/** The subnets that the devices of a ref are in, each once in a realm; that of most of them first. */
function usedBy(context: CheckContext, ref: string, family: 4 | 6): Used[] {
  const found = new Map<string, Used>();
  for (const instance of context.roles(ref).flatMap((role) => context.device(role) ?? []))
    for (const on of context.addresses(instance, family)) {
      const [subnet, realm] = [subnetOf(on), context.realmOf(instance, on.address)];
      const key = `${formatPrefix(subnet)} ${realm}`;
      const known = found.get(key);
      if (known) known.users.push(instance);
      else found.set(key, { subnet, realm, users: [instance] });
    }
  return [...found.values()].sort((one, other) => other.users.length - one.users.length);
}

/** Whether a subnet of a group overlaps one of another group, or one that something else is in. */
function overlap(
  context: CheckContext,
  own: { ref: string; subnets: readonly Used[] },
  groups: readonly { ref: string; subnets: readonly Used[] }[],
  beside: readonly Instance[],
  family: 4 | 6,
): Item {
  for (const { subnet, realm, users } of own.subnets) {
    const places = users.map((instance) => placeOf(instance));
    const text = `${formatPrefix(subnet)} of ${context.ref(own.ref)} overlaps`;
    for (const group of groups) {
      const met =
        group.ref === own.ref
          ? undefined
          : group.subnets.find((theirs) => theirs.realm === realm && overlaps(theirs.subnet, subnet));
      if (met)
        return lost(
          `${text} ${formatPrefix(met.subnet)} of ${context.ref(group.ref)}.`,
          ...places,
          ...met.users.map((instance) => placeOf(instance)),
        );
    }
    for (const other of beside)
      for (const on of context.addresses(other, family)) {
        const theirs = subnetOf(on);
        // Whoever stands in the very subnet is one more of it: that is another question.
        if (!overlaps(theirs, subnet) || samePrefix(theirs, subnet) || context.realmOf(other, on.address) !== realm)
          continue;
        return lost(
          `${text} ${formatPrefix(theirs)} of ${other.name}, which nobody asked for.`,
          placeOf(other),
          ...places,
        );
      }
  }
  const [most] = own.subnets;
  return met(
    `${formatPrefix(most!.subnet)} of ${context.ref(own.ref)} overlaps no other.`,
    ...own.subnets.flatMap(({ users }) => users.map((instance) => placeOf(instance))),
  );
}

export const noOverlapRule = defineRule({
  kind: 'noOverlap',
  family: 'addressing',
  title: 'Subnets of groups do not overlap',
  schema: Closed({ kind: Type.Literal('noOverlap'), groups: ListOf(Ref, 64), whose: Whose }),
  slots: { groups: { type: 'refs' }, whose: whoseSlot },
  fresh: { kind: 'noOverlap', groups: [] },
  sentence: 'The subnets of {groups} do not overlap{whose}.',
  evaluate: (rule, context) => {
    if (!rule.groups.length) return [absent('The requirement names no group.')];
    return familiesFor(
      context,
      {},
      rule.groups.flatMap((ref) => context.roles(ref)),
    ).flatMap((family) => {
      const groups = rule.groups.map((ref) => ({ ref, subnets: usedBy(context, ref, family) }));
      const beside = rule.whose === 'asked' ? [] : strangersIn(context);
      return groups.flatMap(({ ref, subnets }): Item[] => {
        const roles = context.roles(ref);
        if (!subnets.length)
          return about(absent(`No device for ${context.ref(ref)} has an IPv${family} address.`), roles, family);
        return about(overlap(context, { ref, subnets }, groups, beside, family), roles, family);
      });
    });
  },
});
