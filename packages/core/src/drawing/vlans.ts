import { type LinkEnd, type Topology, entriesById, isSwitched, modelOf, portOf } from '../topology';

/** What one end of a link lets through: everything, or some VLANs; null for a port that knows no VLANs. */
type Carried = 'all' | ReadonlySet<number> | null;

function carriedAt(topology: Topology, { device, port }: LinkEnd): Carried {
  const found = topology.devices[device];
  const facts = found && portOf(topology, found, port);
  if (!found || !facts) return null;
  if (!isSwitched(topology, found, facts) || modelOf(topology, found)?.bridges !== 'vlan') {
    const tags = Object.values(found.interfaces ?? {}).flatMap(({ on }) =>
      on.kind === 'sub' && on.port === port ? on.vlan : [],
    );
    return tags.length ? new Set(tags) : null;
  }
  const role = found.ports?.[port]?.role;
  if (role?.kind !== 'switched' || role.mode === 'access')
    return new Set([
      role?.kind === 'switched' ? (role.accessVlan ?? 1) : 1,
      ...(role?.kind === 'switched' && role.voiceVlan !== undefined ? [role.voiceVlan] : []),
    ]);
  return role.allowed === undefined || role.allowed === 'all' ? 'all' : new Set(role.allowed);
}

/** All VLANs that a drawing speaks of, in order: what is in VLAN 1 because nothing was set says nothing. */
export function vlansOf(topology: Topology): number[] {
  const found = new Set<number>();
  for (const device of Object.values(topology.devices)) {
    for (const vlan of Object.keys(device.settings?.vlans ?? {})) found.add(Number(vlan));
    for (const { on } of Object.values(device.interfaces ?? {})) if ('vlan' in on) found.add(on.vlan);
    for (const { role } of Object.values(device.ports ?? {}))
      if (role?.kind === 'switched')
        for (const vlan of [role.accessVlan, role.voiceVlan, ...(Array.isArray(role.allowed) ? role.allowed : [])])
          if (vlan !== undefined) found.add(vlan);
  }
  return [...found].sort((a, b) => a - b);
}

/** Which of the eight tones a VLAN has: by its place among those of the drawing. */
export const toneOfVlan = (vlans: readonly number[], vlan: number): number =>
  (Math.max(0, vlans.indexOf(vlan)) % 8) + 1;

/** The VLANs that each link carries: what both ends let through, in order. Links in a drawing without VLANs have none. */
export function linkVlans(topology: Topology): Map<string, number[]> {
  const all = vlansOf(topology);
  const carried = new Map<string, number[]>();
  if (!all.length) return carried;
  for (const [id, { a, b }] of entriesById(topology.links)) {
    const ends = [carriedAt(topology, a), carriedAt(topology, b)].filter((carried) => carried !== null);
    if (!ends.length) continue;
    const both = ends.map((end) => (end === 'all' ? new Set(all) : end));
    carried.set(
      id,
      all.filter((vlan) => both.every((set) => set.has(vlan))),
    );
  }
  return carried;
}
