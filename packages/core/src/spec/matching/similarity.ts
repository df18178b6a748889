import { type NetworkModel, instanceId } from '../../engine';
import { type Model, entriesById } from '../../topology';

/** Devices by number with their neighbours, a neighbour once for each link. */
export interface Graph {
  readonly ids: readonly string[];
  readonly neighbours: readonly (readonly number[])[];
  readonly models: readonly Model[];
}

export function graphOf(model: NetworkModel): Graph {
  const ids = [...model.instances.keys()];
  const index = new Map(ids.map((id, at) => [id, at]));
  const neighbours: number[][] = ids.map(() => []);
  for (const [, link] of entriesById(model.topology.links)) {
    const [a, b] = [index.get(instanceId(link.a)), index.get(instanceId(link.b))];
    if (a === undefined || b === undefined || a === b) continue;
    neighbours[a]!.push(b);
    neighbours[b]!.push(a);
  }
  return { ids, neighbours, models: ids.map((id) => model.instances.get(id)!.model) };
}

/** Kinds that do the same work in a drawing. */
const ALIKE: readonly (readonly string[])[] = [
  ['switch', 'l3-switch', 'hub'],
  ['router', 'firewall', 'home-gateway', 'l3-switch'],
  ['desktop', 'laptop', 'till'],
  ['access-point', 'home-gateway'],
];

/** How alike two models are by themselves, from 0 to 1. */
export function kindSimilarity(a: Model, b: Model): number {
  if (a.kind === b.kind) return 1;
  if (ALIKE.some((set) => set.includes(a.kind) && set.includes(b.kind))) return 0.6;
  return a.class === b.class ? 0.3 : 0;
}

const ROUNDS = 6;
/** The part of a device's similarity that comes from its neighbours. */
const DAMPING = 0.6;
/** A wrong kind must not be outweighed by the neighbourhood alone, nor make it worthless. */
const OTHER_KIND = 0.25;

/**
 * How alike each device of one drawing is to each of the other, from kind and, iterated and damped, from how well their
 * neighbours can be paired (similarity flooding with a greedy pairing of neighbours). Row-major, a.ids × b.ids.
 */
export function structuralSimilarity(a: Graph, b: Graph): Float64Array {
  const width = b.ids.length;
  const kinds = new Float64Array(a.ids.length * width);
  for (const [i, model] of a.models.entries())
    for (const [j, other] of b.models.entries()) kinds[i * width + j] = kindSimilarity(model, other);
  let now = kinds.slice();
  for (let round = 0; round < ROUNDS; round++) {
    const next = new Float64Array(now.length);
    for (let i = 0; i < a.ids.length; i++)
      for (let j = 0; j < width; j++) {
        const kind = kinds[i * width + j]!;
        const around = neighbourhood(a.neighbours[i]!, b.neighbours[j]!, now, width);
        next[i * width + j] = (1 - DAMPING) * kind + DAMPING * around * (OTHER_KIND + (1 - OTHER_KIND) * kind);
      }
    now = next;
  }
  return now;
}

/** Pairs the neighbours of two devices greedily, best pair first; the mean over the larger neighbourhood. */
function neighbourhood(
  mine: readonly number[],
  others: readonly number[],
  similarity: Float64Array,
  width: number,
): number {
  const larger = Math.max(mine.length, others.length);
  if (!larger) return 1;
  const pairs: [number, number, number][] = [];
  for (const [x, i] of mine.entries())
    for (const [y, j] of others.entries()) pairs.push([similarity[i * width + j]!, x, y]);
  pairs.sort((p, q) => q[0] - p[0] || p[1] - q[1] || p[2] - q[2]);
  const [usedX, usedY] = [new Set<number>(), new Set<number>()];
  let sum = 0;
  for (const [value, x, y] of pairs) {
    if (usedX.has(x) || usedY.has(y)) continue;
    usedX.add(x);
    usedY.add(y);
    sum += value;
    if (usedX.size === Math.min(mine.length, others.length)) break;
  }
  return sum / larger;
}
