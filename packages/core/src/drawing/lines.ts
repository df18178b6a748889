import { type Link, type Medium, type Topology, entriesById } from '../topology';
import { type Tile, centreOf } from './tiles';

export interface Spot {
  readonly x: number;
  readonly y: number;
}
export type Side = 'top' | 'right' | 'bottom' | 'left';

/** One end of a link at its tile: the centre of its port chip, and where what is written there stands. */
export interface LineEnd extends Spot {
  readonly side: Side;
  readonly device: string;
  readonly port: string;
  readonly text: Spot & { readonly anchor: 'start' | 'middle' | 'end' };
  /** How wide the text may be, in pixels, before it meets a neighbour's chip or text. */
  readonly room: number;
}

/** A link as it is drawn: a polyline from the far side of one chip to that of the other. */
export interface LinkLine {
  readonly id: string;
  readonly medium: Medium;
  readonly a: LineEnd;
  readonly b: LineEnd;
  readonly points: readonly Spot[];
}

export const CHIP = 10;
/** Chips keep this distance on an edge as long as there is room. */
const SPACING = 30;
/** Links of one pair side by side need more: a barred chip is 16 wide. */
const MARGIN = 14;
/** Tiles closer than this in height are side by side. */
const BESIDE = 24;
/** From the centre of a chip to the text beside it, and from the text to what comes next. */
const TEXT_AWAY = 8;
const TEXT_GAP = 2;

interface Slot {
  link: string;
  end: 'a' | 'b';
  side: Side;
  /** Where along the edge the end would like to be, and what decides the order among equals. */
  wish: number;
  other: number;
}

/** The lines of all links between tiles. Ends share the edges of their tile without touching. */
export function linesOf(topology: Topology, tiles: ReadonlyMap<string, Tile>): Map<string, LinkLine> {
  const slots = new Map<string, Slot[]>();
  const links = entriesById(topology.links).filter(([, link]) => tiles.has(link.a.device) && tiles.has(link.b.device));
  for (const [id, link] of links)
    for (const end of ['a', 'b'] as const) {
      const key = link[end].device;
      slots.set(key, [...(slots.get(key) ?? []), slotOf(id, link, end, tiles)]);
    }
  const ends = new Map<string, LineEnd>();
  for (const [device, list] of slots)
    for (const side of ['top', 'right', 'bottom', 'left'] as const)
      place(
        tiles.get(device)!,
        side,
        list.filter((one) => one.side === side),
        topology,
        ends,
      );
  const pointsOf = new Map(
    links.map(
      ([id, link]) =>
        [id, [outside(ends.get(`a ${id}`)!), ...(link.bends ?? []), outside(ends.get(`b ${id}`)!)]] as const,
    ),
  );
  for (const [id, points] of pointsOf) {
    ends.set(`a ${id}`, withText(ends.get(`a ${id}`)!, points[1]));
    ends.set(`b ${id}`, withText(ends.get(`b ${id}`)!, points.at(-2)!));
  }
  shareRoom(ends);
  return new Map(
    links.map(([id, link]) => [
      id,
      { id, medium: link.medium, a: ends.get(`a ${id}`)!, b: ends.get(`b ${id}`)!, points: pointsOf.get(id)! },
    ]),
  );
}

/** Gives each text at an upper or lower edge the room up to the next chip, or half of it where the next text comes towards it. */
function shareRoom(ends: Map<string, LineEnd>): void {
  const edges = new Map<string, [string, LineEnd][]>();
  for (const entry of ends) {
    const { device, side } = entry[1];
    if (side === 'top' || side === 'bottom')
      edges.set(`${side} ${device}`, [...(edges.get(`${side} ${device}`) ?? []), entry]);
  }
  for (const edge of edges.values()) {
    edge.sort(([, p], [, q]) => p.x - q.x);
    for (const [at, [key, end]] of edge.entries()) {
      const next = edge[end.text.anchor === 'end' ? at - 1 : at + 1]?.[1];
      if (!next) continue;
      const gap = Math.abs(next.x - end.x);
      const shared = next.text.anchor !== end.text.anchor;
      ends.set(key, {
        ...end,
        room: shared ? gap / 2 - TEXT_AWAY - TEXT_GAP / 2 : gap - TEXT_AWAY - CHIP / 2 - TEXT_GAP,
      });
    }
  }
}

function slotOf(id: string, link: Link, end: 'a' | 'b', tiles: ReadonlyMap<string, Tile>): Slot {
  const [mine, theirs] = [tiles.get(link[end].device)!, tiles.get(link[end === 'a' ? 'b' : 'a'].device)!];
  const bend = end === 'a' ? link.bends?.[0] : link.bends?.at(-1);
  const target = bend ?? centreOf(theirs);
  const side = sideTowards(mine, theirs, target, bend !== undefined);
  const upright = side === 'top' || side === 'bottom';
  const [from, to] = upright ? [mine.x, mine.x + mine.width] : [mine.y, mine.y + mine.height];
  const [otherFrom, otherTo] = upright ? [theirs.x, theirs.x + theirs.width] : [theirs.y, theirs.y + theirs.height];
  // Where the two edges face each other both ends wish for the same place: the line is straight.
  const [low, high] = [Math.max(from, otherFrom), Math.min(to, otherTo)];
  const wish = bend ? (upright ? bend.x : bend.y) : low < high ? (low + high) / 2 : upright ? target.x : target.y;
  return { link: id, end, side, wish, other: upright ? target.x : target.y };
}

function sideTowards(mine: Tile, theirs: Tile, target: Spot, bent: boolean): Side {
  const centre = centreOf(mine);
  const [dx, dy] = [target.x - centre.x, target.y - centre.y];
  const above = bent ? target.y < mine.y - BESIDE / 2 : theirs.y + theirs.height + BESIDE <= mine.y;
  const below = bent ? target.y > mine.y + mine.height + BESIDE / 2 : theirs.y >= mine.y + mine.height + BESIDE;
  if (above) return 'top';
  if (below) return 'bottom';
  if (Math.abs(dx) >= Math.abs(dy) / 2) return dx < 0 ? 'left' : 'right';
  return dy < 0 ? 'top' : 'bottom';
}

/** Gives each end of one edge its place: as near to its wish as the distance to its neighbours allows. */
function place(tile: Tile, side: Side, slots: Slot[], topology: Topology, ends: Map<string, LineEnd>): void {
  if (!slots.length) return;
  const upright = side === 'top' || side === 'bottom';
  const start = upright ? tile.x : tile.y;
  const length = upright ? tile.width : tile.height;
  const margin = Math.min(MARGIN, length / 2);
  const sorted = [...slots].sort((p, q) => p.wish - q.wish || p.other - q.other || (p.link < q.link ? -1 : 1));
  const wishes = sorted.map((one) => one.wish);
  const places = spread(wishes, start + margin, start + length - margin, upright ? SPACING : 18);
  for (const [at, slot] of sorted.entries()) {
    const along = places[at]!;
    const centre: Spot =
      side === 'top'
        ? { x: along, y: tile.y - CHIP / 2 }
        : side === 'bottom'
          ? { x: along, y: tile.y + tile.height + CHIP / 2 }
          : side === 'left'
            ? { x: tile.x - CHIP / 2, y: along }
            : { x: tile.x + tile.width + CHIP / 2, y: along };
    const { device, port } = topology.links[slot.link]![slot.end];
    ends.set(`${slot.end} ${slot.link}`, {
      ...centre,
      side,
      device,
      port,
      text: { ...centre, anchor: 'start' },
      room: Infinity,
    });
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

const OUT: Record<Side, Spot> = {
  top: { x: 0, y: -1 },
  bottom: { x: 0, y: 1 },
  left: { x: -1, y: 0 },
  right: { x: 1, y: 0 },
};
const outside = ({ x, y, side }: LineEnd): Spot => ({
  x: x + (OUT[side].x * CHIP) / 2,
  y: y + (OUT[side].y * CHIP) / 2,
});

/** What is written at an end stands to the right of its chip; to the left where a flat line takes the right side. */
function withText(end: LineEnd, next: Spot): LineEnd {
  const { x, y, side } = end;
  if (side === 'left') return { ...end, text: { x: x - 7, y: y - 8, anchor: 'end' } };
  if (side === 'right') return { ...end, text: { x: x + 7, y: y - 8, anchor: 'start' } };
  const goesRight = next.x - x > 1.2 * Math.abs(next.y - y);
  return {
    ...end,
    text: {
      x: x + (goesRight ? -TEXT_AWAY : TEXT_AWAY),
      y: y + (side === 'top' ? 2 : 5),
      anchor: goesRight ? 'end' : 'start',
    },
  };
}
