import { Type } from '@sinclair/typebox';
import {
  type Address,
  contains,
  formatAddress,
  formatInterfaceAddress,
  parseAddress,
  parsePrefix,
  sameAddress,
  usableRange,
} from '../../../address';
import { type Instance } from '../../../engine';
import { Closed, Count, Maybe, OneOf } from '../../../topology';
import { Ref, absent, compared, defineRule, eachRoleAndFamily, lost, met, placeOf } from '../../rule';
import { eachAddress } from '../addressing/shared';
import { leaseFault } from '../connectivity/fault-place';
import { Family, familySlot } from '../family';

export const leaseRule = defineRule({
  kind: 'lease',
  family: 'operation',
  title: 'Addresses are leased',
  schema: Closed({
    kind: Type.Literal('lease'),
    who: Ref,
    family: Family,
    from: Maybe(Ref),
    relay: Maybe(OneOf('relayed', 'direct')),
    tells: Maybe(OneOf('router', 'dns')),
  }),
  slots: {
    who: { type: 'ref' },
    family: familySlot,
    from: { type: 'ref', title: 'From which server', before: ' from ' },
    relay: {
      type: 'choice',
      title: 'Over a relay',
      quiet: ' ',
      options: [
        { value: '', text: 'with or without a relay' },
        { value: 'relayed', text: 'over a relay' },
        { value: 'direct', text: 'without a relay' },
      ],
    },
    tells: {
      type: 'choice',
      title: 'What it tells',
      quiet: ', ',
      options: [
        { value: '', text: 'whatever it tells' },
        { value: 'router', text: 'with the way out' },
        { value: 'dns', text: 'with a server for names' },
      ],
    },
  },
  fresh: { kind: 'lease', who: '@hosts' },
  sentence: 'The {family} addresses of {who} are leased{from}{relay}{tells}.',
  evaluate: (rule, context) => {
    const servers =
      rule.from === undefined ? null : context.roles(rule.from).flatMap((role) => context.device(role) ?? []);
    return eachRoleAndFamily(context, rule.who, rule, (instance, family) => {
      const lease = [...context.student.layer3.leases.values()].find(
        ({ client, address }) => client.device === instance.id && address.address.family === family,
      );
      if (!lease) {
        const fault = leaseFault(context, instance, family);
        return lost(`${instance.name} has no lease of IPv${family}.`, ...(fault ? [fault] : []), placeOf(instance));
      }
      const server = context.student.instances.get(lease.server);
      const text = `${instance.name} has ${formatInterfaceAddress(lease.address)} from ${server?.name ?? 'a server'}`;
      const at = [placeOf(instance), ...(server ? [placeOf(server)] : [])];
      if (lease.rivals)
        return {
          ...lost(`${text}, but another server offers something else.`, ...at),
          met: null,
          code: 'DHCP_TWICE',
        };
      if (servers && !servers.some(({ id }) => id === lease.server))
        return lost(`${text}, another server than asked for.`, ...at);
      if (rule.relay === 'relayed' && !lease.relay) return lost(`${text}, without a relay.`, ...at);
      if (rule.relay === 'direct' && lease.relay) return lost(`${text}, over a relay.`, ...at);
      if (rule.tells === 'router' && !lease.router) return lost(`${text}, which tells no way out.`, ...at);
      if (rule.tells === 'dns' && !lease.dns.length) return lost(`${text}, which tells no server for names.`, ...at);
      return met(`${text}.`, ...at);
    });
  },
});

export const poolCoversRule = defineRule({
  kind: 'poolCovers',
  family: 'operation',
  title: 'A pool has enough addresses',
  schema: Closed({ kind: Type.Literal('poolCovers'), who: Ref, n: Count, family: Family }),
  slots: { who: { type: 'ref' }, n: { type: 'number', min: 1, max: 1_000_000 }, family: familySlot },
  fresh: { kind: 'poolCovers', who: '@hosts', n: 40 },
  sentence: 'The pool for the {family} leases of {who} has {n} addresses or more to give.',
  one: 'The pool for the {family} leases of {who} has {n} address or more to give.',
  evaluate: (rule, context) =>
    eachRoleAndFamily(context, rule.who, rule, (instance, family) => {
      const lease = [...context.student.layer3.leases.values()].find(
        ({ client, address }) => client.device === instance.id && address.address.family === family,
      );
      const server = lease && context.student.instances.get(lease.server);
      if (!lease || !server) return absent(`${instance.name} has no lease of IPv${family}.`, placeOf(instance));
      const size = poolSize(server, lease.address.address);
      return compared(
        size >= BigInt(rule.n),
        `${server.name} has ${size} addresses for ${instance.name}${context.mark(`, wanted ${rule.n}`, '', rule.n)}.`,
        { found: size.toString(), wanted: rule.n },
        placeOf(server),
        placeOf(instance),
      );
    }),
});

/** How many addresses a server can give in the pool that an address is from. */
function poolSize({ settings }: Instance, { family, value }: Address): bigint {
  const span = ({ from, to }: { from: string; to: string }): [bigint, bigint] | null => {
    const [first, last] = [parseAddress(from), parseAddress(to)];
    return first.ok && last.ok ? [first.value.value, last.value.value] : null;
  };
  for (const { network, ranges, exclusions } of (family === 4 ? settings.dhcpPools : settings.dhcp6Pools) ?? []) {
    const read = parsePrefix(network);
    if (!read.ok) continue;
    const usable = usableRange(read.value);
    const spans = ranges?.length
      ? ranges.flatMap((range) => [span(range) ?? []]).filter((each) => each.length)
      : [[usable.from.value, usable.to.value]];
    if (!(spans as [bigint, bigint][]).some(([from, to]) => from <= value && value <= to)) continue;
    const without = (exclusions ?? []).flatMap((range) => {
      const found = span(range);
      return found ? [found] : [];
    });
    return (spans as [bigint, bigint][]).reduce((sum, [from, to]) => {
      const cut = without.reduce((all, [first, last]) => {
        const [low, high] = [first > from ? first : from, last < to ? last : to];
        return high >= low ? all + high - low + 1n : all;
      }, 0n);
      return sum + (to - from + 1n) - cut;
    }, 0n);
  }
  return 0n;
}

export const outsidePoolsRule = defineRule({
  kind: 'outsidePools',
  family: 'operation',
  title: 'Fixed addresses lie outside of the pools',
  schema: Closed({ kind: Type.Literal('outsidePools'), who: Ref, family: Family }),
  slots: { who: { type: 'ref' }, family: familySlot },
  fresh: { kind: 'outsidePools', who: '@network' },
  sentence: 'The fixed {family} addresses of {who} are such as no pool gives to others.',
  evaluate: (rule, context) => {
    const servers = [...context.student.instances.values()].filter(
      ({ settings }) => settings.dhcpPools?.length || settings.dhcp6Pools?.length,
    );
    if (!servers.length) return [absent('There is no pool in the drawing.')];
    return eachAddress(context, rule.who, rule, (on, instance) => {
      const text = formatAddress(on.address);
      const isLeased = [...context.student.layer3.leases.values()].some(
        ({ client, address }) => client.device === instance.id && sameAddress(address.address, on.address),
      );
      const giver = isLeased ? undefined : servers.find((server) => gives(server, on.address));
      return giver
        ? lost(`${giver.name} may give ${text} of ${instance.name} to others.`, placeOf(instance), placeOf(giver))
        : met(`${text} of ${instance.name} is ${isLeased ? 'leased' : 'given by no pool'}.`, placeOf(instance));
    });
  },
});

/** Whether a server would give an address out of one of its pools to whoever asks. */
function gives(server: Instance, address: Address): boolean {
  const { dhcpPools = [], dhcp6Pools = [] } = server.settings;
  const within = ({ from, to }: { from: string; to: string }): boolean => {
    const [first, last] = [parseAddress(from), parseAddress(to)];
    return (
      first.ok &&
      last.ok &&
      first.value.family === address.family &&
      address.value >= first.value.value &&
      address.value <= last.value.value
    );
  };
  return (address.family === 4 ? dhcpPools : dhcp6Pools).some(
    ({ network, ranges, exclusions = [], reservations = [], router }) => {
      const read = parsePrefix(network);
      return (
        read.ok &&
        contains(read.value, address) &&
        (!ranges?.length || ranges.some(within)) &&
        !exclusions.some(within) &&
        ![router, ...reservations.map((each) => each.address)].includes(formatAddress(address))
      );
    },
  );
}
