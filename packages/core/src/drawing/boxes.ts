/** A rectangle in the drawing's own pixels, y downwards. */
export interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

export const centreOf = ({ x, y, width, height }: Box): { x: number; y: number } => ({
  x: x + width / 2,
  y: y + height / 2,
});

/** The smallest box around others, with a margin. */
export function boxAround(boxes: Iterable<Box>, margin = 0): Box | null {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const box of boxes) {
    left = Math.min(left, box.x);
    top = Math.min(top, box.y);
    right = Math.max(right, box.x + box.width);
    bottom = Math.max(bottom, box.y + box.height);
  }
  if (left > right) return null;
  return { x: left - margin, y: top - margin, width: right - left + 2 * margin, height: bottom - top + 2 * margin };
}

/** Whether two boxes share more than an edge. */
export const overlap = (a: Box, b: Box): boolean =>
  a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;

/** Whether a point lies in a box or on its edge. */
export const holds = (box: Box, { x, y }: { x: number; y: number }): boolean =>
  box.x <= x && x <= box.x + box.width && box.y <= y && y <= box.y + box.height;

type Point = { readonly x: number; readonly y: number };

/** The part of a way that runs through a box; null where it does not (Liang and Barsky 1984). */
export function clipped(from: Point, to: Point, box: Box): [Point, Point] | null {
  const [dx, dy] = [to.x - from.x, to.y - from.y];
  let [start, end] = [0, 1];
  for (const [step, room] of [
    [-dx, from.x - box.x],
    [dx, box.x + box.width - from.x],
    [-dy, from.y - box.y],
    [dy, box.y + box.height - from.y],
  ] as const) {
    if (step === 0 && room < 0) return null;
    if (step < 0) start = Math.max(start, room / step);
    if (step > 0) end = Math.min(end, room / step);
  }
  if (start > end) return null;
  const at = (part: number): Point => ({ x: from.x + part * dx, y: from.y + part * dy });
  return [at(start), at(end)];
}

const CELL = 64;

/** Boxes that can be asked for what lies at a place without looking at all of them. */
export class BoxIndex {
  private readonly cells = new Map<number, Box[]>();

  add(box: Box): void {
    for (const key of cellsOf(box)) {
      const cell = this.cells.get(key);
      if (cell) cell.push(box);
      else this.cells.set(key, [box]);
    }
  }

  /** Whether nothing that was added lies under a box. */
  isFree(box: Box): boolean {
    for (const key of cellsOf(box)) {
      const cell = this.cells.get(key);
      if (cell?.some((neighbour) => overlap(neighbour, box))) return false;
    }
    return true;
  }
}

function cellsOf({ x, y, width, height }: Box): number[] {
  const keys: number[] = [];
  const [right, bottom] = [Math.floor((x + width) / CELL), Math.floor((y + height) / CELL)];
  for (let row = Math.floor(y / CELL); row <= bottom; row++)
    for (let column = Math.floor(x / CELL); column <= right; column++) keys.push(row * 1_000_003 + column);
  return keys;
}
