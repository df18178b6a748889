import { type Tile, tilesOf } from '../drawing';
import { type Command, type Topology } from '../topology';

/** The edges and middles along which devices are aligned. */
export const EDGES = ['left', 'centre', 'right', 'top', 'middle', 'bottom'] as const;
/** One of the edges and middles along which devices are aligned. */
export type Edge = (typeof EDGES)[number];
/** The direction in which devices are spaced evenly. */
export type Direction = 'across' | 'down';

/** Smallest space between tiles that are spread out, so that names and link ends keep their room. */
const LEAST_GAP = 16;

const chosenTiles = (topology: Topology, ids: readonly string[]): Tile[] => {
  const tiles = tilesOf(topology);
  return ids.flatMap((id) => tiles.get(id) ?? []);
};
const move = (places: readonly (readonly [string, { x: number; y: number }])[]): Command | null =>
  places.length
    ? {
        kind: 'move',
        to: Object.fromEntries(places.map(([id, { x, y }]) => [id, { x: Math.round(x), y: Math.round(y) }])),
      }
    : null;

/**
 * Brings devices into one line: their edges or centres to the outermost edge, or to the middle of all. Null for fewer
 * than two.
 */
export function align(topology: Topology, ids: readonly string[], edge: Edge): Command | null {
  const tiles = chosenTiles(topology, ids);
  if (tiles.length < 2) return null;
  const [left, right] = [
    Math.min(...tiles.map((tile) => tile.x)),
    Math.max(...tiles.map((tile) => tile.x + tile.width)),
  ];
  const [top, bottom] = [
    Math.min(...tiles.map((tile) => tile.y)),
    Math.max(...tiles.map((tile) => tile.y + tile.height)),
  ];
  const place: Record<Edge, (tile: Tile) => { x: number; y: number }> = {
    left: ({ y }) => ({ x: left, y }),
    centre: ({ y, width }) => ({ x: (left + right - width) / 2, y }),
    right: ({ y, width }) => ({ x: right - width, y }),
    top: ({ x }) => ({ x, y: top }),
    middle: ({ x, height }) => ({ x, y: (top + bottom - height) / 2 }),
    bottom: ({ x, height }) => ({ x, y: bottom - height }),
  };
  return move(tiles.map((tile) => [tile.id, place[edge](tile)] as const));
}

/**
 * Spreads devices so that the spaces between them are equal. The outermost stay; where they stand too close for that, the
 * row grows from the first one on. Null for fewer than three.
 */
export function spaceEvenly(topology: Topology, ids: readonly string[], direction: Direction): Command | null {
  const [start, size] = direction === 'across' ? (['x', 'width'] as const) : (['y', 'height'] as const);
  const tiles = chosenTiles(topology, ids).sort((a, b) => a[start] - b[start] || (a.id < b.id ? -1 : 1));
  if (tiles.length < 3) return null;
  const [first, last] = [tiles[0]!, tiles[tiles.length - 1]!];
  const room = last[start] + last[size] - first[start] - tiles.reduce((sum, tile) => sum + tile[size], 0);
  const gap = Math.max(LEAST_GAP, room / (tiles.length - 1));
  let at = first[start];
  return move(
    tiles.map((tile) => {
      const place = { x: tile.x, y: tile.y, [start]: at };
      at += tile[size] + gap;
      return [tile.id, place] as const;
    }),
  );
}
