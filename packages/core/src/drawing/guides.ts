import { type Box, boxAround } from './boxes';

/** A line that shows with what a moved thing has come into line. */
export interface Guide {
  readonly from: { readonly x: number; readonly y: number };
  readonly to: { readonly x: number; readonly y: number };
}

export interface Snap {
  /** What is to be added to the movement so that it fits. */
  readonly x: number;
  readonly y: number;
  readonly guides: readonly Guide[];
}

type Axis = 'x' | 'y';
const SIZE = { x: 'width', y: 'height' } as const;
const OTHER = { x: 'y', y: 'x' } as const;
const edgesOf = (box: Box, axis: Axis): [number, number, number] => [
  box[axis],
  box[axis] + box[SIZE[axis]] / 2,
  box[axis] + box[SIZE[axis]],
];

/**
 * Where a moved box comes to stand when it snaps to its neighbours: an edge or the middle in line with that of another
 * box, or the same distance to two neighbours of its row or column. `reach` is how near it must be, in pixels.
 */
export function snapTo(moved: Box, others: readonly Box[], reach: number): Snap {
  const x = along(moved, others, 'x', reach);
  const y = along(moved, others, 'y', reach);
  const at = { ...moved, x: moved.x + x, y: moved.y + y };
  return {
    x,
    y,
    guides: [...guidesOf(at, others, 'x'), ...guidesOf(at, others, 'y')],
  };
}

function along(moved: Box, others: readonly Box[], axis: Axis, reach: number): number {
  let best = Infinity;
  for (const other of others)
    for (const [at, edge] of edgesOf(moved, axis).entries()) {
      const by = edgesOf(other, axis)[at]! - edge;
      if (Math.abs(by) < Math.abs(best)) best = by;
    }
  const even = evenly(moved, others, axis);
  if (even !== null && Math.abs(even) < Math.abs(best)) best = even;
  return Math.abs(best) <= reach ? best : 0;
}

/** What brings a box to the middle between its two neighbours, or as far from one as that is from the next. */
function evenly(moved: Box, others: readonly Box[], axis: Axis): number | null {
  const size = SIZE[axis];
  const across = OTHER[axis];
  const row = others
    .filter(
      (other) =>
        other[across] < moved[across] + moved[SIZE[across]] && moved[across] < other[across] + other[SIZE[across]],
    )
    .sort((a, b) => a[axis] - b[axis]);
  const before = row.filter((box) => box[axis] + box[size] <= moved[axis]);
  const after = row.filter((box) => box[axis] >= moved[axis] + moved[size]);
  const [first, second] = [before.at(-1), before.at(-2)];
  const [next, further] = [after[0], after[1]];
  const end = (box: Box): number => box[axis] + box[size];
  const wishes: number[] = [];
  if (first && next) wishes.push((end(first) + next[axis] - moved[size]) / 2);
  if (first && second) wishes.push(end(first) + (first[axis] - end(second)));
  if (next && further) wishes.push(next[axis] - (further[axis] - end(next)) - moved[size]);
  const ways = wishes.map((wish) => wish - moved[axis]).sort((a, b) => Math.abs(a) - Math.abs(b));
  return ways[0] ?? null;
}

function guidesOf(at: Box, others: readonly Box[], axis: Axis): Guide[] {
  const across = OTHER[axis];
  return edgesOf(at, axis).flatMap((edge, index): Guide[] => {
    const inLine = others.filter((other) => Math.abs(edgesOf(other, axis)[index]! - edge) < 0.5);
    const around = inLine.length ? boxAround([at, ...inLine])! : null;
    if (!around) return [];
    const end = (value: number) => ({ [axis]: edge, [across]: value }) as { x: number; y: number };
    return [{ from: end(around[across]), to: end(around[across] + around[SIZE[across]]) }];
  });
}
