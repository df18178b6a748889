import {
  type Command,
  type Interface,
  type PortConfig,
  type StaticRoute,
  type Topology,
  entryOf,
  isSwitched,
  portsOf,
} from '../topology';
import { addressedPort } from './addressing';
import { portInterface } from './change';

type Role = NonNullable<PortConfig['role']>;

/** Ports of the bridge of a device, in the order of its model. */
export const switchedPorts = (topology: Topology, id: string): string[] =>
  portsOf(topology, topology.devices[id]!).flatMap((port) =>
    isSwitched(topology, topology.devices[id]!, port) && port.connector !== 'radio' ? port.key : [],
  );

/** Puts ports into a VLAN, which is created there if it is not: untagged frames are in it (PVID, IEEE 802.1Q-2018 §6.9). */
export function putIntoVlan(
  topology: Topology,
  device: string,
  ports: readonly string[],
  vlan: number,
  name: string,
): Command[] {
  const roleOf = (port: string): Role => {
    const now = topology.devices[device]!.ports?.[port]?.role;
    const voice = now?.kind === 'switched' && now.mode === 'access' ? now.voiceVlan : undefined;
    return { kind: 'switched', mode: 'access', accessVlan: vlan, ...(voice !== undefined && { voiceVlan: voice }) };
  };
  return [
    ...created(topology, device, [vlan], name),
    ...ports.map((port): Command => ({ kind: 'changePort', device, port, set: { role: roleOf(port) } })),
  ];
}

/** Makes trunks of ports: tagged frames of these VLANs pass; `native` is the one that goes without a tag. */
export function makeTrunks(
  topology: Topology,
  device: string,
  ports: readonly string[],
  allowed: 'all' | readonly number[],
  native?: number,
): Command[] {
  return ports.map((port): Command => {
    const now = topology.devices[device]!.ports?.[port]?.role;
    const kept = native ?? (now?.kind === 'switched' && now.mode === 'trunk' ? now.native : undefined);
    const role: Role = {
      kind: 'switched',
      mode: 'trunk',
      allowed: allowed === 'all' ? 'all' : [...allowed],
      ...(kept !== undefined && { native: kept }),
    };
    return { kind: 'changePort', device, port, set: { role } };
  });
}

/** The VLANs of a device with more of them; none where all are there. */
function created(topology: Topology, device: string, vlans: readonly number[], name: string): Command[] {
  const now = topology.devices[device]!.settings?.vlans ?? {};
  const missing = vlans.filter((vlan) => vlan !== 1 && entryOf(now, String(vlan)) === undefined);
  if (!missing.length) return [];
  const more = Object.fromEntries(missing.map((vlan) => [String(vlan), name || `VLAN ${vlan}`]));
  return [{ kind: 'setSettings', device, set: { vlans: { ...now, ...more } } }];
}

/** Binds ports to one link aggregation group that negotiates (IEEE 802.1AX). */
export function bundlePorts(topology: Topology, device: string, members: readonly string[]): Command[] {
  const now = topology.devices[device]!.settings?.bundles ?? {};
  let number = 1;
  while (entryOf(now, `b${number}`)) number++;
  const bundles = { ...now, [`b${number}`]: { members: [...members], protocol: 'active' as const } };
  return [{ kind: 'setSettings', device, set: { bundles } }];
}

/** One more static route. */
export const addRoute = (topology: Topology, device: string, route: StaticRoute): Command[] => [
  {
    kind: 'setSettings',
    device,
    set: { routes: [...(topology.devices[device]!.settings?.routes ?? []), route] },
  },
];

/** Hosts get address and gateway from a server: what was typed goes. Those without a port for it are left out. */
export function setAutomatic(topology: Topology, devices: readonly string[]): { commands: Command[]; left: string[] } {
  const left: string[] = [];
  const commands = devices.flatMap((id): Command[] => {
    const port = addressedPort(topology, id);
    if (port === undefined) {
      left.push(id);
      return [];
    }
    const [key, config] = portInterface(topology.devices[id]!, port);
    const next: Interface = { ...config, v4: { dhcp: true } };
    return [
      { kind: 'setInterface', device: id, key, set: next },
      ...(topology.devices[id]!.settings?.gateway4 === undefined
        ? []
        : [{ kind: 'setSettings' as const, device: id, set: { gateway4: null } }]),
    ];
  });
  return { commands, left };
}
