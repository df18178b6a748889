import { contains, formatAddress, parseInterfaceAddress, subnetOf } from '../../address';
import { type Instance, type NetworkModel } from '../../engine';
import { assign } from './assignment';
import { type Graph, graphOf, structuralSimilarity } from './similarity';

/** Which device of the student plays a role of the reference, and how sure that is, from 0 to 1. */
export interface RoleMatch {
  role: string;
  device: string | null;
  confidence: number;
}

/** Below this likeness a device plays no role at all. */
const WORTHLESS = 0.2;
/** Names and addresses decide only between devices that structure cannot tell apart. */
const NAME_WEIGHT = 0.04;
const ADDRESS_WEIGHT = 0.05;
/** What a preserved link is worth when exchanging two devices. */
const LINK_WEIGHT = 0.5;
const MAX_PASSES = 12;

/** Finds the student's device for each role of the reference by structure; the order of keys never matters. */
export function matchRoles(reference: NetworkModel, student: NetworkModel): RoleMatch[] {
  const [a, b] = [graphOf(reference), graphOf(student)];
  const width = b.ids.length;
  const structure = structuralSimilarity(a, b);
  const ties = tieBreakers(a, b, reference, student);
  const likeness = (i: number, j: number): number => structure[i * width + j]!;
  const value = (i: number, j: number): number =>
    likeness(i, j) < WORTHLESS ? 0 : likeness(i, j) + ties[i * width + j]!;
  const columns = assign(a.ids.length, width, value);
  exchange(a, b, columns, value);
  return a.ids.map((role, i): RoleMatch => {
    const j = columns[i]!;
    return j < 0
      ? { role, device: null, confidence: 0 }
      : { role, device: b.ids[j]!, confidence: Math.round(100 * likeness(i, j)) / 100 };
  });
}

function tieBreakers(a: Graph, b: Graph, reference: NetworkModel, student: NetworkModel): Float64Array {
  const ties = new Float64Array(a.ids.length * b.ids.length);
  const mine = a.ids.map((id) => describe(reference.instances.get(id)!));
  const theirs = b.ids.map((id) => describe(student.instances.get(id)!));
  for (const [i, candidate] of mine.entries())
    for (const [j, other] of theirs.entries())
      ties[i * b.ids.length + j] =
        NAME_WEIGHT * nameSimilarity(candidate.pairs, other.pairs) +
        ADDRESS_WEIGHT * addressSimilarity(candidate, other);
  return ties;
}

type Described = ReturnType<typeof describe>;
function describe(instance: Instance) {
  const addresses = instance.interfaces.flatMap(([, interfaceConfig]) =>
    [...(interfaceConfig.v4?.addresses ?? []), ...(interfaceConfig.v6?.addresses ?? [])].flatMap((text) => {
      const read = parseInterfaceAddress(text.trim());
      return read.ok ? [read.value] : [];
    }),
  );
  return {
    pairs: letterPairs(instance.name),
    addresses,
    texts: new Set(addresses.map((on) => formatAddress(on.address))),
  };
}

function letterPairs(name: string): Set<string> {
  const text = name.toLowerCase().replace(/[^\p{L}\p{N}]/gu, '');
  return new Set(text.length < 2 ? [text] : Array.from({ length: text.length - 1 }, (_, at) => text.slice(at, at + 2)));
}

/** Dice's coefficient over pairs of letters. */
function nameSimilarity(a: ReadonlySet<string>, b: ReadonlySet<string>): number {
  let shared = 0;
  for (const pair of a) if (b.has(pair)) shared++;
  return (2 * shared) / (a.size + b.size);
}

/** 1 for an equal address, 0.8 for one in the other's subnet. */
function addressSimilarity(a: Described, b: Described): number {
  if ([...a.texts].some((text) => b.texts.has(text))) return 1;
  return a.addresses.some((address) => b.addresses.some((other) => contains(subnetOf(address), other.address)))
    ? 0.8
    : 0;
}

/** Exchanges the devices of two roles, or takes a free device, as long as that keeps more links and likeness. */
function exchange(a: Graph, b: Graph, columns: number[], value: (i: number, j: number) => number): void {
  const linkCount = new Map<number, number>();
  const key = (x: number, y: number): number => x * b.ids.length + y;
  for (const [j, list] of b.neighbours.entries())
    for (const k of list) linkCount.set(key(j, k), (linkCount.get(key(j, k)) ?? 0) + 1);
  const gain = (i: number, j: number): number => {
    if (j < 0) return 0;
    let links = 0;
    for (const k of a.neighbours[i]!) if (columns[k]! >= 0 && linkCount.has(key(j, columns[k]!))) links++;
    return value(i, j) + LINK_WEIGHT * links;
  };
  const roles = a.ids.map((_, i) => i);
  for (let pass = 0, better = true; better && pass < MAX_PASSES; pass++) {
    better = false;
    for (const i of roles)
      for (const k of roles) {
        if (k <= i || columns[i] === columns[k]) continue;
        const [x, y] = [columns[i]!, columns[k]!];
        if ((y >= 0 && value(i, y) <= 0) || (x >= 0 && value(k, x) <= 0)) continue;
        const before = gain(i, x) + gain(k, y);
        [columns[i], columns[k]] = [y, x];
        if (gain(i, y) + gain(k, x) > before + 1e-9) better = true;
        else [columns[i], columns[k]] = [x, y];
      }
  }
}
