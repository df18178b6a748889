import { type Graph, PART_SORTS } from './graph';

/** What a preserved link is worth, seen from one of its ends. */
const LINK_WEIGHT = 0.5;
/** What it is worth that devices which share something there share it here as well: less than any link or kind. */
const SHARE_WEIGHT = 0.08;
/**
 * What it is worth, beside a device that plays no role, to stand in the subnet of those whose roles share one: more than
 * the one link of a host, so that what was only plugged in elsewhere is not taken for something that nobody asked for.
 */
const OWN_SUBNET = 1.5;
const [SUBNET_4, SUBNET_6] = [PART_SORTS.indexOf('subnet4'), PART_SORTS.indexOf('subnet6')];
const MAX_PASSES = 12;
/** Differences below this come from adding numbers up in another order. */
export const EPSILON = 1e-7;

/** Roles with the devices that they are to be given. */
type Changes = readonly (readonly [role: number, device: number])[];

/** Which device plays which role, with what that is worth; it can be changed role by role. */
export class Arrangement {
  /** Which devices are linked, by both. */
  private readonly linked: Uint8Array;
  private readonly sizes: Int32Array[];
  /** How many roles of a part are played by devices of a part, by both. */
  private readonly together: Int32Array;
  private readonly partsOfA: readonly Int32Array[];
  private readonly partsOfB: readonly Int32Array[];
  private readonly width: number;
  private readonly signs: readonly number[];
  private readonly roleSigns: readonly number[];

  /**
   * @param columns for each role its device, or -1
   * @param structure what it is worth that a device plays a role, by both, names and addresses aside; 0 or less for never
   * @param ties what names and addresses add, by both
   */
  constructor(
    readonly a: Graph,
    readonly b: Graph,
    readonly columns: number[],
    private readonly structure: Float64Array,
    private readonly ties: Float64Array,
  ) {
    this.linked = new Uint8Array(b.ids.length * b.ids.length);
    for (const [j, list] of b.links.entries()) for (const k of list) this.linked[this.pair(j, k)] = 1;
    this.sizes = PART_SORTS.map((sort) => {
      const sizes = new Int32Array(a.kinds.length);
      for (const part of a.parts[sort]) if (part >= 0) sizes[part]!++;
      return sizes;
    });
    this.partsOfA = PART_SORTS.map((sort) => a.parts[sort]);
    this.partsOfB = PART_SORTS.map((sort) => b.parts[sort]);
    this.width = b.kinds.length - b.ids.length;
    this.signs = signsOf(b);
    this.roleSigns = signsOf(a);
    this.together = new Int32Array((a.kinds.length - a.ids.length) * this.width);
    for (const [i, j] of columns.entries()) if (j >= 0) this.count(i, j, 1);
  }

  private pair(x: number, y: number): number {
    return x * this.b.ids.length + y;
  }

  /** The place of two parts in `together`. */
  private both(p: number, q: number): number {
    return (p - this.a.ids.length) * this.width + q - this.b.ids.length;
  }

  private count(role: number, device: number, by: 1 | -1): void {
    for (let at = 0; at < PART_SORTS.length; at++) {
      const p = this.partsOfA[at]![role]!;
      const q = this.partsOfB[at]![device]!;
      if (p >= 0 && q >= 0) this.together[this.both(p, q)]! += by;
    }
  }

  /** What it adds that a device plays a role, as the others are now. */
  private gain(role: number, device: number): number {
    if (device < 0) return 0;
    let links = 0;
    for (const other of this.a.links[role]!) {
      const theirs = this.columns[other]!;
      if (theirs >= 0 && this.linked[this.pair(device, theirs)]) links++;
    }
    let shared = 0;
    for (let at = 0; at < PART_SORTS.length; at++) {
      const p = this.partsOfA[at]![role]!;
      const q = this.partsOfB[at]![device]!;
      if (p < 0 || q < 0) continue;
      // Of n that are together each adds n over the size of the part: a whole part adds as much as it has roles.
      shared += (2 * this.together[this.both(p, q)]! + 1) / (2 * this.sizes[at]![p]!);
    }
    return this.structure[this.pair(role, device)]! + LINK_WEIGHT * links + SHARE_WEIGHT * shared;
  }

  private put(role: number, device: number): void {
    const before = this.columns[role]!;
    if (before >= 0) this.count(role, before, -1);
    this.columns[role] = device;
    if (device >= 0) this.count(role, device, 1);
  }

  /** Whether a device may play a role at all; a role may always stay empty. */
  may(role: number, device: number): boolean {
    return device < 0 || this.structure[this.pair(role, device)]! > 0;
  }

  /** What some roles are worth as they are, each with those before it: by structure and by what breaks ties. */
  private worth(changes: Changes, into: Float64Array): void {
    into[0] = 0;
    into[1] = 0;
    const now = this.scratch;
    for (let at = 0; at < changes.length; at++) {
      const role = changes[at]![0];
      now[at] = this.columns[role]!;
      this.put(role, -1);
    }
    for (let at = 0; at < changes.length; at++) {
      const role = changes[at]![0];
      const device = now[at]!;
      into[0] += this.gain(role, device);
      if (device >= 0) into[1] += this.ties[this.pair(role, device)]!;
      this.put(role, device);
    }
  }
  private readonly scratch: number[] = [];
  private readonly before = new Float64Array(2);
  private readonly after = new Float64Array(2);

  /** Gives some roles other devices. Out: how much better that is, by structure and with what breaks ties. */
  private change(changes: Changes): { structure: number; all: number } {
    const { before, after } = this;
    this.worth(changes, before);
    for (const [role, device] of changes) this.put(role, device);
    this.worth(changes, after);
    const structure = after[0]! - before[0]!;
    return { structure, all: structure + after[1]! - before[1]! };
  }

  /**
   * Whether a device stands in the subnet in which most of those stand whose roles share one with this role: where a device
   * that plays no role does, and the one that has the role does not, it is likelier that a cable went wrong.
   */
  private standsWithItsOwn(role: number, device: number): boolean {
    if (device < 0) return false;
    return [SUBNET_4, SUBNET_6].some((at) => {
      const p = this.partsOfA[at]![role]!;
      const q = this.partsOfB[at]![device]!;
      if (p < 0 || q < 0) return false;
      const own = this.columns[role]!;
      const others = this.together[this.both(p, q)]! - (own >= 0 && this.partsOfB[at]![own] === q ? 1 : 0);
      return others > 0 && others * 2 >= this.sizes[at]![p]! - 1;
    });
  }

  /** Tries a free device in a role: it stays where it is better, also for those with whom it shares its subnet. */
  private take(role: number, device: number): boolean {
    const before = this.columns[role]!;
    const brings = Number(this.standsWithItsOwn(role, device)) - Number(this.standsWithItsOwn(role, before));
    if (this.change([[role, device]]).all + OWN_SUBNET * brings > EPSILON) return true;
    this.put(role, before);
    return false;
  }

  /** Tries a change: it stays where it is better. */
  improve(changes: Changes): boolean {
    const undo = changes.map(([role]) => [role, this.columns[role]!] as const);
    if (this.change(changes).all > EPSILON) return true;
    for (const [role, device] of undo) this.put(role, device);
    return false;
  }

  /** How much a change would bring, without making it. */
  wouldBring(changes: Changes): { structure: number; all: number } {
    const undo = changes.map(([role]) => [role, this.columns[role]!] as const);
    const brings = this.change(changes);
    for (const [role, device] of undo) this.put(role, device);
    return brings;
  }

  /** The exchange of the devices of two roles; null where one of them cannot play the other. */
  swap(i: number, k: number): [number, number][] | null {
    const [x, y] = [this.columns[i]!, this.columns[k]!];
    return x !== y && this.may(i, y) && this.may(k, x)
      ? [
          [i, y],
          [k, x],
        ]
      : null;
  }

  /** Devices that play no role. */
  free(): number[] {
    const taken = new Set(this.columns);
    return this.b.ids.flatMap((_id, at) => (taken.has(at) ? [] : [at]));
  }

  /**
   * The exchange of all that plays the roles of two parts.
   * @param crossing what it counts that a device is of the other part; by itself more than all that speaks against it
   */
  swapParts(p: number, q: number, crossing = 10): [number, number][] | null {
    return this.swapAll(this.a.shares[p]!, this.a.shares[q]!, crossing);
  }

  /** The exchange of two devices of equipment with all that is nearer to each of them than to any other of its kind. */
  private branchPairs(): [readonly number[], readonly number[]][] {
    const kinds = new Map<string, number[]>();
    for (const [i] of this.a.ids.entries())
      if (this.a.classes[i] === 'intermediary')
        kinds.set(this.a.kinds[i]!, [...(kinds.get(this.a.kinds[i]!) ?? []), i]);
    return [...kinds.values()].flatMap((roots) => {
      const few = roots.slice(0, MOST_PARTS);
      const branches = this.branches(few);
      return few.flatMap((i, at) =>
        few.slice(at + 1).map((k): [readonly number[], readonly number[]] => [branches.get(i)!, branches.get(k)!]),
      );
    });
  }

  /** Of some roles each with the roles that are nearer to it than to the others. */
  private branches(roots: readonly number[]): Map<number, number[]> {
    const branches = new Map(roots.map((root) => [root, [root]]));
    const seen = new Set(roots);
    const queue = roots.map((root) => [root, root] as const);
    for (const [role, root] of queue)
      for (const other of this.a.links[role]!)
        if (!seen.has(other)) {
          seen.add(other);
          branches.get(root)!.push(other);
          queue.push([other, root]);
        }
    return branches;
  }

  /** The exchange of all that plays some roles and some others: each role gets that of the others which suits it most. */
  private swapAll(first: readonly number[], second: readonly number[], crossing: number): [number, number][] | null {
    const pool = [...first, ...second];
    const devices = (roles: readonly number[]): number[] =>
      roles.map((role) => this.columns[role]!).filter((device) => device >= 0);
    const [mine, theirs] = [devices(first), devices(second)];
    const changes: [number, number][] = [];
    const left = new Set([...mine, ...theirs]);
    const take = (roles: readonly number[], wanted: readonly number[]): void => {
      const own = new Set(wanted);
      for (const role of roles) {
        let best = -1;
        let value = -Infinity;
        for (const device of left) {
          if (!this.may(role, device)) continue;
          const pair = this.pair(role, device);
          const worth = this.structure[pair]! + this.ties[pair]! + (own.has(device) ? crossing : 0);
          if (worth > value) [best, value] = [device, worth];
        }
        if (best >= 0) left.delete(best);
        changes.push([role, best]);
      }
    };
    take(first, theirs);
    take(second, mine);
    return pool.length && changes.some(([role, device]) => this.columns[role] !== device) ? changes : null;
  }

  /** What of a device a role can see besides its name, as a number: devices of one sign are exchanged for nothing. */
  signOf(device: number): number {
    return device < 0 ? -1 : this.signs[device]!;
  }

  /** Pairs of parts of one sort in which roles could be meant the other way round. */
  partPairs(): [number, number][] {
    return PART_SORTS.flatMap((sort) => {
      const parts = [...new Set(this.a.parts[sort])].filter((part) => part >= 0).slice(0, MOST_PARTS);
      return parts.flatMap((p, at) => parts.slice(at + 1).map((q): [number, number] => [p, q]));
    });
  }

  /**
   * Exchanges, roles that a free device suits better, and whole parts, as long as that is better. Roles of one sign differ
   * in what breaks ties alone, which is settled to begin with: they are looked at again only where something changed.
   */
  settle(): void {
    const roles = this.a.ids.map((_id, role) => role);
    for (let pass = 0, better = true; better && pass < MAX_PASSES; pass++) {
      better = false;
      for (const i of roles)
        for (const k of roles) {
          if (k <= i || this.signOf(this.columns[i]!) === this.signOf(this.columns[k]!)) continue;
          if (pass === 0 && this.roleSigns[i] === this.roleSigns[k]) continue;
          const changes = this.swap(i, k);
          if (changes && this.improve(changes)) better = true;
        }
      for (const device of this.free())
        for (const role of roles) {
          if (this.signOf(this.columns[role]!) === this.signOf(device) || !this.may(role, device)) continue;
          if (this.take(role, device)) {
            better = true;
            break;
          }
        }
      for (const [p, q] of this.partPairs()) {
        const changes = this.swapParts(p, q, LINK_WEIGHT);
        if (changes && this.improve(changes)) better = true;
      }
      for (const [first, second] of this.branchPairs()) {
        const changes = this.swapAll(first, second, LINK_WEIGHT);
        if (changes && this.improve(changes)) better = true;
      }
    }
  }
}
/** Of each device what it is linked to and what it shares, as a number that is the same for the same. */
function signsOf({ ids, kinds, links, parts }: Graph): number[] {
  const known = new Map<string, number>();
  return ids.map((_id, at) => {
    const around = [...links[at]!].sort((x, y) => x - y).join();
    const text = [kinds[at]!, around, ...PART_SORTS.map((sort) => parts[sort][at]!)].join('|');
    let sign = known.get(text);
    if (sign === undefined) known.set(text, (sign = known.size));
    return sign;
  });
}

/** Parts beyond these are compared by their devices alone. */
const MOST_PARTS = 24;
