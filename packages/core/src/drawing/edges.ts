import { type Link, type Topology, emptyTopology, entriesById } from '../topology';
import { centreOf } from './boxes';
import { unchanged } from './memo';
import { LYING_HEIGHT, type Side, type Tile, tileOf } from './tiles';

/** A point of the drawing, in pixels from its origin, x to the right and y down. */
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
  /** Its `socketKey`. */
  readonly key: string;
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
  /** Devices in their order. */
  readonly order: readonly string[];
  readonly links: ReadonlyMap<string, readonly LinkAt[]>;
  /** Tiles before they grow with the links at their sides. */
  readonly plain: Map<string, Tile>;
  readonly sides: Map<string, ReadonlyMap<string, Side>>;
  readonly tiles: ReadonlyMap<string, Tile>;
  readonly sockets: ReadonlyMap<string, Socket>;
}

const NO_PLACES: ReadonlyMap<string, Spot> = new Map();
const NO_LINKS: readonly LinkAt[] = [];
const nothing = (): State => ({
  topology: emptyTopology(),
  at: NO_PLACES,
  order: [],
  links: new Map(),
  plain: new Map(),
  sides: new Map(),
  tiles: new Map(),
  sockets: new Map(),
});

/**
 * Tiles of a drawing, and where links leave them. Kept from one drawing to the next: only devices that changed or were
 * moved are looked at, with their neighbours, and what is as it was stays the same object.
 */
export class Edges {
  private before = nothing();

  /** `at` replaces the positions of devices that are being dragged; `touched` are the links that may have changed. */
  of(
    topology: Topology,
    at = NO_PLACES,
  ): { tiles: ReadonlyMap<string, Tile>; sockets: ReadonlyMap<string, Socket>; touched: ReadonlySet<string> } {
    const { before } = this;
    const was = before.topology;
    const order = was.devices === topology.devices ? before.order : entriesById(topology.devices).map(([id]) => id);
    const links = was.links === topology.links ? before.links : linksByDevice(topology);
    const changed = changedDevices(before, topology, at, order);
    const { plain, sides } = before;
    const linksOf = (id: string): readonly LinkAt[] => links.get(id) ?? NO_LINKS;
    for (const id of changed)
      plain.set(id, unchanged(plain.get(id), tileOf(topology, id, linksOf(id).length, at.get(id))));

    const near = withNeighbours(changed, linksOf);
    const grown = new Map<string, Tile>();
    for (const id of near) {
      const isFree = topology.devices[id]!.label?.side === undefined;
      const growth = growing(plain.get(id)!, linksOf(id), plain, isFree);
      sides.set(id, growth.sides);
      grown.set(id, unchanged(before.tiles.get(id), growth.tile));
    }
    const tiles = new Map(order === before.order ? before.tiles : order.map((id) => [id, before.tiles.get(id)!]));
    for (const [id, tile] of grown) {
      if (before.tiles.get(id) !== tile) changed.add(id);
      tiles.set(id, tile);
    }

    const around = withNeighbours(changed, linksOf);
    for (const id of near) around.add(id);
    const sockets = new Map(before.sockets);
    if (was.links !== topology.links)
      for (const id of Object.keys(was.links))
        if (!topology.links[id]) for (const end of ['a', 'b'] as const) sockets.delete(socketKey(id, end));
    const touched = new Set<string>();
    for (const id of around) {
      socketsOf(tiles.get(id)!, linksOf(id), sides.get(id)!, tiles, before.sockets, sockets);
      for (const link of linksOf(id)) touched.add(link.id);
    }
    this.before = { topology, at, order, links, plain, sides, tiles, sockets };
    return { tiles, sockets, touched };
  }
}

/** The devices that are not as they were: themselves, in their place or in the links that they have. */
function changedDevices(
  { topology: was, at: wasAt }: State,
  topology: Topology,
  at: ReadonlyMap<string, Spot>,
  order: readonly string[],
): Set<string> {
  if (was.models !== topology.models) return new Set(order);
  const changed = new Set<string>();
  if (was.devices !== topology.devices)
    for (const id of order) if (was.devices[id] !== topology.devices[id]) changed.add(id);
  if (was.links !== topology.links) {
    const note = ({ a, b }: Link): void => {
      for (const { device } of [a, b]) if (topology.devices[device]) changed.add(device);
    };
    for (const [id, link] of Object.entries(topology.links))
      if (was.links[id] !== link) {
        note(link);
        if (was.links[id]) note(was.links[id]);
      }
    for (const [id, link] of Object.entries(was.links)) if (!topology.links[id]) note(link);
  }
  if (wasAt !== at)
    for (const id of [...wasAt.keys(), ...at.keys()])
      if (topology.devices[id] && !sameSpot(wasAt.get(id), at.get(id))) changed.add(id);
  return changed;
}

function withNeighbours(some: Iterable<string>, linksOf: (id: string) => readonly LinkAt[]): Set<string> {
  const found = new Set(some);
  for (const id of some) for (const { other } of linksOf(id)) found.add(other);
  return found;
}

const sameSpot = (a: Spot | undefined, b: Spot | undefined): boolean => a?.x === b?.x && a?.y === b?.y;

/** All devices as tiles. `at` replaces positions while something is dragged. */
export const tilesOf = (topology: Topology, at?: ReadonlyMap<string, Spot>): ReadonlyMap<string, Tile> =>
  new Edges().of(topology, at).tiles;

/** The key of the socket at an end of a link. */
export const socketKey = (link: string, end: 'a' | 'b'): string => `${end} ${link}`;

function linksByDevice(topology: Topology): Map<string, LinkAt[]> {
  const found = new Map<string, LinkAt[]>();
  for (const [id, link] of Object.entries(topology.links)) {
    if (!topology.devices[link.a.device] || !topology.devices[link.b.device]) continue;
    for (const end of ['a', 'b'] as const) {
      const list = found.get(link[end].device) ?? [];
      list.push({ id, link, end, other: link[end === 'a' ? 'b' : 'a'].device, key: socketKey(id, end) });
      found.set(link[end].device, list);
    }
  }
  return found;
}

/**
 * The side at which each link leaves, and a tile high enough for those that leave to the left or to the right. What is
 * written beside a host stands where no link leaves, as long as its side is free to choose.
 */
function growing(
  tile: Tile,
  links: readonly LinkAt[],
  tiles: ReadonlyMap<string, Tile>,
  isFree: boolean,
): { tile: Tile; sides: ReadonlyMap<string, Side> } {
  const sides = new Map(links.map((link) => [link.key, sideOf(link, tile, tiles.get(link.other)!)]));
  const count = (side: Side): number => [...sides.values()].filter((taken) => taken === side).length;
  const most = Math.max(count('left'), count('right'));
  const height = Math.max(LYING_HEIGHT, (most - 1) * UPRIGHT_SPACING + 2 * MARGIN);
  const grown = tile.shape === 'lying' && most > 2 ? { ...tile, height } : tile;
  if (tile.texts === 'inside') return { tile: grown, sides };
  const texts = (isFree && TEXT_SIDES.find((side) => count(side) === 0)) || tile.texts;
  return { tile: { ...grown, texts, away: tile.away + (count(texts) > 0 ? CHIP : 0) }, sides };
}

/** Where what is written beside a host stands: the first of these where no link leaves. */
const TEXT_SIDES = ['bottom', 'top', 'right', 'left'] as const;

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
  return { key: at.key, link: at.id, wish, other: level ? target.x : target.y };
}

/** Gives the ends on each edge of a tile their places: as near to their wishes as the distance between them allows. */
function socketsOf(
  tile: Tile,
  links: readonly LinkAt[],
  sides: ReadonlyMap<string, Side>,
  tiles: ReadonlyMap<string, Tile>,
  before: ReadonlyMap<string, Socket>,
  sockets: Map<string, Socket>,
): void {
  const wishes: Record<Side, Wish[]> = { top: [], right: [], bottom: [], left: [] };
  for (const link of links) {
    const side = sides.get(link.key)!;
    wishes[side].push(wishOf(link, side, tile, tiles.get(link.other)!));
  }
  for (const side of ['top', 'right', 'bottom', 'left'] as const) {
    const level = side === 'top' || side === 'bottom';
    const [start, length] = level ? [tile.x, tile.width] : [tile.y, tile.height];
    const margin = Math.min(MARGIN, length / 2);
    const sorted = wishes[side].sort((p, q) => p.wish - q.wish || p.other - q.other || (p.link < q.link ? -1 : 1));
    const places = spread(
      sorted.map((wish) => wish.wish),
      start + margin,
      start + length - margin,
      level ? SPACING : UPRIGHT_SPACING,
    );
    for (const [at, { key }] of sorted.entries())
      sockets.set(key, unchanged(before.get(key), onEdge(tile, side, places[at]!)));
  }
}

function onEdge({ x, y, width, height }: Tile, side: Side, along: number): Socket {
  switch (side) {
    case 'top':
      return { x: along, y: y - CHIP / 2, side };
    case 'bottom':
      return { x: along, y: y + height + CHIP / 2, side };
    case 'left':
      return { x: x - CHIP / 2, y: along, side };
    case 'right':
      return { x: x + width + CHIP / 2, y: along, side };
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
  return places.map((place) => place + allowed);
}
