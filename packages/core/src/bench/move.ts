import { sitesWithin } from '../drawing';
import { type Command, type Topology, entriesById } from '../topology';
import { type Position } from './place';

/** Removes what is chosen: devices with their links, links, and sites (what stands in them stays). */
export function removeChosen(
  topology: Topology,
  chosen: {
    devices: readonly string[];
    links: readonly string[];
    sites: readonly string[];
    notes?: readonly string[];
  },
): Command[] {
  const devices = new Set(chosen.devices);
  // Links of removed devices go with them.
  const links = chosen.links.filter(
    (id) => !devices.has(topology.links[id]!.a.device) && !devices.has(topology.links[id]!.b.device),
  );
  return [
    ...(links.length ? [{ kind: 'disconnect' as const, ids: [...links] }] : []),
    ...(devices.size ? [{ kind: 'removeDevices' as const, ids: [...devices] }] : []),
    ...chosen.sites.map((id): Command => ({ kind: 'setSite', id, set: null })),
    ...(chosen.notes ?? []).map((id): Command => ({ kind: 'setNote', id, set: null })),
  ];
}

/** Moves a site with everything in it and in the sites inside it. */
export function moveSite(topology: Topology, id: string, by: Position): Command[] {
  const inside = sitesWithin(topology, id);
  const to = Object.fromEntries(
    entriesById(topology.devices)
      .filter(([, one]) => inside.has(one.site ?? ''))
      .map(([device, { at }]) => [device, { x: at.x + by.x, y: at.y + by.y }]),
  );
  const sites = [...inside].flatMap((one): Command[] => {
    const site = topology.sites[one]!;
    return site.area
      ? [
          {
            kind: 'setSite',
            id: one,
            set: { ...site, area: { ...site.area, x: site.area.x + by.x, y: site.area.y + by.y } },
          },
        ]
      : [];
  });
  return [...(Object.keys(to).length ? [{ kind: 'move' as const, to }] : []), ...sites];
}

/** Moves chosen devices by a step, for the arrow keys. */
export const moveBy = (topology: Topology, ids: readonly string[], by: Position): Command => ({
  kind: 'move',
  to: Object.fromEntries(
    ids.map((id) => [id, { x: topology.devices[id]!.at.x + by.x, y: topology.devices[id]!.at.y + by.y }]),
  ),
});
