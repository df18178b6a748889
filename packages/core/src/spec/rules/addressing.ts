import { Type } from '@sinclair/typebox';
import {
  type InterfaceAddress,
  type Prefix,
  bitsOf,
  broadcastAddress,
  contains,
  formatAddress,
  formatInterfaceAddress,
  formatPrefix,
  isHostScope,
  isPrivate,
  networkAddress,
  overlaps,
  parseAddress,
  parsePrefix,
  sameAddress,
  samePrefix,
  subnetOf,
  usableCount,
  usableRange,
} from '../../address';
import { type Instance } from '../../engine';
import { type Problem, AddressText, Closed, Count, ListOf, OneOf } from '../../topology';
import { type CheckContext, type Item, Ref, absent, defineRule, eachRole, lost, met, placeOf, slot } from '../rule';

const Family = OneOf('4', '6');
const familySlot = {
  type: 'choice',
  options: [
    { value: '4', text: 'IPv4' },
    { value: '6', text: 'IPv6' },
  ],
} as const;
const familyOf = (rule: { family: '4' | '6' }): 4 | 6 => (rule.family === '4' ? 4 : 6);
const prefixProblem = (property: string, text: string): Problem[] => {
  const read = parsePrefix(text);
  return read.ok ? [] : [{ place: property, text: read.error.text }];
};
const blockOf = (text: string): Prefix | null => {
  const read = parsePrefix(text);
  return read.ok ? read.value : null;
};

/** Why a device has no readable address: the sentence of the address reader where something is typed. */
function withoutAddress(context: CheckContext, instance: Instance, family: 4 | 6): Item {
  const unreadable = context.student.layer3.nodes
    .get(instance.id)
    ?.refused.find((reason) => reason.code === 'ADDRESS_UNREADABLE');
  return {
    ...lost(unreadable ? unreadable.text : `${instance.name} has no IPv${family} address.`, placeOf(instance)),
    grounded: false,
  };
}

const eachAddress = (
  context: CheckContext,
  ref: string,
  family: 4 | 6,
  judge: (on: InterfaceAddress, instance: Instance, role: string) => Item,
): Item[] =>
  eachRole(context, ref, (instance, role) => {
    const own = context.addresses(instance, family);
    return own.length ? own.map((on) => judge(on, instance, role)) : withoutAddress(context, instance, family);
  });

export const inBlock = defineRule({
  kind: 'inBlock',
  family: 'addressing',
  title: 'Addresses lie in a block',
  schema: Closed({ kind: Type.Literal('inBlock'), who: Ref, block: AddressText }),
  slots: { who: { type: 'ref' }, block: { type: 'prefix' } },
  fresh: { kind: 'inBlock', who: '@hosts', block: '10.0.0.0/8' },
  problems: (rule) => prefixProblem('block', rule.block),
  words: (rule, names) => [
    'The addresses of ',
    slot('who', names.ref(rule.who)),
    ' lie in ',
    slot('block', rule.block),
    '.',
  ],
  evaluate: (rule, context) => {
    const block = blockOf(rule.block);
    if (!block) return [absent(`${rule.block} is no block.`)];
    return eachAddress(context, rule.who, block.family, (on, instance) => {
      const text = `${instance.name} has ${formatInterfaceAddress(on)}.`;
      return contains(block, on.address)
        ? met(text, placeOf(instance))
        : lost(`${text} That is outside ${rule.block}.`, placeOf(instance));
    });
  },
});

export const outsideBlock = defineRule({
  kind: 'outsideBlock',
  family: 'addressing',
  title: 'A range is not used inside',
  schema: Closed({ kind: Type.Literal('outsideBlock'), who: Ref, block: AddressText }),
  slots: { who: { type: 'ref' }, block: { type: 'prefix' } },
  fresh: { kind: 'outsideBlock', who: '@hosts', block: '198.51.100.0/24' },
  problems: (rule) => prefixProblem('block', rule.block),
  words: (rule, names) => [
    'No address of ',
    slot('who', names.ref(rule.who)),
    ' comes from ',
    slot('block', rule.block),
    '.',
  ],
  evaluate: (rule, context) => {
    const block = blockOf(rule.block);
    if (!block) return [absent(`${rule.block} is no block.`)];
    return eachAddress(context, rule.who, block.family, (on, instance) => {
      const text = `${instance.name} has ${formatInterfaceAddress(on)}.`;
      return overlaps(block, subnetOf(on))
        ? lost(`${text} That is a range which is not to be used here.`, placeOf(instance))
        : met(text, placeOf(instance));
    });
  },
});

export const onlyPrivate = defineRule({
  kind: 'private',
  family: 'addressing',
  title: 'Only private addresses',
  schema: Closed({ kind: Type.Literal('private'), who: Ref }),
  slots: { who: { type: 'ref' } },
  fresh: { kind: 'private', who: '@hosts' },
  words: (rule, names) => ['Only private addresses are set on ', slot('who', names.ref(rule.who)), '.'],
  evaluate: (rule, context) =>
    eachAddress(context, rule.who, 4, (on, instance) => {
      const text = `${instance.name} has ${formatAddress(on.address)}.`;
      return isPrivate(on.address)
        ? met(text, placeOf(instance))
        : lost(`${text} That is no private address.`, placeOf(instance));
    }),
});

export const usable = defineRule({
  kind: 'usable',
  family: 'addressing',
  title: 'Addresses that a host may carry',
  schema: Closed({ kind: Type.Literal('usable'), who: Ref, family: Family }),
  slots: { who: { type: 'ref' }, family: familySlot },
  fresh: { kind: 'usable', who: '@all', family: '4' },
  words: (rule, names) => [
    'The ',
    slot('family', `IPv${rule.family}`),
    ' addresses of ',
    slot('who', names.ref(rule.who)),
    ' are such as a device may carry.',
  ],
  evaluate: (rule, context) =>
    eachAddress(context, rule.who, familyOf(rule), (on, instance) => {
      const subnet = subnetOf(on);
      const [network, broadcast] = [networkAddress(subnet), broadcastAddress(subnet)];
      const text = `${instance.name} has ${formatInterfaceAddress(on)}`;
      if (network && on.address.family === 4 && sameAddress(network, on.address))
        return lost(`${text}: that is the network address of its subnet.`, placeOf(instance));
      if (broadcast && sameAddress(broadcast, on.address))
        return lost(`${text}: that is the broadcast address of its subnet.`, placeOf(instance));
      return isHostScope(on.address)
        ? met(`${text}.`, placeOf(instance))
        : lost(`${text}: such an address belongs to no single device.`, placeOf(instance));
    }),
});

export const uniqueAddresses = defineRule({
  kind: 'uniqueAddresses',
  family: 'addressing',
  title: 'Addresses are used once',
  schema: Closed({ kind: Type.Literal('uniqueAddresses'), who: Ref, family: Family }),
  slots: { who: { type: 'ref' }, family: familySlot },
  fresh: { kind: 'uniqueAddresses', who: '@all', family: '4' },
  words: (rule, names) => [
    'No ',
    slot('family', `IPv${rule.family}`),
    ' address of ',
    slot('who', names.ref(rule.who)),
    ' is used twice.',
  ],
  evaluate: (rule, context) => {
    const family = familyOf(rule);
    const users = new Map<string, Instance[]>();
    for (const instance of context.student.instances.values())
      for (const { address } of context.addresses(instance, family))
        users.set(formatAddress(address), [...(users.get(formatAddress(address)) ?? []), instance]);
    return eachAddress(context, rule.who, family, (on, instance) => {
      const text = formatAddress(on.address);
      const all = users.get(text)!;
      return all.length === 1
        ? met(`${text} is ${instance.name}'s alone.`, placeOf(instance))
        : lost(
            `${text} is used by ${[...new Set(all.map((instance) => instance.name))].join(' and ')}.`,
            ...all.map((instance) => placeOf(instance)),
          );
    });
  },
});

/** The subnet of a group: the one most of its members are in; ties go to the lower prefix. */
function commonSubnet(context: CheckContext, ref: string, family: 4 | 6): Prefix | null {
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

export const oneSubnet = defineRule({
  kind: 'oneSubnet',
  family: 'addressing',
  title: 'A group shares one subnet',
  schema: Closed({ kind: Type.Literal('oneSubnet'), who: Ref, family: Family }),
  slots: { who: { type: 'ref' }, family: familySlot },
  fresh: { kind: 'oneSubnet', who: '@hosts', family: '4' },
  words: (rule, names) => [
    'One ',
    slot('family', `IPv${rule.family}`),
    ' subnet holds ',
    slot('who', names.ref(rule.who)),
    '.',
  ],
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

export const roomFor = defineRule({
  kind: 'roomFor',
  family: 'addressing',
  title: 'A subnet with room for a group',
  schema: Closed({ kind: Type.Literal('roomFor'), who: Ref, n: Count, block: AddressText }),
  slots: { who: { type: 'ref' }, n: { type: 'number', min: 1, max: 1_000_000 }, block: { type: 'prefix' } },
  fresh: { kind: 'roomFor', who: '@hosts', n: 40, block: '10.0.0.0/8' },
  problems: (rule) => prefixProblem('block', rule.block),
  words: (rule, names) => [
    'The subnet of ',
    slot('who', names.ref(rule.who)),
    ' has room for ',
    slot('n', rule.n),
    ' hosts and the gateway, inside ',
    slot('block', rule.block),
    '.',
  ],
  evaluate: (rule, context) => {
    const block = blockOf(rule.block);
    if (!block) return [absent(`${rule.block} is no block.`)];
    const subnet = commonSubnet(context, rule.who, block.family);
    if (!subnet) return [absent(`No device for ${context.ref(rule.who)} has an address.`)];
    const places = context
      .roles(rule.who)
      .map((role) => context.device(role))
      .filter((one) => one !== null)
      .map((instance) => placeOf(instance));
    const room = usableCount(subnet);
    const [fits, inside] = [room >= BigInt(rule.n) + 1n, contains(block, subnet)];
    return [
      {
        text: `${formatPrefix(subnet)} has ${room} usable addresses, ${rule.n + 1} are wanted.`,
        met: fits,
        places,
        grounded: true,
      },
      {
        text: `${formatPrefix(subnet)} lies ${inside ? 'inside' : 'outside'} ${rule.block}.`,
        met: inside,
        places,
        grounded: true,
      },
    ];
  },
});

export const prefixLength = defineRule({
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
        : lost(`${text} Wanted is /${rule.length}.`, placeOf(instance));
    }),
});

export const addressOf = defineRule({
  kind: 'address',
  family: 'addressing',
  title: 'A device has a given address',
  schema: Closed({ kind: Type.Literal('address'), who: Ref, address: AddressText }),
  slots: { who: { type: 'ref' }, address: { type: 'text' } },
  fresh: { kind: 'address', who: '@network', address: '10.0.0.1' },
  problems: (rule) => {
    const read = parseAddress(rule.address);
    return read.ok ? [] : [{ place: 'address', text: read.error.text }];
  },
  words: (rule, names) => [
    'The address of ',
    slot('who', names.ref(rule.who)),
    ' is ',
    slot('address', rule.address),
    '.',
  ],
  evaluate: (rule, context) => {
    const wanted = parseAddress(rule.address);
    if (!wanted.ok) return [absent(wanted.error.text)];
    return eachRole(context, rule.who, (instance) => {
      const own = context.addresses(instance, wanted.value.family);
      if (!own.length) return withoutAddress(context, instance, wanted.value.family);
      return own.some((on) => sameAddress(on.address, wanted.value))
        ? met(`${instance.name} has ${rule.address}.`, placeOf(instance))
        : lost(`${instance.name} has ${own.map((on) => formatAddress(on.address)).join(', ')}.`, placeOf(instance));
    });
  },
});

export const firstUsable = defineRule({
  kind: 'firstUsable',
  family: 'addressing',
  title: 'Gateway address by scheme',
  schema: Closed({ kind: Type.Literal('firstUsable'), router: Ref, who: Ref }),
  slots: { router: { type: 'ref' }, who: { type: 'ref' } },
  fresh: { kind: 'firstUsable', router: '@network', who: '@hosts' },
  words: (rule, names) => [
    'In the subnet of ',
    slot('who', names.ref(rule.who)),
    ', the first usable address belongs to ',
    slot('router', names.ref(rule.router)),
    '.',
  ],
  evaluate: (rule, context) => {
    const subnet = commonSubnet(context, rule.who, 4);
    if (!subnet) return [absent(`No device for ${context.ref(rule.who)} has an address.`)];
    const { from } = usableRange(subnet);
    return eachRole(context, rule.router, (instance) => {
      const has = context.addresses(instance, 4).filter((on) => contains(subnet, on.address));
      if (!has.length) return lost(`${instance.name} has no address in ${formatPrefix(subnet)}.`, placeOf(instance));
      return has.some((on) => sameAddress(on.address, from))
        ? met(`${instance.name} has ${formatAddress(from)}.`, placeOf(instance))
        : lost(
            `${instance.name} has ${has.map((on) => formatAddress(on.address)).join(', ')}: the first usable address is ${formatAddress(from)}.`,
            placeOf(instance),
          );
    });
  },
});

/** The way out that came with a lease. */
function toldGateway({ student }: CheckContext, { id }: Instance): string | undefined {
  const lease = [...student.layer3.leases.values()].find((lease) => lease.client.device === id && lease.router);
  return lease?.router ? formatAddress(lease.router) : undefined;
}

export const gateway = defineRule({
  kind: 'gateway',
  family: 'addressing',
  title: 'The gateway is the router',
  schema: Closed({ kind: Type.Literal('gateway'), who: Ref, router: Ref }),
  slots: { who: { type: 'ref' }, router: { type: 'ref' } },
  fresh: { kind: 'gateway', who: '@hosts', router: '@network' },
  words: (rule, names) => [
    'The gateway of ',
    slot('who', names.ref(rule.who)),
    ' is ',
    slot('router', names.ref(rule.router)),
    ', in their own subnet.',
  ],
  evaluate: (rule, context) => {
    const routers = context
      .roles(rule.router)
      .map((role) => context.device(role))
      .filter((one) => one !== null);
    if (!routers.length) return [absent(`Nothing in the drawing plays the part of ${context.ref(rule.router)}.`)];
    return eachRole(context, rule.who, (instance) => {
      const text = instance.settings.gateway4 ?? toldGateway(context, instance);
      if (!text) return { ...lost(`${instance.name} has no gateway.`, placeOf(instance)), grounded: false };
      const read = parseAddress(text);
      if (!read.ok) return lost(`The gateway of ${instance.name}: ${read.error.text}`, placeOf(instance));
      const own = context.addresses(instance, 4);
      if (!own.some((on) => contains(subnetOf(on), read.value)))
        return lost(
          `The gateway ${text} of ${instance.name} lies outside its subnet ${own.map((on) => formatPrefix(subnetOf(on))).join(', ')}.`,
          placeOf(instance),
        );
      const holder = routers.find((router) =>
        context.addresses(router, 4).some((on) => sameAddress(on.address, read.value)),
      );
      return holder
        ? met(`The gateway of ${instance.name} is ${holder.name} (${text}).`, placeOf(instance))
        : lost(
            `The gateway ${text} of ${instance.name} is no address of ${routers.map((router) => router.name).join(' or ')}.`,
            placeOf(instance),
          );
    });
  },
});

export const noOverlap = defineRule({
  kind: 'noOverlap',
  family: 'addressing',
  title: 'Subnets of groups do not overlap',
  schema: Closed({ kind: Type.Literal('noOverlap'), groups: ListOf(Ref, 64) }),
  slots: { groups: { type: 'refs' } },
  fresh: { kind: 'noOverlap', groups: [] },
  words: (rule, names) => [
    'The subnets of ',
    slot('groups', rule.groups.map(names.ref).join(', ') || '…'),
    ' do not overlap.',
  ],
  evaluate: (rule, context) => {
    const subnets = rule.groups.map((ref) => ({ ref, subnet: commonSubnet(context, ref, 4) }));
    if (!subnets.length) return [absent('The requirement names no group.')];
    return subnets.map(({ ref, subnet }) => {
      if (!subnet) return absent(`No device for ${context.ref(ref)} has an address.`);
      const places = context
        .roles(ref)
        .map((role) => context.device(role))
        .filter((one) => one !== null)
        .map((instance) => placeOf(instance));
      const other = subnets.find((one) => one.ref !== ref && one.subnet && overlaps(one.subnet, subnet));
      return other
        ? lost(
            `${formatPrefix(subnet)} of ${context.ref(ref)} overlaps ${formatPrefix(other.subnet!)} of ${context.ref(other.ref)}.`,
            ...places,
          )
        : met(`${formatPrefix(subnet)} of ${context.ref(ref)} overlaps no other.`, ...places);
    });
  },
});
