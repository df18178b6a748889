import { type Graph, type VertexKind } from './graph';

/** Kinds that do the same work in a drawing. */
const ALIKE: readonly (readonly string[])[] = [
  ['switch', 'l3-switch', 'hub'],
  ['router', 'firewall', 'home-gateway', 'l3-switch'],
  ['desktop', 'laptop', 'till'],
  ['access-point', 'home-gateway'],
];

interface Vertex {
  readonly kind: VertexKind;
  readonly class: string;
}

/** How alike two vertices are by themselves, from 0 to 1. */
export function kindSimilarity(a: Vertex, b: Vertex): number {
  if (a.kind === b.kind) return 1;
  if (ALIKE.some((set) => set.includes(a.kind) && set.includes(b.kind))) return 0.6;
  return a.class === b.class && a.class !== 'part' ? 0.3 : 0;
}

/** The neighbours of a vertex put together by colour: the colours, how many of each, and of all. */
interface Neighbours {
  readonly colours: Int32Array;
  readonly counts: Int32Array;
  readonly size: number;
}

const ROUNDS = 6;
/** The part of a device's similarity that comes from its neighbours. */
const DAMPING = 0.6;
/** A wrong kind must not be outweighed by the neighbourhood alone, nor make it worthless. */
const OTHER_KIND = 0.25;

/** The vertices of a graph put together by colour. */
interface Coloured {
  readonly vertices: readonly Vertex[];
  readonly neighbours: readonly Neighbours[];
  /** The number of a vertex's colour among those of its graph. */
  readonly at: Int32Array;
}

function coloured(graph: Graph, colours: Int32Array, withShares: boolean): Coloured {
  const numbers = new Map<number, number>();
  const first: number[] = [];
  const at = Int32Array.from(graph.kinds, (_kind, vertex) => {
    const colour = colours[vertex]!;
    if (colour < 0) return -1;
    let number = numbers.get(colour);
    if (number === undefined) {
      number = numbers.size;
      numbers.set(colour, number);
      first.push(vertex);
    }
    return number;
  });
  const neighbours = first.map((vertex): Neighbours => {
    const count = new Map<number, number>();
    for (const other of [...(graph.links[vertex] ?? []), ...(withShares ? graph.shares[vertex]! : [])])
      count.set(at[other]!, (count.get(at[other]!) ?? 0) + 1);
    return neighboursOf([...count]);
  });
  return {
    vertices: first.map((vertex) => ({ kind: graph.kinds[vertex]!, class: graph.classes[vertex]! })),
    neighbours,
    at,
  };
}

/**
 * How alike each device of one drawing is to each of the other, from kind and, iterated and damped, from how well their
 * neighbours can be paired (similarity flooding with a greedy pairing of neighbours). Worked out by colour: vertices of one
 * colour are alike to the same. Row-major, devices of a × devices of b.
 */
export function structuralSimilarity(
  a: Graph,
  b: Graph,
  [coloursA, coloursB]: readonly [Int32Array, Int32Array],
  withShares: boolean,
): Float64Array {
  const [mine, theirs] = [coloured(a, coloursA, withShares), coloured(b, coloursB, withShares)];
  const width = theirs.vertices.length;
  const kinds = new Float64Array(mine.vertices.length * width);
  for (const [i, vertex] of mine.vertices.entries())
    for (const [j, other] of theirs.vertices.entries()) kinds[i * width + j] = kindSimilarity(vertex, other);
  let now = kinds.slice();
  for (let round = 0; round < ROUNDS; round++) {
    const next = new Float64Array(now.length);
    for (let i = 0; i < mine.vertices.length; i++)
      for (let j = 0; j < width; j++) {
        const kind = kinds[i * width + j]!;
        // What does other work altogether is never paired for its neighbours.
        if (kind === 0) continue;
        const around = neighbourhood(mine.neighbours[i]!, theirs.neighbours[j]!, now, width);
        next[i * width + j] = (1 - DAMPING) * kind + DAMPING * around * (OTHER_KIND + (1 - OTHER_KIND) * kind);
      }
    now = next;
  }
  const result = new Float64Array(a.ids.length * b.ids.length);
  for (let i = 0; i < a.ids.length; i++)
    for (let j = 0; j < b.ids.length; j++) result[i * b.ids.length + j] = now[mine.at[i]! * width + theirs.at[j]!]!;
  return result;
}

/** @param counted colours, each with how many neighbours have it */
export const neighboursOf = (counted: readonly (readonly [colour: number, n: number])[]): Neighbours => ({
  colours: Int32Array.from(counted, ([colour]) => colour),
  counts: Int32Array.from(counted, ([, n]) => n),
  size: counted.reduce((sum, [, n]) => sum + n, 0),
});

/** How many of each colour are not paired yet; kept, since this is asked for very often. */
let [left, right] = [new Int32Array(64), new Int32Array(64)];

/** Pairs the neighbours of two vertices greedily, best pair first and the first of equals; the mean over the larger side. */
export function neighbourhood(mine: Neighbours, others: Neighbours, similarity: Float64Array, width: number): number {
  const larger = Math.max(mine.size, others.size);
  if (!larger) return 1;
  const [rows, columns] = [mine.colours.length, others.colours.length];
  if (rows === 1 && columns === 1)
    return (Math.min(mine.size, others.size) * similarity[mine.colours[0]! * width + others.colours[0]!]!) / larger;
  if (left.length < rows) left = new Int32Array(2 * rows);
  if (right.length < columns) right = new Int32Array(2 * columns);
  left.set(mine.counts);
  right.set(others.counts);
  let sum = 0;
  for (;;) {
    let best = -1;
    let [x, y] = [-1, -1];
    for (let at = 0; at < rows; at++) {
      if (!left[at]) continue;
      const row = mine.colours[at]! * width;
      for (let other = 0; other < columns; other++) {
        if (!right[other]) continue;
        const value = similarity[row + others.colours[other]!]!;
        if (value <= best) continue;
        best = value;
        x = at;
        y = other;
      }
    }
    if (x < 0) return sum / larger;
    const n = Math.min(left[x]!, right[y]!);
    left[x]! -= n;
    right[y]! -= n;
    sum += n * best;
  }
}
