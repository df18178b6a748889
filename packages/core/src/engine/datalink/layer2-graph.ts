import { UnionFind } from './union-find';

/** Numbers of points by their names: handed on from one analysis to the next, so that a point keeps its number. */
export class PointNumbers {
  private readonly numbers = new Map<string, number>();
  readonly names: string[] = [];

  of(name: string): number {
    let number = this.numbers.get(name);
    if (number === undefined) {
      this.numbers.set(name, (number = this.names.length));
      this.names.push(name);
    }
    return number;
  }
}

/** Who hears whom by the ports of bridges. Points of links that are down may be in it: nobody is there to be heard. */
export class Layer2Graph {
  private readonly sets = new UnionFind();
  /** Where frames go: pairs of points one after the other, both ways and one way. */
  private readonly edges: number[] = [];
  private readonly oneWay: number[] = [];
  /** Domains whose frames arrive in others, and not back. */
  readonly domainEdges = new Map<number, Set<number>>();
  /** VLANs for voice by segment. */
  readonly voices = new Map<string, number>();
  private out: ReadonlyMap<number, readonly number[]> | null = null;

  constructor(
    readonly points: PointNumbers,
    readonly vlans: readonly number[],
  ) {}

  point(name: string): number {
    const at = this.points.of(name);
    this.sets.grow(at);
    return at;
  }

  domainOf(at: number): number {
    this.sets.grow(at);
    return this.sets.find(at);
  }

  /** Joins a wire with a VLAN of a bridge. False when they were together: the new way closes a circle. */
  join(wire: number, bridge: number): boolean {
    this.edges.push(wire, bridge);
    this.out = null;
    return this.sets.union(wire, bridge);
  }

  /** Frames of a wire arrive in a VLAN of a bridge, and not back. */
  joinOneWay(wire: number, bridge: number): void {
    this.oneWay.push(wire, bridge);
    this.out = null;
  }

  /** After everything is joined: which domains frames pass between one way only. */
  settle(): void {
    for (let at = 0; at < this.oneWay.length; at += 2) {
      const [a, b] = [this.sets.find(this.oneWay[at]!), this.sets.find(this.oneWay[at + 1]!)];
      if (a !== b) this.domainEdges.set(a, (this.domainEdges.get(a) ?? new Set()).add(b));
    }
  }

  /** Whether a wire that comes up later is as if it had been there from the beginning; domains keep their numbers. */
  takes(wire: number, bridge: number, ways: 'both' | 'in'): boolean {
    const [a, b] = [this.domainOf(wire), this.domainOf(bridge)];
    if (a === b) return true;
    if (ways === 'in') return this.domainEdges.get(a)?.has(b) ?? false;
    if (a < b) return false;
    return this.join(wire, bridge);
  }

  hears(from: number, to: number): boolean {
    return reaches(this.domainEdges, this.domainOf(from), this.domainOf(to));
  }

  /** Where frames go from each point. */
  ways(): ReadonlyMap<number, readonly number[]> {
    return (this.out ??= outOf(this.edges, this.oneWay));
  }
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

/** Where frames go from each point. */
function outOf(edges: readonly number[], oneWay: readonly number[]): Map<number, number[]> {
  const out = new Map<number, number[]>();
  const add = (from: number, to: number): void => {
    const there = out.get(from);
    if (there) there.push(to);
    else out.set(from, [to]);
  };
  for (let at = 0; at < edges.length; at += 2) {
    add(edges[at]!, edges[at + 1]!);
    add(edges[at + 1]!, edges[at]!);
  }
  for (let at = 0; at < oneWay.length; at += 2) add(oneWay[at]!, oneWay[at + 1]!);
  return out;
}
