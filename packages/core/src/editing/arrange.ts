import { parseInterfaceAddress } from '../address';
import { type Box, type Tile, boxAround, firstAddressText, tilesOf } from '../drawing';
import { type Command, type DeviceKind, type Topology, entriesById, modelOf } from '../topology';
import { byName } from '../collation';
import { type Position } from './place';

/** What a layered layout is asked: boxes in tiers from the top, joined by edges downwards. Positions come back by id. */
export interface LayoutTask {
  readonly id: string;
  readonly boxes: readonly { id: string; width: number; height: number; tier: number }[];
  readonly edges: readonly { id: string; from: string; to: string }[];
}
/** Where each device stands, by its id, in pixels. */
export type Layout = ReadonlyMap<string, Position>;

/** Tiers from the outside in; access switches and what hangs on them come last. */
const TIERS: Partial<Record<DeviceKind, number>> = {
  cloud: 0,
  modem: 0,
  'home-gateway': 1,
  firewall: 1,
  router: 1,
  'l3-switch': 2,
  converter: 3,
  'access-point': 5,
  'patch-panel': 4,
  outlet: 4,
};
/** From here on down, a device hangs on another: those above may be equals in a row. */
const DISTRIBUTION = 3;
const ACCESS = 4;
const HOSTS = 6;

/** Below a device hang rows of up to so many, of more where there were too many rows; each so far below the one before. */
const COMB = { below: 62, row: 84, most: 8, rows: 3, pitch: 64 };
/** Advance of a letter of a host's name, and the room that is kept beside it. */
const NAME_ADVANCE = 7.4;
const NAME_ROOM = 12;
/** What stands below a tile whose name is written there. */
const NAME_BELOW = 32;
/** Space between sites side by side; their areas reach a little over what stands in them. */
const BETWEEN_SITES = 96;

/** A device with all that hangs under it, step by step. Places count from the block's corner. */
interface Block {
  readonly tile: Tile;
  readonly width: number;
  readonly height: number;
  /** How far from the left the middle of the device itself is. */
  readonly middle: number;
  readonly places: ReadonlyMap<string, Position>;
}

/**
 * Lays a network out as its tiers: outside, routers, core, distribution, access, with the hosts of a device hanging under
 * it as a comb; sites side by side in their present order. Each site is a task for a layered layout; `finish` makes the
 * commands from all their answers. Devices that are pinned stay where they are.
 */
export function arrange(
  topology: Topology,
  ids: readonly string[] = Object.keys(topology.devices),
): { tasks: LayoutTask[]; finish: (layouts: ReadonlyMap<string, Layout>) => Command[] } {
  const tiles = tilesOf(topology);
  const moving = new Set(ids.filter((id) => tiles.has(id) && !topology.devices[id]!.pinned));
  const neighbours = neighboursOf(topology);
  const sites = new Map<string, Block[]>();
  for (const block of blocksOf(topology, tiles, moving, neighbours)) {
    const site = topology.devices[block.tile.id]!.site ?? '';
    sites.set(site, [...(sites.get(site) ?? []), block]);
  }
  const tasks = [...sites].map(([id, list]): LayoutTask => {
    const tiers = new Map(list.map((block) => [block.tile.id, tierOf(topology, block.tile.id, neighbours)]));
    const { order, depths } = orderOf(tiers, neighbours);
    const place = new Map(order.map((id, at) => [id, at]));
    return {
      id,
      boxes: [...list]
        .sort((a, b) => place.get(a.tile.id)! - place.get(b.tile.id)!)
        .map(({ tile, width, height }) => ({ id: tile.id, width, height, tier: tiers.get(tile.id)! })),
      edges: entriesById(topology.links).flatMap(([link, { a, b }]) => {
        if (!tiers.has(a.device) || !tiers.has(b.device)) return [];
        const rank = (id: string): number => 1000 * tiers.get(id)! + depths.get(id)!;
        const down = rank(b.device) - rank(a.device);
        // Equals stand side by side: a link between them says nothing of what stands above what.
        if (down === 0) return [];
        return [{ id: link, from: down > 0 ? a.device : b.device, to: down > 0 ? b.device : a.device }];
      }),
    };
  });
  return { tasks, finish: (layouts) => finish(topology, tiles, moving, sites, layouts) };
}

type Neighbours = ReadonlyMap<string, ReadonlySet<string>>;
const NOBODY: ReadonlySet<string> = new Set();

function neighboursOf(topology: Topology): Neighbours {
  const found = new Map<string, Set<string>>();
  for (const [, { a, b }] of entriesById(topology.links))
    for (const [first, second] of [
      [a.device, b.device],
      [b.device, a.device],
    ] as const)
      if (first !== second) found.set(first, (found.get(first) ?? new Set()).add(second));
  return found;
}

/**
 * The order of devices from the top and from the left, and how deep each stands within its tier. Routers and the like that
 * are joined as a line stand side by side in its order; joined otherwise, they stand step by step below the one that leads
 * outside, or that has the most links.
 */
function orderOf(
  tiers: ReadonlyMap<string, number>,
  neighbours: Neighbours,
): { order: string[]; depths: ReadonlyMap<string, number> } {
  const all = [...tiers.keys()];
  const linked = (id: string): string[] => [...(neighbours.get(id) ?? NOBODY)].filter((next) => tiers.has(next));
  const equals = (id: string): string[] => linked(id).filter((next) => tiers.get(next) === tiers.get(id));
  const depths = new Map<string, number>();
  const order: string[] = [];
  for (const id of [...all].sort((a, b) => tiers.get(a)! - tiers.get(b)!)) {
    if (depths.has(id)) continue;
    const group = [id, ...reachedFrom(id, equals)];
    const links = group.reduce((sum, each) => sum + equals(each).length, 0) / 2;
    const isLine =
      tiers.get(id)! < DISTRIBUTION && links < group.length && group.every((each) => equals(each).length <= 2);
    if (isLine) {
      const end = group.find((each) => equals(each).length < 2)!;
      for (const each of [end, ...reachedFrom(end, equals)]) {
        depths.set(each, 0);
        order.push(each);
      }
      continue;
    }
    const outside = group.filter((each) => linked(each).some((next) => tiers.get(next)! < tiers.get(each)!));
    const most = group.reduce((best, each) => (equals(each).length > equals(best).length ? each : best));
    const heads = outside.length ? outside : [most];
    for (const head of heads) depths.set(head, 0);
    const found = new Set(heads);
    for (const each of found)
      for (const next of equals(each))
        if (!found.has(next)) {
          found.add(next);
          depths.set(next, depths.get(each)! + 1);
        }
    order.push(...found);
  }
  return { order, depths };
}

/**
 * Hosts hang under the device of their site that they are linked to, and so do access points with one way into the
 * network; what is plugged into a host, or belongs to an access point, hangs under that one. All others are blocks.
 */
function blocksOf(
  topology: Topology,
  tiles: ReadonlyMap<string, Tile>,
  moving: ReadonlySet<string>,
  neighbours: Neighbours,
): Block[] {
  const isEnd = (id: string): boolean => modelOf(topology, topology.devices[id]!)?.class === 'end';
  const isHanging = (id: string): boolean =>
    isEnd(id) ||
    (modelOf(topology, topology.devices[id]!)?.kind === 'access-point' &&
      [...(neighbours.get(id) ?? NOBODY)].filter((next) => tiles.has(next) && !isEnd(next)).length === 1);
  const ids = [...moving].sort(
    (a, b) => byName(topology.devices[a]!.name, topology.devices[b]!.name) || (a < b ? -1 : 1),
  );
  const children = new Map<string, string[]>();
  const placed = new Set<string>();
  /** Hangs under a device whatever is not placed yet, then under those in turn. */
  const hang = (roots: readonly string[]): void => {
    for (const root of roots) placed.add(root);
    const queue = [...roots];
    for (const parent of queue) {
      const found = [...(neighbours.get(parent) ?? NOBODY)].filter(
        (id) =>
          moving.has(id) &&
          !placed.has(id) &&
          isHanging(id) &&
          topology.devices[id]!.site === topology.devices[parent]!.site,
      );
      children.set(parent, found);
      for (const id of found) placed.add(id);
      queue.push(...found);
    }
  };
  const roots = ids.filter((id) => !isHanging(id));
  hang(roots);
  const points = ids.filter((id) => !placed.has(id) && !isEnd(id));
  hang(points);
  const alone = ids.filter((id) => !placed.has(id));
  return [...roots, ...points, ...alone].map((id) => blockOf(topology, tiles, id, children));
}

/** All that is reached step by step, without where one began. */
function reachedFrom(start: string, next: (id: string) => readonly string[]): string[] {
  const found = new Set([start]);
  for (const at of found) for (const id of next(at)) found.add(id);
  found.delete(start);
  return [...found];
}

function blockOf(
  topology: Topology,
  tiles: ReadonlyMap<string, Tile>,
  id: string,
  children: ReadonlyMap<string, readonly string[]>,
): Block {
  const tile = tiles.get(id)!;
  const below = (children.get(id) ?? [])
    .map((child) => blockOf(topology, tiles, child, children))
    .sort((a, b) => {
      const [first, second] = [addressOrder(topology, a.tile.id), addressOrder(topology, b.tile.id)];
      return first < second ? -1 : first > second ? 1 : byName(a.tile.name, b.tile.name);
    });
  const rows: Block[][] = [];
  const most = Math.max(COMB.most, Math.ceil(below.length / COMB.rows));
  const inRow = Math.ceil(below.length / Math.ceil(below.length / most));
  for (let at = 0; at < below.length; at += inRow) rows.push(below.slice(at, at + inRow));
  // The middles of a second row stand where the first has its gaps: what hangs there is linked between the others.
  const pitch = below.length ? Math.max(...below.map(({ width }) => width)) : 0;
  const isEven = below.every(({ height }) => height === below[0]!.height);
  const starts = rows.map((_row, at) => (isEven && at % 2 ? pitch / 2 : 0));
  const comb = Math.max(0, ...rows.map((row, at) => starts[at]! + (isEven ? row.length * pitch : sumOf(row))));
  const name = Math.round(tile.name.length * NAME_ADVANCE) + NAME_ROOM;
  const isStanding = tile.shape === 'standing';
  // The name of a host that has links above and below stands to its right.
  const [left, right] =
    isStanding && below.length
      ? [COMB.pitch / 2, Math.max(COMB.pitch / 2, tile.width / 2 + 12 + name)]
      : isStanding
        ? [Math.max(COMB.pitch, name) / 2, Math.max(COMB.pitch, name) / 2]
        : [tile.width / 2, tile.width / 2];
  const middle = Math.max(left, comb / 2);
  const places = new Map<string, Position>([[id, { x: middle - tile.width / 2, y: 0 }]]);
  let y = tile.height + COMB.below;
  for (const [at, row] of rows.entries()) {
    let x = middle - comb / 2 + starts[at]! + (isEven ? 0 : (comb - sumOf(row)) / 2);
    for (const block of row) {
      const cell = isEven ? pitch : block.width;
      const corner = x + (cell - block.width) / 2;
      for (const [each, place] of block.places) places.set(each, { x: corner + place.x, y: y + place.y });
      x += cell;
    }
    y += Math.max(...row.map(({ height }) => height)) + COMB.row - NAME_BELOW;
  }
  return {
    tile,
    middle,
    width: middle + Math.max(right, comb / 2),
    height: rows.length ? y - (COMB.row - NAME_BELOW) : tile.height + (isStanding ? NAME_BELOW : 0),
    places,
  };
}

const sumOf = (blocks: readonly Block[]): number => blocks.reduce((sum, { width }) => sum + width, 0);

/** Hosts of one subnet stand beside each other, so that one bracket holds them; those without an address come last. */
function addressOrder(topology: Topology, id: string): string {
  const text = firstAddressText(topology.devices[id]!);
  const read = text === null ? null : parseInterfaceAddress(text);
  return read?.ok ? `${read.value.address.family} ${read.value.address.value.toString(16).padStart(32, '0')}` : '9';
}

function tierOf(topology: Topology, id: string, neighbours: Neighbours): number {
  const model = modelOf(topology, topology.devices[id]!);
  if (!model || model.class === 'end') return HOSTS;
  const tier = TIERS[model.kind];
  if (tier !== undefined) return tier;
  const around = [...(neighbours.get(id) ?? NOBODY)];
  const classOf = (id: string) => topology.devices[id] && modelOf(topology, topology.devices[id])?.class;
  const joinsSwitches = around.length > 1 && around.every((neighbour) => classOf(neighbour) !== 'end');
  return model.kind === 'switch' && joinsSwitches ? DISTRIBUTION : ACCESS;
}

function finish(
  topology: Topology,
  tiles: ReadonlyMap<string, Tile>,
  moving: ReadonlySet<string>,
  sites: ReadonlyMap<string, readonly Block[]>,
  layouts: ReadonlyMap<string, Layout>,
): Command[] {
  const to: Record<string, Position> = {};
  const start = boxAround([...moving].map((id) => tiles.get(id)!));
  if (!start) return [];
  const leftOf = (blocks: readonly Block[]): number => Math.min(...blocks.map((block) => block.tile.x));
  let x = start.x;
  for (const [site, blocks] of [...sites].sort(([, a], [, b]) => leftOf(a) - leftOf(b))) {
    const layout = layouts.get(site);
    if (!layout) continue;
    const boxes = blocks.map((block): Box => ({
      ...(layout.get(block.tile.id) ?? { x: 0, y: 0 }),
      width: block.width,
      height: block.height,
    }));
    const around = boxAround(boxes)!;
    for (const [at, block] of blocks.entries()) {
      const box = boxes[at]!;
      placeBlock(block, { x: x + box.x - around.x, y: start.y + box.y - around.y }, to);
    }
    x += around.width + BETWEEN_SITES;
  }
  return [
    { kind: 'move', to },
    // What was bent and drawn for the old places does not fit the new ones.
    ...entriesById(topology.links).flatMap(([id, link]): Command[] =>
      link.bends && moving.has(link.a.device) && moving.has(link.b.device)
        ? [{ kind: 'setLink', id, set: { bends: null, labelOffsets: null } }]
        : [],
    ),
    ...entriesById(topology.sites).flatMap(([id, { area, ...site }]): Command[] =>
      area && sites.has(id) ? [{ kind: 'setSite', id, set: site }] : [],
    ),
  ];
}

function placeBlock({ places }: Block, { x, y }: Position, to: Record<string, Position>): void {
  for (const [id, place] of places) to[id] = { x: Math.round(x + place.x), y: Math.round(y + place.y) };
}
