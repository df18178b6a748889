import {
  type Address,
  type InterfaceAddress,
  broadcastAddress,
  contains,
  formatAddress,
  formatInterfaceAddress,
  formatPrefix,
  isHostScope,
  networkAddress,
  parseAddress,
  parseRange,
  sameAddress,
  subnetOf,
  usableRange,
} from '../../../address';
import { type Instance } from '../../../engine';
import { AddressText, Closed, Line, OneOf } from '../../../topology';
import {
  type Item,
  Ref,
  about,
  absent,
  compared,
  defineRule,
  eachRole,
  familiesFor,
  few,
  lost,
  met,
  placeOf,
} from '../../rule';
import { Family, familySlot, named } from '../family';
import { Whose, strangersAmong, whoseSlot } from '../whose';
import { Type } from '@sinclair/typebox';
import { answersFor, eachAddress, withoutAddress } from './shared';
import { commonSubnet } from './subnets';

export const usableRule = defineRule({
  kind: 'usable',
  family: 'addressing',
  title: 'Addresses that a host may carry',
  schema: Closed({ kind: Type.Literal('usable'), who: Ref, family: Family }),
  slots: { who: { type: 'ref' }, family: familySlot },
  fresh: { kind: 'usable', who: '@all' },
  sentence: 'The {family} addresses of {who} are such as a device may carry.',
  evaluate: (rule, context) =>
    eachAddress(context, rule.who, rule, (on, instance) => {
      const subnet = subnetOf(on);
      const [network, broadcast] = [networkAddress(subnet), broadcastAddress(subnet)];
      const text = `${instance.name} has ${formatInterfaceAddress(on)}`;
      if (network && sameAddress(network, on.address))
        return lost(
          `${text}: that is the ${on.address.family === 4 ? 'network' : 'subnet-router anycast'} address of its subnet.`,
          placeOf(instance),
        );
      if (broadcast && sameAddress(broadcast, on.address))
        return lost(`${text}: that is the broadcast address of its subnet.`, placeOf(instance));
      return isHostScope(on.address)
        ? met(`${text}.`, placeOf(instance))
        : lost(`${text}: such an address belongs to no single device.`, placeOf(instance));
    }),
});

export const uniqueAddressesRule = defineRule({
  kind: 'uniqueAddresses',
  family: 'addressing',
  title: 'Addresses are used once',
  schema: Closed({ kind: Type.Literal('uniqueAddresses'), who: Ref, family: Family, whose: Whose }),
  slots: { who: { type: 'ref' }, family: familySlot, whose: whoseSlot },
  fresh: { kind: 'uniqueAddresses', who: '@all' },
  sentence: 'No {family} address of {who} is used twice{whose}.',
  // Behind translations of their own two may have the same addresses (RFC 2663).
  evaluate: (rule, context) => {
    const users = new Map<string, Instance[]>();
    const keyOf = (instance: Instance, address: Address): string =>
      `${formatAddress(address)} ${context.realmOf(instance, address)}`;
    for (const instance of context.student.instances.values()) {
      if (rule.whose === 'asked' && context.roleOf(instance.id) === null) continue;
      for (const { address } of [...context.addresses(instance, 4), ...context.addresses(instance, 6)]) {
        const key = keyOf(instance, address);
        const known = users.get(key);
        if (known) known.push(instance);
        else users.set(key, [instance]);
      }
    }
    const told = new Set<string>();
    const judged = (on: InterfaceAddress, instance: Instance): Item => {
      const text = formatAddress(on.address);
      const key = keyOf(instance, on.address);
      const all = users.get(key) ?? [instance];
      if (all.length === 1) return met(`${text} is ${instance.name}'s alone.`, placeOf(instance));
      told.add(key);
      const { words, places } = few(all);
      return lost(`${text} is used by ${words}.`, ...places);
    };
    const items = eachAddress(context, rule.who, rule, judged);
    if (rule.whose === 'asked') return items;
    // What is drawn beside earns nothing, and loses where it is wrong: once for each address.
    const beside = strangersAmong(context, rule.who).flatMap((other) =>
      familiesFor(context, rule, context.roles(rule.who)).flatMap((family) =>
        context.addresses(other, family).flatMap((on) => {
          if (told.has(keyOf(other, on.address))) return [];
          const item = judged(on, other);
          return item.met ? [] : [item];
        }),
      ),
    );
    return [...items, ...beside];
  },
});

const addressTrouble = (text: string): string | null => {
  const read = parseAddress(text);
  return read.ok ? null : read.error.text;
};

export const addressRule = defineRule({
  kind: 'address',
  family: 'addressing',
  title: 'A device has a given address',
  schema: Closed({ kind: Type.Literal('address'), who: Ref, address: AddressText }),
  slots: { who: { type: 'ref' }, address: { type: 'text', problem: addressTrouble } },
  fresh: { kind: 'address', who: '@network', address: '10.0.0.1' },
  problems: (rule) => {
    const text = addressTrouble(rule.address);
    return text === null ? [] : [{ place: 'address', text }];
  },
  sentence: 'The address of {who} is {address}.',
  evaluate: (rule, context) => {
    const wanted = parseAddress(rule.address);
    if (!wanted.ok) return [absent(wanted.error.text)];
    return eachRole(context, rule.who, (instance) => {
      const own = context.addresses(instance, wanted.value.family);
      if (!own.length) return withoutAddress(context, instance, wanted.value.family);
      return own.some((on) => sameAddress(on.address, wanted.value))
        ? met(`${instance.name} has ${rule.address}.`, placeOf(instance))
        : compared(
            false,
            `${instance.name} has ${own.map((on) => formatAddress(on.address)).join(', ')}.`,
            { found: own.map((on) => formatAddress(on.address)).join(', '), wanted: rule.address },
            placeOf(instance),
          );
    });
  },
});

export const firstUsableRule = defineRule({
  kind: 'firstUsable',
  family: 'addressing',
  title: 'Gateway address by scheme',
  schema: Closed({ kind: Type.Literal('firstUsable'), router: Ref, who: Ref }),
  slots: { router: { type: 'ref' }, who: { type: 'ref' } },
  fresh: { kind: 'firstUsable', router: '@network', who: '@hosts' },
  sentence: 'In the subnet of {who}, the first usable address belongs to {router}.',
  evaluate: (rule, context) => {
    return familiesFor(context, {}, context.roles(rule.who)).flatMap((family): Item[] => {
      const subnet = commonSubnet(context, rule.who, family);
      if (!subnet) return [absent(`No device for ${context.ref(rule.who)} has an IPv${family} address.`)];
      const { from } = usableRange(subnet);
      return eachRole(context, rule.router, (instance) => {
        const has = context.addresses(instance, family).filter((on) => contains(subnet, on.address));
        if (!has.length) return lost(`${instance.name} has no address in ${formatPrefix(subnet)}.`, placeOf(instance));
        return has.some((on) => sameAddress(on.address, from)) || answersFor(context, instance, from)
          ? met(`${instance.name} has ${formatAddress(from)}.`, placeOf(instance))
          : lost(
              `${instance.name} has ${has.map((on) => formatAddress(on.address)).join(', ')}: the first usable address is ${formatAddress(from)}.`,
              placeOf(instance),
            );
      }).flatMap((item) => about(item, [], family));
    });
  },
});

export const familyPresentRule = defineRule({
  kind: 'familyPresent',
  family: 'addressing',
  title: 'Devices have addresses of a family',
  schema: Closed({ kind: Type.Literal('familyPresent'), who: Ref, family: OneOf('4', '6') }),
  slots: {
    who: { type: 'ref' },
    family: {
      type: 'choice',
      options: [
        { value: '4', text: 'IPv4' },
        { value: '6', text: 'IPv6' },
      ],
    },
  },
  fresh: { kind: 'familyPresent', who: '@hosts', family: '6' },
  sentence: 'There is an {family} address beyond the own link on {who}.',
  evaluate: (rule, context) =>
    eachAddress(context, rule.who, rule, (on, instance) =>
      met(`${instance.name} has ${formatInterfaceAddress(on)}.`, placeOf(instance)),
    ),
});

const rangeTrouble = (text: string): string | null => {
  const read = parseRange(text);
  return read.ok ? null : read.error.text;
};
export const inRangeRule = defineRule({
  kind: 'inRange',
  family: 'addressing',
  title: 'Addresses lie in a range',
  schema: Closed({ kind: Type.Literal('inRange'), who: Ref, range: Line }),
  slots: { who: { type: 'ref' }, range: { type: 'text', problem: rangeTrouble } },
  fresh: { kind: 'inRange', who: '@hosts', range: '10.0.0.10-10.0.0.99' },
  problems: (rule) => {
    const text = rangeTrouble(rule.range);
    return text === null ? [] : [{ place: 'range', text }];
  },
  sentence: 'The addresses of {who} lie in the range {range}.',
  evaluate: (rule, context) => {
    const read = parseRange(rule.range);
    if (!read.ok) return [absent(read.error.text)];
    const { from, to } = read.value;
    return eachAddress(context, rule.who, named(from.family), (on, instance) => {
      const isInside = on.address.value >= from.value && on.address.value <= to.value;
      return (isInside ? met : lost)(
        `${instance.name} has ${formatAddress(on.address)}${isInside ? '' : ', outside of it'}.`,
        placeOf(instance),
      );
    });
  },
});
