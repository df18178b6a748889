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
} from '../../address';
import { type Device, type Link, type PortConfig, type Topology, KIT, canonicalJson } from '../../topology';
import { type NetworkModel, analyse } from '../analysis';
import { type Instance, forwards, instanceId } from '../devices';

// What comes of a laptop that is plugged in somewhere, or joins a wireless network: in the room one carries one from port
// to port. In: a model and where; out: the model with it.

/** The laptop's id in the drawing that it is plugged into. */
export const PLUGGED_IN = 'plugged-in';
const MODEL = 'laptop';

/** Where something can be plugged in, and for how many ports that are set up alike it stands. */
export interface Socket {
  readonly port: string;
  /** A link that is pulled out before. */
  readonly unplugged: string | null;
  readonly radio?: NonNullable<PortConfig['radio']>;
  readonly weight: number;
}

/** The free ports of a device that are asked for; where ports are named, also those that a host is plugged into. */
export function socketsOf(
  { topology, instances }: NetworkModel,
  instance: Instance,
  /** Which ports, named so that also one counts that a host is plugged into; which VLAN. */
  { isMeant, vlan }: { readonly isMeant?: (port: string) => boolean; readonly vlan?: number },
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
    if (isMeant && !isMeant(key)) continue;
    const there = plugged.get(key);
    if (there && (!isMeant || !there.isHost)) continue;
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

export function radioOf(instance: Instance, name: string): Socket[] {
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
  typed?: { on: string; gateway: string | undefined; family: 4 | 6 } | 'stateful',
): Topology {
  const key = radio ? 'w0' : 'e0';
  const own = typed === 'stateful' ? undefined : typed;
  const [v4, v6] = [
    own?.family === 4 ? { addresses: [own.on] } : { dhcp: true },
    own?.family === 6
      ? { addresses: [own.on] }
      : { slaac: true, ...(typed === 'stateful' && { dhcp: 'stateful' as const }) },
  ];
  const device: Device = {
    name: 'The laptop',
    model: MODEL,
    at: { x: 0, y: 0 },
    interfaces: { [key]: { on: { kind: 'port', port: key }, v4, v6 } },
    ...(radio && { ports: { w0: { radio } } }),
    ...(own?.gateway !== undefined && {
      settings: { [own.family === 4 ? 'gateway4' : 'gateway6']: own.gateway },
    }),
  };
  const facts = instance.ports.get(port)!.facts;
  const theirs = KIT[MODEL]!.ports.find((each) => each.key === key)!;
  const link: Link = {
    a: { device: instance.deviceId, ...(instance.member !== null && { member: instance.member }), port },
    b: { device: PLUGGED_IN, port: key },
    medium: radio ? 'wireless' : facts.pairing === theirs.pairing ? 'crossover' : 'straight',
  };
  const { [unplugged ?? '']: _pulled, ...links } = topology.links;
  return {
    ...topology,
    devices: { ...topology.devices, [PLUGGED_IN]: device },
    links: { ...links, [PLUGGED_IN]: link },
  };
}

export const globalAddressesOf = ({ layer3 }: NetworkModel, id: string, family: 4 | 6) =>
  (layer3.nodes.get(id)?.interfaceStates ?? [])
    .flatMap(({ addresses }) => addresses)
    .filter(({ address }) => address.family === family && !isLinkLocal(address));

/** The subnet that most devices on the probe's wire are in, with a free address of it and the way out that they have. */
function likeItsNeighbours(model: NetworkModel, family: 4 | 6) {
  const { layer2, layer3, instances } = model;
  const point = layer3.nodes.get(PLUGGED_IN)?.interfaceStates[0]?.point ?? null;
  if (point === null) return null;
  const count = new Map<string, { subnet: Prefix; n: number }>();
  let gateway: string | undefined;
  for (const [id, { interfaceStates }] of layer3.nodes)
    for (const state of interfaceStates) {
      if (id === PLUGGED_IN || state.point === null || !layer2.meets(point, state.point)) continue;
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

/** Drawings with a laptop at a socket: as it asks for addresses, and where it is given none, as those are that it hears. */
export function plugIn(before: NetworkModel, instance: Instance, socket: Socket) {
  const { topology, options } = before;
  const asking = analyse(plugged(topology, instance, socket), options);
  /** It makes an IPv6 address itself where it is told a prefix (RFC 4862), and else asks for one (RFC 8415). */
  const given = (family: 4 | 6): NetworkModel => {
    if (family === 4 || globalAddressesOf(asking, PLUGGED_IN, 6).length || !hasPools6(before)) return asking;
    return analyse(plugged(topology, instance, socket, 'stateful'), options);
  };
  const settled = (family: 4 | 6): { model: NetworkModel; isTyped: boolean } => {
    const model = given(family);
    const typed = globalAddressesOf(model, PLUGGED_IN, family).length ? null : likeItsNeighbours(model, family);
    return typed
      ? { model: analyse(plugged(topology, instance, socket, typed), options), isTyped: true }
      : { model, isTyped: false };
  };
  return { given, settled };
}
const hasPools6 = ({ instances }: NetworkModel): boolean =>
  [...instances.values()].some(({ settings }) => settings.dhcpPools?.some(({ network }) => network.includes(':')));

/** Names of which a sentence has the first few. */
const listed = (names: readonly string[]): string =>
  names.length > 6 ? `${names.slice(0, 6).join(', ')} and ${names.length - 6} more` : names.join(', ');

/**
 * What a laptop gets that is plugged into a port, as sentences: its addresses, and whom it reaches by them. A host that is
 * plugged in there is pulled out before.
 */
export function pluggedInWords(before: NetworkModel, { id, port }: { id: string; port: string }): string[] {
  const instance = before.instances.get(id);
  const [socket] = instance ? socketsOf(before, instance, { isMeant: (key) => key === port }) : [];
  if (!instance || !socket)
    return [
      `Nothing can be plugged into ${instance?.name ?? 'that device'} ${port}: a laptop needs copper that leads to no other equipment.`,
    ];
  const where = `In ${instance.name} ${port} a laptop`;
  const { given, settled } = plugIn(before, instance, socket);
  const link = given(4).layer1.links.get(PLUGGED_IN);
  if (!link?.up) return [`${where} has no link. ${link?.reason?.text ?? ''}`.trim()];
  return ([4, 6] as const).flatMap((family) => {
    const { model, isTyped } = settled(family);
    const own = globalAddressesOf(model, PLUGGED_IN, family);
    const others = [...model.instances.values()].filter(
      (each) => each.id !== PLUGGED_IN && globalAddressesOf(model, each.id, family).length,
    );
    // A family that nobody uses is not spoken of.
    if (!own.length) return others.length ? [`${where} is given no IPv${family} address.`] : [];
    const addresses = own.map(formatInterfaceAddress).join(' and ');
    const answers = others.map((each) => {
      const found = globalAddressesOf(model, each.id, family).map(
        ({ address }) => model.reach.answer(PLUGGED_IN, { device: each.id, address }).answer,
      );
      return {
        name: each.name,
        answer: found.includes('yes') ? 'yes' : found.includes('uncertain') ? 'uncertain' : 'no',
      };
    });
    const named = (answer: string): string[] =>
      answers.filter((each) => each.answer === answer).map(({ name }) => name);
    const [yes, no, open] = [named('yes'), named('no'), named('uncertain')];
    return [
      isTyped
        ? `${where} is given no IPv${family} address; with ${addresses}, as its neighbours have them:`
        : `${where} is given ${addresses}.`,
      yes.length ? `It reaches ${listed(yes)}.` : 'It reaches nobody.',
      ...(no.length ? [`It does not reach ${listed(no)}.`] : []),
      ...(open.length ? [`It is not certain whether it reaches ${listed(open)}.`] : []),
    ];
  });
}
