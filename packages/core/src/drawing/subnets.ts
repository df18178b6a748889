import { type Prefix, formatPrefix, parseInterfaceAddress, samePrefix, subnetOf } from '../address';
import { type Topology } from '../topology';
import { type Box, type BoxIndex, boxAround } from './boxes';
import { Memo } from './memo';
import { type LinkLine } from './lines';
import { lengthOf, stationAt } from './media';
import { type Tile, MONO_ADVANCE, firstAddressText, portAddressText } from './tiles';

/**
 * A subnet written once under the hosts it covers, or above where their links leave below, with a bracket from the
 * first to the last.
 */
export interface SubnetBracket {
  readonly prefix: string;
  readonly from: number;
  readonly to: number;
  readonly y: number;
  readonly above: boolean;
  readonly middle: number;
  /** The tiles it covers. */
  readonly members: readonly string[];
}

/** The subnet of a link whose two ends carry addresses of it, written beside the middle of the line. */
export interface LinkSubnet {
  readonly link: string;
  readonly prefix: string;
  /** The middle of its pill. */
  readonly x: number;
  readonly y: number;
}

const FROM_TILE = 38;
const LEVEL = 30;
const MAX_LEVELS = 3;
const PREFIX_HEIGHT = 18;
const HOOK = 4;
/** The height of the badge that names a subnet, in pixels. */
export const PILL_HEIGHT = 16;
/** The width of the badge that names a subnet, in pixels. */
export const pillWidth = (prefix: string): number => prefix.length * MONO_ADVANCE + 12;
/** How far from the middle of its link a pill may slide to find a free place, and in what steps. */
const SLIDE = { most: 96, step: 12 };

const subnetOfText = (text: string | null): Prefix | null => {
  const read = text === null ? null : parseInterfaceAddress(text);
  return read?.ok ? subnetOf(read.value) : null;
};

/** The room of a bracket with its subnet. */
export const bracketBox = ({ from, to, y, above }: Pick<SubnetBracket, 'from' | 'to' | 'y' | 'above'>): Box => ({
  x: from,
  y: above ? y - PREFIX_HEIGHT : y - HOOK,
  width: to - from,
  height: PREFIX_HEIGHT + HOOK,
});

/** The subnets that a drawing tells, each where it belongs. */
export class Subnets {
  private readonly ofDevices = new Memo<string | null>();
  private readonly ofLinks = new Memo<string | null>();

  /**
   * Brackets under or above the rows of standing tiles. Where one would lie on another or on a tile it goes further away; where
   * there is no room at all, as in a column of hosts, there is none. `taken` holds the tiles with their texts.
   */
  brackets(
    topology: Topology,
    tiles: ReadonlyMap<string, Tile>,
    lines: ReadonlyMap<string, LinkLine>,
    taken: BoxIndex,
  ): SubnetBracket[] {
    const groups = new Map<string, { prefix: string; tiles: Tile[] }>();
    for (const tile of tiles.values()) {
      if (tile.shape !== 'standing') continue;
      const device = topology.devices[tile.id]!;
      const prefix = this.ofDevices.take(tile.id, [device], () => {
        const subnet = subnetOfText(firstAddressText(device));
        return subnet && formatPrefix(subnet);
      });
      if (prefix === null) continue;
      const key = `${prefix} ${Math.round(tile.y / 20)}`;
      const group = groups.get(key);
      if (group) group.tiles.push(tile);
      else groups.set(key, { prefix, tiles: [tile] });
    }
    this.ofDevices.turn();
    const leaving = { top: new Set<string>(), bottom: new Set<string>() };
    for (const { a, b } of lines.values())
      for (const { side, device } of [a, b]) if (side === 'top' || side === 'bottom') leaving[side].add(device);
    const brackets: SubnetBracket[] = [];
    const rows: { low: number; high: number; y: number }[] = [];
    for (const { prefix, tiles: members } of [...groups.values()].sort((a, b) => a.tiles[0]!.x - b.tiles[0]!.x)) {
      const box = boxAround(members)!;
      const [from, to] = [box.x + 2, box.x + box.width - 2];
      const middle = (from + to) / 2;
      const half = Math.max((to - from) / 2, (prefix.length * MONO_ADVANCE) / 2) + 4;
      const [low, high] = [middle - half, middle + half];
      const above = members.some(({ id }) => leaving.bottom.has(id)) && !members.some(({ id }) => leaving.top.has(id));
      const isFree = (y: number): boolean =>
        !rows.some((row) => Math.abs(row.y - y) < LEVEL && row.low < high && low < row.high) &&
        taken.isFree(bracketBox({ from: low, to: high, y, above }));
      const levels = Array.from({ length: MAX_LEVELS }, (_, level) => {
        const away = FROM_TILE + level * LEVEL;
        return above ? box.y - away : box.y + box.height + away;
      });
      const y = levels.find(isFree);
      if (y === undefined) continue;
      rows.push({ low, high, y });
      brackets.push({ prefix, from, to, y, above, middle, members: members.map((member) => member.id) });
    }
    return brackets;
  }

  /** Pills beside the middle of links, as near to it as is free; none where no place is. */
  onLinks(
    topology: Topology,
    lines: ReadonlyMap<string, LinkLine>,
    tiles: ReadonlyMap<string, Tile>,
    taken: BoxIndex,
  ): LinkSubnet[] {
    const pills = [...lines.values()].flatMap((line): LinkSubnet[] => {
      const [a, b] = [topology.devices[line.a.device], topology.devices[line.b.device]];
      const prefix = this.ofLinks.take(line.id, [topology.links[line.id], a, b], () =>
        subnetOfLink(topology, line, tiles),
      );
      if (prefix === null) return [];
      const place = placeOfPill(line, pillWidth(prefix), taken, topology.links[line.id]?.labelOffsets?.middle);
      if (!place) return [];
      taken.add(pillBox(place, pillWidth(prefix)));
      return [{ link: line.id, prefix, ...place }];
    });
    this.ofLinks.turn();
    return pills;
  }
}

function subnetOfLink(topology: Topology, line: LinkLine, tiles: ReadonlyMap<string, Tile>): string | null {
  const [a, b] = [line.a, line.b].map((end) =>
    tiles.get(end.device)?.shape === 'lying' ? subnetOfText(portAddressText(topology, end.device, end.port)) : null,
  );
  return a && b && samePrefix(a, b) ? formatPrefix(a) : null;
}

export const pillBox = ({ x, y }: { x: number; y: number }, width: number): Box => ({
  x: x - width / 2,
  y: y - PILL_HEIGHT / 2,
  width,
  height: PILL_HEIGHT,
});

/** Beside the line, on the upper or the right side of it, else on the other; by hand where that was wished. */
function placeOfPill(
  line: LinkLine,
  width: number,
  taken: BoxIndex,
  byHand: { x: number; y: number } | undefined,
): { x: number; y: number } | null {
  const length = lengthOf(line.points);
  const at = (way: number, side: 1 | -1): { x: number; y: number } => {
    const { x, y, across } = stationAt(line.points, way);
    return Math.abs(across.y) > Math.abs(across.x)
      ? { x, y: y - side * (PILL_HEIGHT / 2 + 7) }
      : { x: x + side * (width / 2 + 8), y };
  };
  if (byHand) {
    const { x, y } = stationAt(line.points, length / 2);
    return { x: x + byHand.x, y: y + byHand.y };
  }
  for (let slide = 0; slide <= Math.min(SLIDE.most, length / 2 - 12); slide += SLIDE.step)
    for (const way of slide ? [length / 2 - slide, length / 2 + slide] : [length / 2])
      for (const side of [1, -1] as const) {
        const place = at(way, side);
        if (taken.isFree(pillBox(place, width))) return place;
      }
  return null;
}
