import { type Command, type Topology, entriesById } from '../topology';

/** Binds devices together: choosing one of them chooses all. */
export const group = (ids: readonly string[], newId: () => string): Command[] => {
  const id = newId();
  return ids.map((device) => ({ kind: 'setDevice', id: device, set: { group: id } }));
};

/** Takes the groups apart that any of the devices belongs to. */
export const ungroup = (topology: Topology, ids: readonly string[]): Command[] =>
  wholeGroups(topology, ids)
    .filter((id) => topology.devices[id]!.group !== undefined)
    .map((id) => ({ kind: 'setDevice', id, set: { group: null } }));

/** Devices with all that are bound to any of them. */
export function wholeGroups(topology: Topology, ids: readonly string[]): string[] {
  const groups = new Set(ids.flatMap((id) => topology.devices[id]?.group ?? []));
  if (!groups.size) return [...ids];
  const bound = entriesById(topology.devices).flatMap(([id, device]) => (groups.has(device.group ?? '') ? id : []));
  return [...new Set([...ids, ...bound])];
}

const MOST = 1000;

/** Puts devices above all others, or below them. */
export function inLayer(topology: Topology, ids: readonly string[], place: 'front' | 'back'): Command[] {
  const chosen = new Set(ids);
  const others = entriesById(topology.devices).flatMap(([id, device]) => (chosen.has(id) ? [] : (device.layer ?? 0)));
  const layer = place === 'front' ? Math.max(0, ...others) + 1 : Math.min(0, ...others) - 1;
  const within = Math.min(MOST, Math.max(-MOST, layer));
  return ids.map((id) => ({ kind: 'setDevice', id, set: { layer: within } }));
}
