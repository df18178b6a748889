import { type SwitchedRole, switchedRole } from '../../editing';
import { type Topology, entriesById } from '../../topology';
import { type PluggedEnd, pluggedEnds, switchesOf } from '../places';

/** Links at ports of switches, with what the port does with VLANs. */
export function* bridgedEnds(topology: Topology): Iterable<PluggedEnd & { readonly role: SwitchedRole }> {
  const switches = new Set(switchesOf(topology).map(({ id }) => id));
  for (const plugged of pluggedEnds(topology)) {
    const { device, facts, end } = plugged;
    if (switches.has(end.device) && facts.switched && device.ports?.[end.port]?.role?.kind !== 'routed')
      yield { ...plugged, role: switchedRole(device, end.port) };
  }
}

/** All VLANs that a drawing speaks of, in order. */
export function vlansOf(topology: Topology): number[] {
  const found = new Set([1]);
  for (const { device } of switchesOf(topology)) {
    for (const vlan of Object.keys(device.settings?.vlans ?? {})) found.add(Number(vlan));
    for (const [, { role }] of entriesById(device.ports))
      if (role?.kind === 'switched' && role.accessVlan !== undefined) found.add(role.accessVlan);
  }
  return [...found].sort((a, b) => a - b);
}
