import {
  type Command,
  type Device,
  type Interface,
  type PortConfig,
  type Topology,
  entriesById,
  entryOf,
  filled,
  isEmpty,
} from '../topology';

/** Words for an address that a server gives. */
export const AUTOMATIC = /^\s*(automatic|dhcp)\s*$/i;

/** The interface on a port itself, with its key; a fresh one where there is none. */
export function portInterface(device: Device, port: string, member?: string): [string, Interface] {
  const layers = member === undefined ? [device] : [device.members?.[member] ?? {}, device];
  for (const layer of layers)
    for (const [key, interfaceConfig] of entriesById(layer.interfaces))
      if (interfaceConfig.on.kind === 'port' && interfaceConfig.on.port === port) return [key, interfaceConfig];
  return [port, { on: { kind: 'port', port } }];
}

/** The object without properties that are undefined. */
const compact = <T extends object>(value: T): T =>
  Object.fromEntries(Object.entries(value).filter(([, setting]) => setting !== undefined)) as T;

type Changed<T> = { readonly [K in keyof T]?: T[K] | undefined };
/** As commands have it: what is empty is taken away, and that is null. */
const asSet = <T extends object>(change: Changed<T>) =>
  Object.fromEntries(Object.entries(change).map(([key, value]) => [key, isEmpty(value) ? null : value])) as {
    [K in keyof T]: T[K] | null;
  };

/**
 * Changes some properties of an interface; an empty one is taken away. One that has nothing set is not stored, unless it
 * `stays`: then it is there for its own sake, as a loopback is.
 *
 * @param now the interface as it is, or as it would be where nothing is stored
 */
export function changeInterface(
  { devices }: Topology,
  deviceId: string,
  key: string,
  now: Interface,
  change: Changed<Omit<Interface, 'on'>>,
  stays = false,
): Command {
  const next = { on: now.on, ...filled({ ...now, ...change }) };
  const at = { device: deviceId, key };
  if (!stays && Object.keys(next).length === 1) return { kind: 'setInterface', ...at, set: null };
  return entryOf(devices[deviceId]!.interfaces, key)
    ? { kind: 'changeInterface', ...at, set: asSet(change) }
    : { kind: 'setInterface', ...at, set: next };
}

/** Sets the first address of one family on a port; an empty text takes it away. The text is kept as it was typed. */
export function setAddress(topology: Topology, deviceId: string, port: string, family: 4 | 6, text: string): Command {
  const [key, now] = portInterface(topology.devices[deviceId]!, port);
  if (family === 4 && AUTOMATIC.test(text))
    return changeInterface(topology, deviceId, key, now, { v4: { dhcp: true } });
  const others = (family === 4 ? now.v4 : now.v6)?.addresses?.slice(1) ?? [];
  const addresses = text === '' ? others : [text, ...others];
  return changeInterface(
    topology,
    deviceId,
    key,
    now,
    family === 4
      ? { v4: filled({ ...now.v4, addresses, dhcp: text === '' ? now.v4?.dhcp : undefined }) }
      : { v6: filled({ ...now.v6, addresses }) },
  );
}

/** Changes some properties of a port's configuration; an empty one is taken away. */
export const changePort = (device: string, port: string, change: Changed<PortConfig>): Command => ({
  kind: 'changePort',
  device,
  port,
  set: asSet(change),
});

/** What a port does that belongs to the bridge of its device: access or trunk, with its VLANs (IEEE 802.1Q). */
export type SwitchedRole = Extract<NonNullable<PortConfig['role']>, { kind: 'switched' }>;
/** What a port of a bridge does with VLANs: by default, untagged frames are in VLAN 1. */
export const switchedRole = (device: Device, port: string): SwitchedRole => {
  const role = entryOf(device.ports, port)?.role;
  return role?.kind === 'switched' ? role : { kind: 'switched', mode: 'access' };
};

/** Changes some properties of what a port does with VLANs; undefined takes one away. */
export function changeRole(device: Device, id: string, port: string, change: Changed<SwitchedRole>): Command {
  const role = compact({ ...switchedRole(device, port), ...change });
  return changePort(id, port, { role: role.mode === 'access' && Object.keys(role).length === 2 ? undefined : role });
}

/** Renames a device. A hostname that was equal to the name goes along with it. */
export function rename(topology: Topology, deviceId: string, name: string): Command[] {
  const device = topology.devices[deviceId]!;
  const commands: Command[] = [{ kind: 'setDevice', id: deviceId, set: { name } }];
  if (device.settings?.hostname !== undefined && device.settings.hostname === device.name)
    commands.push({ kind: 'setSettings', device: deviceId, set: { hostname: name } });
  return commands;
}
