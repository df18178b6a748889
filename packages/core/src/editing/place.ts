import {
  type Box,
  type Scene,
  type SiteArea,
  type Tile,
  boxAround,
  clipped,
  holds,
  overlap,
  sceneOf,
  siteAreas,
  tilesOf,
} from '../drawing';
import { type Command, type Topology } from '../topology';
import { freshNames } from './names';

/** Makes the id of something new from what it is called. */
export type NewId = (name: string) => string;

/** Where something stands in the drawing, in pixels. */
export type Position = { x: number; y: number };
const GRID = 8;
/** Space between the edge of a site and what is put into it. */
const MARGIN = 24;
const onGrid = (value: number): number => Math.round(value / GRID) * GRID;

/**
 * Adds devices side by side, at the nearest free place to the right and below of where they are wished; without a wish,
 * where there is room in their site.
 */
export function addDevices(
  topology: Topology,
  model: string,
  count: number,
  wished: Position | null,
  site: string | undefined,
  newId: NewId,
  scheme?: string,
): { ids: string[]; commands: Command[] } {
  const scene = sceneOf(topology, { texts: false });
  const { tiles } = scene;
  const boxes: Box[] = [...tiles.values()];
  const room = wished ? { ...wished, width: Infinity } : roomIn(topology, tiles, site);
  const names = freshNames(topology, model, count, scheme, site === undefined ? '' : topology.sites[site]?.name);
  const ids: string[] = [];
  const commands = names.map((name): Command => {
    const id = newId(name);
    const draft: Topology = {
      ...topology,
      devices: { [id]: { name, model, at: { x: room.x, y: room.y } } },
      links: {},
    };
    const { width, height } = tilesOf(draft).get(id)!;
    const at = freePlace({ boxes, lines: scene.lines }, room, width, height, room.width);
    boxes.push({ ...at, width, height });
    ids.push(id);
    return { kind: 'addDevice', id, device: { name, model, at, ...(site !== undefined && { site }) } };
  });
  return { ids, commands };
}

/** A device of a model in the middle of a place, in the innermost site there. */
export function placeDevice(
  topology: Topology,
  model: string,
  at: Position,
  newId: NewId,
  scheme?: string,
): { ids: string[]; commands: Command[] } {
  const site = siteAreas(topology, tilesOf(topology)).findLast((area) => holds(area, at))?.id;
  const { ids, commands } = addDevices(topology, model, 1, at, site, newId, scheme);
  const placed = commands.map((command): Command => {
    if (command.kind !== 'addDevice') return command;
    const draft = { ...topology, devices: { [command.id]: command.device }, links: {} };
    const { width, height } = tilesOf(draft).get(command.id)!;
    const corner = { x: Math.round(at.x - width / 2), y: Math.round(at.y - height / 2) };
    return { ...command, device: { ...command.device, at: corner } };
  });
  return { ids, commands: placed };
}

/** Where a site takes new devices: from the left of its lowest row on. Outside of sites: below everything. */
function roomIn(
  topology: Topology,
  tiles: ReadonlyMap<string, Tile>,
  site: string | undefined,
): Position & { width: number } {
  const area: SiteArea | undefined = siteAreas(topology, tiles).find((area) => area.id === site);
  const inside = [...tiles.values()].filter((tile) => topology.devices[tile.id]!.site === site);
  const lowest = Math.max(...inside.map((tile) => tile.y));
  if (!area) return { x: 80, y: inside.length ? lowest + 136 : 80, width: 800 };
  return { x: area.x + MARGIN, y: inside.length ? lowest : area.y + 48, width: Math.max(area.width - 2 * MARGIN, 200) };
}

/** How far a new tile keeps from cables: nearer it would read as cabled there. */
const FROM_CABLES = 12;

/** The nearest place to the right and below of a wish, in rows of at most a width, where no tile stands and no cable runs. */
export function freePlace(
  { boxes, lines }: { boxes: readonly Box[]; lines: Scene['lines'] },
  wished: Position,
  width: number,
  height: number,
  across = Infinity,
): Position {
  const GAP = { x: 24, y: 40 };
  const isOnCable = (box: Box): boolean => {
    const around = boxAround([box], FROM_CABLES)!;
    return [...lines.values()].some(
      (line) =>
        overlap(around, line.box) && line.points.slice(1).some((to, at) => clipped(line.points[at]!, to, around)),
    );
  };
  const free = (x: number, y: number): boolean =>
    boxes.every(
      (box) =>
        x + width + GAP.x <= box.x ||
        box.x + box.width + GAP.x <= x ||
        y + height + GAP.y <= box.y ||
        box.y + box.height + GAP.y <= y,
    ) && !isOnCable({ x, y, width, height });
  const [left, top] = [onGrid(wished.x), onGrid(wished.y)];
  for (let row = 0; row < 40; row++)
    for (let column = 0; column < 12 && (column + 1) * (width + GAP.x) - GAP.x <= Math.max(across, width); column++) {
      const [x, y] = [left + column * (width + GAP.x), top + row * 96];
      if (free(x, y)) return { x: onGrid(x), y };
    }
  return { x: left, y: top + 40 * 96 };
}
