import {
  type LegendCard,
  type NoteBox,
  type Scene,
  type SiteArea,
  type Tile,
  type Topology,
  counted,
  firstAddressText,
  linkCounts,
  modelOf,
  parseInterfaceAddress,
  secondLine,
  shortAddress,
} from '@sobrin/core';
import { type LegendNode } from './legend-node';
import { type Mark } from './marks';
import { type NoteNode } from './note-node';
import { type SiteNode } from './site-node';
import { type TileNode } from './tile-node';

export type DrawingNode = TileNode | SiteNode | LegendNode | NoteNode;
export const NOTE_PREFIX = 'note ';
export const SITE_PREFIX = 'site ';
export const LEGEND_ID = 'legend of the drawing';

export interface NodeOptions {
  editable: boolean;
  selected: ReadonlySet<string>;
  selectedSites: ReadonlySet<string>;
  selectedNotes?: ReadonlySet<string>;
  marks: ReadonlyMap<string, Mark>;
  siteMarks: ReadonlyMap<string, Mark>;
  seconds: ReadonlyMap<string, string>;
  dimOthers: boolean;
  subnetsShown: boolean;
  /** How many problems each device has, where they are told. */
  problems?: ReadonlyMap<string, number>;
  /** Seen from so far that small text cannot be read: addresses are left out. */
  far: boolean;
}

/**
 * Turns scenes into nodes. A node stays the same object as long as nothing of it changes, so that only what changed is
 * drawn anew: the cache is what this object keeps.
 */
export class NodeFactory {
  private known = new Map<string, { key: string; node: DrawingNode }>();

  nodes(topology: Topology, scene: Scene, options: NodeOptions): DrawingNode[] {
    const next = new Map<string, { key: string; node: DrawingNode }>();
    const take = (id: string, key: string, make: () => DrawingNode): void => {
      const old = this.known.get(id);
      next.set(id, old?.key === key ? old : { key, node: make() });
    };
    for (const area of scene.sites) {
      const selected = options.selectedSites.has(area.id);
      const mark = options.siteMarks.get(area.id) ?? null;
      take(SITE_PREFIX + area.id, JSON.stringify([area, selected, mark, options.editable]), () =>
        siteNode(area, mark, selected, options.editable),
      );
    }
    const links = linkCounts(topology);
    const bracketed = new Set(options.subnetsShown ? scene.brackets.flatMap((one) => one.members) : []);
    for (const tile of scene.tiles.values()) {
      const device = topology.devices[tile.id]!;
      const address = firstAddressText(device);
      const own = options.seconds.get(tile.id);
      const second =
        tile.shape === 'lying'
          ? (own ?? secondLine(topology, device))
          : options.far
            ? ''
            : (own ?? underTile(address, bracketed.has(tile.id)));
      const wrong =
        own === undefined && tile.shape === 'standing' && address !== null && !parseInterfaceAddress(address).ok;
      const selected = options.selected.has(tile.id);
      const mark = options.marks.get(tile.id) ?? null;
      const data = {
        tile,
        second,
        wrong,
        mark,
        dimmed: options.dimOthers && !mark,
        linkable: options.editable,
      };
      const label = spokenLabel(topology, tile, second, links.get(tile.id) ?? 0, options.problems?.get(tile.id) ?? 0);
      take(tile.id, JSON.stringify([data, selected, label]), () =>
        tileNode(tile, data, selected, options.editable, label),
      );
    }
    for (const note of scene.notes) {
      const selected = options.selectedNotes?.has(note.id) ?? false;
      take(NOTE_PREFIX + note.id, JSON.stringify([note, selected, options.editable]), () =>
        noteNode(note, selected, options.editable),
      );
    }
    const card = scene.legend;
    if (card) take(LEGEND_ID, JSON.stringify(card), () => legendNode(card));
    this.known = next;
    return [...next.values()].map((one) => one.node);
  }
}

/** ".11" where the subnet is written below, the whole address elsewhere. */
const underTile = (address: string | null, bracketed: boolean): string =>
  address === null ? '' : bracketed ? shortAddress(address) : address;

/** What a screen reader says of a tile: "SW-1, access switch 20 + 4, Valley Station, 6 links, 1 problem". */
function spokenLabel(topology: Topology, tile: Tile, second: string, links: number, problems: number): string {
  const device = topology.devices[tile.id]!;
  return [
    tile.name || 'a device without a name',
    (modelOf(topology, device)?.name ?? device.model).toLowerCase(),
    ...(tile.count > 1 ? [`${tile.count} alike`] : []),
    ...(tile.shape === 'standing' && second ? [second] : []),
    ...(device.site === undefined ? [] : [topology.sites[device.site]?.name ?? '']),
    counted(links, 'link'),
    ...(problems ? [counted(problems, 'problem')] : []),
  ].join(', ');
}

const tileNode = (
  tile: Tile,
  data: TileNode['data'],
  selected: boolean,
  editable: boolean,
  ariaLabel: string,
): TileNode => ({
  id: tile.id,
  type: 'tile',
  position: { x: tile.x, y: tile.y },
  width: tile.width,
  height: tile.height,
  measured: { width: tile.width, height: tile.height },
  zIndex: 2,
  draggable: editable,
  selected,
  ariaLabel,
  data,
});

const siteNode = (area: SiteArea, mark: Mark | null, selected: boolean, editable: boolean): SiteNode => ({
  id: SITE_PREFIX + area.id,
  type: 'site',
  position: { x: area.x, y: area.y },
  width: area.width,
  height: area.height,
  measured: { width: area.width, height: area.height },
  zIndex: area.depth === 0 ? 0 : 1,
  draggable: editable,
  selectable: editable,
  focusable: editable,
  dragHandle: '.tab',
  selected,
  ariaLabel: `Site ${area.name}`,
  data: { area, mark },
});

const legendNode = (card: LegendCard): LegendNode => ({
  id: LEGEND_ID,
  type: 'legend',
  position: { x: card.x, y: card.y },
  width: card.width,
  height: card.height,
  measured: { width: card.width, height: card.height },
  zIndex: 0,
  draggable: false,
  selectable: false,
  focusable: false,
  data: { card },
});

const noteNode = (note: NoteBox, selected: boolean, editable: boolean): NoteNode => ({
  id: NOTE_PREFIX + note.id,
  type: 'note',
  position: { x: note.x, y: note.y },
  width: note.width,
  height: note.height,
  measured: { width: note.width, height: note.height },
  zIndex: 3,
  draggable: editable,
  selectable: editable,
  focusable: editable,
  selected,
  ariaLabel: `Note: ${note.lines.join(' ')}`,
  data: { note },
});
