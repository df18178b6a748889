import { plural } from '@sobrin/core';
import { parseInterfaceAddress } from '@sobrin/core/address';
import {
  type Box,
  Memo,
  type LegendCard,
  type NoteBox,
  type PictureBox,
  type Scene,
  type SiteArea,
  type Tile,
  addressUnder,
  firstAddressText,
  linkCounts,
  overlap,
  readingOrder,
  secondLine,
} from '@sobrin/core/drawing';
import { type Topology, modelOf } from '@sobrin/core/topology';
import { type LegendNode } from './legend-node';
import { type Mark } from './marks';
import { type NoteNode } from './note-node';
import { type PictureNode } from './picture-node';
import { type SiteNode } from './site-node';
import { type TileNode } from './tile-node';

export type DrawingNode = TileNode | SiteNode | LegendNode | NoteNode | PictureNode;
export const PICTURE_PREFIX = 'picture ';
export const NOTE_PREFIX = 'note ';
export const SITE_PREFIX = 'site ';
/** What lies above what: tiles with a thousand layers to either side, notes and pictures, then links. */
const TILES = 1500;
const ABOVE_TILES = 3000;
export const LEGEND_ID = 'legend of the drawing';

export interface NodeOptions {
  editable: boolean;
  selected: ReadonlySet<string>;
  selectedSites: ReadonlySet<string>;
  selectedNotes?: ReadonlySet<string>;
  selectedPictures?: ReadonlySet<string>;
  marks: ReadonlyMap<string, Mark>;
  siteMarks: ReadonlyMap<string, Mark>;
  markWords?: ReadonlyMap<string, string> | undefined;
  /** Why they are marked. */
  markReasons?: ReadonlyMap<string, string> | undefined;
  /** The marked device where one stands. */
  markHere?: string | undefined;
  seconds: ReadonlyMap<string, string>;
  dimOthers: boolean;
  subnetsShown: boolean;
  /** How many problems each device has, where they are told. */
  problems?: ReadonlyMap<string, number>;
  /** The device whose name is being typed on its tile. */
  renaming?: string | null;
  /** Something is being moved. */
  moving?: boolean;
  /** Seen from so far that small text cannot be read: addresses are left out. */
  far: boolean;
}

/**
 * Turns scenes into nodes. A node stays the same object as long as nothing of it changes, so that only what changed is
 * drawn anew.
 */
export class NodeFactory {
  private readonly kept = new Memo<DrawingNode>();
  private bracketed: { of: Scene['brackets']; ids: ReadonlySet<string> } = { of: [], ids: new Set() };
  /** By node, the how manyth it is as one reads the drawing. */
  private ranks: { tiles: Scene['tiles'] | null; sites: Scene['sites'] | null; of: ReadonlyMap<string, number> } = {
    tiles: null,
    sites: null,
    of: new Map(),
  };
  private links: { of: Topology['links']; counts: ReadonlyMap<string, number> } = { of: {}, counts: new Map() };

  /** The nodes of what `shows` lets through; all of them without it. */
  nodes(
    topology: Topology,
    scene: Scene,
    options: NodeOptions,
    shows: (box: Box, id: string) => boolean = () => true,
  ): DrawingNode[] {
    const nodes: DrawingNode[] = [];
    const { editable } = options;
    const take = (id: string, from: readonly unknown[], make: () => DrawingNode): void =>
      void nodes.push(this.kept.take(id, from, make));
    for (const area of scene.sites) {
      const id = SITE_PREFIX + area.id;
      if (!shows(area, id)) continue;
      const selected = options.selectedSites.has(area.id);
      const mark = options.siteMarks.get(area.id) ?? null;
      const { x, y, width, height, name, tone, depth } = area;
      take(id, [x, y, width, height, name, tone, depth, selected, mark, editable], () =>
        siteNode(area, mark, selected, editable),
      );
    }
    if (this.links.of !== topology.links) this.links = { of: topology.links, counts: linkCounts(topology) };
    if (this.bracketed.of !== scene.brackets)
      this.bracketed = { of: scene.brackets, ids: new Set(scene.brackets.flatMap((bracket) => bracket.members)) };
    for (const tile of scene.tiles.values()) {
      if (!shows(tile, tile.id)) continue;
      const device = topology.devices[tile.id]!;
      const selected = options.selected.has(tile.id);
      const mark = options.marks.get(tile.id) ?? null;
      const words = options.markWords?.get(tile.id) ?? null;
      const reason = options.markReasons?.get(tile.id) ?? '';
      const here = options.markHere === tile.id;
      const dimmed = options.dimOthers && !mark;
      const bracketed = options.subnetsShown && this.bracketed.ids.has(tile.id);
      const own = options.seconds.get(tile.id);
      const links = this.links.counts.get(tile.id) ?? 0;
      const problems = options.problems?.get(tile.id) ?? 0;
      const site = device.site === undefined ? '' : (topology.sites[device.site]?.name ?? '');
      const far = options.far && tile.shape === 'standing';
      const renaming = options.renaming === tile.id;
      const from = [
        tile,
        device,
        selected,
        mark,
        words,
        reason,
        here,
        dimmed,
        bracketed,
        own,
        links,
        problems,
        site,
        far,
        editable,
        renaming,
      ];
      take(tile.id, from, () => {
        const address = firstAddressText(device);
        const standing = tile.shape === 'standing';
        const second = far ? '' : (own ?? (standing ? addressUnder(device, bracketed) : secondLine(topology, device)));
        const wrong = own === undefined && standing && address !== null && !parseInterfaceAddress(address).ok;
        const label = spokenLabel(topology, tile, { second, site, links, problems, selected, mark, reason });
        const data = { tile, second, wrong, mark, words, here, dimmed, linkable: editable, renaming };
        return tileNode(tile, data, selected, editable, label);
      });
    }
    for (const note of scene.notes) {
      if (!shows(note, NOTE_PREFIX + note.id)) continue;
      const selected = options.selectedNotes?.has(note.id) ?? false;
      const { x, y, width, height } = note;
      const text = topology.notes?.[note.id]?.text;
      take(NOTE_PREFIX + note.id, [x, y, width, height, text, selected, editable], () =>
        noteNode(note, selected, editable),
      );
    }
    for (const picture of scene.pictures) {
      const id = PICTURE_PREFIX + picture.id;
      if (!shows(picture, id)) continue;
      const selected = options.selectedPictures?.has(picture.id) ?? false;
      const { x, y, width, height, name, beneath, dim } = picture;
      const data = topology.pictures![picture.id]!.data;
      take(id, [x, y, width, height, name, beneath, dim, data, selected, editable], () =>
        pictureNode(picture, data, selected, editable),
      );
    }
    const card = scene.legend;
    if (card && shows(card, LEGEND_ID)) take(LEGEND_ID, [JSON.stringify(card)], () => legendNode(card));
    this.kept.turn();
    // Tab goes through them as one reads. What is being moved keeps its turn until it rests.
    if (!options.moving && (this.ranks.tiles !== scene.tiles || this.ranks.sites !== scene.sites)) {
      const read = readingOrder(topology, scene).map(({ kind, id }) => (kind === 'site' ? SITE_PREFIX : '') + id);
      this.ranks = { tiles: scene.tiles, sites: scene.sites, of: new Map(read.map((id, at) => [id, at])) };
    }
    const rankOf = ({ id }: DrawingNode): number => this.ranks.of.get(id) ?? this.ranks.of.size;
    return nodes.sort((one, other) => rankOf(one) - rankOf(other));
  }
}

/** Lets through what lies in an area, and some things in any case. */
export const inArea =
  (area: Box, always: ReadonlySet<string>) =>
  (box: Box, id: string): boolean =>
    overlap(box, area) || always.has(id);

const MARK_WORDS: Readonly<Record<Mark, string>> = { met: 'met', lost: 'lost', unsure: 'not certain' };

/** What is heard of a tile: "SW-1, chosen, access switch 20 + 4, Valley Station, 6 links, 1 problem", "TILL-1, lost: …". */
function spokenLabel(
  topology: Topology,
  tile: Tile,
  {
    second,
    site,
    links,
    problems,
    selected,
    mark,
    reason,
  }: {
    second: string;
    site: string;
    links: number;
    problems: number;
    selected: boolean;
    mark: Mark | null;
    reason: string;
  },
): string {
  const device = topology.devices[tile.id]!;
  return [
    tile.name || 'a device without a name',
    ...(selected ? ['chosen'] : []),
    ...(mark ? [reason ? `${MARK_WORDS[mark]}: ${reason.replace(/\.$/, '')}` : MARK_WORDS[mark]] : []),
    (modelOf(topology, device)?.name ?? device.model).toLowerCase(),
    ...(tile.count > 1 ? [`${tile.count} alike`] : []),
    ...(tile.shape === 'standing' && second ? [second] : []),
    ...(site ? [site] : []),
    plural(links, 'link'),
    ...(problems ? [plural(problems, 'problem')] : []),
  ].join(', ');
}

/** Where a node stands and how large it is: the library need not measure it. */
const placed = ({ x, y, width, height }: Box) => ({ position: { x, y }, width, height, measured: { width, height } });

/** What a thing of the drawing is, for those who hear it: the library would call all of them nodes. */
const called = (what: string) => ({ 'aria-roledescription': what });

const tileNode = (
  tile: Tile,
  data: TileNode['data'],
  selected: boolean,
  editable: boolean,
  ariaLabel: string,
): TileNode => ({
  id: tile.id,
  type: 'tile',
  ...placed(tile),
  zIndex: TILES + (tile.layer ?? 0),
  draggable: editable,
  selected,
  ariaLabel,
  domAttributes: called('device'),
  data,
});

const siteNode = (area: SiteArea, mark: Mark | null, selected: boolean, editable: boolean): SiteNode => ({
  id: SITE_PREFIX + area.id,
  type: 'site',
  ...placed(area),
  zIndex: area.depth === 0 ? 0 : 1,
  draggable: editable,
  selectable: editable,
  focusable: editable,
  dragHandle: '.tab',
  selected,
  ariaLabel: `Site ${area.name}`,
  domAttributes: called('site'),
  data: { area, mark },
});

const legendNode = (card: LegendCard): LegendNode => ({
  id: LEGEND_ID,
  type: 'legend',
  ...placed(card),
  zIndex: 0,
  draggable: false,
  selectable: false,
  focusable: false,
  data: { card },
});

/** A picture beneath the drawing lets clicks through until it is chosen. */
const pictureNode = (picture: PictureBox, data: string, selected: boolean, editable: boolean): PictureNode => {
  const held = editable && (!picture.beneath || selected);
  return {
    id: PICTURE_PREFIX + picture.id,
    type: 'picture',
    ...placed(picture),
    zIndex: picture.beneath ? -1 : ABOVE_TILES,
    draggable: held,
    selectable: held,
    focusable: held,
    selected,
    ariaLabel: `Picture ${picture.name}`,
    domAttributes: called('picture'),
    data: { picture, data, sizable: held },
  };
};

const noteNode = (note: NoteBox, selected: boolean, editable: boolean): NoteNode => ({
  id: NOTE_PREFIX + note.id,
  type: 'note',
  ...placed(note),
  zIndex: ABOVE_TILES,
  draggable: editable,
  selectable: editable,
  focusable: editable,
  selected,
  ariaLabel: `Note: ${note.lines.join(' ')}`,
  domAttributes: called('note'),
  data: { note },
});
