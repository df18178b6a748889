import {
  type Box,
  type Guide,
  type Scene,
  type Spot,
  boxAround,
  overlap,
  sitesWithin,
  snapTo,
} from '@sobrin/core/drawing';
import { type Topology } from '@sobrin/core/topology';
import { NOTE_PREFIX, PICTURE_PREFIX, SITE_PREFIX } from './nodes';

/** What is being carried with the pointer, and where it is now. */
export interface Moved {
  readonly by: Spot;
  /** Where devices are. */
  readonly devices: ReadonlyMap<string, Spot>;
  /** The devices that move: the same object as long as they are the same. */
  readonly ids: readonly string[];
  /** The nodes that are held and must stay drawn. */
  readonly held: readonly string[];
  /** Where what is held stood before. */
  readonly origin: Spot;
  readonly site?: string;
  /** How far sites are carried. */
  readonly carried?: ReadonlyMap<string, Spot>;
  readonly note?: { readonly id: string } & Spot;
  readonly picture?: { readonly id: string } & Spot;
  readonly guides: readonly Guide[];
  /** Everything as it was before. */
  readonly rest: Scene;
}

/** What moves when a node is dragged to a place: a note, a site with all inside it, or a device with what is chosen. */
export function movedBy(
  topology: Topology,
  scene: Scene,
  chosen: ReadonlySet<string>,
  node: string,
  to: Spot,
  before: Moved | null,
): Moved {
  const isSame = before?.held[0] === node;
  const from = (find: () => Spot): { origin: Spot; by: Spot } => {
    const { x, y } = isSame ? before.origin : find();
    return { origin: { x, y }, by: { x: to.x - x, y: to.y - y } };
  };
  const plain = {
    held: [node],
    devices: new Map<string, Spot>(),
    guides: [],
    ids: isSame ? before.ids : [],
    rest: isSame ? before.rest : scene,
  };
  const carrying = (ids: readonly string[], by: Spot): Pick<Moved, 'ids' | 'devices'> => {
    const all = isSame ? before.ids : ids;
    return { ids: all, devices: placesOf(topology, all, by) };
  };
  if (node.startsWith(NOTE_PREFIX)) {
    const id = node.slice(NOTE_PREFIX.length);
    return { ...plain, ...from(() => scene.notes.find((note) => note.id === id)!), note: { id, ...to } };
  }
  if (node.startsWith(PICTURE_PREFIX)) {
    const id = node.slice(PICTURE_PREFIX.length);
    return { ...plain, ...from(() => scene.pictures.find((picture) => picture.id === id)!), picture: { id, ...to } };
  }
  if (node.startsWith(SITE_PREFIX)) {
    const site = node.slice(SITE_PREFIX.length);
    const way = from(() => scene.sites.find((area) => area.id === site)!);
    const inside = sitesWithin(topology, site);
    const members = Object.keys(topology.devices).filter((id) => inside.has(topology.devices[id]!.site ?? ''));
    const carried = new Map([...inside].map((id) => [id, way.by]));
    return { ...plain, ...way, site, carried, ...carrying(members, way.by) };
  }
  const way = from(() => topology.devices[node]!.at);
  const ids = chosen.has(node) ? [...chosen] : [node];
  return { ...plain, ...way, ...carrying(ids, way.by) };
}

const placesOf = (topology: Topology, ids: readonly string[], by: Spot): Map<string, Spot> =>
  new Map(
    ids.flatMap((id) => {
      const at = topology.devices[id]?.at;
      return at ? [[id, { x: at.x + by.x, y: at.y + by.y }] as const] : [];
    }),
  );

const SNAP = 5;

/** The same with a little more, so that it comes into line with what stands around it. */
export function snapped(scene: Scene, moved: Moved, area: Box): Pick<Moved, 'by' | 'devices' | 'guides'> | null {
  if (!moved.devices.size || moved.site !== undefined) return null;
  const boxes = [...moved.devices].map(([id, at]) => ({ ...scene.tiles.get(id)!, ...at }));
  const others = [...scene.tiles.values()].filter((tile) => !moved.devices.has(tile.id) && overlap(tile, area));
  const { x, y, guides } = snapTo(boxAround(boxes)!, others, SNAP);
  const by = { x: moved.by.x + x, y: moved.by.y + y };
  const devices = new Map([...moved.devices].map(([id, at]) => [id, { x: at.x + x, y: at.y + y }]));
  return { by, devices, guides };
}
