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
    pictures?: readonly string[];
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
    ...(chosen.pictures ?? []).map((id): Command => ({ kind: 'setPicture', id, set: null })),
  ];
}

/**
 * Puts devices to other places. Bends of links go along where both ends go the same way; where only one end moves they
 * stay where they were put.
 */
export function moveTo(topology: Topology, to: Readonly<Record<string, Position>>): Command[] {
  const way = (device: string): Position | null => {
    const [now, next] = [topology.devices[device]?.at, to[device]];
    return now && next ? { x: next.x - now.x, y: next.y - now.y } : null;
  };
  const bent = entriesById(topology.links).flatMap(([id, { a, b, bends }]): Command[] => {
    const [first, second] = bends ? [way(a.device), way(b.device)] : [null, null];
    return bends && first && second && first.x === second.x && first.y === second.y && (first.x || first.y)
      ? [{ kind: 'setLink', id, set: { bends: bends.map(({ x, y }) => ({ x: x + first.x, y: y + first.y })) } }]
      : [];
  });
  return Object.keys(to).length ? [{ kind: 'move', to: { ...to } }, ...bent] : [];
}

/** Moves a site with everything in it and in the sites inside it. */
export function moveSite(topology: Topology, id: string, by: Position): Command[] {
  const inside = sitesWithin(topology, id);
  const members = entriesById(topology.devices).flatMap(([device, { site }]) => (inside.has(site ?? '') ? device : []));
  const sites = [...inside].flatMap((id): Command[] => {
    const site = topology.sites[id]!;
    return site.area
      ? [
          {
            kind: 'changeSite',
            id: id,
            set: { area: { ...site.area, x: site.area.x + by.x, y: site.area.y + by.y } },
          },
        ]
      : [];
  });
  return [...moveBy(topology, members, by), ...sites];
}

/** Moves devices by a step, for instance with the arrow keys. */
export const moveBy = (topology: Topology, ids: readonly string[], by: Position): Command[] =>
  moveTo(
    topology,
    Object.fromEntries(
      ids.map((id) => [id, { x: topology.devices[id]!.at.x + by.x, y: topology.devices[id]!.at.y + by.y }]),
    ),
  );
