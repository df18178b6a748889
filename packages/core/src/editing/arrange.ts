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
const DISTRIBUTION = 3;
const ACCESS = 4;
const HOSTS = 6;

const COMB = { below: 62, row: 124, most: 8, pitch: 64 };
/** Advance of a letter of a host's name. */
const NAME_ADVANCE = 7.4;
/** Space between sites side by side; their areas reach a little over what stands in them. */
const BETWEEN_SITES = 96;

/** A network device with the hosts that hang under it as a comb. */
interface Block {
  readonly tile: Tile;
  readonly hosts: readonly Tile[];
  readonly pitch: number;
  readonly width: number;
  readonly height: number;
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
  const blocks = blocksOf(topology, tiles, moving);
  const sites = new Map<string, Block[]>();
  for (const block of blocks.values()) {
    const site = topology.devices[block.tile.id]!.site ?? '';
    sites.set(site, [...(sites.get(site) ?? []), block]);
  }
  const tasks = [...sites].map(([id, list]): LayoutTask => {
    const tiers = new Map(list.map((block) => [block.tile.id, tierOf(topology, block.tile.id)]));
    return {
      id,
      boxes: list.map(({ tile, width, height }) => ({ id: tile.id, width, height, tier: tiers.get(tile.id)! })),
      // Links within a tier say nothing of what stands above what: they would push equals apart.
      edges: entriesById(topology.links).flatMap(([link, { a, b }]) => {
        const [first, second] = [tiers.get(a.device), tiers.get(b.device)];
        if (first === undefined || second === undefined || first === second) return [];
        return [{ id: link, from: first < second ? a.device : b.device, to: first < second ? b.device : a.device }];
      }),
    };
  });
  return { tasks, finish: (layouts) => finish(topology, tiles, moving, sites, layouts) };
}

/**
 * Hosts hang under the first device of the site that they are linked to, and so do access points that nobody is linked to
 * but that device; a host behind a host (a computer behind a telephone) hangs beside it. All others are blocks of their own.
 */
function blocksOf(
  topology: Topology,
  tiles: ReadonlyMap<string, Tile>,
  moving: ReadonlySet<string>,
): Map<string, Block> {
  const neighbours = new Map<string, Set<string>>();
  for (const { a, b } of Object.values(topology.links))
    for (const [first, second] of [
      [a.device, b.device],
      [b.device, a.device],
    ] as const)
      neighbours.set(first, (neighbours.get(first) ?? new Set()).add(second));
  const isHost = (id: string): boolean => {
    const model = modelOf(topology, topology.devices[id]!);
    return model?.class === 'end' || (model?.kind === 'access-point' && neighbours.get(id)?.size === 1);
  };
  const parents = new Map<string, string>();
  for (const [, { a, b }] of entriesById(topology.links))
    for (const [first, second] of [
      [a.device, b.device],
      [b.device, a.device],
    ] as const)
      if (
        moving.has(first) &&
        moving.has(second) &&
        isHost(first) &&
        !isHost(second) &&
        !parents.has(first) &&
        topology.devices[first]!.site === topology.devices[second]!.site
      )
        parents.set(first, second);
  // Behind a host that hangs somewhere others may hang, and behind those others.
  const behind = new Map<string, string>();
  for (const found of [...parents.keys()])
    for (const host of reachedFrom(found, (id) =>
      [...(neighbours.get(id) ?? [])].filter(
        (next) =>
          isHost(next) &&
          moving.has(next) &&
          !parents.has(next) &&
          topology.devices[next]!.site === topology.devices[found]!.site,
      ),
    )) {
      parents.set(host, parents.get(found)!);
      behind.set(host, found);
    }
  const children = new Map<string, Tile[]>();
  for (const [host, parent] of parents) children.set(parent, [...(children.get(parent) ?? []), tiles.get(host)!]);
  const blocks = new Map<string, Block>();
  for (const id of [...moving].sort())
    if (!parents.has(id)) blocks.set(id, blockOf(topology, tiles.get(id)!, children.get(id) ?? [], behind));
  return blocks;
}

/** All that is reached step by step, without where one began. */
function reachedFrom(start: string, next: (id: string) => readonly string[]): string[] {
  const found = new Set([start]);
  for (const at of found) for (const id of next(at)) found.add(id);
  found.delete(start);
  return [...found];
}

function blockOf(topology: Topology, tile: Tile, hosts: readonly Tile[], behind: ReadonlyMap<string, string>): Block {
  const inOrder = [...hosts].sort((a, b) => {
    const [first, second] = [addressOrder(topology, a.id), addressOrder(topology, b.id)];
    return first < second ? -1 : first > second ? 1 : byName(a.name, b.name);
  });
  // Who is plugged in behind another one stands next to it.
  const sorted = inOrder
    .filter(({ id }) => !behind.has(id))
    .flatMap((host) => [host, ...inOrder.filter(({ id }) => behind.get(id) === host.id)]);
  const pitch = Math.max(COMB.pitch, ...hosts.map((host) => Math.round(host.name.length * NAME_ADVANCE) + 12));
  const rows = Math.ceil(hosts.length / COMB.most);
  const columns = Math.min(hosts.length, COMB.most);
  return {
    tile,
    hosts: sorted,
    pitch,
    width: Math.max(tile.width, columns * pitch, tile.shape === 'standing' ? pitch : 0),
    height: tile.height + (tile.shape === 'standing' ? 32 : 0) + (rows ? COMB.below + rows * COMB.row - 30 : 0),
  };
}

/** Hosts of one subnet stand beside each other, so that one bracket holds them; those without an address come last. */
function addressOrder(topology: Topology, id: string): string {
  const text = firstAddressText(topology.devices[id]!);
  const read = text === null ? null : parseInterfaceAddress(text);
  return read?.ok ? `${read.value.address.family} ${read.value.address.value.toString(16).padStart(32, '0')}` : '9';
}

function tierOf(topology: Topology, id: string): number {
  const model = modelOf(topology, topology.devices[id]!);
  if (!model || model.class === 'end') return HOSTS;
  const tier = TIERS[model.kind];
  if (tier !== undefined) return tier;
  const neighbours = Object.values(topology.links).flatMap(({ a, b }) =>
    a.device === id ? b.device : b.device === id ? a.device : [],
  );
  const classOf = (id: string) => topology.devices[id] && modelOf(topology, topology.devices[id])?.class;
  const joinsSwitches = neighbours.length > 1 && neighbours.every((neighbour) => classOf(neighbour) !== 'end');
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

function placeBlock(block: Block, { x, y }: Position, to: Record<string, Position>): void {
  const { tile, hosts, pitch, width } = block;
  const round = (place: Position): Position => ({ x: Math.round(place.x), y: Math.round(place.y) });
  to[tile.id] = round({ x: x + (width - tile.width) / 2, y });
  for (const [at, host] of hosts.entries()) {
    const row = Math.floor(at / COMB.most);
    const inRow = Math.min(COMB.most, hosts.length - row * COMB.most);
    const left = x + (width - inRow * pitch) / 2 + (pitch - host.width) / 2;
    to[host.id] = round({
      x: left + (at % COMB.most) * pitch,
      y: y + tile.height + COMB.below + row * COMB.row,
    });
  }
}
