import { type Address, formatAddress, formatPrefix, sameAddress } from '../address';
import { type DataLink, type FrameStep } from './datalink';
import { type Instance, forwards } from './instances';
import { type Attachment, type Network, type Node, type Route, isBroadcast, owns, sourceAddress } from './network';
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

export interface Trace {
  readonly answer: Answer;
  readonly source: Address | null;
  readonly request: Way;
  readonly reply: Way | null;
  /** Whether the request arrived, even where the reply does not. */
  readonly reached: boolean;
  readonly reason: Reason | null;
  readonly direction: 'request' | 'reply' | null;
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

/** Sends one echo request from a device to an address of `to` and follows the reply home. */
export function trace(layers: Layers, from: string, to: string, address: Address): Trace {
  const found = explore(layers, from, to, address);
  const first = found[0]!;
  if (found.every((one) => one.answer === first.answer)) return first;
  const failing = found.find((one) => one.answer !== 'yes')!;
  return uncertain(
    failing,
    'EQUAL_COST_DIFFERS',
    'Of several routes of equal cost only some work: which one a packet takes is not certain.',
  );
}

const uncertain = (one: Trace, code: ReasonCode, text: string): Trace => ({
  ...one,
  answer: 'uncertain',
  reason: { code, text, at: one.reason?.at ?? {} },
});

function explore(layers: Layers, from: string, to: string, address: Address): Trace[] {
  const traces: Trace[] = [];
  for (const { way, source } of send(layers, from, null, address)) {
    const failed = (
      answer: Answer,
      reply: Way | null,
      reason: Reason | null,
      direction: Trace['direction'],
    ): Trace => ({ answer, source, request: way, reply, reached: way.delivered === to, reason, direction });
    if (way.delivered === null)
      traces.push(failed(isHonestNo(way.reason) ? 'no' : 'uncertain', null, way.reason, 'request'));
    else if (way.delivered !== to)
      traces.push(failed('uncertain', null, wrongDevice(layers, way.delivered, address), 'request'));
    else
      for (const { way: reply } of send(layers, to, address, source!)) {
        if (reply.delivered === from) traces.push({ ...failed('yes', reply, null, null), answer: 'yes' });
        else if (reply.delivered !== null)
          traces.push(failed('uncertain', reply, wrongDevice(layers, reply.delivered, source!), 'reply'));
        else traces.push(failed(isHonestNo(reply.reason) ? 'no' : 'uncertain', reply, reply.reason, 'reply'));
      }
    if (traces.length >= MAX_WAYS) break;
  }
  return traces;
}

const UNCERTAIN: ReadonlySet<ReasonCode> = new Set([
  'DUPLICATE_ADDRESS',
  'STORM',
  'NOT_COMPUTED',
  'WRONG_DEVICE_ANSWERS',
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
}

/** All ways a packet may take from a device; more than one only where routes have equal cost. */
function send(layers: Layers, from: string, source: Address | null, address: Address): Sent[] {
  const done: Sent[] = [];
  walk(layers, from, null, source, address, [], done);
  return done;
}

function walk(
  layers: Layers,
  device: string,
  arrived: Attachment | null,
  source: Address | null,
  address: Address,
  hops: readonly Hop[],
  done: Sent[],
): void {
  const node = layers.layer3.nodes.get(device)!;
  const name = node.instance.name;
  const here = arrived?.key ?? null;
  const end = (code: ReasonCode, text: string, route: Route | null = null, at: Reason['at'] = { device }): void => {
    const hop: Hop = { device, in: here, decided: text, route, out: null, frames: [] };
    done.push({ source, way: { hops: [...hops, hop], delivered: null, reason: { code, text, at } } });
  };
  if (done.length >= MAX_WAYS) return;
  if (arrived && node.instance.settings.nat?.length)
    return end('NOT_COMPUTED', `${name} translates addresses: that is not computed yet.`);
  if (arrived && hasFilter(arrived, address.family, 'in'))
    return end('NOT_COMPUTED', `${name} filters what comes in by ${arrived.key}: that is not computed yet.`);
  if (owns(node, address)) {
    const hop: Hop = {
      device,
      in: here,
      decided: `${formatAddress(address)} is ${name}'s own address: accepted.`,
      route: null,
      out: null,
      frames: [],
    };
    done.push({ source: source ?? address, way: { hops: [...hops, hop], delivered: device, reason: null } });
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
  if (routingProtocol(node) && routes[0]!.source !== 'connected')
    return end(
      'NOT_COMPUTED',
      `${name} may learn a longer prefix for ${formatAddress(address)} by a routing protocol: that is not computed yet.`,
    );
  for (const route of routes) {
    if (!route.out)
      end('NULL_ROUTE', `${name} discards packets for ${formatPrefix(route.prefix)} (null route).`, route);
    else forward(layers, node, route, { ...route, out: route.out }, here, source, address, hops, done, end);
  }
}

type End = (code: ReasonCode, text: string, route?: Route | null, at?: Reason['at']) => void;

const routingProtocol = ({ instance: { settings } }: Node): boolean =>
  Boolean(settings.ospf ?? settings.ospf6 ?? settings.rip);

function noRoute(node: Node, address: Address, isSource: boolean, end: End): void {
  const { instance } = node;
  if (routingProtocol(node))
    return end(
      'NOT_COMPUTED',
      `${instance.name} may learn a route to ${formatAddress(address)} by a routing protocol: that is not computed yet.`,
    );
  if (isSource && node.attachments.some(isAutomatic))
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

const isAutomatic = ({ config }: Attachment): boolean => Boolean(config.v4?.dhcp ?? config.v6?.slaac);

const hasFilter = (on: Attachment, family: 4 | 6, way: 'in' | 'out'): boolean =>
  (family === 4
    ? way === 'in'
      ? on.config.filterIn4
      : on.config.filterOut4
    : way === 'in'
      ? on.config.filterIn6
      : on.config.filterOut6) !== undefined;

/** Asks for the next hop on the wire (ARP, RFC 826; neighbour discovery, RFC 4861) and hands the packet over. */
function forward(
  layers: Layers,
  node: Node,
  route: Route,
  by: { out: Attachment },
  here: string | null,
  source: Address | null,
  address: Address,
  hops: readonly Hop[],
  done: Sent[],
  end: End,
): void {
  const { out } = by;
  const target = route.via ?? address;
  const from = source ?? sourceAddress(out, target);
  if (!from)
    return end(
      'NO_ADDRESS',
      `${node.instance.name} ${out.key} has no IPv${address.family} address to send from.`,
      route,
    );
  if (here !== null && hasFilter(out, address.family, 'out'))
    return end(
      'NOT_COMPUTED',
      `${node.instance.name} filters what leaves by ${out.key}: that is not computed yet.`,
      route,
    );
  const { layer2 } = layers;
  const asked = out.point;
  if (asked === null)
    return end(
      'NO_ANSWER',
      `${node.instance.name} ${out.key} is no interface on a wire: nobody answers for ${formatAddress(target)}.`,
      route,
    );
  if (layer2.storms.has(layer2.domainOf(asked)))
    return end(
      'STORM',
      `The wire at ${node.instance.name} ${out.key} has a loop that no spanning tree breaks: frames circle without end.`,
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
    if (mayBeLeased(layers, asked))
      return end(
        'NOT_COMPUTED',
        `${formatAddress(target)} may be the automatic address of a host on the wire at ${out.key}: that is not computed yet.`,
        route,
      );
    const whom = sameAddress(target, address) ? formatAddress(target) : `the next hop ${formatAddress(target)}`;
    return end(
      route.via ? 'NEXT_HOP_UNREACHABLE' : 'NO_ANSWER',
      `${node.instance.name} asks for ${whom} on ${out.key}: nobody answers.`,
      route,
      { device: node.instance.id, port: out.key },
    );
  }
  const decided =
    route.source === 'connected'
      ? `${formatPrefix(route.prefix)} is connected on ${out.key}.`
      : `Route ${formatPrefix(route.prefix)} via ${formatAddress(target)}, ${route.source}.`;
  const hop: Hop = {
    device: node.instance.id,
    in: here,
    decided,
    route,
    out: out.key,
    frames: layer2.way(asked, next.point!),
  };
  walk(layers, next.instance, next, from, address, [...hops, hop], done);
}

/** Interfaces that answer for an address asked for on a wire: only for addresses of the receiving interface itself. */
function answers({ layer2, layer3 }: Layers, asking: Attachment, address: Address): Attachment[] {
  return (layer3.owners.get(formatAddress(address)) ?? []).filter(
    (one) =>
      one !== asking &&
      one.point !== null &&
      layer2.hears(asking.point!, one.point) &&
      layer2.hears(one.point, asking.point!),
  );
}

const mayBeLeased = ({ layer2, layer3 }: Layers, asked: number): boolean =>
  [...layer3.nodes.values()].some((node) =>
    node.attachments.some((one) => isAutomatic(one) && one.point !== null && layer2.hears(asked, one.point)),
  );
