import { type Address, type Family, type Prefix, formatPrefix, prefixKey, samePrefix } from '../../address';
import { type InterfaceState, type Node, type Route } from './node';
import { type Adjacency, type OspfInterface, areaType, isStub, settingsOf } from './ospf-interfaces';
import { takesOver } from './rip';
import { type RoutingOptions } from './routing-options';

const BACKBONE = 0;
/** The metrics of what comes from elsewhere: that of the router that brings it in, as type 1 with the way to it (RFC 2328 §16.4). */
const EXTERNAL_METRIC = 20;
const DEFAULT_METRIC = 1;

/** Where a way begins: the interface it leaves by, and the neighbour there. */
interface FirstHop {
  out: InterfaceState;
  via: Address;
}
interface Reached {
  cost: number;
  /** Whether it depends on routers that share their id. */
  doubtful: boolean;
  /** None for the router itself. */
  hops: readonly FirstHop[];
}
/** A way to a prefix; `rank` is 1 within the area, 2 between areas, 3 and 4 for externals of type 1 and 2 (RFC 2328 §11). */
interface Way extends Reached {
  prefix: Prefix;
  rank: 1 | 2 | 3 | 4;
  /** Among externals of the same metric the nearer router wins. */
  near: number;
}

interface Edge {
  from: OspfInterface;
  to: OspfInterface;
}
/** A prefix that a router brings in from elsewhere. */
export interface External {
  readonly by: Node;
  readonly prefix: Prefix;
  readonly metric: number;
  readonly type: 1 | 2;
}

interface Given extends Pick<RoutingOptions, 'borderRouters'> {
  readonly interfaces: readonly OspfInterface[];
  readonly adjacencies: readonly Adjacency[];
  readonly externals: readonly External[];
  readonly routerIds: ReadonlyMap<string, string>;
  readonly family: Family;
  readonly distance: number;
}

/** Routers that have one id although their databases are joined: each id names one router (RFC 2328 §1.2). */
export function sharedIds({
  interfaces,
  adjacencies,
  routerIds,
}: Omit<Given, 'family' | 'borderRouters' | 'distance' | 'externals'>): Node[][] {
  const byId = new Map<string, Node[]>();
  for (const node of new Set(interfaces.map((each) => each.node))) put(byId, routerIds.get(node.instance.id)!, node);
  const shared = [...byId.values()].filter((nodes) => nodes.length > 1);
  if (!shared.length) return [];
  const joinedTo = new Map<Node, Node[]>();
  for (const { a, b } of adjacencies) {
    put(joinedTo, a.node, b.node);
    put(joinedTo, b.node, a.node);
  }
  // Each node by where others are near it: the routers whose databases are joined, and its wires.
  const places = new Map<Node, Set<string>>();
  const placesOf = (node: Node): Set<string> => places.get(node) ?? places.set(node, new Set()).get(node)!;
  for (const { node, domain, passive } of interfaces)
    if (domain !== null && !passive) placesOf(node).add(`wire ${domain}`);
  const seen = new Set<Node>();
  for (const [at, first] of [...joinedTo.keys()].entries()) {
    if (seen.has(first)) continue;
    const around = new Set([first]);
    for (const node of around) for (const next of joinedTo.get(node) ?? []) around.add(next);
    for (const node of around) {
      seen.add(node);
      placesOf(node).add(`database ${at}`);
    }
  }
  return shared.flatMap((nodes) => {
    const count = new Map<string, number>();
    for (const node of nodes) for (const place of placesOf(node)) count.set(place, (count.get(place) ?? 0) + 1);
    const together = nodes.filter((node) => [...placesOf(node)].some((place) => count.get(place)! > 1));
    return together.length ? [together] : [];
  });
}

/** What all routers know, and the shortest ways through it. */
export class Database {
  /** Edges by "router area". */
  private readonly edges = new Map<string, Edge[]>();
  private readonly facesIn = new Map<string, OspfInterface[]>();
  private readonly areasOf = new Map<Node, number[]>();
  private readonly trees = new Map<string, Map<Node, Reached>>();
  private readonly defaultRoute: Prefix;
  private readonly externals: readonly External[];
  private readonly family: Family;
  /** Routers whose id another one has as well that is joined to them, by whatever ways. */
  private readonly sharing: ReadonlySet<Node>;

  constructor(private readonly given: Given) {
    const { interfaces, adjacencies, externals, family } = given;
    this.defaultRoute = defaultOf(family);
    this.externals = externals;
    this.family = family;
    this.sharing = new Set(sharedIds(given).flat());
    for (const ospfInterface of interfaces) {
      put(this.facesIn, keyOf(ospfInterface.node, ospfInterface.area), ospfInterface);
      const areas = this.areasOf.get(ospfInterface.node) ?? [];
      if (!areas.includes(ospfInterface.area))
        this.areasOf.set(
          ospfInterface.node,
          [...areas, ospfInterface.area].sort((a, b) => a - b),
        );
    }
    for (const { a, b } of adjacencies) {
      put(this.edges, keyOf(a.node, a.area), { from: a, to: b });
      put(this.edges, keyOf(b.node, b.area), { from: b, to: a });
    }
  }

  private areas = (node: Node): readonly number[] => this.areasOf.get(node) ?? [];
  /** A router between areas: one that is in the backbone as well (RFC 3509), or any (RFC 2328). */
  private joins = (node: Node): boolean =>
    this.areas(node).length > 1 && (this.given.borderRouters === 'rfc2328' || this.areas(node).includes(BACKBONE));

  /** Shortest ways within an area to its routers, with all first hops of equal cost (RFC 2328 §16.1). */
  private tree(root: Node, area: number): Map<Node, Reached> {
    const key = keyOf(root, area);
    let reached = this.trees.get(key);
    if (reached) return reached;
    reached = new Map<Node, Reached>([[root, { cost: 0, hops: [], doubtful: this.sharing.has(root) }]]);
    const open = new Set([root]);
    const done = new Set<Node>();
    while (open.size) {
      let nearest: Node | null = null;
      for (const node of open) if (!nearest || reached.get(node)!.cost < reached.get(nearest)!.cost) nearest = node;
      const at = nearest!;
      open.delete(at);
      done.add(at);
      const here = reached.get(at)!;
      for (const { from, to } of this.edges.get(keyOf(at, area)) ?? []) {
        if (done.has(to.node)) continue;
        const cost = here.cost + from.cost;
        const hops = at === root ? [{ out: from.interfaceState, via: to.address }] : here.hops;
        const known = reached.get(to.node);
        const way = { cost, hops, doubtful: here.doubtful || this.sharing.has(to.node) };
        if (!known || cost < known.cost) reached.set(to.node, way);
        else if (cost === known.cost) reached.set(to.node, together(known, way));
        open.add(to.node);
      }
    }
    this.trees.set(key, reached);
    return reached;
  }

  /** Prefixes of an area with their costs from a router in it. */
  private within(root: Node, area: number): Ways {
    const ways = new Ways();
    for (const [router, { cost, hops, doubtful }] of this.tree(root, area))
      for (const ospfInterface of this.facesIn.get(keyOf(router, area)) ?? [])
        for (const prefix of ospfInterface.prefixes)
          ways.offer({ prefix, cost: cost + ospfInterface.cost, hops, doubtful, rank: 1, near: 0 });
    return ways;
  }

  /** What routers between areas tell the others of an area (RFC 2328 §12.4.3): prefixes elsewhere, from where they stand. */
  private summaries(joining: Node, into: number): Way[] {
    const ways = new Ways();
    for (const area of this.areas(joining))
      if (area !== into && (into === BACKBONE || area === BACKBONE || this.joins(joining)))
        for (const way of this.within(joining, area).all()) ways.offer(way);
    if (into !== BACKBONE) for (const way of this.throughBackbone(joining)) ways.offer(way);
    return ways.all();
  }

  private readonly backboneWays = new Map<Node, Way[]>();
  /** Prefixes of other areas, as a router in the backbone hears of them there. */
  private throughBackbone(root: Node): Way[] {
    let found = this.backboneWays.get(root);
    if (found) return found;
    const ways = new Ways();
    for (const [router, reached] of this.tree(root, BACKBONE))
      if (router !== root && this.joins(router))
        for (const way of this.summaries(router, BACKBONE)) ways.offer(onFrom(reached, way));
    this.backboneWays.set(root, (found = ways.all()));
    return found;
  }

  /** Ways to prefixes of other areas (RFC 2328 §16.2). Who joins areas looks at the backbone only. */
  private between(root: Node): Way[] {
    if (this.areas(root).includes(BACKBONE)) return this.throughBackbone(root);
    // One that joins areas without the backbone has no summaries to look at (RFC 2328 §16.2).
    if (this.joins(root)) return [];
    const ways = new Ways();
    for (const area of this.areas(root))
      for (const [router, reached] of this.tree(root, area)) {
        if (router === root || !this.joins(router)) continue;
        const type = areaType(router, area, this.family);
        // Whether summaries come into a stub area is the affair of who joins it (RFC 2328 §12.4.3.1).
        if (type !== 'totally-stub') for (const way of this.summaries(router, area)) ways.offer(onFrom(reached, way));
        const own = { prefix: this.defaultRoute, cost: DEFAULT_METRIC, hops: [], near: 0, doubtful: false };
        if (isStub(type)) ways.offer(onFrom(reached, { ...own, rank: 2 }));
        else if (tellsDefault(router, area, this.family))
          ways.offer({ ...own, hops: reached.hops, near: reached.cost, doubtful: reached.doubtful, rank: 4 });
      }
    return ways.all();
  }

  /** The way to a router anywhere: within an area, else by those who join areas. `through` leaves stub areas out. */
  private toRouter(root: Node, target: Node): Reached | null {
    let best: Reached | null = null;
    const offer = (way: Reached): void => {
      if (!best || way.cost < best.cost) best = way;
      else if (way.cost === best.cost) best = together(best, way);
    };
    const open = (node: Node, area: number): boolean => !isStub(areaType(node, area, this.family));
    for (const area of this.areas(root)) {
      const there = open(root, area) ? this.tree(root, area).get(target) : undefined;
      if (there) offer(there);
    }
    if (best) return best;
    const inBackbone = this.areas(root).includes(BACKBONE);
    for (const area of inBackbone ? [BACKBONE] : this.areas(root).filter((area) => open(root, area)))
      for (const [router, { cost, hops, doubtful }] of this.tree(root, area)) {
        if (router === root || !this.joins(router)) continue;
        const rest = this.restTo(router, target, area);
        if (rest) offer({ cost: cost + rest.cost, hops, doubtful: doubtful || rest.doubtful });
      }
    return best;
  }

  /** What a router that joins areas tells into one of its way to a router elsewhere (RFC 2328 §12.4.3, type 4). */
  private restTo(joining: Node, target: Node, into: number): Pick<Reached, 'cost' | 'doubtful'> | null {
    const found = this.areas(joining).flatMap((area) => {
      if (area === into || isStub(areaType(joining, area, this.family))) return [];
      return this.tree(joining, area).get(target) ?? [];
    });
    if (!found.length && into !== BACKBONE)
      for (const [router, { cost, doubtful }] of this.tree(joining, BACKBONE)) {
        if (router === joining || !this.joins(router)) continue;
        const rest = this.restTo(router, target, BACKBONE);
        if (rest) found.push({ cost: cost + rest.cost, hops: [], doubtful: doubtful || rest.doubtful });
      }
    if (!found.length) return null;
    const cost = Math.min(...found.map((way) => way.cost));
    return { cost, doubtful: found.some((way) => way.cost === cost && way.doubtful) };
  }

  /**
   * The way to a router that brings routes in, as far as the root hears of them: by the message that goes everywhere but
   * into stub areas and not-so-stubby ones, and by that of a not-so-stubby area that both are in (RFC 3101 §2.3).
   */
  private toOrigin(root: Node, by: Node): Reached | null {
    const takes = this.areas(root).some((area) => areaType(root, area, this.family) === 'normal');
    const isShared = (area: number): boolean =>
      [root, by].every((node) => areaType(node, area, this.family) === 'nssa') && this.areas(by).includes(area);
    const within = this.areas(root).flatMap((area) => (isShared(area) ? (this.tree(root, area).get(by) ?? []) : []));
    const [nearest] = within.sort((a, b) => a.cost - b.cost);
    return nearest ?? (takes ? this.toRouter(root, by) : null);
  }

  /** All routes of a router: within its areas before between areas before external ones. */
  routesOf(root: Node): Route[] {
    // What is within the first area needs not be compared with itself.
    const [first, ...others] = this.areas(root);
    const ways = first === undefined ? new Ways() : this.within(root, first);
    for (const area of others) for (const way of this.within(root, area).all()) ways.offer(way);
    for (const way of this.between(root)) ways.offer(way);
    for (const { by, prefix, metric, type } of this.externals) {
      const reached = by === root ? null : this.toOrigin(root, by);
      if (!reached) continue;
      const { cost, ...way } = reached;
      if (type === 1) ways.offer({ ...way, prefix, cost: metric + cost, near: 0, rank: 3 });
      else ways.offer({ ...way, prefix, cost: metric, near: cost, rank: 4 });
    }
    const { distance } = this.given;
    const routes: Route[] = [];
    for (const { prefix, cost: metric, hops, doubtful } of ways.all())
      if (doubtful && hops.length)
        routes.push({ prefix, source: 'ospf', distance, metric, via: null, out: null, unstable: this.doubt });
      else for (const { out, via } of hops) routes.push({ prefix, source: 'ospf', distance, metric, via, out });
    return routes;
  }

  private get doubt(): string {
    const names = [...this.sharing].map(({ instance }) => instance.name).sort();
    return `${names.join(' and ')} share a router id: routes of OSPF that depend on them are not certain.`;
  }
}

const defaultOf = (family: Family): Prefix => ({ family, value: 0n, length: 0 });
const keyOf = (node: Node, area: number): string => `${node.instance.id} ${area}`;

/** Whether a router that joins a not-so-stubby area tells a default there: it should (RFC 3101 §2.4), unless it is told not to. */
const tellsDefault = (node: Node, area: number, family: Family): boolean => {
  const set = settingsOf(node, family)!.areas?.[String(area)];
  return set?.type === 'nssa' && set.announceDefault !== false;
};

/** Two ways of equal cost. */
const together = (first: Reached, second: Reached): Reached => ({
  cost: first.cost,
  hops: joined(first.hops, second.hops),
  doubtful: first.doubtful || second.doubtful,
});

/** A way that somebody tells of, from where he is reached. */
const onFrom = ({ cost, hops, doubtful }: Reached, way: Way): Way => ({
  ...way,
  cost: cost + way.cost,
  hops,
  doubtful: doubtful || way.doubtful,
  rank: 2,
});

/** The best ways to each prefix; of equal ones all first hops. */
class Ways {
  private readonly best = new Map<number | string, Way>();

  offer(way: Way): void {
    const key = prefixKey(way.prefix);
    const known = this.best.get(key);
    const order = known ? way.rank - known.rank || way.cost - known.cost || way.near - known.near : -1;
    if (order < 0) this.best.set(key, way);
    // A way without hops is the router's own network.
    else if (order === 0 && known!.hops.length && way.hops.length)
      this.best.set(key, { ...known!, ...together(known!, way) });
  }

  all(): Way[] {
    return [...this.best.values()];
  }
}

const joined = (first: readonly FirstHop[], second: readonly FirstHop[]): readonly FirstHop[] => [
  ...first,
  ...second.filter((hop) => !first.some((known) => known.out === hop.out && known.via.value === hop.via.value)),
];

/** What a router brings in from elsewhere (type 5, RFC 2328 §12.4.4). A default is told only when that is asked for. */
export function externalsOf(node: Node, family: Family): External[] {
  const { redistribute = [], defaultOriginate, externalType: type = 2 } = settingsOf(node, family)!;
  const everywhere = defaultOf(family);
  const all = node.table.all().filter(({ prefix, source }) => prefix.family === family && source !== 'ospf');
  const found = new Map<string, External>();
  for (const { prefix, source } of all)
    if (prefix.length > 0 && redistribute.some((word) => takesOver(word, source)))
      found.set(formatPrefix(prefix), { by: node, prefix, metric: EXTERNAL_METRIC, type });
  if (defaultOriginate === 'always' || (defaultOriginate && all.some(({ prefix }) => samePrefix(prefix, everywhere))))
    found.set(formatPrefix(everywhere), { by: node, prefix: everywhere, metric: DEFAULT_METRIC, type });
  return [...found.values()];
}

function put<K, V>(map: Map<K, V[]>, key: K, nullable: V): void {
  const list = map.get(key);
  if (list) list.push(nullable);
  else map.set(key, [nullable]);
}
