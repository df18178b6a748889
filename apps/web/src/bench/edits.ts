import {
  type Command,
  type Device,
  type Interface,
  type PortConfig,
  type Topology,
  KIT,
  entriesById,
  own,
  portOf,
  tagOf,
  tilesOf,
} from '@sobrin/core';
import { sitesWithin } from '../drawing/drawing';

/** What people do on the bench, as commands. Pure: the document and the wish go in, commands come out. */

type Place = { x: number; y: number };
const GRID = 8;
const onGrid = (value: number): number => Math.round(value / GRID) * GRID;

/** The first names of the form TAG-1, TAG-2, … that no device has. */
export function freshNames(topology: Topology, model: string, count: number): string[] {
  const taken = new Set(Object.values(topology.devices).map((one) => one.name));
  const kind = (own(KIT, model) ?? own(topology.models, model))?.kind;
  const tag = kind ? tagOf(kind) : 'DEV';
  const names: string[] = [];
  for (let at = 1; names.length < count; at++) if (!taken.has(`${tag}-${at}`)) names.push(`${tag}-${at}`);
  return names;
}

/** Adds devices side by side, at the nearest free place to the right and below of where they are wished. */
export function addDevices(
  topology: Topology,
  model: string,
  count: number,
  wished: Place,
  site: string | undefined,
  newId: () => string,
): { ids: string[]; commands: Command[] } {
  const boxes = [...tilesOf(topology).values()].map(({ x, y, width, height }) => ({ x, y, width, height }));
  const names = freshNames(topology, model, count);
  const ids: string[] = [];
  const commands = names.map((name): Command => {
    const id = newId();
    const draft: Topology = { ...topology, devices: { [id]: { name, model, at: wished } }, links: {} };
    const { width, height } = tilesOf(draft).get(id)!;
    const at = freePlace(boxes, wished, width, height);
    boxes.push({ ...at, width, height });
    ids.push(id);
    return { kind: 'addDevice', id, device: { name, model, at, ...(site !== undefined && { site }) } };
  });
  return { ids, commands };
}

function freePlace(
  boxes: readonly { x: number; y: number; width: number; height: number }[],
  wished: Place,
  width: number,
  height: number,
): Place {
  const GAP = { x: 24, y: 40 };
  const free = (x: number, y: number): boolean =>
    boxes.every(
      (one) =>
        x + width + GAP.x <= one.x ||
        one.x + one.width + GAP.x <= x ||
        y + height + GAP.y <= one.y ||
        one.y + one.height + GAP.y <= y,
    );
  const [left, top] = [onGrid(wished.x), onGrid(wished.y)];
  for (let row = 0; row < 40; row++)
    for (let column = 0; column < 12; column++) {
      const [x, y] = [left + column * (width + GAP.x), top + row * 96];
      if (free(x, y)) return { x: onGrid(x), y };
    }
  return { x: left, y: top + 40 * 96 };
}

const isEmpty = (value: object | undefined): boolean => value === undefined || Object.keys(value).length === 0;
/** The object without properties that are undefined. */
const compact = <T extends object>(value: T): T =>
  Object.fromEntries(Object.entries(value).filter(([, one]) => one !== undefined)) as T;

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

/** Puts a module into a bay, or takes it out. Links in its ports go with it, and so do their settings. */
export function setModule(topology: Topology, deviceId: string, bay: string, module: string | null): Command[] {
  const device = topology.devices[deviceId]!;
  const { [bay]: _old, ...others } = device.modules ?? {};
  const modules = module === null ? others : { ...others, [bay]: module };
  const after: Topology = { ...topology, devices: { ...topology.devices, [deviceId]: { ...device, modules } } };
  const gone = (port: string): boolean =>
    portOf(topology, device, port) !== undefined && portOf(after, after.devices[deviceId]!, port) === undefined;
  const links = entriesById(topology.links)
    .filter(([, { a, b }]) => [a, b].some((end) => end.device === deviceId && gone(end.port)))
    .map(([id]) => id);
  const ports = Object.keys(device.ports ?? {}).filter(gone);
  const faces = entriesById(device.interfaces)
    .filter(([, { on }]) => (on.kind === 'port' || on.kind === 'sub') && gone(on.port))
    .map(([key]) => key);
  return [
    ...(links.length ? [{ kind: 'disconnect' as const, ids: links }] : []),
    ...ports.map((port): Command => ({ kind: 'setPort', device: deviceId, port, set: null })),
    ...faces.map((key): Command => ({ kind: 'setInterface', device: deviceId, key, set: null })),
    { kind: 'setDevice', id: deviceId, set: { modules: isEmpty(modules) ? null : modules } },
  ];
}

/** Removes what is chosen: devices with their links, links, and sites (what stands in them stays). */
export function removeChosen(
  topology: Topology,
  chosen: { devices: readonly string[]; links: readonly string[]; sites: readonly string[] },
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
  ];
}

/** Moves a site with everything in it and in the sites inside it. */
export function moveSite(topology: Topology, id: string, by: Place): Command[] {
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
export const moveBy = (topology: Topology, ids: readonly string[], by: Place): Command => ({
  kind: 'move',
  to: Object.fromEntries(
    ids.map((id) => [id, { x: topology.devices[id]!.at.x + by.x, y: topology.devices[id]!.at.y + by.y }]),
  ),
});
