import { type Address, type Family, formatAddress } from '../../address';
import { type FrameStep } from '../datalink';
import { type Packet } from '../filters';
import { type Translation } from './translation';
import { type Route } from '../network';
import { type Reason, type ReasonCode } from '../devices';
import { type Flow, type Layers, type PacketAt, type Unsent, stepsOf } from './forward';

/**
 * Whether what was asked arrives and its answer comes back; `uncertain` where that depends on what the drawing does
 * not say.
 */
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
  /** The packet as it leaves the device, or as it was when it ended there; null where it was never made. */
  readonly packet: Packet | null;
}

/** One packet's way: to a device that accepts it, or to the place and reason where it ends. */
export interface Way {
  readonly hops: readonly Hop[];
  readonly delivered: string | null;
  readonly reason: Reason | null;
}

/** What is sent: an echo request, or the first segment of a connection to a port. */
export type Probe = { readonly protocol: 'icmp' } | { readonly protocol: 'tcp' | 'udp'; readonly port: number };
/** An ICMP echo, by which is asked where nothing else is said (RFC 792, RFC 4443). */
export const ECHO: Probe = { protocol: 'icmp' };

/**
 * The device at which a packet ends. In a circle that is where its time to live is over (RFC 1812 §5.3.1), some rounds
 * after its way has been told once.
 */
export function whoStops({ hops, reason }: Way): string {
  const last = hops.at(-1)!.device;
  const first = hops.findIndex(({ device }) => device === last);
  const round = hops.length - 1 - first;
  return reason?.code === 'ROUTE_LOOP' && round ? hops[first + ((TTL - first) % round)]!.device : last;
}

/** How an attempt to connect ends, as whoever tries sees it. */
export type Outcome = 'open' | 'refused' | 'timeout' | 'unreachable';

/** A packet followed there and its answer followed back, hop by hop, with the reason where it ends. */
export interface Trace {
  readonly answer: Answer;
  /** The address that the device sent from; null where the packet never left. */
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
  /** Firewalls that let the request through, and remember. */
  readonly passed: readonly string[];
}

/** TTL that hosts set (RFC 1122 §3.2.1.7 leaves it open; 64 is the recommended default of RFC 1700). */
const TTL = 64;
/** Equal-cost routes multiply the ways of a packet: more than this many are not followed. */
const MAX_WAYS = 32;

const FIRST: Flow = { flow: 'request', made: [], passed: [] };

/**
 * Sends a packet from a device to an address of `to`, or one that `to` translates to a device behind it, and follows what
 * answers it home. `zone` is the interface by which an
 * address of one link is asked for (RFC 4007 §11); it may be absent where the device has one alone.
 */
export function trace(
  layers: Layers,
  from: string,
  to: string,
  address: Address,
  probe: Probe = ECHO,
  zone?: string | null,
): Trace {
  const found = explore(layers, from, to, address, probe, zone);
  const first = found[0]!;
  if (found.every((trace) => trace.answer === first.answer)) return first;
  const failing = found.find((trace) => trace.answer !== 'yes')!;
  return uncertain(
    failing,
    'EQUAL_COST_DIFFERS',
    'Of several routes of equal cost only some work: which one a packet takes is not certain.',
  );
}

/** Whether a single packet that a device sends arrives at another one, with the source it is given. */
export const arrives = (layers: Layers, from: string, to: string, packet: Packet): boolean =>
  send(layers, from, packet, packet.destination, FIRST).some(({ way }) => way.delivered === to);

const uncertain = (trace: Trace, code: ReasonCode, text: string): Trace => ({
  ...trace,
  answer: 'uncertain',
  reason: { code, text, at: trace.reason?.at ?? {} },
});

function explore(
  layers: Layers,
  from: string,
  to: string,
  address: Address,
  probe: Probe,
  zone: string | null | undefined,
): Trace[] {
  const traces: Trace[] = [];
  for (const sent of send(layers, from, firstPacket(probe, address.family), address, FIRST, zone)) {
    const { way, source, packet } = sent;
    const { made, passed } = sent.flow;
    // Whoever translates the address answers by the device behind it.
    const isForwarded = made.some((one) => one.side === 'destination' && one.device === to);
    const answering = way.delivered === to || isForwarded ? way.delivered : null;
    const failed = (
      answer: Answer,
      reply: Way | null,
      reason: Reason | null,
      direction: Trace['direction'],
    ): Trace => ({
      answer,
      // As it was sent, whatever was translated since.
      source: way.hops[0]?.packet?.source ?? source,
      asked: formatAddress(address),
      request: way,
      reply,
      reached: answering !== null,
      reason,
      direction,
      packet,
      translations: made,
      passed,
    });
    if (way.delivered === null)
      traces.push(failed(isHonestNo(way.reason) ? 'no' : 'uncertain', null, way.reason, 'request'));
    else if (answering === null)
      traces.push(failed('uncertain', null, wrongDevice(layers, way.delivered, address), 'request'));
    else
      for (const { way: reply } of send(
        layers,
        answering,
        answerTo(packet!),
        packet!.source,
        { flow: 'reply', made, passed },
        // To an address of one link the answer leaves where the request came in (RFC 4007 §6).
        way.hops.at(-1)!.in,
      )) {
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
/** Types of messages, of ICMP (RFC 792) and of ICMPv6 (RFC 4443). */
const ICMP: Readonly<Record<Family, { request: number; reply: number; unreachable: number }>> = {
  4: { request: 8, reply: 0, unreachable: 3 },
  6: { request: 128, reply: 129, unreachable: 1 },
};

export const firstPacket = (probe: Probe, family: Family): Unsent =>
  probe.protocol === 'icmp'
    ? { protocol: 'icmp', icmpType: ICMP[family].request }
    : { protocol: probe.protocol, sourcePort: CLIENT_PORT, destinationPort: probe.port };

export function answerTo({ protocol, source: _from, destination, sourcePort, destinationPort }: Packet): Unsent {
  if (protocol === 'icmp') return { protocol, icmpType: ICMP[destination.family].reply, source: destination };
  return {
    protocol,
    source: destination,
    ...(destinationPort !== undefined && { sourcePort: destinationPort }),
    ...(sourcePort !== undefined && { destinationPort: sourcePort }),
    ...(protocol === 'tcp' && { established: true }),
  };
}

/** Reasons of which nobody is told: the packet just does not come on. */
const SILENT: ReadonlySet<ReasonCode> = new Set([
  'NULL_ROUTE',
  'NOT_FORWARDING',
  'STORM',
  'NOT_COMPUTED',
  'ONE_WAY_WIRE',
]);

/**
 * The ways of the ICMP message by which whoever stops a request tells its source (RFC 792, RFC 1812 §4.3.3); none where
 * nobody is told: the source stopped it itself, it was dropped in silence, or it arrived.
 */
export function complaints(layers: Layers, found: Trace): Way[] {
  const from = found.request.hops[0]!.device;
  const stopped = whoStops(found.request);
  const { packet, reason } = found;
  if (found.reached || !packet || (reason && SILENT.has(reason.code))) return [];
  // What comes back to its own sender in a circle is a stranger's with its address in IPv4, and goes round on in IPv6.
  const goesOn = reason?.code === 'ROUTE_LOOP' && packet.source.family === 6;
  if (goesOn ? stopped === from : found.request.hops.at(-1)!.device === from) return [];
  const error = { protocol: 'icmp' as const, icmpType: ICMP[packet.source.family].unreachable };
  const flow = { flow: 'reply' as const, made: found.translations, passed: found.passed, isError: true };
  // To an address of one link it goes back where the packet came in.
  return send(layers, stopped, error, packet.source, flow, found.request.hops.at(-1)!.in).map((sent) => sent.way);
}

/**
 * How an attempt to connect, or a question by UDP, ends, as whoever tries sees it. Null where the trace is not certain.
 * That a network or host cannot be reached is a hint that may pass (RFC 1122 §3.2.2.1): who opens a connection is told so,
 * who asks by UDP waits on. That somebody forbids it is told to both.
 */
export function outcomeOf(layers: Layers, found: Trace, { protocol }: Probe, listens: boolean): Outcome | null {
  if (found.answer === 'uncertain') return null;
  if (found.answer === 'yes') return listens ? 'open' : 'refused';
  if (found.direction === 'reply') return 'timeout';
  const from = found.request.hops[0]!.device;
  const isOwn = found.request.hops.at(-1)!.device === from || !found.packet;
  if (protocol === 'udp' && found.reason?.code !== 'FILTERED')
    return isOwn && !HINTED.has(found.reason?.code) ? 'unreachable' : 'timeout';
  if (isOwn) return 'unreachable';
  return complaints(layers, found).some((way) => way.delivered === from) ? 'unreachable' : 'timeout';
}

/** Reasons of which also the source itself only hears later: nobody answered for the next hop. */
const HINTED: ReadonlySet<ReasonCode | undefined> = new Set(['NO_ANSWER', 'NEXT_HOP_UNREACHABLE'] as const);

const UNCERTAIN: ReadonlySet<ReasonCode> = new Set([
  'DUPLICATE_ADDRESS',
  'ROUTE_UNSTABLE',
  'BUNDLE_NOT_FORMED',
  'STORM',
  'NOT_COMPUTED',
  'WRONG_DEVICE_ANSWERS',
  'DHCP_TWICE',
]);
/** Whether a reason says for certain that a packet does not come on. */
export const isCertain = (code: ReasonCode | undefined): boolean => code === undefined || !UNCERTAIN.has(code);
const isHonestNo = (reason: Reason | null): boolean => isCertain(reason?.code);

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
  flow: Flow;
}

/** All ways a packet may take from a device; more than one only where routes have equal cost. */
function send(
  layers: Layers,
  from: string,
  unsent: Unsent,
  address: Address,
  flow: Flow,
  zone?: string | null,
): Sent[] {
  const done: Sent[] = [];
  walk(layers, { device: from, arrived: null, unsent, packet: null, address, flow, zone }, [], done);
  return done;
}

function walk(layers: Layers, standing: PacketAt, hops: readonly Hop[], done: Sent[]): void {
  if (done.length >= MAX_WAYS) return;
  const { device, arrived } = standing;
  const here = arrived?.key ?? null;
  const stopped = (
    { code, at }: Pick<Reason, 'code' | 'at'>,
    text: string,
    more: { notes?: readonly string[]; route?: Route | null; packet: Packet | null; flow: Flow },
  ): void => {
    const decided = [...(more.notes ?? []), text].join(' ');
    const hop: Hop = {
      device,
      in: here,
      decided,
      route: more.route ?? null,
      out: null,
      frames: [],
      packet: more.packet,
    };
    const way: Way = { hops: [...hops, hop], delivered: null, reason: { code, text, at } };
    done.push({ source: standing.packet?.source ?? null, way, packet: more.packet, flow: more.flow });
  };
  if (hops.length >= TTL || hops.some((hop) => hop.device === device)) {
    const { name } = layers.instances.get(device)!;
    const text = `The packet comes back to ${name}: the routes send it in a circle until its time to live is over.`;
    return stopped({ code: 'ROUTE_LOOP', at: { device } }, text, standing);
  }
  for (const step of stepsOf(layers, standing)) {
    if (step.kind === 'end') stopped(step, step.tell(), step);
    else if (step.kind === 'accepted') {
      const hop: Hop = {
        device,
        in: here,
        decided: step.tell(),
        route: null,
        out: null,
        frames: [],
        packet: step.packet,
      };
      const way: Way = { hops: [...hops, hop], delivered: device, reason: null };
      done.push({ source: step.packet.source, way, packet: step.packet, flow: step.flow });
    } else {
      const { route, next, packet, flow } = step;
      const frames = layers.layer2.way(route.out.point!, next.point!);
      const hop: Hop = { device, in: here, decided: step.tell(), route, out: route.out.key, frames, packet };
      walk(
        layers,
        { device: next.instance, arrived: next, unsent: standing.unsent, packet, address: packet.destination, flow },
        [...hops, hop],
        done,
      );
    }
  }
}
