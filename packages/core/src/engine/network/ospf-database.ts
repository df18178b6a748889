import { type Address, type Family, type Prefix, formatPrefix, prefixKey, samePrefix } from '../../address';
import { type InterfaceState, type Node, type Route } from './node';
import { type Adjacency, type OspfInterface, areaType, isStub, settingsOf } from './ospf-interfaces';
import { takesOver } from './rip';

const DISTANCE = 110;
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

/** What all routers know, and the shortest ways through it. */
export class Database {
  /** Edges by "router area". */
  private readonly edges = new Map<string, Edge[]>();
  private readonly facesIn = new Map<string, OspfInterface[]>();
  private readonly areasOf = new Map<Node, number[]>();
  private readonly trees = new Map<string, Map<Node, Reached>>();
  private readonly defaultRoute: Prefix;

  constructor(
    interfaces: readonly OspfInterface[],
    adjacencies: readonly Adjacency[],
    private readonly externals: readonly External[],
    private readonly family: Family,
  ) {
    this.defaultRoute = defaultOf(family);
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
  /** A router between areas that is in the backbone. */
  private joins = (node: Node): boolean => this.areas(node).length > 1 && this.areas(node).includes(BACKBONE);

  /** Shortest ways within an area to its routers, with all first hops of equal cost (RFC 2328 §16.1). */
  private tree(root: Node, area: number): Map<Node, Reached> {
    const key = keyOf(root, area);
    let reached = this.trees.get(key);
    if (reached) return reached;
    reached = new Map<Node, Reached>([[root, { cost: 0, hops: [] }]]);
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
        if (!known || cost < known.cost) reached.set(to.node, { cost, hops });
        else if (cost === known.cost) reached.set(to.node, { cost, hops: joined(known.hops, hops) });
        open.add(to.node);
      }
    }
    this.trees.set(key, reached);
    return reached;
  }

  /** Prefixes of an area with their costs from a router in it. */
  private within(root: Node, area: number): Ways {
    const ways = new Ways();
    for (const [router, { cost, hops }] of this.tree(root, area))
      for (const ospfInterface of this.facesIn.get(keyOf(router, area)) ?? [])
        for (const prefix of ospfInterface.prefixes)
          ways.offer({ prefix, cost: cost + ospfInterface.cost, hops, rank: 1, near: 0 });
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
    for (const [router, { cost, hops }] of this.tree(root, BACKBONE))
      if (router !== root && this.joins(router))
        for (const way of this.summaries(router, BACKBONE))
          ways.offer({ ...way, cost: cost + way.cost, hops, rank: 2 });
    this.backboneWays.set(root, (found = ways.all()));
    return found;
  }

  /** Ways to prefixes of other areas (RFC 2328 §16.2). Who joins areas looks at the backbone only. */
  private between(root: Node): Way[] {
    if (this.areas(root).includes(BACKBONE)) return this.throughBackbone(root);
    const ways = new Ways();
    for (const area of this.areas(root)) {
      const total = areaType(root, area, this.family) === 'totally-stub';
      for (const [router, { cost, hops }] of this.tree(root, area)) {
        if (router === root || !this.joins(router)) continue;
        const offer = (way: Way): void => ways.offer({ ...way, cost: cost + way.cost, hops, rank: 2 });
        if (areaType(router, area, this.family) !== 'totally-stub' && !total)
          this.summaries(router, area).forEach(offer);
        if (isStub(areaType(router, area, this.family)))
          offer({ prefix: this.defaultRoute, cost: DEFAULT_METRIC, hops: [], rank: 2, near: 0 });
      }
    }
    return ways.all();
  }

  /** The way to a router anywhere: within an area, else by those who join areas. `through` leaves stub areas out. */
  private toRouter(root: Node, target: Node): Reached | null {
    let best: Reached | null = null;
    const offer = (cost: number, hops: readonly FirstHop[]): void => {
      if (!best || cost < best.cost) best = { cost, hops };
      else if (cost === best.cost) best = { cost, hops: joined(best.hops, hops) };
    };
    const open = (node: Node, area: number): boolean => !isStub(areaType(node, area, this.family));
    for (const area of this.areas(root)) {
      const there = open(root, area) ? this.tree(root, area).get(target) : undefined;
      if (there) offer(there.cost, there.hops);
    }
    if (best) return best;
    const inBackbone = this.areas(root).includes(BACKBONE);
    for (const area of inBackbone ? [BACKBONE] : this.areas(root).filter((area) => open(root, area)))
      for (const [router, { cost, hops }] of this.tree(root, area)) {
        if (router === root || !this.joins(router)) continue;
        const rest = this.costTo(router, target, area);
        if (rest !== null) offer(cost + rest, hops);
      }
    return best;
  }

  /** What a router that joins areas tells into one of its way to a router elsewhere. */
  private costTo(joining: Node, target: Node, into: number): number | null {
    const costs = this.areas(joining).flatMap((area) => {
      if (area === into || isStub(areaType(joining, area, this.family))) return [];
      return this.tree(joining, area).get(target)?.cost ?? [];
    });
    if (!costs.length && into !== BACKBONE)
      for (const [router, { cost }] of this.tree(joining, BACKBONE)) {
        if (router === joining || !this.joins(router)) continue;
        const rest = this.costTo(router, target, BACKBONE);
        if (rest !== null) costs.push(cost + rest);
      }
    return costs.length ? Math.min(...costs) : null;
  }

  /** All routes of a router: within its areas before between areas before external ones. */
  routesOf(root: Node): Route[] {
    // What is within the first area needs not be compared with itself.
    const [first, ...others] = this.areas(root);
    const ways = first === undefined ? new Ways() : this.within(root, first);
    for (const area of others) for (const way of this.within(root, area).all()) ways.offer(way);
    for (const way of this.between(root)) ways.offer(way);
    const takesExternals = this.areas(root).some((area) => areaType(root, area, this.family) === 'normal');
    for (const { by, prefix, metric, type } of this.externals) {
      if (by === root || !(takesExternals || sharesArea(this.areas(root), this.areas(by)))) continue;
      const reached = this.toRouter(root, by);
      if (!reached) continue;
      const { cost, hops } = reached;
      if (type === 1) ways.offer({ prefix, cost: metric + cost, near: 0, hops, rank: 3 });
      else ways.offer({ prefix, cost: metric, near: cost, hops, rank: 4 });
    }
    const routes: Route[] = [];
    for (const { prefix, cost: metric, hops } of ways.all())
      for (const { out, via } of hops) routes.push({ prefix, source: 'ospf', distance: DISTANCE, metric, via, out });
    return routes;
  }
}

const defaultOf = (family: Family): Prefix => ({ family, value: 0n, length: 0 });
const keyOf = (node: Node, area: number): string => `${node.instance.id} ${area}`;
const sharesArea = (first: readonly number[], second: readonly number[]): boolean =>
  first.some((area) => second.includes(area));

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
      this.best.set(key, { ...known!, hops: joined(known!.hops, way.hops) });
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
