import { type Device, type Topology, modelOf } from '../topology';

/** What one step of each sort costs: all of one second's work in a drawing of that sort is about the same. */
const COST = { device: 100, link: 20, route: 2, table: 0.5, vlan: 1 } as const;
const MOST_STEPS = 1_200_000;

/**
 * Why a drawing is too large to be judged, as a sentence; null for one that can be. Counted in what it holds, never in time,
 * so that it is the same on every machine: devices and links, routes that are typed, what routers tell one another (each
 * may hear of the addresses of all), and the VLANs that each switch may hear of.
 */
export function tooLarge(topology: Topology): string | null {
  const devices = Object.values(topology.devices);
  let [tellers, told, routes, bridges, addresses] = [0, 0, 0, 0, 0];
  const vlans = new Set<number>();
  for (const device of devices) {
    const n = Math.max(1, Object.keys(device.members ?? {}).length);
    const { ospf, ospf6, rip, routes: typed = [] } = device.settings ?? {};
    routes += n * typed.length;
    const own = Object.values(device.interfaces ?? {}).reduce(
      (sum, { v4, v6 }) => sum + (v4?.addresses?.length ?? 0) + (v6?.addresses?.length ?? 0),
      0,
    );
    addresses += n * own;
    if (ospf || ospf6 || rip) {
      tellers += n;
      told += n * (own + typed.length);
    }
    if (modelOf(topology, device)?.bridges === 'vlan') {
      bridges += n;
      for (const vlan of vlansOf(device)) vlans.add(vlan);
    }
  }
  const steps =
    COST.device * devices.length +
    COST.link * Object.keys(topology.links).length +
    COST.route * routes +
    COST.table * tellers * told +
    COST.vlan * bridges * vlans.size;
  if (steps <= MOST_STEPS) return null;
  return `It has ${devices.length} devices and ${addresses} addresses, ${routes} routes, ${tellers} routers that tell one another of theirs, and ${vlans.size} VLANs on ${bridges} switches: together more than can be judged.`;
}

/** The VLANs that a device names: at its ports and interfaces, in its list, and by radio. */
function vlansOf({ ports = {}, interfaces = {}, settings = {} }: Device): number[] {
  const atPorts = Object.values(ports).flatMap(({ role }) =>
    role?.kind === 'switched'
      ? [role.accessVlan, role.voiceVlan, role.native, ...(Array.isArray(role.allowed) ? role.allowed : [])]
      : [],
  );
  const atInterfaces = Object.values(interfaces).map(({ on }) => ('vlan' in on ? on.vlan : undefined));
  const byRadio = (settings.ssids ?? []).map(({ vlan }) => vlan);
  const listed = Object.keys(settings.vlans ?? {}).map(Number);
  return [...atPorts, ...atInterfaces, ...byRadio, ...listed].filter((vlan) => vlan !== undefined);
}
