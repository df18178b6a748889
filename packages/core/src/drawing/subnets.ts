import { type Prefix, formatPrefix, parseInterfaceAddress, samePrefix, subnetOf } from '../address';
import { type Device, type Topology, entriesById } from '../topology';
import { type Box, type BoxIndex, boxAround, overlap } from './boxes';
import { Memo } from './memo';
import { type LinkLine } from './lines';
import { lengthOf, stationAt } from './media';
import { type Tile, MONO_ADVANCE, isLeased } from './tiles';

/**
 * A subnet written once under the hosts it covers, or above where their links leave below, with a bracket from the
 * first to the last.
 */
export interface SubnetBracket {
  readonly prefix: string;
  /** What is written at it, one below the other: its subnet, with how many of the hosts lease, and others of theirs. */
  readonly lines: readonly string[];
  readonly from: number;
  readonly to: number;
  readonly y: number;
  readonly above: boolean;
  readonly middle: number;
  /** The tiles it covers. */
  readonly members: readonly string[];
}

/** The subnets that a link carries, written beside the middle of the line. */
export interface LinkSubnet {
  readonly link: string;
  /** One, or several as "10.84.15.0/30 · fd5e::/64". */
  readonly prefix: string;
  /** The middle of its pill. */
  readonly x: number;
  readonly y: number;
}

const FROM_TILE = 38;
const LEVEL = 30;
const MAX_LEVELS = 3;
const PREFIX_HEIGHT = 18;
/** From one line at a bracket to the next. */
const BRACKET_LINE = 13;
const HOOK = 4;
/** The height of the badge that names a subnet, in pixels. */
export const PILL_HEIGHT = 16;
/** The width of the badge that names a subnet, in pixels. */
export const pillWidth = (prefix: string): number => prefix.length * MONO_ADVANCE + 12;
/** How far from the middle of its link a pill may slide to find a free place, and in what steps. */
const SLIDE = { most: 96, step: 12 };

/** So many subnets are written in one place; of more it is said how many there are. */
const MOST_PREFIXES = 3;
const SEPARATOR = ' · ';

/** Subnets in one line; several of one kind are counted beyond the most that are written. */
function inOneLine(prefixes: readonly string[]): string {
  const shown = prefixes.length > MOST_PREFIXES ? prefixes.slice(0, MOST_PREFIXES - 1) : prefixes;
  const more = prefixes.length - shown.length;
  return [...shown, ...(more ? [`${more} more`] : [])].join(SEPARATOR);
}

function subnetsOfTexts(texts: readonly (string | undefined)[]): Prefix[] {
  const found: Prefix[] = [];
  for (const text of texts) {
    const read = text === undefined ? null : parseInterfaceAddress(text);
    const subnet = read?.ok ? subnetOf(read.value) : null;
    if (subnet && !found.some((known) => samePrefix(known, subnet))) found.push(subnet);
  }
  return found;
}

/** The subnets of the first address of each family that a device, or the first host of a tile, has. */
function subnetsOfHost(device: Pick<Device, 'interfaces' | 'members'>): string[] {
  const interfaces = entriesById(device.interfaces).map(([, interfaceConfig]) => interfaceConfig);
  const first = (family: 'v4' | 'v6'): string | undefined =>
    interfaces.find((each) => each[family]?.addresses?.length)?.[family]?.addresses?.[0];
  const found = subnetsOfTexts([first('v4'), first('v6')]).map(formatPrefix);
  const [, member] = entriesById(device.members)[0] ?? [];
  return found.length || !member ? found : subnetsOfHost(member);
}

/** The room of a bracket with its subnet. */
export function bracketBox({
  from,
  to,
  y,
  above,
  lines,
}: Pick<SubnetBracket, 'from' | 'to' | 'y' | 'above' | 'lines'>): Box {
  const texts = PREFIX_HEIGHT + (lines.length - 1) * BRACKET_LINE;
  return { x: from, y: above ? y - texts : y - HOOK, width: to - from, height: texts + HOOK };
}

/** The baseline of a line at a bracket: the first one is next to it. */
export const bracketLineY = ({ y, above, lines }: SubnetBracket, nth: number): number =>
  above ? y - 6 - (lines.length - 1 - nth) * BRACKET_LINE : y + 14 + nth * BRACKET_LINE;

/** The subnets that a drawing tells, each where it belongs. */
export class Subnets {
  private readonly ofDevices = new Memo<readonly string[]>();
  private readonly ofLinks = new Memo<readonly string[]>();

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
    const groups = new Map<string, { prefixes: Set<string>; tiles: Tile[] }>();
    for (const tile of tiles.values()) {
      if (tile.shape !== 'standing') continue;
      const device = topology.devices[tile.id]!;
      const prefixes = this.ofDevices.take(tile.id, [device], () => subnetsOfHost(device));
      if (!prefixes.length) continue;
      const key = `${prefixes[0]} ${Math.round(tile.y / 20)}`;
      const group = groups.get(key) ?? { prefixes: new Set(), tiles: [] };
      groups.set(key, group);
      group.tiles.push(tile);
      for (const prefix of prefixes) group.prefixes.add(prefix);
    }
    this.ofDevices.turn();
    const leaving = { top: new Set<string>(), bottom: new Set<string>() };
    for (const { a, b } of lines.values())
      for (const { side, device } of [a, b]) if (side === 'top' || side === 'bottom') leaving[side].add(device);
    const brackets: SubnetBracket[] = [];
    const rows: Box[] = [];
    for (const { prefixes, tiles: members } of [...groups.values()].sort((a, b) => a.tiles[0]!.x - b.tiles[0]!.x)) {
      const box = boxAround(members)!;
      const [from, to] = [box.x + 2, box.x + box.width - 2];
      const middle = (from + to) / 2;
      const above = members.some(({ id }) => leaving.bottom.has(id)) && !members.some(({ id }) => leaving.top.has(id));
      const levels = Array.from({ length: MAX_LEVELS }, (_, level) => {
        const away = FROM_TILE + level * LEVEL;
        return above ? box.y - away : box.y + box.height + away;
      });
      const leasing = members.filter(({ id }) => isLeased(topology.devices[id]!)).length;
      const [prefix, ...others] = prefixes;
      const first = `${prefix}${leasing === 0 ? '' : leasing === members.length ? ' leased' : `, ${leasing} leased`}`;
      // Where all find no room the first alone, which it is grouped by.
      for (const texts of others.length ? [[first, ...others.slice(0, MOST_PREFIXES - 1)], [first]] : [[first]]) {
        const widest = Math.max(...texts.map((text) => text.length * MONO_ADVANCE));
        const half = Math.max(to - from, widest) / 2 + 4;
        const boxAt = (y: number): Box =>
          bracketBox({ from: middle - half, to: middle + half, y, above, lines: texts });
        const y = levels.find((level) => !rows.some((row) => overlap(row, boxAt(level))) && taken.isFree(boxAt(level)));
        if (y === undefined) continue;
        rows.push(boxAt(y));
        const ids = members.map((member) => member.id);
        brackets.push({ prefix: prefix!, lines: texts, from, to, y, above, middle, members: ids });
        break;
      }
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
      const prefixes = this.ofLinks.take(line.id, [topology.links[line.id], a, b], () =>
        subnetsOfLink(topology, line, tiles),
      );
      // All in one line; where that finds no room, how many there are.
      for (const text of prefixes.length > 1 ? [inOneLine(prefixes), `${prefixes.length} subnets`] : prefixes) {
        const place = placeOfPill(line, pillWidth(text), taken, topology.links[line.id]?.labelOffsets?.middle);
        if (!place) continue;
        taken.add(pillBox(place, pillWidth(text)));
        return [{ link: line.id, prefix: text, ...place }];
      }
      return [];
    });
    this.ofLinks.turn();
    return pills;
  }
}

/** The subnets that both ends have an address of, and those of sub-interfaces at one end: the link carries them as a trunk. */
function subnetsOfLink(topology: Topology, line: LinkLine, tiles: ReadonlyMap<string, Tile>): string[] {
  const [a, b] = [line.a, line.b].map((end) => {
    if (tiles.get(end.device)?.shape !== 'lying') return null;
    const here = entriesById(topology.devices[end.device]?.interfaces)
      .map(([, interfaceConfig]) => interfaceConfig)
      .filter(({ on }) => (on.kind === 'port' || on.kind === 'sub') && on.port === end.port);
    const subnetsOf = (kind: 'port' | 'sub'): Prefix[] =>
      subnetsOfTexts(
        here
          .filter(({ on }) => on.kind === kind)
          .flatMap(({ v4, v6 }) => [...(v4?.addresses ?? []), ...(v6?.addresses ?? [])]),
      );
    return { port: subnetsOf('port'), sub: subnetsOf('sub') };
  });
  if (!a || !b) return [];
  const isAt = (end: { port: Prefix[]; sub: Prefix[] }, subnet: Prefix): boolean =>
    [...end.port, ...end.sub].some((known) => samePrefix(known, subnet));
  const shared = [...a.port, ...a.sub].filter((subnet) => isAt(b, subnet));
  const carried = [...a.sub, ...b.sub].filter((subnet) => !shared.some((known) => samePrefix(known, subnet)));
  return [...shared, ...carried].map(formatPrefix);
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
