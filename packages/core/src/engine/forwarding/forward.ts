import { type Address, contains, formatAddress, formatPrefix, isLinkLocal, sameAddress, subnetOf } from '../../address';
import { type DataLink } from '../datalink';
import { type Packet, judge } from '../filters';
import { type Instance, forwards, type Reason, type ReasonCode } from '../devices';
import {
  type Translation,
  answersFor,
  applied,
  translateDestination,
  translateSource,
  translatedBack,
  wordsOf,
} from './translation';
import {
  leaseKey,
  type Network,
  type InterfaceState,
  type Node,
  type Route,
  isBroadcast,
  numberOf,
  owns,
  sourceAddress,
} from '../network';
import { zoneVerdict } from './zones';

export type FilterOut = 'before-translation' | 'after-translation';

/** The stages a trace looks things up in. */
export interface Layers {
  readonly filterOut: FilterOut;
  readonly instances: ReadonlyMap<string, Instance>;
  readonly layer2: DataLink;
  readonly layer3: Network;
}

/** A packet before it has left its source, which chooses the address by the way out. */
export type Unsent = Omit<Packet, 'source' | 'destination'> & { source?: Address };

/** What devices on the way know of the connection that a packet belongs to. */
export interface Flow {
  readonly flow: 'request' | 'reply';
  readonly made: readonly Translation[];
  /** Firewalls that let its first packet through, and remember. */
  readonly passed: readonly string[];
  /** An ICMP message about a packet: it is translated back by what it quotes, whatever its ports. */
  readonly isError?: boolean;
}

/** A packet at a device; `packet` is null at its source. */
export interface PacketAt {
  readonly device: string;
  readonly arrived: InterfaceState | null;
  readonly unsent: Unsent;
  readonly packet: Packet | null;
  readonly address: Address;
  readonly flow: Flow;
  /** By which interface its source sends it, where the address says nothing of that (RFC 4007). */
  readonly zone?: string | null | undefined;
}

/** What a device does with a packet: it ends there, is accepted, or goes on. Sentences are made when somebody asks. */
export type Step =
  | {
      readonly kind: 'end';
      readonly code: ReasonCode;
      readonly at: Reason['at'];
      readonly tell: () => string;
      readonly notes: readonly string[];
      readonly route: Route | null;
      readonly packet: Packet | null;
      readonly flow: Flow;
    }
  | { readonly kind: 'accepted'; readonly packet: Packet; readonly tell: () => string; readonly flow: Flow }
  | {
      readonly kind: 'on';
      readonly route: Route & { out: InterfaceState };
      readonly next: InterfaceState;
      readonly packet: Packet;
      readonly flow: Flow;
      readonly tell: () => string;
    };

/** One for each route of equal cost; a single one where the packet ends or is accepted. */
export function stepsOf(layers: Layers, standing: PacketAt): Step[] {
  const { device, arrived, unsent } = standing;
  const node = layers.layer3.nodes.get(device)!;
  const name = node.instance.name;
  let { packet, address, flow } = standing;
  const notes: string[] = [];
  const end = (
    code: ReasonCode,
    tell: () => string,
    route: Route | null = null,
    at: Reason['at'] = { device },
  ): Step => ({
    kind: 'end',
    code,
    at,
    tell,
    notes,
    route,
    packet,
    flow,
  });
  if (arrived && packet) {
    const verdict = verdictOf(node, arrived, packet, 'in');
    if (verdict && !verdict.passes) return [end('FILTERED', () => verdict.text, null, { device, port: arrived.key })];
    if (verdict) notes.push(verdict.text);
    const change = flow.flow === 'request' ? translateDestination(node, arrived, packet) : null;
    const back = flow.flow === 'reply' ? backAt(flow, device, packet) : null;
    if (change) {
      packet = applied(packet, change);
      flow = { ...flow, made: [...flow.made, change] };
      notes.push(`${name} translates: ${wordsOf(change)}.`);
    } else if (back) {
      packet = back;
      notes.push(`${name} translates back to ${formatAddress(back.destination)}.`);
    }
    address = packet.destination;
  }
  if (owns(node, address))
    return [
      {
        kind: 'accepted',
        packet: packet ?? { ...unsent, source: unsent.source ?? address, destination: address },
        tell: () => [...notes, `${formatAddress(address)} is ${name}'s own address: accepted.`].join(' '),
        flow,
      },
    ];
  if (arrived && !forwards(node.instance, address.family))
    return [
      end('NOT_FORWARDING', () => `${name} does not forward: the packet for ${formatAddress(address)} ends here.`),
    ];
  if (isBroadcast(node, address))
    return [
      end(
        'BROADCAST_ADDRESS',
        () => `${formatAddress(address)} is the broadcast address of a subnet of ${name}: no single device has it.`,
      ),
    ];
  if (isLinkLocal(address)) {
    if (arrived)
      return [
        end('NOT_FORWARDING', () => `${formatAddress(address)} is for one link alone: ${name} does not pass it on.`),
      ];
    const out = linkOf(node, standing.zone);
    if (typeof out === 'string') return [end('NO_ROUTE', () => out)];
    const route = { prefix: LINK_LOCAL, source: 'connected', distance: 0, metric: 0, via: null, out } as const;
    return [handOver(layers, { node, arrived, notes, unsent }, route, { packet, address, flow }, end)];
  }
  const routes = node.table.lookup(address);
  if (!routes.length) return [noRoute(node, address, arrived === null, end)];
  return routes.map((route) =>
    leadsOut(route)
      ? handOver(layers, { node, arrived, notes, unsent }, route, { packet, address, flow }, end)
      : route.unstable
        ? end('ROUTE_UNSTABLE', () => route.unstable!, route)
        : end('NULL_ROUTE', () => `${name} discards packets for ${formatPrefix(route.prefix)} (null route).`, route),
  );
}

/** fe80::/10, whose addresses say nothing of the link that they are on (RFC 4291 §2.5.6). */
const LINK_LOCAL = { family: 6, value: 0xfe80n << 112n, length: 10 } as const;

/** The interface by which a device speaks on a link: the one that is named, else the only one that is up; why none. */
function linkOf({ instance, interfaceStates }: Node, zone: string | null | undefined): InterfaceState | string {
  const speaking = interfaceStates.filter(({ up, linkLocal }) => up && linkLocal);
  if (zone !== undefined && zone !== null) {
    const named = speaking.find(({ key }) => key === zone);
    return named ?? `${instance.name} has no interface "${zone}" that is up and speaks IPv6.`;
  }
  if (speaking.length === 1) return speaking[0]!;
  return speaking.length
    ? `${instance.name} speaks IPv6 on ${speaking.map(({ key }) => key).join(', ')}: say on which of them, with % and its name after the address.`
    : `No interface of ${instance.name} is up and speaks IPv6.`;
}

/** The device that has an address on the link of an interface of another one; null where none has. */
export function neighbourWith(layers: Layers, device: string, address: Address, zone?: string | null): string | null {
  const node = layers.layer3.nodes.get(device);
  const out = node && linkOf(node, zone);
  if (!out || typeof out === 'string' || out.point === null) return null;
  return responders(layers, out, address)[0]?.instance ?? null;
}

export const leadsOut = (route: Route): route is Route & { out: InterfaceState } => route.out !== null;

type End = (code: ReasonCode, tell: () => string, route?: Route | null, at?: Reason['at']) => Step;

/** The packet as a device that translated its request knows it; null where it does not. */
function backAt({ made, isError }: Flow, device: string, packet: Packet): Packet | null {
  if (!isError) return translatedBack(made, device, packet, 'source');
  const found = made.find(
    (translation) =>
      translation.device === device &&
      translation.side === 'source' &&
      sameAddress(translation.after, packet.destination),
  );
  return found ? { ...packet, destination: found.before } : null;
}

/** What a filter says of a packet, with its sentence; null where there is none. */
function verdictOf(
  { instance }: Node,
  at: InterfaceState,
  packet: Packet,
  way: 'in' | 'out',
): { passes: boolean; text: string } | null {
  const { config } = at;
  const id =
    packet.destination.family === 4
      ? way === 'in'
        ? config.filterIn4
        : config.filterOut4
      : way === 'in'
        ? config.filterIn6
        : config.filterOut6;
  const verdict = judge(instance, id, packet);
  if (!verdict) return null;
  const { passes, filter, line } = verdict;
  const by = line === null ? 'its implicit deny' : `its line ${line}`;
  const where = way === 'in' ? `comes in by ${at.key}` : `leaves by ${at.key}`;
  return {
    passes,
    text: `${instance.name} filters what ${where} with ${filter}: ${by} ${passes ? 'permits' : 'denies'} it.`,
  };
}

function noRoute(node: Node, address: Address, isSource: boolean, end: End): Step {
  const { instance } = node;
  if (node.interfaceStates.some(({ config }) => config.on.kind === 'tunnel'))
    return end(
      'NOT_COMPUTED',
      () => `${instance.name} may reach ${formatAddress(address)} by a tunnel: that is not computed yet.`,
    );
  const active = node.interfaceStates.filter((interfaceState) => interfaceState.up);
  if (isSource && !active.some((interfaceState) => interfaceState.addresses.length))
    return node.interfaceStates.some((interfaceState) => interfaceState.addresses.length)
      ? end('INTERFACE_DOWN', () => `No interface of ${instance.name} with an address is up.`)
      : end('NO_ADDRESS', () => `${instance.name} has no address.`);
  if (isSource && address.family === 6 && active.some(({ config }) => config.v6?.slaac))
    return end(
      'NO_GATEWAY',
      () => `${instance.name} hears no router that would tell it the way to ${formatAddress(address)}.`,
    );
  const outside = node.refused.find(
    (reason) => reason.code === 'GATEWAY_OUTSIDE' || reason.code === 'ADDRESS_UNREADABLE',
  );
  if (isSource && !forwards(instance, address.family))
    return outside
      ? end(outside.code, () => outside.text)
      : end(
          'NO_GATEWAY',
          () => `${formatAddress(address)} is not in a subnet of ${instance.name}, and it has no gateway.`,
        );
  return end('NO_ROUTE', () => `${instance.name} has no route to ${formatAddress(address)}.`);
}

/** Asks for the next hop on the wire (ARP, RFC 826; neighbour discovery, RFC 4861) and hands the packet over. */
function handOver(
  layers: Layers,
  {
    node,
    arrived,
    notes,
    unsent,
  }: { node: Node; arrived: InterfaceState | null; notes: readonly string[]; unsent: Unsent },
  route: Route & { out: InterfaceState },
  { packet: held, address, flow: known }: Pick<PacketAt, 'packet' | 'address' | 'flow'>,
  end: End,
): Step {
  const { out } = route;
  const { instance } = node;
  const target = route.via ?? address;
  // What is for one link is sent from an address of that link (RFC 6724 §5, rule 2).
  const chosen = isLinkLocal(address) ? out.linkLocal : sourceOf(layers, instance, route, target);
  const from = held?.source ?? unsent.source ?? chosen;
  if (!from)
    return end(
      'NO_ADDRESS',
      () => `${instance.name} ${out.key} has no IPv${address.family} address to send from.`,
      route,
    );
  if (arrived && held && isLinkLocal(held.source) && arrived !== out)
    return end(
      'BEYOND_SCOPE',
      () =>
        `${formatAddress(held.source)} is an address for one link alone: ${instance.name} does not pass on what comes from it.`,
      route,
    );
  let packet: Packet = held ?? { ...unsent, source: from, destination: address };
  let flow = known;
  const sentences = [...notes];
  if (arrived) {
    const isAnswer = flow.flow === 'reply' && flow.passed.includes(instance.id);
    const zones = zoneVerdict(node, arrived.key, out.key, packet, isAnswer);
    if (zones && !zones.passes)
      return end('FILTERED', () => `${instance.name} is a firewall: ${zones.text}.`, route, {
        device: instance.id,
        port: out.key,
      });
    if (zones) {
      sentences.push(`${instance.name} is a firewall: ${zones.text}.`);
      flow = { ...flow, passed: [...flow.passed, instance.id] };
    }
    const filtered = (): Step | null => {
      const verdict = verdictOf(node, out, packet, 'out');
      if (verdict) sentences.push(verdict.text);
      return verdict && !verdict.passes
        ? end('FILTERED', () => verdict.text, route, { device: instance.id, port: out.key })
        : null;
    };
    const early = layers.filterOut === 'before-translation' ? filtered() : null;
    if (early) return early;
    if (flow.flow === 'request') {
      const change = translateSource(node, arrived, out, packet);
      if (change) {
        packet = applied(packet, change);
        flow = { ...flow, made: [...flow.made, change] };
        sentences.push(`${instance.name} translates: ${wordsOf(change)}.`);
      }
    } else packet = translatedBack(flow.made, instance.id, packet, 'destination') ?? packet;
    const late = layers.filterOut === 'after-translation' ? filtered() : null;
    if (late) return late;
  }
  const handing = resolveNextHop(layers, instance, route, target);
  if (!arrived && handing.rivals)
    return end(
      'DHCP_TWICE',
      () => `Several servers offer ${instance.name} an address: which one it takes is not certain.`,
      route,
    );
  const { trouble, next } = handing;
  if (!next) return end(trouble!.code, () => trouble!.tell(address), route, trouble!.at);
  const way = (): string =>
    route.source === 'connected'
      ? `${formatPrefix(route.prefix)} is connected on ${out.key}.`
      : `Route ${formatPrefix(route.prefix)} via ${formatAddress(target)}, ${route.source}.`;
  return { kind: 'on', route, next, packet, flow, tell: () => [...sentences, way()].join(' ') };
}

/** The address to send from: one of the interface, and where it has none of IPv6 but that of the link, that one (RFC 6724 §4). */
const sourceOf = (
  layers: Layers,
  instance: Instance,
  route: Route & { out: InterfaceState },
  target: Address,
): Address | null =>
  resolveNextHop(layers, instance, route, target).source ?? (target.family === 6 ? route.out.linkLocal : null);

/** What handing a packet over to a neighbour comes to, whatever the packet. */
export interface Handing {
  /** The address that the device sends from. */
  readonly source: Address | null;
  /** Whether several servers offer the device an address there. */
  readonly rivals: boolean;
  readonly next: InterfaceState | null;
  readonly trouble: { code: ReasonCode; tell: (destination: Address) => string; at?: Reason['at'] } | null;
}
/** To a next hop it is the same for every packet: worked out once for a way out, as long as the network is the same. */
const handings = new WeakMap<Network, Map<InterfaceState, Map<number | bigint, Handing>>>();

/** @param target the next hop, or the destination itself where it is on the wire */
export function resolveNextHop(
  layers: Layers,
  instance: Instance,
  route: Route & { out: InterfaceState },
  target: Address,
): Handing {
  const { layer3 } = layers;
  const { out } = route;
  let all = handings.get(layer3);
  if (!all) handings.set(layer3, (all = new Map<InterfaceState, Map<number | bigint, Handing>>()));
  let byTarget = all.get(out);
  if (!byTarget) all.set(out, (byTarget = new Map<number | bigint, Handing>()));
  const known = route.via && byTarget.get(numberOf(target));
  if (known) return known;
  const handing: Handing = {
    source: sourceAddress(out, target),
    rivals:
      (layer3.leases.size > 0 && layer3.leases.get(leaseKey(instance.id, out.key, target.family))?.rivals) ?? false,
    ...neighbourAt(layers, instance, route, target),
  };
  if (route.via) byTarget.set(numberOf(target), handing);
  return handing;
}

function neighbourAt(
  layers: Layers,
  { id, name }: Instance,
  { out, via }: Route & { out: InterfaceState },
  target: Address,
): Pick<Handing, 'next' | 'trouble'> {
  const { layer2 } = layers;
  const trouble = (code: ReasonCode, tell: (destination: Address) => string, at?: Reason['at']) => ({
    next: null,
    trouble: { code, tell, ...(at && { at }) },
  });
  if (out.point === null)
    return trouble(
      'NO_ANSWER',
      () => `${name} ${out.key} is no interface on a wire: nobody answers for ${formatAddress(target)}.`,
    );
  if (layer2.storms.has(layer2.domainOf(out.point)))
    return trouble(
      'STORM',
      () => `The wire at ${name} ${out.key} has a loop that no spanning tree breaks: frames circle without end.`,
    );
  const answering = responders(layers, out, target);
  if (answering.length > 1)
    return trouble(
      'DUPLICATE_ADDRESS',
      () =>
        `${answering.length} interfaces answer for ${formatAddress(target)}: ${answering.map((interfaceState) => layers.instances.get(interfaceState.instance)!.name).join(' and ')}.`,
    );
  const [next] = answering;
  if (next) {
    const doubtful = layer2.bundles.doubtful.size
      ? layer2
          .way(out.point, next.point!)
          .find((step) => step.kind === 'link' && layer2.bundles.doubtful.has(step.link))
      : undefined;
    if (doubtful?.kind !== 'link') return { next, trouble: null };
    const { link } = doubtful;
    return trouble('BUNDLE_NOT_FORMED', () => layer2.bundles.doubtful.get(link)!, { link });
  }
  const known = knownBy(layers, out, target);
  if (known) {
    const taken = takenBy(layers, out, known);
    if (taken) return { next: taken, trouble: null };
    const there = layers.instances.get(known.instance)!.name;
    return trouble(
      'ONE_WAY_WIRE',
      () =>
        `${name} hears ${there} on ${out.key} and knows its MAC address from its questions, but what ${name} sends does not get there: frames pass one way only.`,
      { device: id, port: out.key },
    );
  }
  return trouble(
    via ? 'NEXT_HOP_UNREACHABLE' : 'NO_ANSWER',
    (destination) => {
      const whom = sameAddress(target, destination) ? formatAddress(target) : `the next hop ${formatAddress(target)}`;
      return `${name} asks for ${whom} on ${out.key}: nobody answers.`;
    },
    { device: id, port: out.key },
  );
}

/**
 * Who has an address on a wire that passes frames one way only: whoever asks for somebody tells his own MAC address by
 * asking (RFC 826, RFC 4861 §7.2.3), so that what is sent to him is not asked for.
 */
function knownBy({ layer2, layer3 }: Layers, out: InterfaceState, address: Address): InterfaceState | undefined {
  const isAsking = (there: InterfaceState): boolean =>
    there !== out &&
    there.point !== null &&
    layer2.hears(there.point, out.point!) &&
    there.addresses.some((on) => out.addresses.some((own) => contains(subnetOf(on), own.address)));
  return layer3.owners.get(numberOf(address))?.find(isAsking);
}

/** The interface that takes a frame for the MAC address of another one: one on the same port that hears the sender. */
function takenBy({ layer2, layer3 }: Layers, out: InterfaceState, known: InterfaceState): InterfaceState | undefined {
  const portOf = ({ config: { on } }: InterfaceState): string | null =>
    on.kind === 'port' || on.kind === 'sub' ? on.port : null;
  const port = portOf(known);
  return layer3.nodes
    .get(known.instance)!
    .interfaceStates.find(
      (other) =>
        other !== known && portOf(other) === port && other.point !== null && layer2.hears(out.point!, other.point),
    );
}

/**
 * Interfaces that answer for an address asked for on a wire: only for addresses of the receiving interface itself, and
 * for those in its subnet that its device translates to.
 */
function responders(layers: Layers, asking: InterfaceState, address: Address): readonly InterfaceState[] {
  let all = heard.get(layers.layer3);
  if (!all)
    heard.set(layers.layer3, (all = new Map<InterfaceState, Map<number | bigint, readonly InterfaceState[]>>()));
  let known = all.get(asking);
  if (!known) all.set(asking, (known = new Map<number | bigint, readonly InterfaceState[]>()));
  const key = numberOf(address);
  let found = known.get(key);
  if (!found) known.set(key, (found = answering(layers, asking, address)));
  return found;
}
/** What was asked for once, in the same network. */
const heard = new WeakMap<Network, Map<InterfaceState, Map<number | bigint, readonly InterfaceState[]>>>();

function answering({ layer2, layer3 }: Layers, asking: InterfaceState, address: Address): readonly InterfaceState[] {
  const isNear = (interfaceState: InterfaceState): boolean =>
    interfaceState !== asking && interfaceState.point !== null && layer2.meets(asking.point!, interfaceState.point);
  const own = (layer3.owners.get(numberOf(address)) ?? []).filter(isNear);
  const translating = layer3.translators.flatMap((node) =>
    node.interfaceStates.filter(
      (interfaceState) =>
        interfaceState.up &&
        answersFor(node, interfaceState, address) &&
        isNear(interfaceState) &&
        !own.includes(interfaceState),
    ),
  );
  return translating.length ? [...own, ...translating] : own;
}
