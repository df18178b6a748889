import { type Link, type LinkEnd, type Topology } from '../../topology';
import { type Bundles, bundlesOf } from './bundles';
import { type Layer2Graph, Layer2GraphBuilder, PointNumbers } from './layer2-graph';
import { type Instance, type Port, instanceId, type Reason } from '../devices';
import { type Physical, portId } from '../physical';
import { type Pass, type VlanPolicy, exists, isRadio, isTransparent, passes, radioVlan, vlansInPlay } from './passes';
import { type Joins, type Segments, joinsOf, segmentOf, segmentsOf } from './segments';
import { type EdgeEdit, isEdgeLink } from './edge-edit';
import { type SpanningTree, spanningTree } from './spanning-tree';

/** A step of a frame's way: over a link, with the VLAN it is tagged with there (0 for none), or through a bridge in a VLAN. */
export type FrameStep = { kind: 'link'; link: string; tag: number } | { kind: 'bridge'; device: string; vlan: number };

/**
 * Who hears whom on layer 2. A *point* is one end of that question: a segment (links joined by hubs) with a tag, or a
 * bridge with a VLAN (IEEE 802.1Q-2018 §8.6). Points that hear each other both ways form a domain; a trunk that takes
 * tagged frames of its native VLAN but sends them untagged gives one-way edges between domains.
 */
export interface DataLink {
  /** The point where an interface directly on a port (tag 0) or a sub-interface (its VLAN) hears frames. */
  portPoint(instance: string, port: string, tag: number): number | null;
  /** The VLAN that the switch at the other end of a port has for voice, as it tells telephones (ANSI/TIA-1057); 0 for none. */
  voiceVlanAt(instance: string, port: string): number;
  /** The point of a VLAN inside a bridge, and whether any port of it that is up carries the VLAN. */
  vlanPoint(instance: string, vlan: number): { point: number; up: boolean } | null;
  /** The VLANs whose frames a port of a bridge takes, tagged or not; none at other ports. */
  vlansAt(instance: string, port: string): number[];
  /** Whether frames from one point arrive at the other. */
  hears(from: number, to: number): boolean;
  /** Whether two points hear each other: only then questions on a wire are answered. */
  meets(first: number, second: number): boolean;
  /** The domain of a point: equal for points that hear each other. It is the least of their numbers. */
  domainOf(point: number): number;
  /** Domains whose frames arrive in others, and not back. */
  readonly oneWay: ReadonlyMap<number, ReadonlySet<number>>;
  readonly points: PointNumbers;
  /** What edits at the edge leave as it is. */
  readonly lasting: Lasting;
  /** A shortest way of frames from one point to another; empty where there is none. */
  way(from: number, to: number): FrameStep[];
  readonly bundles: Bundles;
  readonly tree: SpanningTree;
  /** Domains with a loop that no spanning tree breaks, each with a place where it closes. */
  storms: ReadonlyMap<number, Reason['at']>;
  warnings: readonly Reason[];
}

type Carried = Map<number, number>;
const carry = (carried: Carried, bridge: number, more: number): void =>
  void carried.set(bridge, (carried.get(bridge) ?? 0) + more);

/** What a data link is worked out of. */
interface Given {
  readonly topology: Topology;
  readonly instances: ReadonlyMap<string, Instance>;
  readonly layer1: Physical;
}

/** @param points numbers of points that were given before: they stay, and domains keep theirs where they can */
export function dataLink(given: Given, vlanPolicy: VlanPolicy, points = new PointNumbers()): DataLink {
  const { topology, instances, layer1 } = given;
  const bundles = bundlesOf(instances, layer1);
  const joins = joinsOf(topology, instances, layer1, bundles);
  const segments = segmentsOf(topology, instances, layer1, bundles, joins);
  const tree = spanningTree(segments);
  const builder = new Layer2GraphBuilder(points, vlansInPlay(instances));
  const carried: Carried = new Map();
  const looped = new Map<number, Reason['at']>();
  let within: Instance | null = null;
  const inside = new Map<number, number>();
  for (const { instance, port, segment, radio } of segments.bridgePorts) {
    const voice = voiceVlanOf(port);
    if (voice) builder.setVoice(segment, voice);
    if (within !== instance) inside.clear();
    within = instance;
    for (const [tag, vlan, ways] of radio === null ? passes(instance, port, builder.vlans) : overRadio(radio)) {
      if (!exists(instance, vlan, vlanPolicy)) continue;
      let bridge = inside.get(vlan);
      if (bridge === undefined) inside.set(vlan, (bridge = builder.point(bridgeName(instance.id, vlan))));
      const wire = builder.point(`${segment} ${tag}`);
      carry(carried, bridge, 1);
      if (!tree.forwards(instance.id, port.key, vlan)) continue;
      if (ways === 'in') builder.joinOneWay(wire, bridge);
      // Who is not let in hears, and is not heard.
      else if (layer1.mute.has(portId(instance.id, port.key))) builder.joinOneWay(bridge, wire);
      else if (!builder.join(wire, bridge)) looped.set(wire, { device: instance.id, port: port.key });
    }
  }
  joinEdges(builder, given, vlanPolicy);
  const graph = builder.graph();
  const storms = new Map<number, Reason['at']>();
  for (const [at, place] of looped) storms.set(graph.domainOf(at), place);
  for (const [name, place] of segments.looped)
    for (const [at, key] of points.names.entries())
      if (key.startsWith(`${name} `)) storms.set(graph.domainOf(at), place);
  const warnings = [
    ...bundles.reasons,
    ...tree.reasons,
    ...untaggedMeetings(instances, layer1),
    ...stormReasons(instances, [...storms.values(), ...segments.looped.values()]),
  ];
  return wired(given, vlanPolicy, { graph, carried, bundles, joins, storms, warnings }, segments, tree);
}

/**
 * Joins the links of hosts and routed ports that are down with what they hear when they are up. Nobody is there to be
 * heard, and the graph stays the same when such a link comes up or goes down.
 */
function joinEdges(graph: Layer2GraphBuilder, { topology, instances, layer1 }: Given, vlanPolicy: VlanPolicy): void {
  for (const [id, { up }] of layer1.links) {
    if (up || !isEdgeLink(topology.links[id]!, instances, layer1)) continue;
    for (const { instance, port } of bridgeEnds(topology.links[id]!, instances)) {
      const [segment, voice] = [segmentOf(id), voiceVlanOf(port)];
      if (voice) graph.setVoice(segment, voice);
      for (const [tag, vlan, ways] of passesOver(topology.links[id]!, instance, port, instances, graph.vlans)) {
        if (!exists(instance, vlan, vlanPolicy)) continue;
        const [wire, bridge] = [graph.point(`${segment} ${tag}`), graph.point(bridgeName(instance.id, vlan))];
        if (ways === 'in') graph.joinOneWay(wire, bridge);
        else graph.join(wire, bridge);
      }
    }
  }
}

const overRadio = (vlan: number): Pass[] => [[0, vlan, 'both']];

/** What passes between a link and the port of a bridge at its end. */
const passesOver = (
  link: Link,
  instance: Instance,
  port: Port,
  instances: ReadonlyMap<string, Instance>,
  vlans: readonly number[],
): Pass[] => (isRadio(port) ? overRadio(radioVlan(link, instance, instances)) : passes(instance, port, vlans));

/** The ends of a link that are ports of a bridge with VLANs. */
const bridgeEnds = ({ a, b }: Link, instances: ReadonlyMap<string, Instance>): { instance: Instance; port: Port }[] =>
  [a, b].flatMap((end) => {
    const instance = instances.get(instanceId(end))!;
    const port = instance.ports.get(end.port)!;
    return instance.model.bridges === 'vlan' && port.switched ? [{ instance, port }] : [];
  });

/** The data link after an edit at its edge, which leaves the graph as it was: only what is carried where is counted anew. */
export function dataLinkAfter(
  { links }: EdgeEdit,
  given: Given,
  vlanPolicy: VlanPolicy,
  before: Given & { readonly layer2: DataLink },
): DataLink {
  const { lasting } = before.layer2;
  const carried = new Map(lasting.carried);
  for (const id of links) {
    const { up } = given.layer1.links.get(id)!;
    if (up === before.layer1.links.get(id)!.up) continue;
    for (const { instance, port } of bridgeEnds(given.topology.links[id]!, given.instances))
      for (const [, vlan] of passesOver(
        given.topology.links[id]!,
        instance,
        port,
        given.instances,
        lasting.graph.vlans,
      ))
        if (exists(instance, vlan, vlanPolicy))
          carry(carried, lasting.graph.points.of(bridgeName(instance.id, vlan)), up ? 1 : -1);
  }
  return wired(given, vlanPolicy, { ...lasting, carried });
}

interface Lasting {
  /** One and the same for all drawings between which lie edits at the edge only. */
  readonly graph: Layer2Graph;
  /** At how many places ports that are up carry a VLAN of a bridge, by its point. */
  readonly carried: ReadonlyMap<number, number>;
  readonly bundles: Bundles;
  readonly joins: Joins;
  readonly storms: ReadonlyMap<number, Reason['at']>;
  readonly warnings: readonly Reason[];
}

function wired(
  { topology, instances, layer1 }: Given,
  vlanPolicy: VlanPolicy,
  lasting: Lasting,
  segments: Segments = segmentsOf(topology, instances, layer1, lasting.bundles, lasting.joins),
  known?: SpanningTree,
): DataLink {
  const { graph, carried, bundles, storms, warnings } = lasting;
  const { voices } = graph;
  const ways = new Map<string, FrameStep[]>();
  let tree = known;
  return {
    portPoint: (instance, port, tag) => {
      const segment = segments.at(instance, port);
      return segment === null ? null : graph.points.of(`${segment} ${tag}`);
    },
    voiceVlanAt: (instance, port) => (voices.size && voices.get(segments.at(instance, port) ?? '')) || 0,
    vlanPoint: (instance, vlan) => {
      const bridge = instances.get(instance);
      if (!bridge || bridge.model.bridges !== 'vlan') return null;
      if (!exists(bridge, vlan, vlanPolicy)) return null;
      const at = graph.points.of(bridgeName(instance, vlan));
      return { point: at, up: (carried.get(at) ?? 0) > 0 };
    },
    vlansAt: (instance, key) => {
      const bridge = instances.get(instance);
      const port = bridge?.ports.get(key);
      if (!bridge || !port?.switched) return [];
      const passed = isRadio(port)
        ? (layer1.atPort.get(portId(instance, key)) ?? []).map((id) =>
            radioVlan(topology.links[id]!, bridge, instances),
          )
        : passes(bridge, port, graph.vlans).map(([, vlan]) => vlan);
      return [...new Set(passed)].filter((vlan) => exists(bridge, vlan, vlanPolicy));
    },
    hears: (from, to) => graph.hears(from, to),
    meets: (first, second) => graph.hears(first, second) && graph.hears(second, first),
    domainOf: (point) => graph.domainOf(point),
    way: (from, to) => {
      const key = `${from} ${to}`;
      let way = ways.get(key);
      if (!way) ways.set(key, (way = shortestWay(graph.ways(), from, to, segments, graph.points.names)));
      return way;
    },
    storms,
    oneWay: graph.domainEdges,
    points: graph.points,
    lasting,
    bundles,
    // After a small edit hardly anybody asks.
    get tree() {
      return (tree ??= spanningTree(segments));
    },
    warnings,
  };
}

/** A loop, told once for the place where it closes, however many VLANs circle in it. */
function stormReasons(instances: ReadonlyMap<string, Instance>, places: readonly Reason['at'][]): Reason[] {
  const byPlace = new Map(places.map((at) => [`${at.device} ${at.port}`, at]));
  return [...byPlace.values()].map((at): Reason => {
    const instance = instances.get(at.device!)!;
    const cure =
      instance.model.bridges === 'hub'
        ? 'hubs cannot break it: take a link out'
        : 'take a link out, or let a switch on it take part in the spanning tree';
    return {
      code: 'STORM',
      text: `A loop closes at ${instance.name} ${at.port}, and frames circle in it without end: ${cure}.`,
      at,
    };
  });
}

const voiceVlanOf = ({ config: { role } }: Port): number =>
  (role?.kind === 'switched' && role.mode === 'access' && role.voiceVlan) || 0;

const bridgeName = (instance: string, vlan: number): string => `bridge ${instance} ${vlan}`;

/** Breadth first over points. Each segment on the way stands for its link or links. */
function shortestWay(
  out: ReadonlyMap<number, readonly number[]>,
  from: number,
  to: number,
  segments: Segments,
  names: readonly string[],
): FrameStep[] {
  const before = new Map<number, number | null>([[from, null]]);
  for (const at of before.keys()) {
    if (at === to) break;
    for (const next of out.get(at) ?? []) if (!before.has(next)) before.set(next, at);
  }
  if (!before.has(to)) return [];
  const steps: FrameStep[] = [];
  for (let at: number | null = to; at !== null; at = before.get(at) ?? null) {
    const name = names[at]!;
    const cut = name.lastIndexOf(' ');
    const [owner, number] = [name.slice(0, cut), Number(name.slice(cut + 1))];
    if (owner.startsWith('bridge ')) steps.unshift({ kind: 'bridge', device: owner.slice(7), vlan: number });
    else steps.unshift(...segments.linksOf(owner).map((link): FrameStep => ({ kind: 'link', link, tag: number })));
  }
  return steps;
}

/** Two bridge ports on one cable that put untagged frames into different VLANs join these two VLANs. */
function untaggedMeetings(instances: ReadonlyMap<string, Instance>, layer1: Physical): Reason[] {
  const found: Reason[] = [];
  const bridgePort = (end: LinkEnd): Port | null => {
    const instance = instances.get(instanceId(end));
    const port = instance?.model.bridges === 'vlan' ? instance.ports.get(end.port) : undefined;
    return port?.switched && !isTransparent(instance!, port) ? port : null;
  };
  for (const { id, a: here, b: there } of layer1.channels) {
    if (!layer1.links.get(id)?.up) continue;
    const port = bridgePort(here);
    const other = port && bridgePort(there);
    if (!other) continue;
    const [a, b] = [untaggedVlan(port), untaggedVlan(other)];
    if (a === null || b === null || a === b) continue;
    const trunks = [port, other].every(
      ({ config }) => config.role?.kind === 'switched' && config.role.mode === 'trunk',
    );
    found.push({
      code: trunks ? 'NATIVE_MISMATCH' : 'ACCESS_VLAN_MISMATCH',
      at: { link: id },
      text: `Untagged frames leave one end in VLAN ${a} and arrive in VLAN ${b} at the other: the two VLANs run together here.`,
    });
  }
  return found;
}

function untaggedVlan(port: Port): number | null {
  const { role } = port.config;
  if (role?.kind !== 'switched') return 1;
  if (role.mode === 'access') return role.accessVlan ?? 1;
  const native = role.native ?? 1;
  return Array.isArray(role.allowed) && !role.allowed.includes(native) ? null : native;
}
