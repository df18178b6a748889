import { type Topology, entriesById } from '../topology';
import { type LinkLine } from './lines';
import { lengthOf, stationAt } from './media';
import { type Tile } from './tiles';

/** Where a comment is pinned: the tip of its pin. */
export interface CommentPin {
  readonly id: string;
  readonly x: number;
  readonly y: number;
  readonly entries: number;
  readonly resolved: boolean;
  /** The first words of it. */
  readonly text: string;
}

/** Pins of one thing stand side by side. */
const BESIDE = 22;

/**
 * The pins of all comments: on the upper edge of a device, on a port, in the middle of a link, at a place. What a port's
 * comment hangs on is its link; without one it is pinned to the device.
 */
export function commentPins(
  topology: Topology,
  tiles: ReadonlyMap<string, Tile>,
  lines: ReadonlyMap<string, LinkLine>,
): CommentPin[] {
  const taken = new Map<string, number>();
  return entriesById(topology.comments).map(([id, { at, anchor, entries, resolved }]) => {
    const from = anchor ? placeOf(anchor, tiles, lines) : { x: 0, y: 0 };
    const place = { x: from.x + (at?.x ?? 0), y: from.y + (at?.y ?? 0) };
    const key = `${Math.round(place.x)} ${Math.round(place.y)}`;
    const nth = taken.get(key) ?? 0;
    taken.set(key, nth + 1);
    return {
      id,
      x: place.x + nth * BESIDE,
      y: place.y,
      entries: entries.length,
      resolved: resolved ?? false,
      text: entries[0]?.text ?? '',
    };
  });
}

function placeOf(
  { kind, id, port }: { kind: 'device' | 'link'; id: string; port?: string | undefined },
  tiles: ReadonlyMap<string, Tile>,
  lines: ReadonlyMap<string, LinkLine>,
): { x: number; y: number } {
  if (kind === 'link') {
    const line = lines.get(id);
    return line ? stationAt(line.points, lengthOf(line.points) / 2) : { x: 0, y: 0 };
  }
  if (port !== undefined)
    for (const line of lines.values())
      for (const end of [line.a, line.b]) if (end.device === id && end.port === port) return { x: end.x, y: end.y };
  const tile = tiles.get(id);
  return tile ? { x: tile.x + 14, y: tile.y } : { x: 0, y: 0 };
}
