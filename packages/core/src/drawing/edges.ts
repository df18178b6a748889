import { type Link, type Topology, entriesById } from '../topology';
import { centreOf } from './boxes';
import { Kept } from './kept';
import { LYING_HEIGHT, type Side, type Tile, linkCounts, tileOf } from './tiles';

export interface Spot {
  readonly x: number;
  readonly y: number;
}

/** Where a link leaves its tile: the centre of its port chip. */
export interface Socket extends Spot {
  readonly side: Side;
}

/** One end of a link as its tile sees it. */
interface LinkAt {
  readonly id: string;
  readonly link: Link;
  readonly end: 'a' | 'b';
  readonly other: string;
}

interface Wish {
  readonly key: string;
  readonly link: string;
  /** Where along the edge the end would like to be, and what decides the order among equals. */
  readonly wish: number;
  readonly other: number;
}

export const CHIP = 10;
/** Chips keep these distances on an edge as long as there is room: texts stand between those of level edges. */
const SPACING = 30;
const UPRIGHT_SPACING = 18;
const MARGIN = 14;
/** Tiles closer than this in height are side by side. */
const BESIDE = 24;

/** Tiles with the places where links leave them. */
interface State {
  readonly topology: Topology;
  readonly at: ReadonlyMap<string, Spot>;
  /** Tiles before they grow with the links at their sides. */
  readonly plain: Map<string, Tile>;
  readonly tiles: Map<string, Tile>;
  readonly sides: Map<string, ReadonlyMap<string, Side>>;
  readonly sockets: Map<string, Socket>;
}

const NO_PLACES: ReadonlyMap<string, Spot> = new Map();

/**
 * Tiles of a drawing, and where links leave them. Kept from one drawing to the next: what did not change stays the same
 * object, and while devices of a drawing are moved only they and their neighbours are looked at.
 */
export class Edges {
  private readonly plain = new Kept<Tile>();
  private readonly grown = new Kept<{ tile: Tile; sides: ReadonlyMap<string, Side> }>();
  private readonly sockets = new Kept<ReadonlyMap<string, Socket>>();
  private links: { of: Topology['links']; at: ReadonlyMap<string, readonly LinkAt[]>; counts: Map<string, number> } = {
    of: {},
    at: new Map(),
    counts: new Map(),
  };
  private before: State | null = null;

  /** `at` replaces the positions of devices that are being dragged; `touched` are the devices whose links may have changed, null for all. */
  of(
    topology: Topology,
    at = NO_PLACES,
  ): { tiles: ReadonlyMap<string, Tile>; sockets: ReadonlyMap<string, Socket>; touched: ReadonlySet<string> | null } {
    if (this.links.of !== topology.links)
      this.links = { of: topology.links, at: linksByDevice(topology), counts: linkCounts(topology) };
    const { before } = this;
    if (before?.topology === topology) {
      const state = { topology, at, ...copyOf(before) };
      const moved = new Set(
        [...before.at.keys(), ...at.keys()].filter((id) => !sameSpot(before.at.get(id), at.get(id))),
      );
      const touched = this.update(state, moved);
      this.before = state;
      return { tiles: state.tiles, sockets: state.sockets, touched };
    }
    const state: State = {
      topology,
      at,
      plain: new Map(),
      tiles: new Map(),
      sides: new Map(),
      sockets: new Map(),
    };
    this.update(state, new Set(entriesById(topology.devices).map(([id]) => id)));
    for (const kept of [this.plain, this.grown, this.sockets]) kept.turn();
    this.before = state;
    return { tiles: state.tiles, sockets: state.sockets, touched: null };
  }

  /** Works out anew what depends on some devices, and tells whose sockets those are. */
  private update({ topology, at, plain, tiles, sides, sockets }: State, ids: ReadonlySet<string>): Set<string> {
    const linksOf = (id: string): readonly LinkAt[] => this.links.at.get(id) ?? [];
    const withNeighbours = (some: Iterable<string>): Set<string> =>
      new Set([...some].flatMap((id) => [id, ...linksOf(id).map((one) => one.other)]));
    for (const id of ids) {
      const moved = at.get(id);
      const count = this.links.counts.get(id) ?? 0;
      const from = [topology.devices[id], count, moved?.x, moved?.y, topology.models];
      plain.set(
        id,
        this.plain.take(id, from, () => tileOf(topology, id, count, moved)),
      );
    }
    const near = withNeighbours(ids);
    const changed = new Set(ids);
    for (const id of near) {
      const tile = plain.get(id)!;
      const from = [tile, ...linksOf(id).flatMap(({ link, other }) => [link, plain.get(other)])];
      const grown = this.grown.take(id, from, () => growing(tile, linksOf(id), plain));
      if (tiles.get(id) !== grown.tile) changed.add(id);
      tiles.set(id, grown.tile);
      sides.set(id, grown.sides);
    }
    const touched = withNeighbours(changed);
    for (const id of near) touched.add(id);
    for (const id of touched) {
      const from = [
        tiles.get(id),
        sides.get(id),
        ...linksOf(id).flatMap(({ link, other }) => [link, tiles.get(other)]),
      ];
      const own = this.sockets.take(id, from, () => socketsOf(tiles.get(id)!, linksOf(id), sides.get(id)!, tiles));
      for (const [key, socket] of own) sockets.set(key, socket);
    }
    return touched;
  }
}

const copyOf = ({ plain, tiles, sides, sockets }: State): Pick<State, 'plain' | 'tiles' | 'sides' | 'sockets'> => ({
  plain: new Map(plain),
  tiles: new Map(tiles),
  sides: new Map(sides),
  sockets: new Map(sockets),
});
const sameSpot = (a: Spot | undefined, b: Spot | undefined): boolean => a?.x === b?.x && a?.y === b?.y;

/** All devices as tiles. `at` replaces positions while something is dragged. */
export const tilesOf = (topology: Topology, at?: ReadonlyMap<string, Spot>): ReadonlyMap<string, Tile> =>
  new Edges().of(topology, at).tiles;

export const socketKey = (link: string, end: 'a' | 'b'): string => `${end} ${link}`;

function linksByDevice(topology: Topology): Map<string, LinkAt[]> {
  const found = new Map<string, LinkAt[]>();
  for (const [id, link] of entriesById(topology.links)) {
    if (!topology.devices[link.a.device] || !topology.devices[link.b.device]) continue;
    for (const end of ['a', 'b'] as const) {
      const list = found.get(link[end].device) ?? [];
      list.push({ id, link, end, other: link[end === 'a' ? 'b' : 'a'].device });
      found.set(link[end].device, list);
    }
  }
  return found;
}

/** The side at which each link leaves, and a tile high enough for those that leave to the left or to the right. */
function growing(
  tile: Tile,
  links: readonly LinkAt[],
  tiles: ReadonlyMap<string, Tile>,
): { tile: Tile; sides: ReadonlyMap<string, Side> } {
  const sides = new Map(links.map((one) => [socketKey(one.id, one.end), sideOf(one, tile, tiles.get(one.other)!)]));
  const count = (side: Side): number => [...sides.values()].filter((one) => one === side).length;
  const most = Math.max(count('left'), count('right'));
  const height = Math.max(LYING_HEIGHT, (most - 1) * UPRIGHT_SPACING + 2 * MARGIN);
  return { tile: tile.shape === 'lying' && most > 2 ? { ...tile, height } : tile, sides };
}

const bendBeside = ({ link, end }: LinkAt): Spot | undefined => (end === 'a' ? link.bends?.[0] : link.bends?.at(-1));

function sideOf(at: LinkAt, mine: Tile, theirs: Tile): Side {
  const bend = bendBeside(at);
  const target = bend ?? centreOf(theirs);
  const centre = centreOf(mine);
  const [dx, dy] = [target.x - centre.x, target.y - centre.y];
  const above = bend ? target.y < mine.y - BESIDE / 2 : theirs.y + theirs.height + BESIDE <= mine.y;
  const below = bend ? target.y > mine.y + mine.height + BESIDE / 2 : theirs.y >= mine.y + mine.height + BESIDE;
  if (above) return 'top';
  if (below) return 'bottom';
  if (Math.abs(dx) >= Math.abs(dy) / 2) return dx < 0 ? 'left' : 'right';
  return dy < 0 ? 'top' : 'bottom';
}

function wishOf(at: LinkAt, side: Side, mine: Tile, theirs: Tile): Wish {
  const bend = bendBeside(at);
  const target = bend ?? centreOf(theirs);
  const level = side === 'top' || side === 'bottom';
  const [from, to] = level ? [mine.x, mine.x + mine.width] : [mine.y, mine.y + mine.height];
  const [otherFrom, otherTo] = level ? [theirs.x, theirs.x + theirs.width] : [theirs.y, theirs.y + theirs.height];
  // Where the two edges face each other both ends wish for the same place: the line is straight.
  const [low, high] = [Math.max(from, otherFrom), Math.min(to, otherTo)];
  const wish = bend ? (level ? bend.x : bend.y) : low < high ? (low + high) / 2 : level ? target.x : target.y;
  return { key: socketKey(at.id, at.end), link: at.id, wish, other: level ? target.x : target.y };
}

/** Gives the ends on each edge of a tile their places: as near to their wishes as the distance between them allows. */
function socketsOf(
  tile: Tile,
  links: readonly LinkAt[],
  sides: ReadonlyMap<string, Side>,
  tiles: ReadonlyMap<string, Tile>,
): Map<string, Socket> {
  const wishes: Record<Side, Wish[]> = { top: [], right: [], bottom: [], left: [] };
  for (const one of links) {
    const side = sides.get(socketKey(one.id, one.end))!;
    wishes[side].push(wishOf(one, side, tile, tiles.get(one.other)!));
  }
  const sockets = new Map<string, Socket>();
  for (const side of ['top', 'right', 'bottom', 'left'] as const) {
    const level = side === 'top' || side === 'bottom';
    const [start, length] = level ? [tile.x, tile.width] : [tile.y, tile.height];
    const margin = Math.min(MARGIN, length / 2);
    const sorted = wishes[side].sort((p, q) => p.wish - q.wish || p.other - q.other || (p.link < q.link ? -1 : 1));
    const places = spread(
      sorted.map((one) => one.wish),
      start + margin,
      start + length - margin,
      level ? SPACING : UPRIGHT_SPACING,
    );
    for (const [at, { key }] of sorted.entries()) sockets.set(key, { ...onEdge(tile, side, places[at]!), side });
  }
  return sockets;
}

function onEdge(tile: Tile, side: Side, along: number): Spot {
  switch (side) {
    case 'top':
      return { x: along, y: tile.y - CHIP / 2 };
    case 'bottom':
      return { x: along, y: tile.y + tile.height + CHIP / 2 };
    case 'left':
      return { x: tile.x - CHIP / 2, y: along };
    case 'right':
      return { x: tile.x + tile.width + CHIP / 2, y: along };
  }
}

/** Places at least `spacing` apart inside the bounds, in the given order; evenly where they do not fit. */
export function spread(wishes: readonly number[], low: number, high: number, spacing: number): number[] {
  const n = wishes.length;
  if (n === 0) return [];
  const room = Math.max(0, high - low);
  const step = n > 1 ? Math.min(spacing, room / (n - 1)) : 0;
  const places = wishes.map((wish) => Math.min(high, Math.max(low, wish)));
  for (let at = 1; at < n; at++) places[at] = Math.max(places[at]!, places[at - 1]! + step);
  // What was pushed beyond the upper bound pushes the others back.
  places[n - 1] = Math.min(places[n - 1]!, high);
  for (let at = n - 2; at >= 0; at--) places[at] = Math.min(places[at]!, places[at + 1]! - step);
  // Ends that wished for one and the same place lie evenly round it.
  const middle = (Math.min(...wishes) + Math.max(...wishes)) / 2;
  const shift = wishes.every((wish) => wish === wishes[0]) ? middle - (places[0]! + places[n - 1]!) / 2 : 0;
  const allowed = Math.max(low - places[0]!, Math.min(high - places[n - 1]!, shift));
  return places.map((one) => one + allowed);
}
