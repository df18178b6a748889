import { type Address, formatAddress, formatPrefix, sameAddress } from '../address';
import { type DataLink, type FrameStep } from './datalink';
import { type Instance, forwards } from './instances';
import { type Packet, judge } from './filters';
import {
  type Translation,
  answersFor,
  applied,
  translateDestination,
  translateSource,
  translatedBack,
  wordsOf,
} from './nat';
import { type Network, leaseKey } from './network';
import { type Attachment, type Node, type Route, isBroadcast, owns, sourceAddress } from './node';
import { type Reason, type ReasonCode } from './reason';

export type Answer = 'yes' | 'no' | 'uncertain';

/** What one device did with the packet. */
export interface Hop {
  readonly device: string;
  /** The interface the packet came in by; null at the source. */
  readonly in: string | null;
  /** What was decided, as a sentence with the line of the table it was decided on. */
  readonly decided: string;
  readonly route: Route | null;
  readonly out: string | null;
  /** Frames to the next device: links and bridges in order. */
  readonly frames: readonly FrameStep[];
}

/** One packet's way: to a device that accepts it, or to the place and reason where it ends. */
export interface Way {
  readonly hops: readonly Hop[];
  readonly delivered: string | null;
  readonly reason: Reason | null;
}

/** What is sent: an echo request, or the first segment of a connection to a port. */
export type Probe = { readonly protocol: 'icmp' } | { readonly protocol: 'tcp' | 'udp'; readonly port: number };
export const ECHO: Probe = { protocol: 'icmp' };

/** How an attempt to connect ends, as whoever tries sees it. */
export type Outcome = 'open' | 'refused' | 'timeout' | 'unreachable';

export interface Trace {
  readonly answer: Answer;
  readonly source: Address | null;
  /** The address that was asked for, as text. */
  readonly asked: string;
  readonly request: Way;
  readonly reply: Way | null;
  /** Whether the request arrived, even where the reply does not. */
  readonly reached: boolean;
  readonly reason: Reason | null;
  readonly direction: 'request' | 'reply' | null;
  /** The packet as it was where the request ended. */
  readonly packet: Packet | null;
  /** What was translated on the way there. */
  readonly translations: readonly Translation[];
}

/** The stages a trace looks things up in. */
export interface Layers {
  readonly instances: ReadonlyMap<string, Instance>;
  readonly layer2: DataLink;
  readonly layer3: Network;
}

/** TTL that hosts set (RFC 1122 §3.2.1.7 leaves it open; 64 is the recommended default of RFC 1700). */
const TTL = 64;
/** Equal-cost routes multiply the ways of a packet: more than this many are not followed. */
const MAX_WAYS = 32;

/** Sends a packet from a device to an address of `to` and follows what answers it home. */
export function trace(layers: Layers, from: string, to: string, address: Address, probe: Probe = ECHO): Trace {
  const found = explore(layers, from, to, address, probe);
  const first = found[0]!;
  if (found.every((one) => one.answer === first.answer)) return first;
  const failing = found.find((one) => one.answer !== 'yes')!;
  return uncertain(
    failing,
    'EQUAL_COST_DIFFERS',
    'Of several routes of equal cost only some work: which one a packet takes is not certain.',
  );
}

/** Whether a single packet that a device sends arrives at another one, with the source it is given. */
export const arrives = (layers: Layers, from: string, to: string, packet: Packet): boolean =>
  send(layers, from, packet, packet.destination, { flow: 'request', made: [] }).some(({ way }) => way.delivered === to);

const uncertain = (one: Trace, code: ReasonCode, text: string): Trace => ({
  ...one,
  answer: 'uncertain',
  reason: { code, text, at: one.reason?.at ?? {} },
});

function explore(layers: Layers, from: string, to: string, address: Address, probe: Probe): Trace[] {
  const traces: Trace[] = [];
  for (const sent of send(layers, from, firstPacket(probe), address, { flow: 'request', made: [] })) {
    const { way, source, packet, made } = sent;
    const failed = (
      answer: Answer,
      reply: Way | null,
      reason: Reason | null,
      direction: Trace['direction'],
    ): Trace => ({
      answer,
      source,
      asked: formatAddress(address),
      request: way,
      reply,
      reached: way.delivered === to,
      reason,
      direction,
      packet,
      translations: made,
    });
    if (way.delivered === null)
      traces.push(failed(isHonestNo(way.reason) ? 'no' : 'uncertain', null, way.reason, 'request'));
    else if (way.delivered !== to)
      traces.push(failed('uncertain', null, wrongDevice(layers, way.delivered, address), 'request'));
    else
      for (const { way: reply } of send(layers, to, answerTo(packet!), packet!.source, { flow: 'reply', made })) {
        if (reply.delivered === from) traces.push({ ...failed('yes', reply, null, null), answer: 'yes' });
        else if (reply.delivered !== null)
          traces.push(failed('uncertain', reply, wrongDevice(layers, reply.delivered, source!), 'reply'));
        else traces.push(failed(isHonestNo(reply.reason) ? 'no' : 'uncertain', reply, reply.reason, 'reply'));
      }
    if (traces.length >= MAX_WAYS) break;
  }
  return traces;
}

/** Ports that clients take are above 49151 (RFC 6335 §6); which one does not matter. */
const CLIENT_PORT = 50_000;
const [ECHO_REQUEST, ECHO_REPLY, UNREACHABLE] = [8, 0, 3];

type Unsent = Omit<Packet, 'source' | 'destination'> & { source?: Address };
const firstPacket = (probe: Probe): Unsent =>
  probe.protocol === 'icmp'
    ? { protocol: 'icmp', icmpType: ECHO_REQUEST }
    : { protocol: probe.protocol, sourcePort: CLIENT_PORT, destinationPort: probe.port };

function answerTo({ protocol, source: _from, destination, sourcePort, destinationPort }: Packet): Unsent {
  if (protocol === 'icmp') return { protocol, icmpType: ECHO_REPLY, source: destination };
  return {
    protocol,
    source: destination,
    ...(destinationPort !== undefined && { sourcePort: destinationPort }),
    ...(sourcePort !== undefined && { destinationPort: sourcePort }),
    ...(protocol === 'tcp' && { established: true }),
  };
}

/** Whether a service of a device takes connections at a port. */
export const listensAt = ({ instances }: Pick<Layers, 'instances'>, device: string, port: number): boolean =>
  Object.values(instances.get(device)?.settings.services ?? {}).some((one) => one.enabled && one.port === port);

/** Reasons of which nobody is told: the packet just does not come on. */
const SILENT: ReadonlySet<ReasonCode> = new Set(['NULL_ROUTE', 'NOT_FORWARDING', 'STORM', 'NOT_COMPUTED']);

/**
 * How an attempt to connect ends. Where the request is stopped, whoever stops it tells the source by ICMP (RFC 792, RFC
 * 1812 §4.3.3), if that finds back; else nothing is heard. Null where the trace is not certain.
 */
export function outcomeOf(layers: Layers, found: Trace, listens: boolean): Outcome | null {
  if (found.answer === 'uncertain') return null;
  if (found.answer === 'yes') return listens ? 'open' : 'refused';
  if (found.direction === 'reply') return 'timeout';
  const from = found.request.hops[0]!.device;
  const stopped = found.request.hops.at(-1)!.device;
  if (stopped === from || !found.packet) return 'unreachable';
  if (found.reason && SILENT.has(found.reason.code)) return 'timeout';
  const { source } = found.packet;
  const error = { protocol: 'icmp' as const, icmpType: UNREACHABLE };
  const ways = send(layers, stopped, error, source, { flow: 'reply', made: found.translations, isError: true });
  return ways.some(({ way }) => way.delivered === from) ? 'unreachable' : 'timeout';
}

const UNCERTAIN: ReadonlySet<ReasonCode> = new Set([
  'DUPLICATE_ADDRESS',
  'STORM',
  'NOT_COMPUTED',
  'WRONG_DEVICE_ANSWERS',
  'DHCP_TWICE',
]);
const isHonestNo = (reason: Reason | null): boolean => !reason || !UNCERTAIN.has(reason.code);

const wrongDevice = ({ instances }: Layers, device: string, address: Address): Reason => ({
  code: 'WRONG_DEVICE_ANSWERS',
  at: { device },
  text: `${instances.get(device)?.name ?? device} accepts packets for ${formatAddress(address)} as well.`,
});

interface Sent {
  way: Way;
  source: Address | null;
  /** The packet where its way ended; null where it never left. */
  packet: Packet | null;
  made: readonly Translation[];
}

/** What devices on the way know of the connection that a packet belongs to. */
interface Flow {
  readonly flow: 'request' | 'reply';
  readonly made: readonly Translation[];
  /** An ICMP message about a packet: it is translated back by what it quotes, whatever its ports. */
  readonly isError?: boolean;
}

/** A packet on its way: `packet` is null until it has left its source, which chooses the address by the way out. */
interface Travel {
  readonly unsent: Unsent;
  readonly packet: Packet | null;
  readonly address: Address;
  readonly flow: Flow;
  readonly hops: readonly Hop[];
}

/** All ways a packet may take from a device; more than one only where routes have equal cost. */
function send(layers: Layers, from: string, unsent: Unsent, address: Address, flow: Flow): Sent[] {
  const done: Sent[] = [];
  walk(layers, from, null, { unsent, packet: null, address, flow, hops: [] }, done);
  return done;
}

function walk(layers: Layers, device: string, arrived: Attachment | null, travel: Travel, done: Sent[]): void {
  const node = layers.layer3.nodes.get(device)!;
  const name = node.instance.name;
  const here = arrived?.key ?? null;
  let { packet, address, flow } = travel;
  const { hops } = travel;
  const notes: string[] = [];
  const end: End = (code, text, route = null, at = { device }) => {
    const hop: Hop = { device, in: here, decided: [...notes, text].join(' '), route, out: null, frames: [] };
    const way: Way = { hops: [...hops, hop], delivered: null, reason: { code, text, at } };
    done.push({ source: travel.packet?.source ?? null, way, packet, made: flow.made });
  };
  if (done.length >= MAX_WAYS) return;
  if (arrived && packet) {
    const verdict = verdictOf(node, arrived, packet, 'in');
    if (verdict && !verdict.passes) return end('FILTERED', verdict.text, null, { device, port: arrived.key });
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
  if (owns(node, address)) {
    const decided = [...notes, `${formatAddress(address)} is ${name}'s own address: accepted.`].join(' ');
    const hop: Hop = { device, in: here, decided, route: null, out: null, frames: [] };
    const own = packet ?? { ...travel.unsent, source: travel.unsent.source ?? address, destination: address };
    done.push({
      source: own.source,
      way: { hops: [...hops, hop], delivered: device, reason: null },
      packet: own,
      made: flow.made,
    });
    return;
  }
  if (arrived && !forwards(node.instance, address.family))
    return end('NOT_FORWARDING', `${name} does not forward: the packet for ${formatAddress(address)} ends here.`);
  if (hops.length >= TTL || hops.some((hop) => hop.device === device))
    return end(
      'ROUTE_LOOP',
      `The packet comes back to ${name}: the routes send it in a circle until its time to live is over.`,
    );
  if (isBroadcast(node, address))
    return end(
      'BROADCAST_ADDRESS',
      `${formatAddress(address)} is the broadcast address of a subnet of ${name}: no single device has it.`,
    );
  const routes = node.table.lookup(address);
  if (!routes.length) return noRoute(node, address, arrived === null, end);
  for (const route of routes) {
    if (!route.out)
      end('NULL_ROUTE', `${name} discards packets for ${formatPrefix(route.prefix)} (null route).`, route);
    else
      forward(
        layers,
        { node, arrived, notes },
        { ...route, out: route.out },
        { unsent: travel.unsent, packet, address, flow, hops },
        done,
        end,
      );
  }
}

/** The packet as a device that translated its request knows it; null where it does not. */
function backAt({ made, isError }: Flow, device: string, packet: Packet): Packet | null {
  if (!isError) return translatedBack(made, device, packet, 'source');
  const found = made.find(
    (one) => one.device === device && one.side === 'source' && sameAddress(one.after, packet.destination),
  );
  return found ? { ...packet, destination: found.before } : null;
}

/** What a filter says of a packet, with its sentence; null where there is none. */
function verdictOf(
  { instance }: Node,
  at: Attachment,
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
  const by = line === null ? 'its closing deny' : `its line ${line}`;
  const where = way === 'in' ? `comes in by ${at.key}` : `leaves by ${at.key}`;
  return {
    passes,
    text: `${instance.name} filters what ${where} with ${filter}: ${by} ${passes ? 'permits' : 'denies'} it.`,
  };
}

type End = (code: ReasonCode, text: string, route?: Route | null, at?: Reason['at']) => void;

/** Protocols that this version does not compute: what they would teach is not known. */
const isUnknown = ({ instance: { settings } }: Node, family: 4 | 6): boolean =>
  family === 6 && settings.ospf6 !== undefined;

function noRoute(node: Node, address: Address, isSource: boolean, end: End): void {
  const { instance } = node;
  if (isUnknown(node, address.family))
    return end(
      'NOT_COMPUTED',
      `${instance.name} may learn a route to ${formatAddress(address)} by a routing protocol: that is not computed yet.`,
    );
  if (isSource && address.family === 6 && node.attachments.some(({ config }) => config.v6?.slaac))
    return end('NOT_COMPUTED', `${instance.name} gets its address automatically: that is not computed yet.`);
  const active = node.attachments.filter((one) => one.up);
  if (isSource && !active.some((one) => one.addresses.length))
    return node.attachments.some((one) => one.addresses.length)
      ? end('INTERFACE_DOWN', `No interface of ${instance.name} with an address is up.`)
      : end('NO_ADDRESS', `${instance.name} has no address.`);
  const outside = node.refused.find((one) => one.code === 'GATEWAY_OUTSIDE' || one.code === 'ADDRESS_UNREADABLE');
  if (isSource && !forwards(instance, address.family))
    return outside
      ? end(outside.code, outside.text)
      : end('NO_GATEWAY', `${formatAddress(address)} is not in a subnet of ${instance.name}, and it has no gateway.`);
  end('NO_ROUTE', `${instance.name} has no route to ${formatAddress(address)}.`);
}

/** Asks for the next hop on the wire (ARP, RFC 826; neighbour discovery, RFC 4861) and hands the packet over. */
function forward(
  layers: Layers,
  { node, arrived, notes }: { node: Node; arrived: Attachment | null; notes: readonly string[] },
  route: Route & { out: Attachment },
  { unsent, packet: held, address, flow: known, hops }: Travel,
  done: Sent[],
  end: End,
): void {
  const { out } = route;
  const { instance } = node;
  const target = route.via ?? address;
  const from = held?.source ?? unsent.source ?? sourceAddress(out, target);
  if (!from)
    return end('NO_ADDRESS', `${instance.name} ${out.key} has no IPv${address.family} address to send from.`, route);
  let packet: Packet = held ?? { ...unsent, source: from, destination: address };
  let flow = known;
  const told = [...notes];
  if (arrived) {
    const verdict = verdictOf(node, out, packet, 'out');
    if (verdict && !verdict.passes) return end('FILTERED', verdict.text, route, { device: instance.id, port: out.key });
    if (verdict) told.push(verdict.text);
    if (flow.flow === 'request') {
      const change = translateSource(node, arrived, out, packet);
      if (change) {
        packet = applied(packet, change);
        flow = { ...flow, made: [...flow.made, change] };
        told.push(`${instance.name} translates: ${wordsOf(change)}.`);
      }
    } else packet = translatedBack(flow.made, instance.id, packet, 'destination') ?? packet;
  }
  const lease = arrived ? undefined : layers.layer3.leases.get(leaseKey(instance.id, out.key));
  if (lease?.rivals)
    return end(
      'DHCP_TWICE',
      `Several servers offer ${instance.name} an address: which one it takes is not certain.`,
      route,
    );
  const { layer2 } = layers;
  const asked = out.point;
  if (asked === null)
    return end(
      'NO_ANSWER',
      `${instance.name} ${out.key} is no interface on a wire: nobody answers for ${formatAddress(target)}.`,
      route,
    );
  if (layer2.storms.has(layer2.domainOf(asked)))
    return end(
      'STORM',
      `The wire at ${instance.name} ${out.key} has a loop that no spanning tree breaks: frames circle without end.`,
      route,
    );
  const answering = answers(layers, out, target);
  if (answering.length > 1)
    return end(
      'DUPLICATE_ADDRESS',
      `${answering.length} interfaces answer for ${formatAddress(target)}: ${answering.map((one) => layers.instances.get(one.instance)!.name).join(' and ')}.`,
      route,
    );
  const next = answering[0];
  if (!next) {
    const whom = sameAddress(target, address) ? formatAddress(target) : `the next hop ${formatAddress(target)}`;
    return end(
      route.via ? 'NEXT_HOP_UNREACHABLE' : 'NO_ANSWER',
      `${instance.name} asks for ${whom} on ${out.key}: nobody answers.`,
      route,
      { device: instance.id, port: out.key },
    );
  }
  told.push(
    route.source === 'connected'
      ? `${formatPrefix(route.prefix)} is connected on ${out.key}.`
      : `Route ${formatPrefix(route.prefix)} via ${formatAddress(target)}, ${route.source}.`,
  );
  const hop: Hop = {
    device: instance.id,
    in: arrived?.key ?? null,
    decided: told.join(' '),
    route,
    out: out.key,
    frames: layer2.way(asked, next.point!),
  };
  walk(layers, next.instance, next, { unsent, packet, address: packet.destination, flow, hops: [...hops, hop] }, done);
}

/**
 * Interfaces that answer for an address asked for on a wire: only for addresses of the receiving interface itself, and
 * for those in its subnet that its device translates to.
 */
function answers({ layer2, layer3 }: Layers, asking: Attachment, address: Address): Attachment[] {
  const isNear = (one: Attachment): boolean =>
    one !== asking &&
    one.point !== null &&
    layer2.hears(asking.point!, one.point) &&
    layer2.hears(one.point, asking.point!);
  const own = (layer3.owners.get(formatAddress(address)) ?? []).filter(isNear);
  const translating = layer3.translators.flatMap((node) =>
    node.attachments.filter((one) => one.up && answersFor(node, one, address) && isNear(one) && !own.includes(one)),
  );
  return translating.length ? [...own, ...translating] : own;
}
