import { type Command, type Device, type Interface, type PortConfig, type Topology, entriesById } from '../topology';

const isEmpty = (value: object | undefined): boolean => value === undefined || Object.keys(value).length === 0;
/** The object without properties that are undefined. */
const compact = <T extends object>(value: T): T =>
  Object.fromEntries(Object.entries(value).filter(([, one]) => one !== undefined)) as T;

/** Words for an address that a server gives. */
const AUTOMATIC = /^\s*(automatic|dhcp)\s*$/i;

/** The interface on a port itself, with its key; a fresh one where there is none. */
export function portInterface(device: Device, port: string, member?: string): [string, Interface] {
  const layers = member === undefined ? [device] : [device.members?.[member] ?? {}, device];
  for (const layer of layers)
    for (const [key, face] of entriesById(layer.interfaces))
      if (face.on.kind === 'port' && face.on.port === port) return [key, face];
  return [port, { on: { kind: 'port', port } }];
}

/** Sets the first address of one family on a port; an empty text takes it away. The text is kept as it was typed. */
export function setAddress(topology: Topology, deviceId: string, port: string, family: 4 | 6, text: string): Command {
  const [key, face] = portInterface(topology.devices[deviceId]!, port);
  if (family === 4 && AUTOMATIC.test(text))
    return { kind: 'setInterface', device: deviceId, key, set: { ...face, v4: { dhcp: true } } };
  const others = (family === 4 ? face.v4 : face.v6)?.addresses?.slice(1) ?? [];
  const addresses = text === '' ? others : [text, ...others];
  const layer = compact({ ...(family === 4 ? face.v4 : face.v6), addresses: addresses.length ? addresses : undefined });
  if (family === 4 && text !== '') delete (layer as { dhcp?: boolean }).dhcp;
  const next = compact({ ...face, [family === 4 ? 'v4' : 'v6']: isEmpty(layer) ? undefined : layer });
  return { kind: 'setInterface', device: deviceId, key, set: Object.keys(next).length === 1 ? null : next };
}

/** Changes some properties of a port's configuration; undefined takes one away. */
export function setPort(
  topology: Topology,
  deviceId: string,
  port: string,
  change: { [K in keyof PortConfig]?: PortConfig[K] | undefined },
): Command {
  const next = compact<object>({ ...topology.devices[deviceId]!.ports?.[port], ...change }) as PortConfig;
  return { kind: 'setPort', device: deviceId, port, set: isEmpty(next) ? null : next };
}

/** Renames a device. A hostname that was equal to the name goes along with it. */
export function rename(topology: Topology, deviceId: string, name: string): Command[] {
  const device = topology.devices[deviceId]!;
  const commands: Command[] = [{ kind: 'setDevice', id: deviceId, set: { name } }];
  if (device.settings?.hostname !== undefined && device.settings.hostname === device.name)
    commands.push({ kind: 'setSettings', device: deviceId, set: { hostname: name } });
  return commands;
}
