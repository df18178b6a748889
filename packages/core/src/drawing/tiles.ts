import { parseInterfaceAddress } from '../address';
import { type Device, type DeviceKind, type Topology, entriesById, modelOf } from '../topology';

/** A rectangle in the drawing's own pixels, y downwards. */
export interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

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
};
const LYING: ReadonlySet<DeviceKind> = new Set([
  'router',
  'switch',
  'l3-switch',
  'hub',
  'firewall',
  'cloud',
  'segment',
]);

export const tagOf = (kind: DeviceKind): string => TAGS[kind];
export const liesDown = (kind: DeviceKind): boolean => LYING.has(kind);

/** Sizes of tiles: a grid of 8 with half steps. */
export const LYING_HEIGHT = 44;
export const STANDING_SIZE = 40;
const LYING_MIN = 92;
const LYING_MAX = 400;
/** Room for one link at the upper or lower edge, with its chip and what is written beside it. */
const ROOM_PER_LINK = 30;
/** Advance of a letter of a tile's name (13 px, bold, the mean) and of mono text at 11 px. */
const NAME_ADVANCE = 7.6;
export const MONO_ADVANCE = 7.2;
const TEXT_START = 33;
const TAG_WIDTH = 26;

/** The line under the name of a lying tile: its own text, else its model. */
export const secondLine = (topology: Topology, device: Device): string =>
  device.label?.text ?? modelOf(topology, device)?.name ?? device.model;

/** All devices as tiles. `at` replaces positions while something is dragged. */
export function tilesOf(
  topology: Topology,
  at: ReadonlyMap<string, { x: number; y: number }> = new Map(),
): Map<string, Tile> {
  const tiles = new Map<string, Tile>();
  const links = linkCounts(topology);
  for (const [id, device] of entriesById(topology.devices)) {
    const kind = modelOf(topology, device)?.kind ?? 'segment';
    const lying = liesDown(kind);
    const count = device.members ? Object.keys(device.members).length : 1;
    const position = at.get(id) ?? device.at;
    tiles.set(id, {
      id,
      kind,
      count,
      x: position.x,
      y: position.y,
      tag: TAGS[kind],
      name: device.name,
      off: device.powered === false,
      shape: lying ? 'lying' : 'standing',
      width: lying ? lyingWidth(device.name, secondLine(topology, device), links.get(id) ?? 0) : STANDING_SIZE,
      height: lying ? LYING_HEIGHT : STANDING_SIZE,
    });
  }
  return tiles;
}

function lyingWidth(name: string, second: string, links: number): number {
  const text = TEXT_START + Math.max(name.length * NAME_ADVANCE + TAG_WIDTH, second.length * MONO_ADVANCE + 10);
  return Math.round(Math.min(LYING_MAX, Math.max(LYING_MIN, text, links * ROOM_PER_LINK)));
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
  for (const [, face] of entriesById(device.interfaces)) {
    const text = face.v4?.addresses?.[0] ?? face.v6?.addresses?.[0];
    if (text) return text;
  }
  const [, first] = entriesById(device.members)[0] ?? [];
  return first ? firstAddressText(first) : null;
}

/** What is written for an address where its subnet is written beside it: ".11" of 10.84.1.11/26; others as they are. */
export function shortAddress(text: string): string {
  const read = parseInterfaceAddress(text);
  if (!read.ok || read.value.address.family === 6) return text;
  return `.${Number(read.value.address.value & 0xffn)}`;
}

export const centreOf = ({ x, y, width, height }: Box): { x: number; y: number } => ({
  x: x + width / 2,
  y: y + height / 2,
});

/** The smallest box around others, with a margin. */
export function boxAround(boxes: readonly Box[], margin = 0): Box | null {
  if (!boxes.length) return null;
  const left = Math.min(...boxes.map((one) => one.x));
  const top = Math.min(...boxes.map((one) => one.y));
  const right = Math.max(...boxes.map((one) => one.x + one.width));
  const bottom = Math.max(...boxes.map((one) => one.y + one.height));
  return { x: left - margin, y: top - margin, width: right - left + 2 * margin, height: bottom - top + 2 * margin };
}
