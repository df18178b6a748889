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

/**
 * Pairs the neighbours of two devices greedily, best pair first and the first of equals; the mean over the larger
 * neighbourhood. Each of mine keeps its best partner that is left, so that nothing needs to be sorted.
 */
export function neighbourhood(
  mine: readonly number[],
  others: readonly number[],
  similarity: Float64Array,
  width: number,
): number {
  const larger = Math.max(mine.length, others.length);
  if (!larger) return 1;
  const taken: boolean[] = others.map(() => false);
  const partner = mine.map((i) => bestOf(i, others, taken, similarity, width));
  let sum = 0;
  for (let left = Math.min(mine.length, others.length); left > 0; left--) {
    let x = -1;
    let best = -1;
    for (let at = 0; at < mine.length; at++) {
      if (partner[at]! < 0) continue;
      const value = similarity[mine[at]! * width + others[partner[at]!]!]!;
      if (value <= best) continue;
      best = value;
      x = at;
    }
    const y = partner[x]!;
    sum += best;
    taken[y] = true;
    partner[x] = PAIRED;
    for (let at = 0; at < mine.length; at++)
      if (partner[at] === y) partner[at] = bestOf(mine[at]!, others, taken, similarity, width);
  }
  return sum / larger;
}
const PAIRED = -1;

/** The first of the others that are left to which a device is most alike; -1 where none is left. */
function bestOf(
  device: number,
  others: readonly number[],
  taken: readonly boolean[],
  similarity: Float64Array,
  width: number,
): number {
  let found = -1;
  let best = -1;
  for (let y = 0; y < others.length; y++) {
    if (taken[y]) continue;
    const value = similarity[device * width + others[y]!]!;
    if (value <= best) continue;
    best = value;
    found = y;
  }
  return found;
}
