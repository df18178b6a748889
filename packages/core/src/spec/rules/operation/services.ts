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
import {
  type Instance,
  SIGN_IN_WAYS,
  attemptOf,
  callOf,
  letsIn,
  registrationOf,
  resolveName,
  signIn,
  instanceId,
} from '../../../engine';
import { Closed, Count, Line, Maybe, OneOf } from '../../../topology';
import {
  type Item,
  Ref,
  absent,
  compared,
  defineRule,
  eachRole,
  eachRoleAndFamily,
  lost,
  met,
  placeOf,
} from '../../rule';
import { eachAddress } from '../addressing/shared';
import { MOST_FOLLOWED, eachPair, probeOf } from '../connectivity/asking';
import { leaseFault } from '../connectivity/fault-place';
import { Family, familySlot } from '../family';
import { Vlan, vlanIfAny } from './switching';

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

export const resolvesRule = defineRule({
  kind: 'resolves',
  family: 'operation',
  title: 'A name is known, or its page opens',
  schema: Closed({ kind: Type.Literal('resolves'), who: Ref, name: Line, page: Maybe(OneOf('http', 'https')) }),
  slots: {
    who: { type: 'ref' },
    name: { type: 'text', problem: (text) => (text.trim() === '' ? 'Write a name, as in "news.example".' : null) },
    page: {
      type: 'choice',
      title: 'Whether its page opens',
      quiet: ', and ',
      options: [
        { value: '', text: 'the name alone' },
        { value: 'http', text: 'its page opens by http' },
        { value: 'https', text: 'its page opens by https' },
      ],
    },
  },
  fresh: { kind: 'resolves', who: '@hosts', name: 'news.example' },
  sentence: 'The address of {name} is known to {who}{page}.',
  evaluate: (rule, context) =>
    eachRole(context, rule.who, (instance) => {
      const { address, text } = resolveName(context.student, instance.id, rule.name);
      if (!address) return lost(`${instance.name}: ${text}`, placeOf(instance));
      if (rule.page === undefined) return met(`${instance.name}: ${text}`, placeOf(instance));
      const probe = probeOf(rule.page === 'http' ? 'tcp 80' : 'tcp 443');
      const target = context.student.reach
        .targets()
        .find((each) => formatAddress(each.address) === formatAddress(address));
      const outcome =
        target && attemptOf(context.student, context.student.reach.ask(instance.id, target, probe), probe);
      return outcome === 'open'
        ? met(`${instance.name} opens the page of ${rule.name} (${formatAddress(address)}).`, placeOf(instance))
        : lost(
            `${instance.name} does not open the page of ${rule.name} (${formatAddress(address)}): ${target ? (outcome ?? 'not certain') : 'nobody has that address'}.`,
            placeOf(instance),
          );
    }),
});

export const callRule = defineRule({
  kind: 'call',
  family: 'operation',
  title: 'Telephones call one another',
  schema: Closed({ kind: Type.Literal('call'), from: Ref, to: Ref }),
  slots: { from: { type: 'ref' }, to: { type: 'ref' } },
  fresh: { kind: 'call', from: '@hosts', to: '@hosts' },
  sentence: '{from} can call {to}.',
  evaluate: (rule, context) =>
    eachPair(
      context,
      { from: rule.from, to: rule.to },
      ({ from, to }) => {
        const { extension } = to.settings.telephony ?? {};
        const ends = [placeOf(from), placeOf(to)];
        if (extension === undefined) return absent(`${to.name} has no extension.`, placeOf(to));
        const registered = registrationOf(context.student, from.id);
        if (registered.answer !== 'yes') return decided(registered, ends);
        return decided(callOf(context.student, from.id, extension), ends);
      },
      { most: MOST_FOLLOWED },
    ),
});

const decided = (
  { answer, text }: { answer: 'yes' | 'no' | 'uncertain'; text: string },
  places: Item['places'],
): Item =>
  answer === 'yes' ? met(text, ...places) : { ...lost(text, ...places), ...(answer === 'uncertain' && { met: null }) };

const WAYS = { ssh: 'ssh', telnet: 'telnet', console: 'the console' } as const;
const waySlot = {
  type: 'choice',
  options: SIGN_IN_WAYS.map((value) => ({ value, text: WAYS[value] })),
} as const;

export const remoteRule = defineRule({
  kind: 'remote',
  family: 'operation',
  title: 'Ways to sign in are open or closed',
  schema: Closed({ kind: Type.Literal('remote'), who: Ref, by: OneOf(...SIGN_IN_WAYS), state: OneOf('on', 'off') }),
  slots: {
    who: { type: 'ref' },
    by: waySlot,
    state: {
      type: 'choice',
      options: [
        { value: 'on', text: 'takes somebody with a password' },
        { value: 'off', text: 'takes nobody' },
      ],
    },
  },
  fresh: { kind: 'remote', who: '@network', by: 'ssh', state: 'on' },
  sentence: 'On {who} {by} {state}.',
  evaluate: (rule, context) => eachRole(context, rule.who, (instance) => judgedSignIn(instance, rule)),
});

function judgedSignIn(
  instance: Instance,
  { by, state }: { readonly by: (typeof SIGN_IN_WAYS)[number]; readonly state: 'on' | 'off' },
): Item {
  const { management } = instance.settings;
  // A device that nobody has set anything on is closed by chance, not by design.
  if (management === undefined)
    return absent(`Nothing is set on ${instance.name} about signing in.`, placeOf(instance));
  if (by === 'console') {
    const guarded = management.console === 'password' || management.console === 'user';
    return (guarded === (state === 'on') ? met : lost)(
      guarded
        ? `The console of ${instance.name} asks for a password.`
        : `The console of ${instance.name} asks nobody for a password.`,
      placeOf(instance),
    );
  }
  const found = letsIn(instance, by, false);
  const isOpen = state === 'on' ? found.answer === 'yes' : management[by] === true;
  return (isOpen === (state === 'on') ? met : lost)(found.text, placeOf(instance));
}

export const signsInRule = defineRule({
  kind: 'signsIn',
  family: 'operation',
  title: 'Somebody can sign in',
  schema: Closed({
    kind: Type.Literal('signsIn'),
    from: Ref,
    to: Ref,
    by: OneOf('ssh', 'telnet'),
    changing: Maybe(OneOf('also', 'refused')),
  }),
  slots: {
    from: { type: 'ref' },
    to: { type: 'ref' },
    by: {
      type: 'choice',
      options: [
        { value: 'ssh', text: 'ssh' },
        { value: 'telnet', text: 'telnet' },
      ],
    },
    changing: {
      type: 'choice',
      title: 'Whether settings can be changed',
      quiet: ', and ',
      options: [
        { value: '', text: 'to look' },
        { value: 'also', text: 'can change settings with a password of its own' },
        { value: 'refused', text: 'cannot change settings' },
      ],
    },
  },
  fresh: { kind: 'signsIn', from: '@hosts', to: '@network', by: 'ssh' },
  sentence: 'From {from} one can sign in at {to} by {by}{changing}.',
  evaluate: (rule, context) =>
    eachPair(
      context,
      { from: rule.from, to: rule.to },
      ({ from, to }) => {
        const ask = (changing: boolean) =>
          signIn(context.student, { from: from.id, to: to.id, address: null, by: rule.by, changing });
        const looking = ask(false);
        const ends = [placeOf(to), placeOf(from)];
        if (looking.answer !== 'yes' || rule.changing === undefined)
          return decided({ ...looking, text: `${from.name}: ${looking.text}` }, ends);
        const changing = ask(true);
        const text = `${from.name}: ${changing.text}`;
        if (rule.changing === 'also') return decided({ ...changing, text }, ends);
        return changing.answer === 'no' ? met(text, ...ends) : lost(text, ...ends);
      },
      { most: MOST_FOLLOWED },
    ),
});

const SECURITY = ['open', 'wpa2', 'wpa3'] as const;
export const wirelessRule = defineRule({
  kind: 'wireless',
  family: 'operation',
  title: 'A wireless network is there, and protected',
  schema: Closed({
    kind: Type.Literal('wireless'),
    who: Ref,
    security: OneOf('open', 'wpa2', 'wpa3'),
    ssid: Maybe(Line),
    vlan: Maybe(Vlan),
    joined: Maybe(Ref),
  }),
  slots: {
    who: { type: 'ref' },
    security: {
      type: 'choice',
      options: [
        { value: 'open', text: 'protected or not' },
        { value: 'wpa2', text: 'protected by WPA2 at least' },
        { value: 'wpa3', text: 'protected by WPA3' },
      ],
    },
    ssid: {
      type: 'text',
      title: 'Its name',
      before: ', called ',
      empty: 'its name, or nothing for any',
      problem: () => null,
    },
    vlan: { ...vlanIfAny, title: 'Its VLAN', before: ', in VLAN ', empty: 'a VLAN, or nothing for any' },
    joined: { type: 'ref', title: 'Who joins it', before: ', joined by ' },
  },
  fresh: { kind: 'wireless', who: '@network', security: 'wpa2' },
  sentence: 'There is a wireless network on {who}, {security}{ssid}{vlan}{joined}.',
  evaluate: (rule, context) => {
    const items = eachRole(context, rule.who, (instance) => {
      const networks = (instance.settings.ssids ?? []).filter(
        ({ ssid }) => rule.ssid === undefined || ssid.trim() === rule.ssid.trim(),
      );
      const elsewhere = rule.vlan === undefined ? undefined : networks.find(({ vlan = 1 }) => vlan !== rule.vlan);
      if (elsewhere)
        return compared(
          false,
          `${elsewhere.ssid} of ${instance.name} is in VLAN ${elsewhere.vlan ?? 1}${context.mark(`, wanted is ${rule.vlan}`, '', rule.vlan)}.`,
          { found: elsewhere.vlan ?? 1, wanted: rule.vlan! },
          placeOf(instance),
        );
      if (!networks.length)
        return lost(
          `${instance.name} has no ${rule.ssid === undefined ? 'wireless network' : `wireless network ${rule.ssid}`}.`,
          placeOf(instance),
        );
      const weak = networks.find(
        ({ security, key }) =>
          SECURITY.indexOf(security) < SECURITY.indexOf(rule.security) || (security !== 'open' && !key),
      );
      return weak
        ? lost(
            `${weak.ssid} of ${instance.name} is ${weak.security === 'open' ? 'open' : weak.key ? weak.security.toUpperCase() : 'without a key'}.`,
            placeOf(instance),
          )
        : met(
            `${networks.map(({ ssid }) => ssid).join(', ')} of ${instance.name} ${networks.length === 1 ? 'is' : 'are'} protected as asked.`,
            placeOf(instance),
          );
    });
    if (rule.joined === undefined) return items;
    // Who joins is linked by radio to one of them, and the link is up.
    const points = new Set(context.roles(rule.who).flatMap((role) => context.devices(role).map(({ id }) => id)));
    const { topology, layer1 } = context.student;
    return [
      ...items,
      ...eachRole(context, rule.joined, (instance) => {
        const radio = Object.entries(topology.links).find(
          ([id, { a, b, medium }]) =>
            medium === 'wireless' &&
            layer1.links.get(id)?.up === true &&
            [a, b].some((end) => instanceId(end) === instance.id) &&
            [a, b].some((end) => points.has(instanceId(end))),
        );
        return radio
          ? met(`${instance.name} has joined.`, { link: radio[0] }, placeOf(instance))
          : lost(`${instance.name} has joined no network of ${context.ref(rule.who)}.`, placeOf(instance));
      }),
    ];
  },
});
