import { byName } from '../../collation';
import { type Medium, entriesById } from '../../topology';
import { formatPrefix, subnetOf } from '../../address';
import { type Instance, instanceId } from '../devices';
import { type NetworkModel } from '../analysis';

/** A number that people count in several ways: each reading with what it counts. */
export interface Reading {
  readonly text: string;
  readonly n: number;
}
export type Shape =
  | 'single'
  | 'point to point'
  | 'line'
  | 'bus'
  | 'star'
  | 'extended star'
  | 'tree'
  | 'ring'
  | 'full mesh'
  | 'partial mesh';

/** How many there are of what a lab's questions ask for: devices, links, networks and domains. */
export interface Counts {
  readonly devices: number;
  readonly byClass: Readonly<Record<string, number>>;
  readonly byKind: Readonly<Record<string, number>>;
  readonly bySite: Readonly<Record<string, number>>;
  /** By the name of a site, and there by class. */
  readonly bySiteAndClass: Readonly<Record<string, Readonly<Record<string, number>>>>;
  /** How many intermediary devices there are, as one may count them. */
  readonly intermediaries: readonly Reading[];
  readonly links: number;
  readonly byMedium: Readonly<Partial<Record<Medium, number>>>;
  /** How many kinds of media there are. */
  readonly media: number;
  /** How many local networks there are, as one may count them. */
  readonly localNetworks: readonly Reading[];
  /** How many wide-area links there are, as one may count them. */
  readonly wideLinks: readonly Reading[];
  /** The shape that the network devices of each connected part have; where there is one alone, or none, that of its hosts. */
  readonly shapes: readonly {
    readonly devices: readonly string[];
    readonly ids: readonly string[];
    readonly shape: Shape;
  }[];
  /**
   * The longest of the shortest ways between two devices: names from end to end; fewer than two where nothing is
   * linked.
   */
  readonly longestPath: readonly string[];
  /** Network devices without which others fall apart from each other, and links between such of which that is true. */
  readonly singlePoints: { readonly devices: readonly string[]; readonly links: readonly string[] };
}

/**
 * What there is in a drawing. Links count where they are drawn; parts, ways and single points look at links that are
 * up.
 */
export function countsOf(model: NetworkModel): Counts {
  const { topology, instances, layer1 } = model;
  const all = [...instances.values()];
  const siteName = ({ device }: Instance): string =>
    device.site === undefined ? 'no site' : (topology.sites[device.site]?.name ?? 'no site');
  const links = entriesById(topology.links);
  // Panels and outlets are part of the cabling: parts, ways and shapes go through them.
  const up = layer1.channels.filter(({ id }) => layer1.links.get(id)?.up);
  const graph = graphOf(
    all.filter(({ model }) => model.class !== 'passive').map((instance) => instance.id),
    up.map(({ id, a, b }) => [id, instanceId(a), instanceId(b)] as const),
  );
  const name = (id: string): string => instances.get(id)!.name;
  const among = new Set(all.filter((instance) => instance.model.class !== 'end').map((instance) => instance.id));
  const single = singlePoints(graph);
  return {
    devices: all.length,
    byClass: tally(all.map((instance) => instance.model.class)),
    byKind: tally(all.map((instance) => instance.model.kind)),
    bySite: tally(all.map(siteName)),
    bySiteAndClass: Object.fromEntries(
      Object.keys(tally(all.map(siteName))).map((site) => [
        site,
        tally(all.filter((instance) => siteName(instance) === site).map((instance) => instance.model.class)),
      ]),
    ),
    intermediaries: intermediaryReadings(all),
    links: links.length,
    byMedium: tally(links.map(([, link]) => link.medium)),
    media: new Set(links.map(([, link]) => link.medium)).size,
    localNetworks: localReadings(model),
    wideLinks: wideReadings(model),
    shapes: shapesOf(graph, instances),
    longestPath: longestPath(graph).map(name),
    singlePoints: {
      devices: single.nodes.map(name).sort(byName),
      links: single.edges.filter((id) =>
        [layer1.channelOf.get(id)!.a, layer1.channelOf.get(id)!.b].every((end) => among.has(instanceId(end))),
      ),
    },
  };
}

function tally<K extends string>(list: readonly K[]): Record<K, number> {
  const counts: Partial<Record<K, number>> = {};
  for (const key of [...list].sort(byName)) counts[key] = (counts[key] ?? 0) + 1;
  return counts as Record<K, number>;
}

/** Access points and home gateways stand between others as well, and so do firewalls. */
function intermediaryReadings(all: readonly Instance[]): Reading[] {
  const count = (...classes: readonly string[]): number =>
    all.filter(({ model }) => classes.includes(model.class)).length;
  return [
    { text: 'routers, switches, hubs and the like', n: count('intermediary') },
    { text: 'with access points and home gateways', n: count('intermediary', 'wireless') },
    { text: 'with firewalls too', n: count('intermediary', 'wireless', 'security') },
  ];
}

/** Broadcast domains with hosts in them, as the ids of their hosts; in the order of the first of them. */
export function localNetworksOf({ layer2, layer3, instances }: NetworkModel): string[][] {
  const domains = new Map<number, Set<string>>();
  const put = (domain: number, id: string): void =>
    void (domains.get(domain)?.add(id) ?? domains.set(domain, new Set([id])));
  for (const { id, model, ports } of instances.values()) {
    if (model.class !== 'end') continue;
    // A host that is cabled is on its network, whether it has an address or not.
    for (const port of ports.keys()) {
      const point = layer2.portPoint(id, port, 0);
      if (point !== null) put(layer2.domainOf(point), id);
    }
    for (const { point, up } of layer3.nodes.get(id)?.interfaceStates ?? [])
      if (up && point !== null) put(layer2.domainOf(point), id);
  }
  return [...domains.values()].map((hosts) => [...hosts].sort());
}

/** A local network may be counted as a broadcast domain, a subnet, or a place. */
function localReadings(model: NetworkModel): Reading[] {
  const { layer3, instances, topology } = model;
  const subnets = new Set<string>();
  for (const { instance, interfaceStates } of layer3.nodes.values())
    for (const { point, up, addresses } of interfaceStates) {
      if (!up || point === null || instance.model.class !== 'end') continue;
      for (const on of addresses) if (on.address.family === 4) subnets.add(formatPrefix(subnetOf(on)));
    }
  const places = new Set(
    [...instances.values()].flatMap(({ device, model }) =>
      model.class === 'end' && device.site && topology.sites[device.site]?.kind !== 'provider' ? device.site : [],
    ),
  );
  return [
    { text: 'broadcast domains with hosts', n: localNetworksOf(model).length },
    { text: 'IPv4 subnets with hosts', n: subnets.size },
    { text: 'sites with hosts', n: places.size },
  ];
}

const isRouter = ({ model }: Instance): boolean => (model.forwards ?? false) && model.class !== 'cloud';

/** A wide-area link may be counted by its legs, by who is joined through it, or with a cloud as one. */
function wideReadings({ topology, instances, layer1 }: NetworkModel): Reading[] {
  const legs = layer1.channels.flatMap(({ id, a, b, open }) => {
    if (open) return [];
    const { medium } = topology.links[id]!;
    const ends = [a, b].map((end) => instances.get(instanceId(end)));
    const [first, second] = ends;
    if (!first || !second) return [];
    const isCloud = ends.some((end) => end!.model.class === 'cloud');
    const isApart = isRouter(first) && isRouter(second) && first.device.site !== second.device.site;
    return isCloud || isApart || medium === 'serial' ? [[first, second] as const] : [];
  });
  const clouds = new Map<string, number>();
  let direct = 0;
  for (const [first, second] of legs) {
    const cloud = [first, second].find((end) => end.model.class === 'cloud');
    if (cloud) clouds.set(cloud.id, (clouds.get(cloud.id) ?? 0) + 1);
    else direct++;
  }
  const through = [...clouds.values()].reduce((sum, n) => sum + (n < 2 ? n : (n * (n - 1)) / 2), 0);
  return [
    { text: 'each leg', n: legs.length },
    { text: 'each connection from end to end', n: direct + through },
    { text: 'each cloud as one', n: direct + clouds.size },
  ];
}

/** Neighbours by node, each with the edge between. */
type Graph = ReadonlyMap<string, readonly { readonly to: string; readonly edge: string }[]>;

function graphOf(nodes: readonly string[], edges: readonly (readonly [string, string, string])[]): Graph {
  const graph = new Map<string, { to: string; edge: string }[]>(nodes.map((id) => [id, []]));
  for (const [edge, a, b] of edges) {
    graph.get(a)?.push({ to: b, edge });
    graph.get(b)?.push({ to: a, edge });
  }
  return graph;
}

/** Everything that hangs together, each part with its nodes. */
function partsOf(graph: Graph): string[][] {
  const seen = new Set<string>();
  return [...graph.keys()].flatMap((start) => {
    if (seen.has(start)) return [];
    const part = new Set([start]);
    for (const at of part) for (const { to } of graph.get(at)!) part.add(to);
    for (const id of part) seen.add(id);
    return [[...part]];
  });
}

function shapesOf(graph: Graph, instances: ReadonlyMap<string, Instance>): Counts['shapes'] {
  const isNetwork = (id: string): boolean => instances.get(id)!.model.class !== 'end';
  return partsOf(graph).flatMap((part) => {
    const network = part.filter(isNetwork);
    if (!network.length && part.length === 1) return [];
    const counted = network.length > 1 ? network : part;
    const shape = shapeOf(counted, within(graph, counted), (id) => instances.get(id)!);
    // Hosts that hang on one device are told by it.
    const ids = network.length ? network : part;
    return [{ devices: ids.map((id) => instances.get(id)!.name).sort(byName), ids, shape }];
  });
}

/** The graph of some of its nodes, without parallel edges. */
function within(graph: Graph, nodes: readonly string[]): Graph {
  const among = new Set(nodes);
  return new Map(
    nodes.map((id) => [
      id,
      [
        ...new Map(
          graph
            .get(id)!
            .filter(({ to }) => among.has(to))
            .map((neighbour) => [neighbour.to, neighbour]),
        ).values(),
      ],
    ]),
  );
}

/** The shape of a connected part without parallel edges. */
function shapeOf(part: readonly string[], core: Graph, instance: (id: string) => Instance): Shape {
  const n = part.length;
  const degrees = part.map((id) => core.get(id)!.length);
  const edges = degrees.reduce((sum, degree) => sum + degree, 0) / 2;
  const inner = part.filter((id) => core.get(id)!.length > 1);
  if (n === 1) return 'single';
  if (n === 2) return 'point to point';
  if (edges === n - 1) {
    const [middle] = inner;
    if (inner.length === 1) {
      const { kind, bridges } = instance(middle!).model;
      if (kind === 'segment') return 'bus';
      // Of three in a row the one in the middle is a centre where it is a switch, and one of a chain where it routes.
      return n > 3 || bridges ? 'star' : 'line';
    }
    if (degrees.every((degree) => degree <= 2)) return 'line';
    // One in the middle, at which all others hang that have somebody behind them.
    const isMiddle = (id: string): boolean =>
      inner.every((inside) => inside === id || core.get(id)!.some(({ to }) => to === inside));
    return inner.some(isMiddle) ? 'extended star' : 'tree';
  }
  if (edges === n && degrees.every((degree) => degree === 2)) return 'ring';
  return edges === (n * (n - 1)) / 2 ? 'full mesh' : 'partial mesh';
}

/** Breadth first from every node: the farthest that any two are from each other. */
function longestPath(graph: Graph): string[] {
  let best: string[] = [];
  for (const start of graph.keys()) {
    const before = new Map<string, string | null>([[start, null]]);
    let last = start;
    for (const at of before.keys()) {
      last = at;
      for (const { to } of graph.get(at)!) if (!before.has(to)) before.set(to, at);
    }
    const path: string[] = [];
    for (let at: string | null = last; at !== null; at = before.get(at) ?? null) path.unshift(at);
    if (path.length > best.length) best = path;
  }
  return best.length > 1 ? best : [];
}

/**
 * Cut vertices and bridges, by the lowest place that a depth-first walk gets back to (Tarjan 1972), without recursion.
 */
function singlePoints(graph: Graph): { nodes: string[]; edges: string[] } {
  const order = new Map<string, number>();
  const low = new Map<string, number>();
  const nodes = new Set<string>();
  const edges: string[] = [];
  for (const root of graph.keys()) {
    if (order.has(root)) continue;
    let children = 0;
    const stack: { at: string; by: string | null; next: number }[] = [{ at: root, by: null, next: 0 }];
    order.set(root, order.size);
    low.set(root, order.get(root)!);
    while (stack.length) {
      const top = stack.at(-1)!;
      const step = graph.get(top.at)![top.next++];
      if (step) {
        if (step.edge === top.by) continue;
        if (order.has(step.to)) low.set(top.at, Math.min(low.get(top.at)!, order.get(step.to)!));
        else {
          order.set(step.to, order.size);
          low.set(step.to, order.get(step.to)!);
          stack.push({ at: step.to, by: step.edge, next: 0 });
          if (top.at === root) children++;
        }
        continue;
      }
      stack.pop();
      const parent = stack.at(-1);
      if (!parent) break;
      low.set(parent.at, Math.min(low.get(parent.at)!, low.get(top.at)!));
      if (low.get(top.at)! > order.get(parent.at)!) edges.push(top.by!);
      if (parent.at !== root && low.get(top.at)! >= order.get(parent.at)!) nodes.add(parent.at);
    }
    if (children > 1) nodes.add(root);
  }
  return { nodes: [...nodes], edges: edges.sort() };
}
