import { type Topology, entriesById } from '../topology';
import { type Instance, type Port, instanceIdOf } from './instances';
import { type Physical, portId } from './physical';
import { type Reason } from './reason';
import { UnionFind } from './union-find';

/** Whether a bridge passes every VLAN it hears of, or only those created in its database. VLAN 1 always exists. */
export type VlanPolicy = 'implicit' | 'created';

/** A step of a frame's way: over a link, or through a bridge in a VLAN. */
export type FrameStep = { kind: 'link'; link: string } | { kind: 'bridge'; device: string; vlan: number };

/**
 * Who hears whom on layer 2. A *point* is one end of that question: a segment (links joined by hubs) with a tag, or a
 * bridge with a VLAN (IEEE 802.1Q-2018 §8.6). Points that hear each other both ways form a domain; a trunk that takes
 * tagged frames of its native VLAN but sends them untagged gives one-way edges between domains.
 */
export interface DataLink {
  /** The point where an interface directly on a port (tag 0) or a sub-interface (its VLAN) hears frames. */
  portPoint(instance: string, port: string, tag: number): number | null;
  /** The point of a VLAN inside a bridge, and whether any port of it that is up carries the VLAN. */
  vlanPoint(instance: string, vlan: number): { point: number; up: boolean } | null;
  /** Whether frames from one point arrive at the other. */
  hears(from: number, to: number): boolean;
  /** The domain of a point: equal for points that hear each other. */
  domainOf(point: number): number;
  /** A shortest way of frames from one point to another; empty where there is none. */
  way(from: number, to: number): FrameStep[];
  /** Domains with a loop that no spanning tree breaks, each with a place where it closes. */
  storms: ReadonlyMap<number, Reason['at']>;
  warnings: readonly Reason[];
}

export function dataLink(
  topology: Topology,
  instances: ReadonlyMap<string, Instance>,
  layer1: Physical,
  vlanPolicy: VlanPolicy,
): DataLink {
  const sets = new UnionFind();
  const points = new Map<string, number>();
  const out: number[][] = [];
  const looped = new Map<number, Reason['at']>();
  const breakers = new Set<number>();
  const point = (name: string): number => {
    let at = points.get(name);
    if (at === undefined) {
      points.set(name, (at = sets.add()));
      out.push([]);
    }
    return at;
  };
  const both = (a: number, b: number, place: Reason['at']): void => {
    out[a]!.push(b);
    out[b]!.push(a);
    if (!sets.union(a, b)) looped.set(a, place);
  };

  // Segments: every link that is up is a wire; hubs and shared ports join wires to one.
  const segments = segmentsOf(topology, instances, layer1);
  const segmentAt = (instance: string, port: string): string | null => segments.at.get(portId(instance, port)) ?? null;
  const vlans = vlansInPlay(instances);

  for (const instance of instances.values()) {
    if (instance.model.bridges !== 'vlan') continue;
    const created = (vlan: number): boolean =>
      vlanPolicy === 'implicit' || vlan === 1 || instance.settings.vlans?.[vlan] !== undefined;
    const breaksLoops = instance.settings.spanningTree?.on !== false;
    for (const port of instance.ports.values()) {
      const segment = port.switched ? segmentAt(instance.id, port.key) : null;
      if (segment === null) continue;
      for (const [tag, vlan, ways] of passes(port, vlans)) {
        if (!created(vlan)) continue;
        const [wire, bridge] = [point(`${segment} ${tag}`), point(bridgeName(instance.id, vlan))];
        if (breaksLoops) breakers.add(bridge);
        if (ways === 'both') both(wire, bridge, { device: instance.id, port: port.key });
        else out[wire]!.push(bridge);
      }
    }
  }
  const safe = new Set([...breakers].map((at) => sets.find(at)));
  const storms = new Map<number, Reason['at']>();
  for (const [at, place] of looped) if (!safe.has(sets.find(at))) storms.set(sets.find(at), place);
  // On a loop of hubs there is no bridge that could break it.
  for (const [name, place] of segments.looped)
    for (const [key, at] of points) if (key.startsWith(`${name} `)) storms.set(sets.find(at), place);
  const domainEdges = new Map<number, Set<number>>();
  for (const [from, edges] of out.entries())
    for (const to of edges) {
      const [a, b] = [sets.find(from), sets.find(to)];
      if (a !== b) domainEdges.set(a, (domainEdges.get(a) ?? new Set()).add(b));
    }

  return {
    portPoint: (instance, port, tag) => {
      const segment = segmentAt(instance, port);
      return segment === null ? null : point(`${segment} ${tag}`);
    },
    vlanPoint: (instance, vlan) => {
      const bridge = instances.get(instance);
      if (!bridge || bridge.model.bridges !== 'vlan') return null;
      if (vlanPolicy === 'created' && vlan !== 1 && bridge.settings.vlans?.[vlan] === undefined) return null;
      const at = point(bridgeName(instance, vlan));
      return { point: at, up: out[at]!.length > 0 };
    },
    hears: (from, to) => reaches(domainEdges, sets.find(from), sets.find(to)),
    domainOf: (at) => sets.find(at),
    way: (from, to) => shortestWay(out, from, to, segments.links, points),
    storms,
    warnings: [
      ...untaggedMeetings(topology, instances, layer1),
      ...stormReasons(instances, [...storms.values(), ...segments.looped.values()]),
    ],
  };
}

/** A loop, told once for the place where it closes, however many VLANs circle in it. */
function stormReasons(instances: ReadonlyMap<string, Instance>, places: readonly Reason['at'][]): Reason[] {
  const told = new Map(places.map((at) => [`${at.device} ${at.port}`, at]));
  return [...told.values()].map((at): Reason => {
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

const bridgeName = (instance: string, vlan: number): string => `bridge ${instance} ${vlan}`;

/** The tag on the wire and the VLAN in the bridge that a port joins, and whether both ways or only inwards. */
function passes(port: Port, vlans: readonly number[]): [number, number, 'both' | 'in'][] {
  const role = port.config.role;
  if (role?.kind !== 'switched' || role.mode === 'access') {
    const access = role?.kind === 'switched' ? (role.accessVlan ?? 1) : 1;
    const voice = role?.kind === 'switched' ? role.voiceVlan : undefined;
    return [[0, access, 'both'], ...(voice ? [[voice, voice, 'both'] as [number, number, 'both']] : [])];
  }
  const native = role.native ?? 1;
  const allowed = role.allowed === undefined || role.allowed === 'all' ? vlans : role.allowed;
  return allowed.flatMap((vlan): [number, number, 'both' | 'in'][] =>
    vlan === native
      ? [
          [0, vlan, 'both'],
          [vlan, vlan, 'in'],
        ]
      : [[vlan, vlan, 'both']],
  );
}

/** Every VLAN number that occurs anywhere: a trunk that allows all carries these. */
function vlansInPlay(instances: ReadonlyMap<string, Instance>): number[] {
  const found = new Set([1]);
  for (const instance of instances.values()) {
    for (const { config } of instance.ports.values()) {
      if (config.role?.kind !== 'switched') continue;
      const { accessVlan, voiceVlan, native, allowed } = config.role;
      for (const vlan of [accessVlan, voiceVlan, native, ...(Array.isArray(allowed) ? allowed : [])])
        if (vlan !== undefined) found.add(vlan);
    }
    for (const [, { on }] of instance.interfaces) if (on.kind === 'sub' || on.kind === 'svi') found.add(on.vlan);
    for (const vlan of Object.keys(instance.settings.vlans ?? {})) found.add(Number(vlan));
  }
  return [...found].sort((a, b) => a - b);
}

interface Segments {
  at: Map<string, string>;
  links: Map<string, string[]>;
  /** Loops of hubs and shared ports, each with the place where it closes. */
  looped: Map<string, Reason['at']>;
}

/** Groups links that are up into segments: a hub repeats every frame, tags and all, and so does a shared port. */
function segmentsOf(topology: Topology, instances: ReadonlyMap<string, Instance>, layer1: Physical): Segments {
  const sets = new UnionFind();
  const up = entriesById(topology.links).filter(([id]) => layer1.links.get(id)?.up);
  const wire = new Map(up.map(([id]) => [id, sets.add()]));
  const circles: [number, Reason['at']][] = [];
  const join = (ids: readonly string[], place: Reason['at']): void => {
    for (let at = 1; at < ids.length; at++)
      if (!sets.union(wire.get(ids[0]!)!, wire.get(ids[at]!)!)) circles.push([wire.get(ids[0]!)!, place]);
  };
  for (const instance of instances.values()) {
    const used = [...instance.ports.keys()].flatMap((port) => {
      const ids = (layer1.atPort.get(portId(instance.id, port)) ?? []).filter((id) => wire.has(id));
      return ids.length ? [{ port, ids }] : [];
    });
    for (const { port, ids } of used) join(ids, { device: instance.id, port });
    if (instance.model.bridges === 'hub')
      for (const { port, ids } of used.slice(1)) join([used[0]!.ids[0]!, ids[0]!], { device: instance.id, port });
  }
  const at = new Map<string, string>();
  const links = new Map<string, string[]>();
  const name = (id: string): string => `segment ${sets.find(wire.get(id)!)}`;
  for (const [id, link] of up) {
    links.set(name(id), [...(links.get(name(id)) ?? []), id]);
    for (const end of [link.a, link.b]) at.set(portId(instanceIdOf(end), end.port), name(id));
  }
  return { at, links, looped: new Map(circles.map(([one, place]) => [`segment ${sets.find(one)}`, place])) };
}

function reaches(edges: ReadonlyMap<number, ReadonlySet<number>>, from: number, to: number): boolean {
  if (from === to) return true;
  const seen = new Set([from]);
  for (const at of seen)
    for (const next of edges.get(at) ?? []) {
      if (next === to) return true;
      seen.add(next);
    }
  return false;
}

/** Breadth first over points. Each segment on the way stands for its link or links. */
function shortestWay(
  out: readonly (readonly number[])[],
  from: number,
  to: number,
  links: ReadonlyMap<string, string[]>,
  points: ReadonlyMap<string, number>,
): FrameStep[] {
  const names = new Map([...points].map(([name, at]) => [at, name]));
  const before = new Map<number, number | null>([[from, null]]);
  for (const at of before.keys()) {
    if (at === to) break;
    for (const next of out[at] ?? []) if (!before.has(next)) before.set(next, at);
  }
  if (!before.has(to)) return [];
  const steps: FrameStep[] = [];
  for (let at: number | null = to; at !== null; at = before.get(at) ?? null) {
    const name = names.get(at)!;
    const cut = name.lastIndexOf(' ');
    const [owner, number] = [name.slice(0, cut), Number(name.slice(cut + 1))];
    if (owner.startsWith('bridge ')) steps.unshift({ kind: 'bridge', device: owner.slice(7), vlan: number });
    else steps.unshift(...(links.get(owner) ?? []).map((link): FrameStep => ({ kind: 'link', link })));
  }
  return steps;
}

/** Two bridge ports on one cable that put untagged frames into different VLANs join these two VLANs. */
function untaggedMeetings(topology: Topology, instances: ReadonlyMap<string, Instance>, layer1: Physical): Reason[] {
  return entriesById(topology.links).flatMap(([id, link]): Reason[] => {
    if (!layer1.links.get(id)?.up) return [];
    const ends = [link.a, link.b].map((end) => ({ end, port: instances.get(instanceIdOf(end))?.ports.get(end.port) }));
    if (!ends.every(({ port }) => port?.switched)) return [];
    const [a, b] = ends.map(({ port }) => untaggedVlan(port!)) as [number | null, number | null];
    if (a === null || b === null || a === b) return [];
    const trunks = ends.every(
      ({ port }) => port!.config.role?.kind === 'switched' && port!.config.role.mode === 'trunk',
    );
    return [
      {
        code: trunks ? 'NATIVE_MISMATCH' : 'ACCESS_VLAN_MISMATCH',
        at: { link: id },
        text: `Untagged frames leave one end in VLAN ${a} and arrive in VLAN ${b} at the other: the two VLANs run together here.`,
      },
    ];
  });
}

function untaggedVlan(port: Port): number | null {
  const { role } = port.config;
  if (role?.kind !== 'switched') return 1;
  if (role.mode === 'access') return role.accessVlan ?? 1;
  const native = role.native ?? 1;
  return Array.isArray(role.allowed) && !role.allowed.includes(native) ? null : native;
}
