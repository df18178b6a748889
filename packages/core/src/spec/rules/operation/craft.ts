import { Type } from '@sinclair/typebox';
import { type InterfaceAddress, formatInterfaceAddress, formatPrefix, subnetOf } from '../../../address';
import {
  type Instance,
  type NetworkModel,
  type Reason,
  type ReasonCode,
  instanceId,
  problemsOf,
  splitInstanceId,
} from '../../../engine';
import { Closed, ListOf, OneOf } from '../../../topology';
import { Whose, whoseSlot } from '../whose';
import {
  type CheckContext,
  type Item,
  type Place,
  Ref,
  absent,
  defineRule,
  eachRoleAndFamily,
  lost,
  met,
  placeOf,
} from '../../rule';

/** What a requirement can ask the list of problems for, in groups that people name. */
const SORTS: Readonly<Record<string, { text: string; codes: readonly ReasonCode[] }>> = {
  links: {
    text: 'links that do not come up, or only in part',
    codes: [
      'NOT_CONNECTED',
      'PORT_TAKEN_TWICE',
      'PORT_OFF',
      'CABLE_BROKEN',
      'CONNECTOR_MISMATCH',
      'FIBRE_MISMATCH',
      'WRONG_PAIRING',
      'NO_COMMON_SPEED',
      'NO_NEGOTIATION',
      'CABLE_TOO_LONG',
      'NO_CLOCK',
      'TWO_CLOCKS',
      'RADIO_MISMATCH',
      'RADIO_KEY',
      'CHANNEL_OPEN',
      'CONSOLE_CABLE',
    ],
  },
  duplex: { text: 'links whose ends disagree on the duplex', codes: ['DUPLEX_DIFFERS'] },
  power: { text: 'devices without power', codes: ['NO_POWER'] },
  names: {
    text: 'names that are missing, there twice or not those of the configuration',
    codes: ['NO_NAME', 'NAME_TWICE', 'HOSTNAME_DIFFERS'],
  },
  addresses: {
    text: 'addresses that cannot be read or used, or are there twice',
    codes: [
      'ADDRESS_UNREADABLE',
      'ADDRESS_NOT_USABLE',
      'DUPLICATE_ADDRESS',
      'BROADCAST_ADDRESS',
      'PREFIX_DIFFERS',
      'SUBNET_TWICE',
    ],
  },
  gateways: { text: 'gateways that cannot be used', codes: ['GATEWAY_OUTSIDE', 'GATEWAY_NOT_ROUTER', 'NO_GATEWAY'] },
  vlans: {
    text: 'VLANs that are cut, not created or mixed up',
    codes: [
      'NATIVE_MISMATCH',
      'ACCESS_VLAN_MISMATCH',
      'NATIVE_NOT_ALLOWED',
      'VLAN_NOT_CREATED',
      'TRUNK_WITHOUT_VLAN',
      'VLAN_CUT',
      'NO_VOICE_VLAN',
      'BUNDLE_NOT_FORMED',
    ],
  },
  loops: { text: 'loops and roots by chance', codes: ['STORM', 'ROOT_BY_CHANCE', 'ROOT_AT_EDGE', 'PORT_GUARDED'] },
  routes: {
    text: 'routes that lead nowhere or not back',
    codes: [
      'NEXT_HOP_UNREACHABLE',
      'ROUTE_LOOP',
      'ROUTE_UNSTABLE',
      'NO_RETURN_ROUTE',
      'FORWARDING_OFF',
      'OSPF_DIFFERS',
      'ROUTER_ID_TWICE',
    ],
  },
  leases: {
    text: 'pools and hosts that wait in vain',
    codes: ['POOL_FOREIGN', 'POOL_TOO_SMALL', 'DHCP_NOBODY', 'DHCP_TWICE'],
  },
  security: {
    text: 'telnet, and passwords that are missing',
    codes: ['TELNET_OPEN', 'NO_PRIVILEGED_PASSWORD', 'PORT_SECURITY'],
  },
  public: { text: 'addresses inside that are not private', codes: ['NOT_PRIVATE'] },
  phones: { text: 'phones that find no call server', codes: ['NOT_REGISTERED'] },
  settings: {
    text: 'settings that point at nothing, or lack their other half',
    codes: ['NAMES_NOTHING', 'NAT_SIDE_MISSING', 'ICMP_OTHER_FAMILY'],
  },
  slow: { text: 'ports that are slower than they need be', codes: ['SLOWER_PORT'] },
};

/** A spec may ask about each sort by itself. */
const known = new WeakMap<NetworkModel, readonly Reason[]>();
function problemsIn(model: NetworkModel): readonly Reason[] {
  let found = known.get(model);
  if (!found) known.set(model, (found = problemsOf(model)));
  return found;
}

export const noProblemsRule = defineRule({
  kind: 'noProblems',
  family: 'operation',
  title: 'Nothing of some sort is in the list of problems',
  schema: Closed({ kind: Type.Literal('noProblems'), what: ListOf(OneOf(...Object.keys(SORTS)), 16), whose: Whose }),
  slots: {
    whose: whoseSlot,
    what: { type: 'choices', options: Object.entries(SORTS).map(([value, { text }]) => ({ value, text })) },
  },
  fresh: { kind: 'noProblems', what: ['links'] },
  problems: (rule) => (rule.what.length ? [] : [{ place: 'what', text: 'Choose what is not to be in the list.' }]),
  sentence: 'The list of problems has no {what}{whose}.',
  evaluate: (rule, { student, roleOf }): Item[] => {
    // Two devices that are linked are the least of which anything can be wrong.
    if (!Object.keys(student.topology.links).length) return [absent('Nothing is linked.')];
    const isAsked = ({ at }: Reason): boolean => {
      const { a, b } = student.topology.links[at.link ?? ''] ?? {};
      const own = at.device !== undefined ? [at.device] : [a, b].flatMap((end) => (end ? instanceId(end) : []));
      return own.every((id) => roleOf(id) !== null);
    };
    const all = problemsIn(student).filter((problem) => rule.whose !== 'asked' || isAsked(problem));
    return rule.what.map((sort): Item => {
      const { text, codes } = SORTS[sort]!;
      const found = all.filter(({ code }) => codes.includes(code));
      if (!found.length) return met(`There are no ${text}.`);
      const [first] = found;
      const places = found.slice(0, 20).map(({ at }): Place => ({
        ...(at.device !== undefined && splitInstanceId(at.device)),
        ...(at.device !== undefined && at.port !== undefined && { port: at.port }),
        ...(at.link !== undefined && { link: at.link }),
      }));
      return {
        ...lost(
          `${first!.text}${found.length > 1 ? ` And ${found.length - 1} more.` : ''}`,
          ...places.filter((place) => Object.keys(place).length),
        ),
        code: first!.code,
      };
    });
  },
});

export const masksAgreeRule = defineRule({
  kind: 'masksAgree',
  family: 'addressing',
  title: 'Masks agree within a subnet',
  schema: Closed({ kind: Type.Literal('masksAgree'), who: Ref }),
  slots: { who: { type: 'ref' } },
  fresh: { kind: 'masksAgree', who: '@all' },
  sentence: 'The prefix length of {who} is that of everybody else in the same subnet.',
  // Of those who see one another in a subnet the fewer are wrong; of as many on either side all are.
  evaluate: (rule, context) => {
    const known = new Map<4 | 6, ReturnType<typeof masksOf>>();
    return eachRoleAndFamily(context, rule.who, {}, (instance, family) => {
      const own = context.addresses(instance, family);
      if (!own.length) return absent(`${instance.name} has no IPv${family} address.`, placeOf(instance));
      let masks = known.get(family);
      if (!masks) known.set(family, (masks = masksOf(context, family)));
      return own.map((on) => {
        const { other, most, alike } = masks(instance, on);
        return other && most >= alike
          ? lost(
              `${instance.name} has ${formatInterfaceAddress(on)}, ${other.instance.name} ${formatInterfaceAddress(other.on)}: the lengths differ.`,
              placeOf(instance),
              placeOf(other.instance),
            )
          : met(`${instance.name} has ${formatInterfaceAddress(on)}, as the others have.`, placeOf(instance));
      });
    });
  },
});

interface Addressed {
  readonly instance: Instance;
  readonly on: InterfaceAddress;
}
/** Of one subnet: who is in it, and who is in others that overlap it, by the length of their prefixes. */
interface Overlapping {
  readonly members: Addressed[];
  readonly others: Map<number, Addressed[]>;
}

/** Of an address how many have its subnet, and how many at most one other that overlaps it, with one of these. */
function masksOf(context: CheckContext, family: 4 | 6) {
  const subnets = new Map<string, Overlapping>();
  const keyOf = (instance: Instance, on: InterfaceAddress, length = on.length): string =>
    `${context.realmOf(instance, on.address)} ${formatPrefix(subnetOf({ ...on, length }))}`;
  for (const instance of context.student.instances.values())
    for (const on of context.addresses(instance, family)) {
      const key = keyOf(instance, on);
      const found = subnets.get(key);
      if (found) found.members.push({ instance, on });
      else subnets.set(key, { members: [{ instance, on }], others: new Map<number, Addressed[]>() });
    }
  const put = ({ others }: Overlapping, { members }: Overlapping): void => {
    const { length } = members[0]!.on;
    others.set(length, [...(others.get(length) ?? []), ...members]);
  };
  for (const inner of subnets.values()) {
    const { instance, on } = inner.members[0]!;
    for (let length = 0; length < on.length; length++) {
      const outer = subnets.get(keyOf(instance, on, length));
      if (!outer) continue;
      put(outer, inner);
      put(inner, outer);
    }
  }
  return (instance: Instance, on: InterfaceAddress): { alike: number; most: number; other: Addressed | undefined } => {
    const { members, others } = subnets.get(keyOf(instance, on))!;
    const [[other] = []] = others.values();
    return { alike: members.length, most: Math.max(0, ...[...others.values()].map(({ length }) => length)), other };
  };
}
