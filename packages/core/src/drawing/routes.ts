import { type Topology } from '../topology';
import { type Box, boxAround, clipped, overlap } from './boxes';
import { type Spot } from './edges';
import { type LinkLine } from './lines';
import { Memo } from './memo';
import { type Tile, textsBox } from './tiles';

/** How far a line keeps from a tile that it goes round: the first of these with which there is a way. */
const CLEARANCES = [10, 4] as const;
/** What a way costs beside its length: each corner, each name that it runs over, each free line that it crosses. */
const COST = { corner: 24, name: 40, crossing: 60 };
/** Lines that turn at one corner are this far apart, as long as the clearance lasts. */
const APART = 3;
const NEAREST = 3;
/** Beyond so many tiles in its way a line is drawn straight: going round them all would be harder to follow. */
const MOST_IN_THE_WAY = 16;
/** Where more lines than this would have to be led, none is: they run beneath the tiles, as nobody could follow the ways. */
const MOST_LED = 120;

/** Where a way turns: beside the corner of a tile, which lies in that direction. */
interface Corner extends Spot {
  readonly towards: Spot;
  readonly clearance: number;
}

/** Tiles other than its own that a line runs through. */
export const tilesUnder = (line: LinkLine, tiles: Iterable<Tile>): Tile[] =>
  line.medium === 'wireless' ? [] : [...tiles].filter((tile) => isUnder(line, tile));

const isUnder = ({ a, b, points, box }: LinkLine, tile: Tile): boolean =>
  meets(tile, box) && tile.id !== a.device && tile.id !== b.device && crosses(points, tile);

const crosses = (points: readonly Spot[], box: Box): boolean =>
  points.slice(1).some((to, at) => {
    const from = points[at]!;
    return meets(boxOf([from, to]), box) && clipped(from, to, box) !== null;
  });

const NO_CORNERS: readonly Corner[] = [];
interface Way {
  /** The line before it was led, whether no tile is in its way, and where it turns otherwise. */
  readonly straight: LinkLine;
  readonly isFree: boolean;
  readonly corners: readonly Corner[];
  /** Where a tile or a free line that comes or goes may change it. */
  readonly around: Box;
}

/**
 * Leads lines without bends of a person's round the tiles that they would run through. A way is kept as long as its line
 * and the tiles near it stay; while devices are moved, the lines that change are straight, and all others stay.
 */
export class Routes {
  private tiles: ReadonlyMap<string, Tile> = new Map();
  private ways: ReadonlyMap<string, Way> = new Map();
  private areLed = true;
  private readonly led = new Memo<LinkLine>();

  of(
    topology: Topology,
    lines: ReadonlyMap<string, LinkLine>,
    tiles: ReadonlyMap<string, Tile>,
    isMoving: boolean,
  ): ReadonlyMap<string, LinkLine> {
    const before = this.ways;
    const ways = new Map<string, Way>();
    if (isMoving) {
      // What is drawn while things move is no answer for when they rest.
      for (const [id, line] of lines) {
        const old = before.get(id);
        ways.set(id, old?.straight === line ? old : freeWay(line));
      }
      return this.lead(ways);
    }
    const moved = movedTiles(this.tiles, tiles);
    const all = [...tiles.values()];
    const isKept = (way: Way): boolean => !moved.some((box) => overlap(box, way.around));
    for (const [id, line] of lines) {
      const old = before.get(id);
      if (old?.straight === line && isKept(old)) ways.set(id, old);
      else {
        const isBent = Boolean(topology.links[id]?.bends?.length);
        const isFree = isBent || line.medium === 'wireless' || !all.some((tile) => isUnder(line, tile));
        ways.set(id, { ...freeWay(line), isFree });
      }
    }
    moved.push(...movedLines(before, ways));
    const free = [...ways.values()].flatMap((way) => (way.isFree ? [way.straight] : []));
    const areLed = ways.size - free.length <= MOST_LED;
    for (const [id, way] of ways) {
      if (way.isFree || (this.areLed === areLed && before.get(id) === way && isKept(way))) continue;
      ways.set(id, areLed ? wayOf(way.straight, tiles, all, free) : { ...freeWay(way.straight), isFree: false });
    }
    [this.tiles, this.ways, this.areLed] = [tiles, ways, areLed];
    return this.lead(ways);
  }

  /** The lines on their ways, side by side where several turn at one corner. */
  private lead(ways: ReadonlyMap<string, Way>): ReadonlyMap<string, LinkLine> {
    const turns = new Map<string, { id: string; at: number; inside: number }[]>();
    for (const [id, { straight, corners }] of ways)
      for (const [at, corner] of corners.entries()) {
        const [before, after] = [corners[at - 1] ?? straight.points[0]!, corners[at + 1] ?? straight.points.at(-1)!];
        const key = `${corner.x} ${corner.y}`;
        const turn = { id, at, inside: inside(corner, before) + inside(corner, after) };
        turns.set(key, [...(turns.get(key) ?? []), turn]);
      }
    const rankOf = new Map<string, number>();
    for (const list of turns.values())
      if (list.length > 1)
        for (const [rank, { id, at }] of list.sort((a, b) => a.inside - b.inside || (a.id < b.id ? -1 : 1)).entries())
          rankOf.set(`${at} ${id}`, rank);
    const led = new Map<string, LinkLine>();
    for (const [id, { straight, corners }] of ways) {
      const ranks = corners.map((_corner, at) => rankOf.get(`${at} ${id}`) ?? 0);
      led.set(
        id,
        corners.length
          ? this.led.take(id, [straight, corners, ...ranks], () => turned(straight, corners, ranks))
          : straight,
      );
    }
    this.led.turn();
    return led;
  }
}

/** How far a place beside a corner lies towards the tile: who comes from further inside turns nearer to it. */
const inside = ({ x, y, towards }: Corner, spot: Spot): number => {
  const length = Math.hypot(spot.x - x, spot.y - y) || 1;
  return ((spot.x - x) * towards.x + (spot.y - y) * towards.y) / length;
};

function turned(straight: LinkLine, corners: readonly Corner[], ranks: readonly number[]): LinkLine {
  const beside = corners.map(({ x, y, towards, clearance }, at) => {
    const nearer = Math.min(ranks[at]! * APART, clearance - NEAREST);
    return { x: x + towards.x * nearer, y: y + towards.y * nearer };
  });
  const points = [straight.points[0]!, ...beside, straight.points.at(-1)!];
  return { ...straight, points, box: boxOf(points) };
}

function boxOf(points: readonly Spot[]): Box {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { x, y } of points) {
    left = Math.min(left, x);
    top = Math.min(top, y);
    right = Math.max(right, x);
    bottom = Math.max(bottom, y);
  }
  return { x: left, y: top, width: right - left, height: bottom - top };
}
const freeWay = (line: LinkLine): Way => ({
  straight: line,
  isFree: true,
  corners: NO_CORNERS,
  around: boxAround([line.box], CLEARANCES[0])!,
});

/** The places of tiles that are not as they were: where they stood, and where they stand. */
function movedTiles(before: ReadonlyMap<string, Tile>, tiles: ReadonlyMap<string, Tile>): Box[] {
  const boxes: Box[] = [];
  for (const [id, tile] of tiles) {
    const old = before.get(id);
    if (old !== tile) boxes.push(...(old ? [tile, old] : [tile]));
  }
  for (const [id, old] of before) if (!tiles.has(id)) boxes.push(old);
  return boxes;
}

/** Where lines that are free run now and did not, or ran and do not any more. */
function movedLines(before: ReadonlyMap<string, Way>, ways: ReadonlyMap<string, Way>): Box[] {
  const boxes: Box[] = [];
  for (const [id, way] of ways) {
    const old = before.get(id);
    if (old === way) continue;
    for (const each of [old, way]) if (each?.isFree) boxes.push(each.around);
  }
  for (const [id, old] of before) if (old.isFree && !ways.has(id)) boxes.push(old.around);
  return boxes;
}

function wayOf(line: LinkLine, tiles: ReadonlyMap<string, Tile>, all: readonly Tile[], free: readonly LinkLine[]): Way {
  const own = [line.a.device, line.b.device].map((id) => tiles.get(id)!);
  const others = all.filter((tile) => !own.includes(tile));
  const looked: Box[] = [line.box];
  const way = (corners = NO_CORNERS): Way => ({
    straight: line,
    isFree: false,
    corners,
    around: boxAround(looked, 2 * CLEARANCES[0])!,
  });
  for (const clearance of CLEARANCES) {
    const corners = cornersOf(line, own, others, free, clearance, looked);
    if (corners) return way(corners);
  }
  return way();
}

/**
 * The corners of the cheapest way from one end of a line to the other that keeps clear of the tiles between. Tiles count
 * as soon as a way would run through them. Null where there is no way. `looked` takes the boxes of all that was looked at.
 */
function cornersOf(
  { points }: LinkLine,
  own: readonly Tile[],
  others: readonly Tile[],
  free: readonly LinkLine[],
  clearance: number,
  looked: Box[],
): readonly Corner[] | null {
  const [start, goal] = [points[0]!, points.at(-1)!];
  const inTheWay = new Set<Tile>();
  let corners: readonly Corner[] | null = NO_CORNERS;
  while (corners) {
    const way: Spot[] = [start, ...corners, goal];
    looked.push(boxOf(way));
    const hit = others.filter((tile) => !inTheWay.has(tile) && crosses(way, boxAround([tile], clearance - 1)!));
    if (!hit.length) return corners;
    for (const tile of hit) inTheWay.add(tile);
    looked.push(...hit);
    corners = inTheWay.size > MOST_IN_THE_WAY ? null : cheapest(start, goal, own, [...inTheWay], free, clearance);
  }
  return null;
}

/** The cheapest way over the corners of tiles (A*: Hart, Nilsson and Raphael 1968). */
function cheapest(
  start: Spot,
  goal: Spot,
  own: readonly Tile[],
  inTheWay: readonly Tile[],
  free: readonly LinkLine[],
  clearance: number,
): Corner[] | null {
  // An end stands a chip's length before its own tile: nearer to it than other lines come.
  const walls = [
    ...inTheWay.map((tile) => boxAround([tile], clearance - 1)!),
    ...own.map((tile) => boxAround([tile], 1)!),
  ];
  const names = inTheWay.flatMap((tile) => textsBox(tile, '') ?? []);
  const corners = [...inTheWay, ...own].flatMap((tile) => cornersBeside(tile, clearance));
  const spots: Spot[] = [start, goal, ...corners];
  const field = boxOf(spots);
  const crossable = free.filter(({ box, medium }) => medium !== 'wireless' && meets(box, field));
  const cost = spots.map((_spot, at) => (at === 0 ? 0 : Infinity));
  const from = new Map<number, number>();
  const open = new Set([0]);
  const estimate = (at: number): number => cost[at]! + Math.hypot(spots[at]!.x - goal.x, spots[at]!.y - goal.y);
  while (open.size) {
    const at = [...open].reduce((best, next) => (estimate(next) < estimate(best) ? next : best));
    open.delete(at);
    if (at === 1) break;
    const here = spots[at]!;
    for (const [to, spot] of spots.entries()) {
      if (to === at || to === 0) continue;
      const least = cost[at]! + Math.hypot(spot.x - here.x, spot.y - here.y) + (to === 1 ? 0 : COST.corner);
      if (least >= cost[to]!) continue;
      const step = boxOf([here, spot]);
      const isClipped = (box: Box): boolean => meets(box, step) && clipped(here, spot, box) !== null;
      if (walls.some(isClipped)) continue;
      const all =
        least +
        COST.name * names.filter(isClipped).length +
        COST.crossing * crossable.filter((line) => meets(line.box, step) && isCrossed(here, spot, line)).length;
      if (all >= cost[to]!) continue;
      cost[to] = all;
      from.set(to, at);
      open.add(to);
    }
  }
  if (cost[1] === Infinity) return null;
  const way: Corner[] = [];
  for (let at = from.get(1)!; at !== 0; at = from.get(at)!) way.unshift(corners[at - 2]!);
  return way;
}

/** Whether two boxes meet, be they as thin as a line. */
const meets = (a: Box, b: Box): boolean =>
  a.x <= b.x + b.width && b.x <= a.x + a.width && a.y <= b.y + b.height && b.y <= a.y + a.height;

/** Which side of the way from one place to another a third lies on: 1, -1, or 0 where it lies on it. */
const sideOf = (p: Spot, q: Spot, r: Spot): number => Math.sign((q.x - p.x) * (r.y - p.y) - (q.y - p.y) * (r.x - p.x));

function isCrossed(from: Spot, to: Spot, { points }: LinkLine): boolean {
  return points
    .slice(1)
    .some(
      (end, at) =>
        sideOf(from, to, points[at]!) * sideOf(from, to, end) < 0 &&
        sideOf(points[at]!, end, from) * sideOf(points[at]!, end, to) < 0,
    );
}

function cornersBeside(tile: Tile, clearance: number): Corner[] {
  const { x, y, width, height } = boxAround([tile], clearance)!;
  return [
    { x, y, towards: { x: 1, y: 1 }, clearance },
    { x: x + width, y, towards: { x: -1, y: 1 }, clearance },
    { x, y: y + height, towards: { x: 1, y: -1 }, clearance },
    { x: x + width, y: y + height, towards: { x: -1, y: -1 }, clearance },
  ];
}
