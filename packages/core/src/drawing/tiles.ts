import { parseInterfaceAddress } from '../address';
import { type Device, type DeviceKind, type Topology, entriesById, modelOf, wasGiven } from '../topology';
import { type Box } from './boxes';
import { boldWidth } from './letters';

export type Side = 'top' | 'right' | 'bottom' | 'left';

/** A device as it is drawn: network devices lie with their name inside, hosts stand with their name below. */
export interface Tile extends Box {
  readonly id: string;
  readonly shape: 'lying' | 'standing';
  readonly kind: DeviceKind;
  /** The two letters in the corner. */
  readonly tag: string;
  readonly name: string;
  /** How many like hosts the tile stands for; 1 for a single device. */
  readonly count: number;
  readonly off: boolean;
  /** What lies above what; 0 where nothing is said. */
  readonly layer: number;
  /** Its tint, one of eight tones; null for none. */
  readonly tint: number | null;
  /** Where its name and second line stand. */
  readonly texts: Side | 'inside';
  /** How far from it they stand, so that they keep clear of port chips. */
  readonly away: number;
  /** Its name in lines, and how wide they may be, where neighbours leave no room for the whole in one. */
  readonly written?: { readonly lines: readonly string[]; readonly width: number };
}

const TAGS: Record<DeviceKind, string> = {
  router: 'RT',
  switch: 'SW',
  'l3-switch': 'L3',
  hub: 'HB',
  firewall: 'FW',
  'access-point': 'AP',
  'home-gateway': 'HG',
  modem: 'MD',
  converter: 'CV',
  segment: 'BS',
  cloud: 'CL',
  desktop: 'PC',
  laptop: 'LT',
  server: 'SV',
  printer: 'PR',
  phone: 'PH',
  tablet: 'TB',
  smartphone: 'SP',
  camera: 'CM',
  till: 'TI',
  turnstile: 'TU',
  controller: 'CT',
  sensor: 'SE',
  device: 'WD',
  'patch-panel': 'PP',
  outlet: 'OU',
};
const LYING: ReadonlySet<DeviceKind> = new Set([
  'router',
  'switch',
  'l3-switch',
  'hub',
  'firewall',
  'cloud',
  'segment',
  'patch-panel',
]);

/** The letters that a tile carries for its kind of device. */
export const tagOf = (kind: DeviceKind): string => TAGS[kind];
export const liesDown = (kind: DeviceKind): boolean => LYING.has(kind);

/** Sizes of tiles: a grid of 8 with half steps. */
export const LYING_HEIGHT = 44;
export const STANDING_SIZE = 40;
const LYING_MIN = 92;
const LYING_MAX = 400;
/** Room for one link at the upper or lower edge, with its chip and what is written beside it. */
const ROOM_PER_LINK = 30;
/** What a chip needs at the least, however many there are. */
const ROOM_PER_CHIP = 12;
/** Advance of a letter of a tile's name (13 px, bold, the mean) and of mono text at 11 px. */
const NAME_ADVANCE = 7.6;
export const MONO_ADVANCE = 7.2;
const TEXT_START = 33;
const TAG_WIDTH = 26;

/** The line under the name of a lying tile: its own text, else its model. */
export const secondLine = (topology: Topology, device: Device): string =>
  device.label?.text ?? modelOf(topology, device)?.name ?? device.model;

/** How strong the tint of a tile is: what is written on it stays readable. */
export const TILE_TINT = 0.2;

/** A device as a tile of the least height, at its place or where it is dragged to. */
export function tileOf(topology: Topology, id: string, links: number, at?: { x: number; y: number }): Tile {
  const device = topology.devices[id]!;
  const kind = modelOf(topology, device)?.kind ?? 'segment';
  const lying = liesDown(kind);
  const { x, y } = at ?? device.at;
  return {
    id,
    kind,
    x,
    y,
    count: device.members ? Object.keys(device.members).length : 1,
    tag: TAGS[kind],
    name: device.name,
    off: device.powered === false,
    layer: device.layer ?? 0,
    tint: device.tint ?? null,
    shape: lying ? 'lying' : 'standing',
    texts: device.label?.side ?? (lying ? 'inside' : 'bottom'),
    away: TEXTS_AWAY,
    width: lying ? lyingWidth(device.name, secondLine(topology, device), links) : STANDING_SIZE,
    height: lying ? LYING_HEIGHT : STANDING_SIZE,
  };
}

function lyingWidth(name: string, second: string, links: number): number {
  const text = TEXT_START + Math.max(name.length * NAME_ADVANCE + TAG_WIDTH, second.length * MONO_ADVANCE + 10);
  const room = Math.max(Math.min(links * ROOM_PER_LINK, LYING_MAX), links * ROOM_PER_CHIP);
  return Math.round(Math.max(LYING_MIN, Math.min(text, LYING_MAX), room));
}

/** How many link ends each device has. */
export function linkCounts(topology: Topology): Map<string, number> {
  const counts = new Map<string, number>();
  for (const { a, b } of Object.values(topology.links))
    for (const end of [a, b]) counts.set(end.device, (counts.get(end.device) ?? 0) + 1);
  return counts;
}

/** The first IPv4 or IPv6 address typed for a device, or for the first host of a tile, readable or not; null for none. */
export function firstAddressText(device: Pick<Device, 'interfaces' | 'members'>): string | null {
  for (const [, interfaceConfig] of entriesById(device.interfaces)) {
    const text = interfaceConfig.v4?.addresses?.[0] ?? interfaceConfig.v6?.addresses?.[0];
    if (text) return text;
  }
  const [, first] = entriesById(device.members)[0] ?? [];
  return first ? firstAddressText(first) : null;
}

/** Whether the address that is written for a device was given to it, and not set. */
export function isLeased(device: Device): boolean {
  const text = firstAddressText(device);
  return text !== null && wasGiven(device, text);
}

/** The address of a host as it is written under its tile: short where its subnet is written there, too. */
export function addressUnder(device: Device, bracketed: boolean): string {
  const text = firstAddressText(device);
  if (text === null) return '';
  return bracketed ? shortAddress(text) : `${text}${isLeased(device) ? ' leased' : ''}`;
}

/** The address configured on a port itself; null where there is none. */
export function portAddressText(topology: Topology, deviceId: string, port: string): string | null {
  const device = topology.devices[deviceId];
  for (const [, interfaceConfig] of entriesById(device?.interfaces))
    if (interfaceConfig.on.kind === 'port' && interfaceConfig.on.port === port)
      return interfaceConfig.v4?.addresses?.[0] ?? interfaceConfig.v6?.addresses?.[0] ?? null;
  return null;
}

/** What is written for an address where its subnet is written beside it: ".11" of 10.84.1.11/26; others as they are. */
export function shortAddress(text: string): string {
  const read = parseInterfaceAddress(text);
  if (!read.ok || read.value.address.family === 6) return text;
  return `.${Number(read.value.address.value & 0xffn)}`;
}

export const LINE_HEIGHT = 14;
const NAME_SIZE = 12;
/** The widest that a name outside of its tile is. */
export const WIDEST_NAME = 130;
/** Names that stand beside one another are this far apart. */
export const NAME_GAP = 6;
/** How wide a name outside of its tile, or a part of it, would like to be in one line. */
export const lineWidth = (name: string): number => Math.ceil(boldWidth(name, NAME_SIZE));
export const nameWidth = (name: string): number => Math.min(WIDEST_NAME, lineWidth(name));
/** Lines beside a tile stand a little further away than those above and below it. */
const TEXTS_AWAY = 3;
const MORE_BESIDE = 3;

/**
 * The box of the lines that stand outside of a tile: its name, and what is written below it. Null where they stand
 * inside.
 */
export function textsBox(tile: Tile, second: string): Box | null {
  if (tile.texts === 'inside') return null;
  const width = Math.max(tile.written?.width ?? nameWidth(tile.name), second.length * MONO_ADVANCE);
  const height = LINE_HEIGHT * ((tile.written?.lines.length ?? 1) + (second ? 1 : 0)) + 2;
  const { x, y } = tile;
  const across = x + tile.width / 2 - width / 2;
  const down = y + tile.height / 2 - height / 2;
  switch (tile.texts) {
    case 'top':
      return { x: across, y: y - height - tile.away, width, height };
    case 'bottom':
      return { x: across, y: y + tile.height + tile.away, width, height };
    case 'left':
      return { x: x - width - tile.away - MORE_BESIDE, y: down, width, height };
    case 'right':
      return { x: x + tile.width + tile.away + MORE_BESIDE, y: down, width, height };
  }
}
