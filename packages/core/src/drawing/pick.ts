import { type Box, centreOf, holds, overlap } from './boxes';
import { type Spot } from './edges';
import { type Scene } from './scene';

/** What lies under a place of a drawing: the topmost tile, else the nearest link within reach. */
export function pickAt(scene: Scene, at: Spot, reach: number): { device: string } | { link: string } | null {
  for (const tile of [...scene.tiles.values()].reverse()) if (holds(tile, at)) return { device: tile.id };
  let nearest: { link: string; away: number } | null = null;
  for (const line of scene.lines.values())
    for (const [index, to] of line.points.slice(1).entries()) {
      const away = distanceTo(at, line.points[index]!, to);
      if (away <= reach && away < (nearest?.away ?? Infinity)) nearest = { link: line.id, away };
    }
  return nearest && { link: nearest.link };
}

/** Tiles that a rectangle touches. */
export const tilesInBox = (scene: Scene, box: Box): string[] =>
  [...scene.tiles.values()].filter((tile) => overlap(tile, box)).map((tile) => tile.id);

/** Tiles whose middle lies inside a line drawn round them by hand. */
export const tilesInLasso = (scene: Scene, lasso: readonly Spot[]): string[] =>
  [...scene.tiles.values()].filter((tile) => isInside(centreOf(tile), lasso)).map((tile) => tile.id);

/** How far a place is from the way between two others. */
export function distanceTo({ x, y }: Spot, from: Spot, to: Spot): number {
  const [dx, dy] = [to.x - from.x, to.y - from.y];
  const length = dx * dx + dy * dy;
  const part = length ? Math.min(1, Math.max(0, ((x - from.x) * dx + (y - from.y) * dy) / length)) : 0;
  return Math.hypot(x - from.x - part * dx, y - from.y - part * dy);
}

/** Whether a ray from the place leaves the closed line an odd number of times (the even-odd rule). */
function isInside({ x, y }: Spot, line: readonly Spot[]): boolean {
  let inside = false;
  for (const [at, p] of line.entries()) {
    const q = line[(at + line.length - 1) % line.length]!;
    if (p.y > y !== q.y > y && x < ((q.x - p.x) * (y - p.y)) / (q.y - p.y) + p.x) inside = !inside;
  }
  return inside;
}
