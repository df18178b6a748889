import { Type } from '@sinclair/typebox';
import {
  type Address,
  type Prefix,
  contains,
  formatAddress,
  formatInterfaceAddress,
  formatPrefix,
  isLinkLocal,
  lastOf,
  subnetOf,
} from '../../../address';
import { type Instance, type NetworkModel, analyse, attemptOf, forwards, instanceId } from '../../../engine';
import {
  type Device,
  type Link,
  type PortConfig,
  type Topology,
  AddressText,
  Closed,
  KIT,
  Line,
  Maybe,
  OneOf,
  canonicalJson,
} from '../../../topology';
import {
  type CheckContext,
  type Item,
  type Place,
  Ref,
  about,
  absent,
  defineRule,
  eachRole,
  familiesFor,
  lost,
  met,
  placeOf,
} from '../../rule';
import { blockOf, prefixProblem } from '../addressing/shared';
import { Family, familySlot } from '../family';
import { Vlan, vlanIfAny } from '../operation/switching';
import { isLike } from '../like';
import { Service, probeOf, serviceProblem, serviceSlot } from './asking';

/** Ports that are set up alike are tried once; of more sorts than these no more are tried. */
const MOST_SORTS = 16;
/** Devices of all the drawings together into which something is plugged. */
const MOST_TRIED = 20_000;
const PROBE = 'plugged-in';
const MODEL = 'laptop';

const DOES = {
  lease: 'is given an address',
  reach: 'reaches',
  apart: 'has an address and does not reach',
  refused: 'is let onto nothing',
} as const;

export const probeRule = defineRule({
  kind: 'probe',
  family: 'connectivity',
  title: 'Whoever is plugged in there',
  schema: Closed({
    kind: Type.Literal('probe'),
    at: Ref,
    port: Maybe(Line),
    vlan: Maybe(Vlan),
    radio: Maybe(Line),
    does: OneOf('lease', 'reach', 'apart', 'refused'),
    to: Maybe(Ref),
    block: Maybe(AddressText),
    family: Family,
    service: Service,
  }),
  slots: {
    at: { type: 'ref' },
    port: {
      type: 'text',
      title: 'At which ports',
      before: ' at ports like ',
      empty: 'a port, or a pattern as in “p#”; nothing for each that is free',
      problem: (text) => (text.length > 80 ? 'A port has at most 80 letters.' : null),
    },
    vlan: {
      ...vlanIfAny,
      title: 'In which VLAN',
      before: ' in VLAN ',
      empty: 'a VLAN, or nothing for any',
    },
    radio: {
      type: 'text',
      title: 'By radio',
      before: ' by the wireless network ',
      empty: 'the name of a wireless network, or nothing for a cable',
      problem: () => null,
    },
    does: { type: 'choice', options: Object.entries(DOES).map(([value, text]) => ({ value, text })) },
    to: { type: 'ref', title: 'Whom', before: ' ' },
    block: {
      type: 'text',
      title: 'Out of which block',
      before: ' in ',
      empty: 'a block, or nothing for any',
      problem: (text) => prefixProblem('block', text)[0]?.text ?? null,
    },
    family: { ...familySlot, quiet: ' over ', title: 'Which addresses' },
    service: serviceSlot,
  },
  fresh: { kind: 'probe', at: '@network', does: 'lease' },
  sentence: 'A laptop that is plugged into {at}{port}{vlan}{radio} {does}{to}{block}{family}{service}.',
  problems: (rule) => [
    ...serviceProblem(rule),
    ...(rule.block === undefined ? [] : prefixProblem('block', rule.block)),
    ...((rule.does === 'reach' || rule.does === 'apart') && rule.to === undefined
      ? [{ place: 'to', text: 'Say whom it reaches, or does not.' }]
      : []),
    ...(rule.radio !== undefined && (rule.port !== undefined || rule.vlan !== undefined)
      ? [{ place: 'radio', text: 'By radio there is no port and no VLAN to choose: the network has its own.' }]
      : []),
  ],
  evaluate: (rule, context) => {
    const targets = rule.to === undefined ? [] : context.roles(rule.to);
    const families =
      rule.does === 'lease' && rule.family === undefined ? [4 as const] : familiesFor(context, rule, targets);
    return eachRole(context, rule.at, (instance, role) => {
      const sockets =
        rule.radio === undefined ? socketsOf(context.student, instance, rule) : radioOf(instance, rule.radio);
      if (!sockets.length)
        return absent(
          rule.radio === undefined
            ? `${instance.name} has no such port to plug something into.`
            : `${instance.name} has no wireless network “${rule.radio}”.`,
          placeOf(instance),
        );
      const most = Math.min(MOST_SORTS, Math.floor(MOST_TRIED / context.student.instances.size));
      if (sockets.length > most)
        return {
          ...lost(
            `${instance.name} has ${sockets.length} sorts of ports: at most ${most} are tried.`,
            placeOf(instance),
          ),
          met: null,
          code: 'UNCERTAIN',
        };
      return sockets.flatMap((socket) =>
        families.flatMap((family) =>
          about({ ...tried(context, rule, targets, instance, socket, family), weight: socket.weight }, [role], family),
        ),
      );
    });
  },
});

interface Probing {
  readonly does: keyof typeof DOES;
  readonly block?: string;
  readonly service?: string;
}

/** Where something can be plugged in, and for how many ports that are set up alike it stands. */
interface Socket {
  readonly port: string;
  /** A link that is pulled out before. */
  readonly unplugged: string | null;
  readonly radio?: NonNullable<PortConfig['radio']>;
  readonly weight: number;
}

/** The free ports of a device that are asked for; where ports are named, also those that a host is plugged into. */
function socketsOf(
  { topology, instances }: NetworkModel,
  instance: Instance,
  { port, vlan }: { readonly port?: string; readonly vlan?: number },
): Socket[] {
  const plugged = new Map<string, { link: string; isHost: boolean }>();
  for (const [id, link] of Object.entries(topology.links))
    for (const [mine, other] of [
      [link.a, link.b],
      [link.b, link.a],
    ] as const)
      if (instanceId(mine) === instance.id)
        plugged.set(mine.port, { link: id, isHost: instances.get(instanceId(other))?.model.class === 'end' });
  const sorts = new Map<string, Socket>();
  for (const [key, { facts, config, switched }] of instance.ports) {
    if (facts.connector !== 'copper' || (instance.model.bridges === 'vlan' && !switched)) continue;
    if (port !== undefined && !isLike(key, port)) continue;
    const there = plugged.get(key);
    if (there && (port === undefined || !there.isHost)) continue;
    const { role, label: _written, fields: _kept, ...rest } = config;
    const isAccess = role?.kind !== 'switched' || role.mode === 'access';
    const own = role?.kind === 'switched' ? (role.accessVlan ?? 1) : 1;
    if (vlan !== undefined && (!isAccess || own !== vlan)) continue;
    const sort = canonicalJson({ role: role ?? null, rest, speeds: facts.speeds, pairing: facts.pairing ?? null });
    const known = sorts.get(sort);
    sorts.set(
      sort,
      known ? { ...known, weight: known.weight + 1 } : { port: key, unplugged: there?.link ?? null, weight: 1 },
    );
  }
  return [...sorts.values()];
}

function radioOf(instance: Instance, name: string): Socket[] {
  const network = instance.settings.ssids?.find(({ ssid }) => ssid.trim() === name.trim());
  const port = [...instance.ports.values()].find(({ facts }) => facts.connector === 'radio');
  if (!network || !port) return [];
  const { ssid, security, key } = network;
  return [{ port: port.key, unplugged: null, radio: { ssid, security, ...(key !== undefined && { key }) }, weight: 1 }];
}

/** A drawing with a laptop in a port; it asks for its addresses, unless it is given one. */
function plugged(
  topology: Topology,
  instance: Instance,
  { port, unplugged, radio }: Socket,
  typed?: { on: string; gateway: string | undefined; family: 4 | 6 },
): Topology {
  const key = radio ? 'w0' : 'e0';
  const [v4, v6] = [
    typed?.family === 4 ? { addresses: [typed.on] } : { dhcp: true },
    typed?.family === 6 ? { addresses: [typed.on] } : { slaac: true, dhcp: 'stateful' as const },
  ];
  const device: Device = {
    name: 'The laptop',
    model: MODEL,
    at: { x: 0, y: 0 },
    interfaces: { [key]: { on: { kind: 'port', port: key }, v4, v6 } },
    ...(radio && { ports: { w0: { radio } } }),
    ...(typed?.gateway !== undefined && {
      settings: { [typed.family === 4 ? 'gateway4' : 'gateway6']: typed.gateway },
    }),
  };
  const own = instance.ports.get(port)!.facts;
  const theirs = KIT[MODEL]!.ports.find((each) => each.key === key)!;
  const link: Link = {
    a: { device: instance.deviceId, ...(instance.member !== null && { member: instance.member }), port },
    b: { device: PROBE, port: key },
    medium: radio ? 'wireless' : own.pairing === theirs.pairing ? 'crossover' : 'straight',
  };
  const { [unplugged ?? '']: _pulled, ...links } = topology.links;
  return {
    ...topology,
    devices: { ...topology.devices, [PROBE]: device },
    links: { ...links, [PROBE]: link },
  };
}

const addressesOf = ({ layer3 }: NetworkModel, id: string, family: 4 | 6) =>
  (layer3.nodes.get(id)?.interfaceStates ?? [])
    .flatMap(({ addresses }) => addresses)
    .filter(({ address }) => address.family === family && !isLinkLocal(address));

/** The subnet that most devices on the probe's wire are in, with a free address of it and the way out that they have. */
function likeItsNeighbours(model: NetworkModel, family: 4 | 6) {
  const { layer2, layer3, instances } = model;
  const point = layer3.nodes.get(PROBE)?.interfaceStates[0]?.point ?? null;
  if (point === null) return null;
  const count = new Map<string, { subnet: Prefix; n: number }>();
  let gateway: string | undefined;
  for (const [id, { interfaceStates }] of layer3.nodes)
    for (const state of interfaceStates) {
      if (id === PROBE || state.point === null || !layer2.meets(point, state.point)) continue;
      for (const on of state.addresses) {
        if (on.address.family !== family || isLinkLocal(on.address)) continue;
        const subnet = subnetOf(on);
        const known = count.get(formatPrefix(subnet));
        count.set(formatPrefix(subnet), { subnet, n: (known?.n ?? 0) + 1 });
        const instance = instances.get(id)!;
        gateway ??= forwards(instance, family)
          ? formatAddress(on.address)
          : instance.settings[family === 4 ? 'gateway4' : 'gateway6'];
      }
    }
  const [best] = [...count.values()].sort((one, other) => other.n - one.n);
  if (!best) return null;
  const taken = new Set(
    [...layer3.nodes.values()].flatMap(({ interfaceStates }) =>
      interfaceStates.flatMap(({ addresses }) => addresses.map((on) => formatAddress(on.address))),
    ),
  );
  const { value } = lastOf(best.subnet);
  for (let at = 1n; at < 512n; at++) {
    const address: Address = { family, value: value - at };
    if (!contains(best.subnet, address)) return null;
    if (!taken.has(formatAddress(address)))
      return { on: formatInterfaceAddress({ address, length: best.subnet.length }), gateway, family };
  }
  return null;
}

/** What comes of something being plugged in, in one family. */
function tried(
  context: CheckContext,
  { does, block, service }: Probing,
  targets: readonly string[],
  instance: Instance,
  socket: Socket,
  family: 4 | 6,
): Item {
  const { student } = context;
  const where = socket.radio
    ? `In “${socket.radio.ssid}” of ${instance.name}`
    : `In ${socket.port} of ${instance.name}`;
  const place: Place = { ...placeOf(instance), port: socket.port };
  let model = analyse(plugged(student.topology, instance, socket), student.options);
  let own = addressesOf(model, PROBE, family);
  if (does === 'lease') {
    const wanted = block === undefined ? null : blockOf(block);
    // Where nobody is given anything, that nothing is given here shows nothing.
    if (!own.length)
      return (student.layer3.leases.size ? lost : absent)(`${where} it is given no IPv${family} address.`, place);
    const text = `${where} it is given ${own.map(formatInterfaceAddress).join(' and ')}.`;
    return !wanted || own.every((on) => contains(wanted, on.address))
      ? met(text, place)
      : lost(`${text} That lies outside ${context.mark(block!, 'what is asked for', block)}.`, place);
  }
  // Where nothing is given it is set up as those are that it hears.
  const typed = own.length ? null : likeItsNeighbours(model, family);
  if (typed) {
    model = analyse(plugged(student.topology, instance, socket, typed), student.options);
    own = addressesOf(model, PROBE, family);
  }
  const reaches = (id: string): 'yes' | 'no' | 'uncertain' | 'arrives' => {
    const probe = probeOf(service);
    const found = addressesOf(model, id, family).map(({ address }) => {
      const trace = model.reach.ask(PROBE, { device: id, address }, probe);
      if (trace.answer === 'uncertain') return 'uncertain';
      if (service !== undefined)
        return attemptOf(model, trace, probe) === 'open' ? 'yes' : trace.reached ? 'arrives' : 'no';
      return trace.answer === 'yes' ? 'yes' : trace.reached ? 'arrives' : 'no';
    });
    return (['yes', 'uncertain', 'arrives'] as const).find((each) => found.includes(each)) ?? 'no';
  };
  if (does === 'refused') {
    const heard = [...model.instances.keys()].filter((id) => id !== PROBE && reaches(id) === 'yes');
    const isAlive = Object.entries(student.topology.links).some(
      ([id, { a, b }]) =>
        student.layer1.links.get(id)?.up === true && [a, b].some((end) => instanceId(end) === instance.id),
    );
    if (!isAlive) return absent(`Nothing works at ${instance.name}, so that it refuses shows nothing.`, place);
    const first = model.instances.get(heard[0] ?? '');
    return first ? lost(`${where} it reaches ${first.name}.`, place) : met(`${where} it reaches nobody.`, place);
  }
  if (!own.length) return absent(`${where} it has no IPv${family} address.`, place);
  const asked = targets.map((role) => ({ role, device: context.device(role) }));
  const missing = asked.find(({ device }) => !device);
  if (missing) return absent(`Nothing in the drawing plays the part of ${context.roleName(missing.role)}.`);
  const outcomes = asked.map(({ device }) => ({ device: device!, outcome: reaches(device!.id) }));
  const named = (list: typeof outcomes): string => list.map(({ device }) => device.name).join(' and ');
  const places = outcomes.map(({ device }) => placeOf(device));
  const open = outcomes.filter(({ outcome }) => outcome === 'uncertain');
  if (does === 'reach') {
    const failing = outcomes.filter(({ outcome }) => outcome !== 'yes');
    if (!failing.length) return met(`${where} it reaches ${named(outcomes)}.`, place, ...places);
    const item = lost(`${where} it does not reach ${named(failing)}.`, place, ...places);
    return failing.length === open.length ? { ...item, met: null, code: 'UNCERTAIN' } : item;
  }
  const reached = outcomes.filter(({ outcome }) => outcome === 'yes' || outcome === 'arrives');
  if (reached.length) return lost(`${where} it reaches ${named(reached)}.`, place, ...places);
  if (open.length)
    return {
      ...lost(`${where} it is not certain whether it reaches ${named(open)}.`, place, ...places),
      met: null,
      code: 'UNCERTAIN',
    };
  // What reaches nobody at all is not kept apart.
  const works = [...model.instances.keys()].some(
    (id) =>
      id !== PROBE &&
      addressesOf(model, id, family).some(
        ({ address }) => model.reach.answer(PROBE, { device: id, address }).answer === 'yes',
      ),
  );
  return works
    ? met(`${where} it does not reach ${named(outcomes)}.`, place, ...places)
    : absent(`${where} it reaches nobody at all, which shows nothing.`, place);
}
