import { contains, formatAddress, parseInterfaceAddress, subnetOf } from '../../address';
import { type Instance, type NetworkModel } from '../../engine';
import { Arrangement, EPSILON } from './arrangement';
import { assign } from './assignment';
import { hostName } from '../host-name';
import { coloursOf } from './colours';
import { type Graph, graphOf } from './graph';
import { structuralSimilarity } from './similarity';

/** How sure it is who plays a role: by structure; by names and addresses only; or not, as others would do as well. */
export type Sureness = 'sure' | 'likely' | 'unsure';
/** Which device of the student plays a role of the reference. */
export interface RoleMatch {
  role: string;
  device: string | null;
  /** Absent from results that were made before it was worked out. */
  sure?: Sureness;
  /** Whether a person said so. */
  pinned?: true;
  /** Devices that would do as well, or nearly. */
  also?: string[];
  /** Devices that do its work together with `device`: two where the reference has one. */
  with?: string[];
}

/** Below this likeness a device plays no role at all. */
const WORTHLESS = 0.2;
/** What devices share tells apart where links do not, and weighs less than they. */
const SHARED_STRUCTURE = 0.1;
/** Names and addresses decide only between devices that structure cannot tell apart. */
const NAME_WEIGHT = 0.008;
const ADDRESS_WEIGHT = 0.01;
/** What the best other candidate must be worse by for a role to be sure, and for it to be likely. */
const SURE = 0.05;
const LIKELY = 0.002;
/** More arrangements that are as good are not looked at. */
const MOST_ARRANGEMENTS = 16;

/** Pairs of a role and its device that somebody has said to hold. */
export type Pins = Readonly<Record<string, string>>;
/** Who plays which role, how sure that is, and what else would be as good by structure. */
export interface Matching {
  readonly roles: RoleMatch[];
  /** Other arrangements of the same devices that structure cannot tell from this one, each as what it changes. */
  readonly alternatives: readonly ReadonlyMap<string, string | null>[];
  /** Devices without a role that structure cannot tell from the one that has it. */
  readonly rivals: readonly ReadonlyMap<string, string | null>[];
}

/**
 * Finds the student's device for each role of the reference by structure; the order of keys never matters.
 *
 * @param byName whether nothing plays a role but what is called as it is; structure tells apart those that have one name
 */
export function matchRoles(reference: NetworkModel, student: NetworkModel, pins: Pins = {}, byName = false): Matching {
  const [a, b] = [graphOf(reference), graphOf(student)];
  const width = b.ids.length;
  const byLinks = coloursOf([a, b], false) as [Int32Array, Int32Array];
  const byAll = coloursOf([a, b], true) as [Int32Array, Int32Array];
  const structure = structuralSimilarity(a, b, byLinks, false);
  const shared = structuralSimilarity(a, b, byAll, true);
  const pinned = pinnedOf(a, b, pins);
  const isNamed = byName ? namedAlike(a, b, reference, student) : null;
  const likeness = structure.map((value, at) => {
    const [i, j] = [Math.floor(at / width), at % width];
    const own = pinned.role.get(i);
    if (own !== undefined || pinned.device.has(j)) return own === j ? 10 : 0;
    if (isNamed) return isNamed(i, j) ? 1 + value : 0;
    return value < WORTHLESS ? 0 : value + SHARED_STRUCTURE * shared[at]!;
  });
  const ties = tieBreakers(a, b, reference, student, likeness);
  const columns = assign(a.ids.length, width, (i, j) => {
    const value = likeness[i * width + j]!;
    return value <= 0 ? 0 : value + ties[i * width + j]!;
  });
  const arrangement = new Arrangement(a, b, columns, likeness, ties);
  arrangement.settle();
  const roles = sureness(arrangement, byAll, pinned.role);
  const graphs = placed(a, b, roles);
  return {
    roles: withSplit(graphs, isNamed ? roles : withMerged(graphs, roles)),
    alternatives: alternativesOf(arrangement, byAll[0]),
    rivals: rivalsOf(arrangement, pinned.role),
  };
}

function pinnedOf(a: Graph, b: Graph, pins: Pins) {
  const role = new Map<number, number>();
  for (const [one, other] of Object.entries(pins)) {
    const [i, j] = [a.ids.indexOf(one), b.ids.indexOf(other)];
    if (i >= 0 && j >= 0) role.set(i, j);
  }
  return { role, device: new Set(role.values()) };
}

/** Whether a role and a device have one name; what has none is like nothing. */
function namedAlike(a: Graph, b: Graph, reference: NetworkModel, student: NetworkModel) {
  const namesOf = ({ ids }: Graph, { instances }: NetworkModel): string[] =>
    ids.map((id) => hostName(instances.get(id)!.name));
  const [roles, devices] = [namesOf(a, reference), namesOf(b, student)];
  return (i: number, j: number): boolean => roles[i] !== '' && roles[i] === devices[j];
}

/**
 * How far each role is from its best other candidate: roles of one colour are interchangeable and no candidates of one
 * another. Worked out for exchanges and for devices that play no role.
 */
function sureness(
  arrangement: Arrangement,
  [colours]: readonly [Int32Array, Int32Array],
  pinned: ReadonlyMap<number, number>,
): RoleMatch[] {
  const { a, b, columns } = arrangement;
  const free = arrangement.free();
  return a.ids.map((role, i): RoleMatch => {
    const own = columns[i]!;
    if (own < 0) return { role, device: null };
    const device = b.ids[own]!;
    if (pinned.has(i)) return { role, device, sure: 'sure', pinned: true };
    const seen = new Set<number>();
    const candidates: { device: number; structure: number; all: number }[] = [];
    const look = (other: number, changes: [number, number][] | null): void => {
      if (!changes) return;
      candidates.push({ device: other, ...arrangement.wouldBring(changes) });
    };
    for (const j of free) if (arrangement.may(i, j)) look(j, [[i, j]]);
    for (const [k, other] of columns.entries()) {
      // Of devices that are alike one stands for all.
      const like = colours[k]! * b.ids.length + arrangement.signOf(other);
      if (k === i || other < 0 || colours[k] === colours[i] || seen.has(like)) continue;
      seen.add(like);
      look(other, arrangement.swap(i, k));
    }
    const near = candidates.filter(({ structure }) => structure > -SURE);
    const sure = !near.length ? 'sure' : near.every(({ all }) => all < -LIKELY) ? 'likely' : 'unsure';
    const also = near
      .sort((one, other) => other.all - one.all || one.device - other.device)
      .slice(0, MOST_ALSO)
      .map((candidate) => b.ids[candidate.device]!);
    return { role, device, sure, ...(also.length && { also }) };
  });
}
const MOST_ALSO = 8;

/** Exchanges of two devices, and of two parts with all that is in them, that structure cannot tell from what is there. */
function alternativesOf(arrangement: Arrangement, colours: Int32Array): ReadonlyMap<string, string | null>[] {
  const { a, b, columns } = arrangement;
  const found: ReadonlyMap<string, string | null>[] = [];
  const look = (changes: readonly (readonly [number, number])[] | null): void => {
    if (!changes || found.length >= MOST_ARRANGEMENTS) return;
    if (Math.abs(arrangement.wouldBring(changes).structure) > EPSILON) return;
    found.push(new Map(changes.map(([role, device]) => [a.ids[role]!, device < 0 ? null : b.ids[device]!])));
  };
  for (const [p, q] of arrangement.partPairs())
    if (a.shares[p]!.length === a.shares[q]!.length) look(arrangement.swapParts(p, q));
  const seen = new Set<string>();
  for (const [i, x] of columns.entries())
    for (const [k, y] of columns.entries()) {
      if (k <= i || x < 0 || y < 0 || colours[i] === colours[k]) continue;
      const key = `${colours[i]} ${colours[k]} ${arrangement.signOf(x)} ${arrangement.signOf(y)}`;
      if (seen.has(key)) continue;
      seen.add(key);
      look(arrangement.swap(i, k));
    }
  return found;
}

function rivalsOf(arrangement: Arrangement, pinned: ReadonlyMap<number, number>): ReadonlyMap<string, string | null>[] {
  const { a, b, columns } = arrangement;
  return arrangement
    .free()
    .flatMap((j) =>
      a.ids.flatMap((role, i) =>
        columns[i]! >= 0 &&
        !pinned.has(i) &&
        arrangement.may(i, j) &&
        Math.abs(arrangement.wouldBring([[i, j]]).structure) <= EPSILON
          ? [new Map([[role, b.ids[j]!]])]
          : [],
      ),
    )
    .slice(0, MOST_ARRANGEMENTS);
}

/**
 * One device may do the work of two: a role that nobody plays is played by the device that does the work of another of its
 * kind, where most of what it is linked to hangs there.
 */
function withMerged({ a, b, roleAt, columns }: Placed, roles: readonly RoleMatch[]): readonly RoleMatch[] {
  return roles.map((match): RoleMatch => {
    const i = roleAt.get(match.role)!;
    if (match.device !== null || !isEquipment(a, i)) return match;
    const leaves = a.links[i]!.map((other) => columns[other]!).filter((device) => device >= 0);
    const votes = new Map<number, number>();
    for (const leaf of leaves)
      for (const at of new Set(b.links[leaf])) if (b.kinds[at] === a.kinds[i]) votes.set(at, (votes.get(at) ?? 0) + 1);
    const [best] = [...votes].sort(([x, n], [y, m]) => m - n || x - y);
    return best && best[1] * 2 > leaves.length ? { role: match.role, device: b.ids[best[0]]!, sure: 'likely' } : match;
  });
}

/** Two may do the work of one: a device without a role that is linked to one of its kind, and to what that one's role is linked to, shares the role. */
function withSplit({ a, b, roleAt, columns }: Placed, roles: readonly RoleMatch[]): RoleMatch[] {
  const shared = new Map<string, string[]>();
  const used = new Set(roles.map(({ device }) => device));
  for (const [j, id] of b.ids.entries()) {
    if (used.has(id) || !isEquipment(b, j)) continue;
    const partner = b.links[j]!.find((other) => b.kinds[other] === b.kinds[j] && used.has(b.ids[other]!));
    if (partner === undefined) continue;
    const { role } = roles.find(({ device }) => device === b.ids[partner])!;
    const wanted = new Set(a.links[roleAt.get(role)!]!.map((other) => columns[other]!));
    const own = b.links[j]!.filter((other) => other !== partner);
    if (own.length && own.filter((other) => wanted.has(other)).length * 2 > own.length)
      shared.set(role, [...(shared.get(role) ?? []), id]);
  }
  return roles.map((match) => (shared.has(match.role) ? { ...match, with: shared.get(match.role)! } : match));
}

const isEquipment = (graph: Graph, at: number): boolean => graph.classes[at] === 'intermediary';
type Placed = ReturnType<typeof placed>;
/** Both graphs, with the number of each role, and of the device that plays it; -1 where none does. */
function placed(a: Graph, b: Graph, roles: readonly RoleMatch[]) {
  const deviceAt = new Map(b.ids.map((id, at) => [id, at]));
  return {
    a,
    b,
    roleAt: new Map(a.ids.map((id, at) => [id, at])),
    columns: roles.map(({ device }) => (device === null ? -1 : deviceAt.get(device)!)),
  };
}

function tieBreakers(
  a: Graph,
  b: Graph,
  reference: NetworkModel,
  student: NetworkModel,
  likeness: Float64Array,
): Float64Array {
  const ties = new Float64Array(a.ids.length * b.ids.length);
  const [mine, theirs] = [described(reference), described(student)];
  for (const [i, candidate] of mine.entries())
    for (const [j, other] of theirs.entries())
      if (likeness[i * b.ids.length + j]! > 0)
        ties[i * b.ids.length + j] =
          NAME_WEIGHT * nameSimilarity(candidate.pairs, other.pairs) +
          ADDRESS_WEIGHT * addressSimilarity(candidate, other);
  return ties;
}

type Described = ReturnType<typeof describe>;
const descriptions = new WeakMap<NetworkModel, readonly Described[]>();
/** Names and addresses of the devices of a drawing, in their order. */
function described(model: NetworkModel): readonly Described[] {
  let found = descriptions.get(model);
  if (!found) descriptions.set(model, (found = [...model.instances.values()].map(describe)));
  return found;
}
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
