import { tilesOf } from '../drawing';
import { type Command, type Topology } from '../topology';
import { freshNames } from './names';

export type Position = { x: number; y: number };
const GRID = 8;
const onGrid = (value: number): number => Math.round(value / GRID) * GRID;

/** Adds devices side by side, at the nearest free place to the right and below of where they are wished. */
export function addDevices(
  topology: Topology,
  model: string,
  count: number,
  wished: Position,
  site: string | undefined,
  newId: () => string,
  scheme?: string,
): { ids: string[]; commands: Command[] } {
  const boxes = [...tilesOf(topology).values()].map(({ x, y, width, height }) => ({ x, y, width, height }));
  const names = freshNames(topology, model, count, scheme, site === undefined ? '' : topology.sites[site]?.name);
  const ids: string[] = [];
  const commands = names.map((name): Command => {
    const id = newId();
    const draft: Topology = { ...topology, devices: { [id]: { name, model, at: wished } }, links: {} };
    const { width, height } = tilesOf(draft).get(id)!;
    const at = freePlace(boxes, wished, width, height);
    boxes.push({ ...at, width, height });
    ids.push(id);
    return { kind: 'addDevice', id, device: { name, model, at, ...(site !== undefined && { site }) } };
  });
  return { ids, commands };
}

/** The nearest free place to the right and below of a wish. */
export function freePlace(
  boxes: readonly { x: number; y: number; width: number; height: number }[],
  wished: Position,
  width: number,
  height: number,
): Position {
  const GAP = { x: 24, y: 40 };
  const free = (x: number, y: number): boolean =>
    boxes.every(
      (one) =>
        x + width + GAP.x <= one.x ||
        one.x + one.width + GAP.x <= x ||
        y + height + GAP.y <= one.y ||
        one.y + one.height + GAP.y <= y,
    );
  const [left, top] = [onGrid(wished.x), onGrid(wished.y)];
  for (let row = 0; row < 40; row++)
    for (let column = 0; column < 12; column++) {
      const [x, y] = [left + column * (width + GAP.x), top + row * 96];
      if (free(x, y)) return { x: onGrid(x), y };
    }
  return { x: left, y: top + 40 * 96 };
}
