import { type Box, overlap } from './boxes';
import { type LinkLine } from './lines';
import { lengthOf, stationAt } from './media';

/** A tint of a link lies along it so wide, in pixels, and so strong. */
export const TINT_WIDTH = 7;
export const TINT_OPACITY = 0.4;

const TAG_ADVANCE = 6.4;
/** The width of a word in the middle of a link, with the room round it. */
export const wordWidth = (text: string): number => (text ? Math.max(28, text.length * TAG_ADVANCE + 12) : 0);

/** Where along a link something is written, as a share of its length: in the middle where there is room, else beside it. */
const SHARES = [0.5, 0.4, 0.6, 0.31, 0.69, 0.24, 0.76];
const CELL = 64;

/**
 * By link, where along it what lenses write has its place, so that of two links side by side none is written over. Links
 * are taken in the order that is given; one that finds no free place keeps its middle.
 */
export function middlePlaces(
  lines: Iterable<LinkLine>,
  sizes: ReadonlyMap<string, { width: number; height: number }>,
): Map<string, number> {
  const taken = new Map<string, Box[]>();
  const cellsOf = ({ x, y, width, height }: Box): string[] => {
    const cells: string[] = [];
    for (let column = Math.floor(x / CELL); column <= Math.floor((x + width) / CELL); column++)
      for (let row = Math.floor(y / CELL); row <= Math.floor((y + height) / CELL); row++)
        cells.push(`${column} ${row}`);
    return cells;
  };
  const places = new Map<string, number>();
  for (const line of lines) {
    const size = sizes.get(line.id);
    if (!size) continue;
    const length = lengthOf(line.points);
    const boxAt = (share: number): Box => {
      const { x, y } = stationAt(line.points, length * share);
      return { x: x - size.width / 2, y: y - size.height / 2, ...size };
    };
    const isFree = (share: number): boolean => {
      const box = boxAt(share);
      return cellsOf(box).every((cell) => (taken.get(cell) ?? []).every((other) => !overlap(box, other)));
    };
    const share = SHARES.find(isFree) ?? SHARES[0]!;
    places.set(line.id, share);
    const box = boxAt(share);
    for (const cell of cellsOf(box)) taken.set(cell, [...(taken.get(cell) ?? []), box]);
  }
  return places;
}
