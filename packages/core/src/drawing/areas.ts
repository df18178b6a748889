import { type Prefix, formatPrefix, parseInterfaceAddress, samePrefix, subnetOf } from '../address';
import { type Topology, entriesById, portOf } from '../topology';
import { type LinkLine } from './lines';
import { lengthOf, stationAt } from './media';
import { type Box, type Tile, MONO_ADVANCE, boxAround, firstAddressText } from './tiles';

/** A site as a tinted area; `depth` 0 for an outermost one. `tone` runs through the four tints by order. */
export interface SiteArea extends Box {
  readonly id: string;
  readonly name: string;
  readonly depth: number;
  readonly tone: number;
}

/** Space round the members of a site, more above for its tab and below for names, addresses and brackets. */
const ROUND = { left: 24, right: 24, top: 42, bottom: 72 };
const EMPTY_SITE = { width: 240, height: 140 };

/** The areas of sites, outermost first: as stored, else round what stands in them. */
export function siteAreas(topology: Topology, tiles: ReadonlyMap<string, Tile>): SiteArea[] {
  const known = new Map<string, SiteArea>();
  const sites = entriesById(topology.sites);
  const depthOf = (id: string): number => {
    const parent = topology.sites[id]?.parent;
    return parent === undefined ? 0 : 1 + depthOf(parent);
  };
  let free = 0;
  // Innermost first, so that an outer site can close round the areas inside it.
  for (const [id, site] of [...sites].sort(([a], [b]) => depthOf(b) - depthOf(a))) {
    const inside: Box[] = [
      ...entriesById(topology.devices).flatMap(([device, one]) => (one.site === id ? [tiles.get(device)!] : [])),
      ...sites.flatMap(([child, one]) => (one.parent === id && known.has(child) ? [known.get(child)!] : [])),
    ];
    const around = boxAround(inside);
    const computed: Box = around
      ? {
          x: around.x - ROUND.left,
          y: around.y - ROUND.top,
          width: around.width + ROUND.left + ROUND.right,
          height: around.height + ROUND.top + ROUND.bottom,
        }
      : { x: 20 + free++ * (EMPTY_SITE.width + 20), y: 20, ...EMPTY_SITE };
    const stored = site.area;
    // A stored area grows where members stand outside it: what belongs to a site is seen inside it.
    const box = stored ? (around ? boxAround([stored, computed])! : stored) : computed;
    known.set(id, {
      id,
      name: site.name,
      depth: depthOf(id),
      tone: sites.findIndex(([one]) => one === id) % 4,
      ...box,
    });
  }
  return [...known.values()].sort((a, b) => a.depth - b.depth || (a.id < b.id ? -1 : 1));
}

/** A site and all sites inside it. */
export function sitesWithin(topology: Topology, id: string): Set<string> {
  const inside = new Set([id]);
  for (const at of inside)
    for (const [child, site] of Object.entries(topology.sites)) if (site.parent === at) inside.add(child);
  return inside;
}

/** A subnet written once under the hosts it covers, with a bracket from the first to the last of them. */
export interface SubnetBracket {
  readonly prefix: string;
  readonly from: number;
  readonly to: number;
  readonly y: number;
  readonly middle: number;
  /** The tiles it covers. */
  readonly members: readonly string[];
}

const UNDER_TILE = 38;
const LEVEL = 30;
const MAX_LEVELS = 3;
/** Name and address under a standing tile, and the prefix under its bracket. */
const UNDER_TEXT = 32;
const PREFIX_HEIGHT = 18;

const subnetOfText = (text: string | null): Prefix | null => {
  const read = text === null ? null : parseInterfaceAddress(text);
  return read?.ok ? subnetOf(read.value) : null;
};

/**
 * Brackets under the rows of standing tiles. Where one would lie on another or on a tile it goes a level lower; where
 * there is no room at all, as in a column of hosts, there is none.
 */
export function subnetBrackets(topology: Topology, tiles: ReadonlyMap<string, Tile>): SubnetBracket[] {
  const groups = new Map<string, { prefix: string; tiles: Tile[] }>();
  for (const tile of tiles.values()) {
    if (tile.shape !== 'standing') continue;
    const subnet = subnetOfText(firstAddressText(topology.devices[tile.id]!));
    if (!subnet) continue;
    const prefix = formatPrefix(subnet);
    const key = `${prefix} ${Math.round(tile.y / 20)}`;
    const group = groups.get(key) ?? { prefix, tiles: [] };
    group.tiles.push(tile);
    groups.set(key, group);
  }
  const brackets: SubnetBracket[] = [];
  const taken: { low: number; high: number; y: number }[] = [];
  for (const { prefix, tiles: members } of [...groups.values()].sort((a, b) => a.tiles[0]!.x - b.tiles[0]!.x)) {
    const box = boxAround(members)!;
    const [from, to] = [box.x + 2, box.x + box.width - 2];
    const middle = (from + to) / 2;
    const half = Math.max((to - from) / 2, (prefix.length * MONO_ADVANCE) / 2) + 4;
    const isFree = (y: number): boolean =>
      !taken.some((one) => Math.abs(one.y - y) < LEVEL && one.low < middle + half && middle - half < one.high) &&
      ![...tiles.values()].some(
        (tile) =>
          tile.x < middle + half &&
          middle - half < tile.x + tile.width &&
          tile.y < y + PREFIX_HEIGHT &&
          y - 4 < tile.y + tile.height + (tile.shape === 'standing' ? UNDER_TEXT : 0),
      );
    const levels = Array.from({ length: MAX_LEVELS }, (_, level) => box.y + box.height + UNDER_TILE + level * LEVEL);
    const y = levels.find(isFree);
    if (y === undefined) continue;
    taken.push({ low: middle - half, high: middle + half, y });
    brackets.push({ prefix, from, to, y, middle, members: members.map((one) => one.id) });
  }
  return brackets;
}

/** The subnet of a link whose two ends carry addresses of it, written at the middle of the line. */
export interface LinkSubnet {
  readonly link: string;
  readonly prefix: string;
  readonly x: number;
  readonly y: number;
}

/** The address configured on a port itself; null where there is none. */
export function portAddressText(topology: Topology, deviceId: string, port: string): string | null {
  const device = topology.devices[deviceId];
  if (!device || !portOf(topology, device, port)) return null;
  for (const [, face] of entriesById(device.interfaces))
    if (face.on.kind === 'port' && face.on.port === port)
      return face.v4?.addresses?.[0] ?? face.v6?.addresses?.[0] ?? null;
  return null;
}

export function linkSubnets(
  topology: Topology,
  lines: ReadonlyMap<string, LinkLine>,
  tiles: ReadonlyMap<string, Tile>,
): LinkSubnet[] {
  return [...lines.values()].flatMap((line): LinkSubnet[] => {
    const [a, b] = [line.a, line.b].map((end) =>
      tiles.get(end.device)?.shape === 'lying' ? subnetOfText(portAddressText(topology, end.device, end.port)) : null,
    );
    if (!a || !b || !samePrefix(a, b)) return [];
    const { x, y, across } = stationAt(line.points, lengthOf(line.points) / 2);
    // Beside the line, on the upper or the right side of it.
    const away = Math.abs(across.y) > Math.abs(across.x) ? { x: 0, y: -15 } : { x: 12, y: 0 };
    return [{ link: line.id, prefix: formatPrefix(a), x: x + away.x, y: y + away.y }];
  });
}
