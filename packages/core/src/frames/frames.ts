import { type Address, formatAddress, sameAddress } from '../address';
import {
  type InterfaceState,
  type FrameStep,
  type Hop,
  type Lease,
  type NameAnswer,
  type NetworkModel,
  type Packet,
  type Probe,
  type ReasonCode,
  type Trace,
  type Way,
  interfaceMac,
  complaints,
  isTaken,
  listensAt,
  portId,
  sourceAddress,
  wireTagOf,
  trace,
  virtualMac,
} from '../engine';
import { type Header } from './header';
import {
  type IcmpError,
  type TcpFlag,
  type TransportName,
  BROADCAST_MAC,
  arp,
  echo,
  ethernet,
  groupMac,
  icmpError,
  ip,
  neighbour,
  solicitedNode,
  tcp,
  udp,
} from './layouts';
import { leasingOf } from './leasing';
import { dns } from './payloads';

/** Which part of an exchange a frame belongs to; `before` is what had to happen first: a lease, and the address of a name. */
export type FrameWay = 'before' | 'request' | 'reply' | 'error';

/** One frame on one link, as it is on the wire there. */
export interface Frame {
  readonly way: FrameWay;
  /** The hop that sends it, by its place on that way; what asks for a neighbour belongs to the hop that needs the answer. */
  readonly hop: number;
  readonly link: string;
  /** In a few words: "ARP request for 10.0.0.1". */
  readonly what: string;
  /** From the outermost on. */
  readonly headers: readonly Header[];
}

/** TTL that hosts set (RFC 1122 §3.2.1.7 leaves it open; 64 is the recommended default of RFC 1700). */
const TTL = 64;
/** Sequence numbers of both ends: any would do. */
const [ISN_CLIENT, ISN_SERVER] = [1000, 5000];

/** A message on its way: what it is called, and what is in the packet behind the IP header. */
interface Message {
  readonly what: string;
  readonly protocol: (packet: Packet) => TransportName;
  readonly inside: (packet: Packet) => Header[];
}

/**
 * All frames of a trace in the order of time. With an empty neighbour cache whoever needs a neighbour's MAC asks for it
 * once, and whoever is asked learns that of the asking (RFC 826, RFC 4861 §7.2.3); with a filled one nobody asks.
 */
export function framesOf(model: NetworkModel, trace: Trace, probe: Probe, neighbours: Neighbours = 'asked'): Frame[] {
  return traced(new Wires(model, neighbours), model, trace, probe);
}

/** Whether devices ask for the MAC addresses of their neighbours first, or know them from packets before. */
export type Neighbours = 'asked' | 'known';

/** A name that was asked for before a packet was sent, with what came of it. */
export interface AskedName {
  readonly name: string;
  readonly found: NameAnswer;
}

/**
 * Everything that is on the wires for a trace: how its source came by its address, how it asked for a name, and then the
 * trace itself.
 */
export function captureOf(
  model: NetworkModel,
  trace: Trace,
  probe: Probe,
  asked?: AskedName,
  neighbours: Neighbours = 'asked',
): Frame[] {
  const wires = new Wires(model, neighbours);
  const from = trace.request.hops[0]?.device ?? asked?.found.exchange?.trace.request.hops[0]?.device;
  for (const lease of model.layer3.leases.values()) if (lease.client.device === from) wires.lease(lease);
  if (asked?.found.exchange) {
    const { server, trace: way } = asked.found.exchange;
    const family = asked.found.address?.family ?? 4;
    const message = (what: string, answer?: Address | null): Message => ({
      what,
      protocol: () => 'udp',
      inside: (packet) => udp(ends(packet).from, ends(packet).to, [dns(NAME_ID, asked.name, family, answer)]),
    });
    wires.follow('before', way.request, message(`who is ${asked.name}`));
    if (way.reply && listensAt(model, way.request.delivered!, DNS_PORT))
      wires.follow('before', way.reply, message(`${formatAddress(server)} tells ${asked.name}`, asked.found.address));
  }
  traced(wires, model, trace, probe);
  return wires.frames;
}
const [NAME_ID, DNS_PORT] = [0x0001, 53];

function traced(wires: Wires, model: NetworkModel, trace: Trace, probe: Probe): Frame[] {
  const [first] = trace.request.hops;
  if (!first) return [];
  wires.follow('request', trace.request, requestOf(probe));
  if (trace.reply) {
    const isOpen = probe.protocol !== 'tcp' || isTaken(model, trace);
    wires.follow('reply', trace.reply, replyOf(probe, isOpen));
    if (probe.protocol === 'tcp' && isOpen && trace.answer === 'yes')
      wires.follow('request', trace.request, segment('acknowledgement', ['ACK'], ISN_CLIENT + 1, ISN_SERVER + 1));
  }
  const error = ERROR_OF[trace.reason?.code ?? 'NO_NAME'];
  const [back] = error ? complaints(model, trace) : [];
  if (error && back) wires.follow('error', back, errorAbout(error, trace.packet!, requestOf(probe)));
  return wires.frames;
}

const ERROR_OF: Readonly<Partial<Record<ReasonCode, IcmpError>>> = {
  NO_ROUTE: 'no route',
  NEXT_HOP_UNREACHABLE: 'host unreachable',
  NO_ANSWER: 'host unreachable',
  FILTERED: 'prohibited',
  ROUTE_LOOP: 'time exceeded',
};

const icmpName = ({ source }: Packet): TransportName => (source.family === 4 ? 'icmp' : 'icmpv6');
const ends = (packet: Packet) => ({
  from: { address: packet.source, port: packet.sourcePort ?? 0 },
  to: { address: packet.destination, port: packet.destinationPort ?? 0 },
});
const echoMessage = (kind: 'request' | 'reply'): Message => ({
  what: `echo ${kind}`,
  protocol: icmpName,
  inside: ({ source, destination }) => echo(kind, source, destination, 1),
});
const segment = (what: string, flags: readonly TcpFlag[], sequence: number, acknowledged: number): Message => ({
  what,
  protocol: () => 'tcp',
  inside: (packet) => tcp(ends(packet).from, ends(packet).to, flags, sequence, acknowledged),
});
const datagram: Message = {
  what: 'datagram',
  protocol: () => 'udp',
  inside: (packet) => udp(ends(packet).from, ends(packet).to, []),
};

function requestOf({ protocol }: Probe): Message {
  if (protocol === 'icmp') return echoMessage('request');
  return protocol === 'udp' ? datagram : segment('connection request', ['SYN'], ISN_CLIENT, 0);
}
function replyOf({ protocol }: Probe, isOpen: boolean): Message {
  if (protocol === 'icmp') return echoMessage('reply');
  if (protocol === 'udp') return datagram;
  return isOpen
    ? segment('connection accepted', ['SYN', 'ACK'], ISN_SERVER, ISN_CLIENT + 1)
    : segment('connection refused', ['RST', 'ACK'], 0, ISN_CLIENT + 1);
}
/** Quoted is the packet as it was where it was stopped; the address it is told to may be translated back on the way. */
const errorAbout = (error: IcmpError, stopped: Packet, request: Message): Message => ({
  what: `ICMP: ${error}`,
  protocol: icmpName,
  inside: ({ source, destination }) => {
    const { source: from, destination: to } = stopped;
    const about = ip({ source: from, destination: to, ttl: 1 }, request.protocol(stopped), request.inside(stopped));
    return icmpError(error, source, destination, about);
  },
});

class Wires {
  readonly frames: Frame[] = [];
  /** Neighbours that are known, by "device interface address". */
  private readonly cache = new Set<string>();
  private count = 0;

  constructor(
    private readonly model: NetworkModel,
    private readonly neighbours: Neighbours = 'asked',
  ) {}

  /** How a client came by its address; a relay asks elsewhere for it. */
  lease(lease: Lease): void {
    const { client, server, serverAddress, relay } = lease;
    const mine = this.interfaceState(client.device, client.interface);
    const giving = this.model.layer3.nodes
      .get(server)
      ?.interfaceStates.find((interfaceState) =>
        interfaceState.addresses.some((on) => sameAddress(on.address, serverAddress)),
      );
    const near = relay ? this.interfaceState(relay.device, relay.interface) : giving;
    if (!mine || !near || !giving || mine.point === null || near.point === null) return;
    const [mac, nearMac] = [this.mac(mine), this.mac(near)];
    const leasing = leasingOf(lease, { interfaceState: mine, mac }, near, this.mac(giving));
    if (!leasing) return;
    const { name, kinds, asks, tells } = leasing;
    const [own, port] = leasing.ports;
    const there = relay && trace(this.model, relay.device, server, serverAddress, { protocol: 'udp', port });
    for (const [at, kind] of kinds.entries()) {
      const isTold = at % 2 === 1;
      const pass = (): void => {
        const way = isTold ? there?.reply : there?.request;
        const inside = ({ source, destination }: Packet): Header[] =>
          udp({ address: source, port }, { address: destination, port }, leasing.passed(at));
        if (way) this.follow('before', way, { what: `${name} ${kind}, passed on`, protocol: () => 'udp', inside });
      };
      if (isTold) pass();
      const { source, destination } = isTold ? tells : asks;
      const [from, to] = isTold ? [port, own] : [own, port];
      const inside = ip(
        { source, destination, ttl: TTL, identification: ++this.count },
        'udp',
        udp({ address: source, port: from }, { address: destination, port: to }, leasing.message(at)),
      );
      const points = isTold ? ([near.point, mine.point] as const) : ([mine.point, near.point] as const);
      this.put('before', 0, this.model.layer2.way(...points), `${name} ${kind}`, (tag) => [
        ...ethernet(isTold ? mac : asks.mac, isTold ? nearMac : mac, source.family, tag),
        ...inside,
      ]);
      if (!isTold) pass();
    }
  }

  follow(way: FrameWay, { hops, reason }: Way, message: Message): void {
    this.count++;
    for (const [at, hop] of hops.entries()) {
      const next = hops[at + 1];
      if (next && hop.packet) this.cross(way, at, hop, next, message);
      else if (reason?.code === 'NO_ANSWER' || reason?.code === 'NEXT_HOP_UNREACHABLE') this.askInVain(way, at, hop);
    }
  }

  private cross(way: FrameWay, at: number, hop: Hop, next: Hop, message: Message): void {
    const { packet } = hop as { packet: Packet };
    const [sender, receiver] = [this.interfaceState(hop.device, hop.out), this.interfaceState(next.device, next.in)];
    if (!sender || !receiver) return;
    const target = hop.route?.via ?? packet.destination;
    this.resolve(way, at, sender, receiver, target, hop.frames);
    const { source, destination } = packet;
    const inside = ip(
      { source, destination, ttl: TTL - at, identification: this.count },
      message.protocol(packet),
      message.inside(packet),
    );
    this.put(way, at, hop.frames, message.what, (tag) => [
      ...ethernet(this.macFor(receiver, target), this.mac(sender), source.family, tag),
      ...inside,
    ]);
  }

  /** Question and answer for the MAC of a neighbour, unless it is known. */
  private resolve(
    way: FrameWay,
    hop: number,
    sender: InterfaceState,
    receiver: InterfaceState,
    target: Address,
    steps: readonly FrameStep[],
  ): void {
    if (this.neighbours === 'known' || this.cache.has(keyOf(sender, target))) return;
    const own = sourceAddress(sender, target);
    if (!own) return;
    this.ask(way, hop, sender, own, target, steps);
    const back = this.model.layer2.way(receiver.point!, sender.point!);
    const [mine, theirs] = [
      { mac: this.mac(sender), address: own },
      { mac: this.macFor(receiver, target), address: target },
    ];
    const inside =
      target.family === 4
        ? [arp('reply', theirs, mine)]
        : ip({ source: target, destination: own, ttl: 255 }, 'icmpv6', neighbour('advertisement', theirs, own, target));
    this.put(
      way,
      hop,
      back,
      `${target.family === 4 ? 'ARP reply' : 'Neighbour advertisement'} for ${formatAddress(target)}`,
      (tag) => [...ethernet(mine.mac, theirs.mac, target.family === 4 ? 'arp' : 6, tag), ...inside],
    );
    this.cache.add(keyOf(sender, target)).add(keyOf(receiver, own));
  }

  private ask(
    way: FrameWay,
    hop: number,
    sender: InterfaceState,
    own: Address,
    target: Address,
    steps: readonly FrameStep[],
  ): void {
    const mine = { mac: this.mac(sender), address: own };
    const group = target.family === 6 ? solicitedNode(target) : null;
    const inside = group
      ? ip({ source: own, destination: group, ttl: 255 }, 'icmpv6', neighbour('solicitation', mine, group, target))
      : [arp('request', mine, { mac: null, address: target })];
    const what = `${group ? 'Neighbour solicitation' : 'ARP request'} for ${formatAddress(target)}`;
    this.put(way, hop, steps, what, (tag) => [
      ...ethernet(group ? groupMac(group) : BROADCAST_MAC, mine.mac, group ? 6 : 'arp', tag),
      ...inside,
    ]);
  }

  /** A question that nobody answers, on the link it is asked on. */
  private askInVain(way: FrameWay, at: number, hop: Hop): void {
    const sender = hop.route?.out;
    const target = hop.route?.via ?? hop.packet?.destination ?? null;
    const own = sender && target && sourceAddress(sender, target);
    if (!sender || !target || !own) return;
    const { on } = sender.config;
    if (on.kind !== 'port' && on.kind !== 'sub') return;
    const [link] = this.model.layer1.atPort.get(portId(sender.instance, on.port)) ?? [];
    const tag = wireTagOf(this.model.instances.get(sender.instance)!, sender.config, this.model.layer2);
    if (link !== undefined) this.ask(way, at, sender, own, target, [{ kind: 'link', link, tag }]);
  }

  private put(
    way: FrameWay,
    hop: number,
    steps: readonly FrameStep[],
    what: string,
    headers: (tag: number) => Header[],
  ): void {
    for (const step of steps)
      if (step.kind === 'link') this.frames.push({ way, hop, link: step.link, what, headers: headers(step.tag) });
  }

  private interfaceState(device: string, key: string | null): InterfaceState | undefined {
    return this.model.layer3.nodes.get(device)?.interfaceStates.find((interfaceState) => interfaceState.key === key);
  }
  /** The address that answers for another one: that of a virtual router, or of the interface itself. */
  private macFor(interfaceState: InterfaceState, address: Address): string {
    const virtual = this.model.layer3.interfaces.vrrp.find(
      (router) =>
        router.interfaceState === interfaceState &&
        router.isActive &&
        router.addresses.some((own) => sameAddress(own, address)),
    );
    return virtual ? virtualMac(virtual.group, address.family) : this.mac(interfaceState);
  }
  private mac(interfaceState: InterfaceState): string {
    return interfaceMac(this.model.instances.get(interfaceState.instance)!, interfaceState);
  }
}
const keyOf = ({ instance, key }: InterfaceState, address: Address): string =>
  `${instance} ${key} ${formatAddress(address)}`;
