import { UnionFind } from './union-find';

/**
 * A dictionary of points: a name has the same number wherever it is asked for. It only grows, and nothing that is known of
 * a number changes when another comes, so all drawings that came of one another may share it.
 */
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

/** Who hears whom by the ports of bridges. */
export interface Layer2Graph {
  readonly points: PointNumbers;
  /** Every VLAN number that occurs anywhere. */
  readonly vlans: readonly number[];
  /** VLANs for voice by segment. */
  readonly voices: ReadonlyMap<string, number>;
  /** Domains whose frames arrive in others, and not back. */
  readonly domainEdges: ReadonlyMap<number, ReadonlySet<number>>;
  domainOf(point: number): number;
  hears(from: number, to: number): boolean;
  /** Where frames go from each point. */
  ways(): ReadonlyMap<number, readonly number[]>;
}

/** Puts a graph together: points are joined one by one, and then it stands. */
export class Layer2GraphBuilder {
  private readonly sets = new UnionFind();
  /** Where frames go: pairs of points one after the other, both ways and one way. */
  private readonly edges: number[] = [];
  private readonly oneWay: number[] = [];
  private readonly voices = new Map<string, number>();

  constructor(
    private readonly points: PointNumbers,
    readonly vlans: readonly number[],
  ) {}

  point(name: string): number {
    const at = this.points.of(name);
    this.sets.grow(at);
    return at;
  }

  setVoice(segment: string, vlan: number): void {
    this.voices.set(segment, vlan);
  }

  /** Joins a wire with a VLAN of a bridge. False when they were together: the new way closes a circle. */
  join(wire: number, bridge: number): boolean {
    this.edges.push(wire, bridge);
    return this.sets.union(wire, bridge);
  }

  /** Frames of a wire arrive in a VLAN of a bridge, and not back. */
  joinOneWay(wire: number, bridge: number): void {
    this.oneWay.push(wire, bridge);
  }

  graph(): Layer2Graph {
    const { sets, points, vlans, voices, edges, oneWay } = this;
    const { size } = sets;
    // A point that was named later is at no bridge.
    const domainOf = (point: number): number => (point < size ? sets.find(point) : point);
    const domainEdges = new Map<number, Set<number>>();
    for (let at = 0; at < oneWay.length; at += 2) {
      const [a, b] = [domainOf(oneWay[at]!), domainOf(oneWay[at + 1]!)];
      if (a !== b) domainEdges.set(a, (domainEdges.get(a) ?? new Set()).add(b));
    }
    let out: Map<number, number[]> | null = null;
    return {
      points,
      vlans,
      voices,
      domainEdges,
      domainOf,
      hears: (from, to) => reaches(domainEdges, domainOf(from), domainOf(to)),
      ways: () => (out ??= outOf(edges, oneWay)),
    };
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
