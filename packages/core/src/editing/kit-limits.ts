import { type Topology, kitIdOf, modelOf, entryOf } from '../topology';
import { countOf } from './shape';

/** The models that a lab allows, with how many of each. */
export type KitLimits = Readonly<Record<string, { most?: number | undefined }>>;

/** How many more of a model a lab allows in a drawing: null for any number. */
export function leftInKit(topology: Topology, model: string, kit: KitLimits | undefined): number | null {
  if (!kit) return null;
  const own = kitIdOf(topology, model);
  const allowed = entryOf(kit, own);
  if (!allowed) return 0;
  if (allowed.most === undefined) return null;
  const there = Object.values(topology.devices)
    .filter((device) => kitIdOf(topology, device.model) === own)
    .reduce((sum, device) => sum + countOf(device), 0);
  return Math.max(0, allowed.most - there);
}

/** What is said of a model in the kit: how many are left, or that the lab does without it. Null where any number may be had. */
export function leftWords(topology: Topology, model: string, kit: KitLimits | undefined): string | null {
  const left = leftInKit(topology, model, kit);
  if (left === null) return null;
  const most = kit && entryOf(kit, kitIdOf(topology, model))?.most;
  return most === undefined || most === 0
    ? 'not in this lab'
    : left === 0
      ? `all ${most} are in use`
      : `${left} of ${most} left`;
}

/** Why so many more of a model cannot be had, as a sentence; null where they can. */
export function kitRefusal(
  topology: Topology,
  model: string,
  name: string,
  count: number,
  kit: KitLimits | undefined,
): string | null {
  const left = leftInKit(topology, model, kit);
  if (left === null || count <= left) return null;
  return kit && entryOf(kit, kitIdOf(topology, model))?.most
    ? `The lab’s kit has ${left === 0 ? 'no more' : `only ${left} more`} of “${name}”.`
    : `The lab’s kit has no “${name}”: take another model.`;
}

/** Why a drawing as a whole cannot take the place of another: it has more of a model than the kit allows, and than there were. */
export function kitRefusalOf(before: Topology, after: Topology, kit: KitLimits | undefined): string | null {
  const there = modelCounts(before);
  for (const [model, count] of modelCounts(after)) {
    const more = count - (there.get(model) ?? 0);
    if (more <= 0) continue;
    const device = Object.values(after.devices).find((device) => kitIdOf(after, device.model) === model)!;
    const why = kitRefusal(before, model, modelOf(after, device)?.name ?? model, more, kit);
    if (why !== null) return why;
  }
  return null;
}

function modelCounts(topology: Topology): Map<string, number> {
  const counts = new Map<string, number>();
  for (const device of Object.values(topology.devices)) {
    const model = kitIdOf(topology, device.model);
    counts.set(model, (counts.get(model) ?? 0) + countOf(device));
  }
  return counts;
}
