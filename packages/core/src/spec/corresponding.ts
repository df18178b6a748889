import { type NetworkModel } from '../engine';
import { type RoleMatch } from './matching/match';

/** What was looked up, with the answers. */
export type Read = Readonly<Record<What, ReadonlyMap<string, string | null>>>;
type What = 'device' | 'role' | 'site';

const nothing = (): Record<What, Map<string, string | null>> => ({
  device: new Map(),
  role: new Map(),
  site: new Map(),
});
/** Something that was worked out, with what was looked up for it. */
export interface Kept<T> {
  readonly value: T;
  readonly read: Read;
}
/** Of what looked nothing up. */
export const READ_NOTHING: Read = nothing();

/**
 * Which device, and which site, of a drawing stands for which of the reference. What is looked up is noted: what was
 * worked out from the same answers comes to the same, and need not be worked out again for another arrangement.
 */
export class Corresponding {
  private readonly answers: Readonly<Record<What, ReadonlyMap<string, string>>>;
  private readonly helpers: ReadonlyMap<string, readonly string[]>;
  /** Null while nobody asks what is looked up. */
  private noted: ReturnType<typeof nothing> | null = null;

  constructor(reference: NetworkModel, drawn: NetworkModel, matching: readonly RoleMatch[]) {
    const device = new Map(matching.flatMap(({ role, device }) => (device === null ? [] : [[role, device] as const])));
    this.helpers = new Map(matching.flatMap(({ role, with: others }) => (others ? [[role, others] as const] : [])));
    const role = new Map([
      ...[...this.helpers].flatMap(([role, others]) => others.map((device) => [device, role] as const)),
      ...[...device].map(([role, device]) => [device, role] as const),
    ]);
    this.answers = { device, role, site: matchSites(reference, drawn, device) };
  }

  /** A drawing made from the reference: each device that is still there plays its own role. */
  static ownRoles(reference: NetworkModel, drawn: NetworkModel = reference): Corresponding {
    const still = [...reference.instances.keys()].filter((role) => drawn.instances.has(role));
    return new Corresponding(
      reference,
      drawn,
      still.map((role) => ({ role, device: role })),
    );
  }

  /** The device that plays a role; null where none does. */
  device(role: string): string | null {
    return this.look('device', role);
  }
  /** That device, and those that do the work of the role together with it. */
  devices(role: string): readonly string[] {
    const device = this.device(role);
    return [...(device === null ? [] : [device]), ...(this.helpers.get(role) ?? [])];
  }
  /** The role that a device plays, alone or with others. */
  role(device: string): string | null {
    return this.look('role', device);
  }
  /** The site of the drawing that corresponds to one of the reference. */
  site(id: string): string | null {
    return this.look('site', id);
  }

  /** What comes of some work, with all that was looked up for it. */
  reading<T>(work: () => T): Kept<T> {
    const before = this.noted;
    const read = (this.noted = nothing());
    try {
      return { value: work(), read };
    } finally {
      this.noted = before;
      this.reads(read);
    }
  }
  /** Works something out once for a key: whoever asks again has looked up the same. */
  once<K, T>(kept: Map<K, Kept<T>>, key: K, work: () => T): T {
    let found = kept.get(key);
    if (!found) kept.set(key, (found = this.reading(work)));
    this.reads(found.read);
    return found.value;
  }
  private reads(read: Read): void {
    if (!this.noted) return;
    for (const what of WHAT) for (const [id, answer] of read[what]) this.noted[what].set(id, answer);
  }
  /** Whether all that was looked up elsewhere is answered alike here. */
  agrees(read: Read): boolean {
    for (const what of WHAT)
      for (const [id, answer] of read[what]) if ((this.answers[what].get(id) ?? null) !== answer) return false;
    return true;
  }

  private look(what: What, id: string): string | null {
    const answer = this.answers[what].get(id) ?? null;
    this.noted?.[what].set(id, answer);
    return answer;
  }
}
const WHAT: readonly What[] = ['device', 'role', 'site'];

/**
 * A site of the drawing corresponds to the site of the reference most of whose devices stand there; each to one at
 * most.
 */
function matchSites(
  reference: NetworkModel,
  student: NetworkModel,
  deviceOf: ReadonlyMap<string, string>,
): Map<string, string> {
  const votes = new Map<string, { site: string; their: string; n: number }>();
  for (const [role, device] of deviceOf) {
    const [site, their] = [reference.instances.get(role)?.device.site, student.instances.get(device)?.device.site];
    if (site === undefined || their === undefined) continue;
    const key = `${site} ${their}`;
    votes.set(key, { site, their, n: (votes.get(key)?.n ?? 0) + 1 });
  }
  const result = new Map<string, string>();
  const taken = new Set<string>();
  for (const [, { site, their }] of [...votes].sort(([x, a], [y, b]) => b.n - a.n || (x < y ? -1 : 1))) {
    if (result.has(site) || taken.has(their)) continue;
    result.set(site, their);
    taken.add(their);
  }
  return result;
}
