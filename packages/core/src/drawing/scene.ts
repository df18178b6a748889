import { type Link, type Topology, entriesById } from '../topology';
import { type SiteArea, siteAreas } from './areas';
import { type Box, BoxIndex, boxAround } from './boxes';
import { type CommentPin, commentPins } from './comments';
import { CHIP, Edges, type Spot, socketKey } from './edges';
import { Memo } from './memo';
import { type Label, labelBox, placeLabels } from './labels';
import { type LegendCard, legendCard } from './legend';
import { type LinkLine, Lines } from './lines';
import { lengthOf, stationAt } from './media';
import { Names } from './names';
import { type NoteBox, notesOf } from './notes';
import { Routes } from './routes';
import { type LinkSubnet, type SubnetBracket, Subnets, bracketBox, pillBox, pillWidth } from './subnets';
import { type Tile, firstAddressText, textsBox } from './tiles';

/** Everything that is drawn of a topology, in the drawing's own pixels. */
export interface Scene {
  readonly tiles: ReadonlyMap<string, Tile>;
  readonly lines: ReadonlyMap<string, LinkLine>;
  /** Where the texts at the ends of links stand, by `socketKey`. */
  readonly labels: ReadonlyMap<string, Label>;
  readonly sites: readonly SiteArea[];
  readonly brackets: readonly SubnetBracket[];
  readonly linkSubnets: readonly LinkSubnet[];
  readonly notes: readonly NoteBox[];
  readonly comments: readonly CommentPin[];
  readonly pictures: readonly PictureBox[];
  readonly legend: LegendCard | null;
}

/** A picture as it is drawn, without its data. */
export interface PictureBox extends Box {
  readonly id: string;
  readonly name: string;
  readonly beneath?: boolean | undefined;
  readonly dim?: number | undefined;
}

/** What the scene of a drawing depends on beside the drawing itself. */
export interface SceneOptions {
  /** Other places for devices that are being moved. */
  readonly at?: ReadonlyMap<string, Spot> | undefined;
  /** How far sites are being moved. */
  readonly carried?: ReadonlyMap<string, Spot> | undefined;
  /** Other boxes of pictures that are being moved or sized. */
  readonly pictures?: ReadonlyMap<string, Partial<Box>> | undefined;
  /** Whether what is written beside tiles and links is wanted: else there is none. */
  readonly texts?: boolean | undefined;
  /** Much is being moved: what is written beside it can wait until it stands still. */
  readonly light?: boolean | undefined;
  /** The size of what lenses write in the middle of links: texts at the ends keep clear of it. */
  readonly middles?: ReadonlyMap<string, { width: number; height: number }> | undefined;
}

/**
 * Works scenes out one after the other. What does not change from one to the next stays the same object, so that only
 * what changed is drawn anew. While devices are being moved, texts at links that stay where they are stay as well.
 */
export class SceneKeeper {
  private readonly edges = new Edges();
  private readonly names = new Names();
  private readonly lines = new Lines();
  private readonly routes = new Routes();
  private readonly subnets = new Subnets();
  private readonly labels = new Memo<Label>();
  private sorted: { of: Topology['links']; links: [string, Link][] } = { of: {}, links: [] };
  private before: Scene | null = null;

  scene(
    topology: Topology,
    { at, carried, pictures: movedPictures, middles, texts = true, light }: SceneOptions = {},
  ): Scene {
    if (this.sorted.of !== topology.links) this.sorted = { of: topology.links, links: entriesById(topology.links) };
    const edges = this.edges.of(topology, at);
    const tiles = texts ? this.names.of(edges.tiles, light ? this.before?.tiles : undefined) : edges.tiles;
    const lines = this.routes.of(
      topology,
      this.lines.of(topology, this.sorted.links, edges),
      tiles,
      at !== undefined && at.size > 0,
    );
    const sites = siteAreas(topology, tiles, carried);
    const notes = notesOf(topology, tiles, lines, sites);
    const { before } = this;
    const { brackets, linkSubnets, labels } = !texts
      ? NO_TEXTS
      : light && before
        ? before
        : this.texts({ tiles, lines, sites, notes }, topology, at, middles);
    const pictures = this.pictures(topology, movedPictures);
    const drawn = { tiles, sites, brackets, notes, pictures };
    const legend = light && before ? before.legend : legendCard(topology, sceneBox(drawn));
    const comments = commentPins(topology, tiles, lines);
    return (this.before = { ...drawn, lines, labels, linkSubnets, legend, comments });
  }

  private pictures(topology: Topology, moved: SceneOptions['pictures']): PictureBox[] {
    return entriesById(topology.pictures).map(([id, { data: _data, at, ...picture }]) => ({
      id,
      ...picture,
      ...at,
      ...moved?.get(id),
    }));
  }

  /** What is written beside tiles and links, each at a place where nothing else is. */
  private texts(
    { tiles, lines, sites, notes }: Pick<Scene, 'tiles' | 'lines' | 'sites' | 'notes'>,
    topology: Topology,
    at: SceneOptions['at'],
    middles: SceneOptions['middles'],
  ): Pick<Scene, 'brackets' | 'linkSubnets' | 'labels'> {
    const taken = new BoxIndex();
    for (const tile of tiles.values()) {
      taken.add(tile);
      const second = tile.shape === 'standing' ? (firstAddressText(topology.devices[tile.id]!) ?? '') : '';
      const box = textsBox(tile, second);
      if (box) taken.add(box);
    }
    const brackets = this.subnets.brackets(topology, tiles, lines, taken);
    for (const bracket of brackets) taken.add(bracketBox(bracket));
    for (const note of notes) taken.add(note);
    for (const { x, y, name } of sites) taken.add({ x, y, width: name.length * 7.5 + 26, height: 22 });
    for (const line of lines.values())
      for (const { x, y } of [line.a, line.b])
        taken.add({ x: x - CHIP / 2, y: y - CHIP / 2, width: CHIP, height: CHIP });
    for (const box of middleBoxes(lines, middles)) taken.add(box);
    const labels = this.placed(topology, lines, taken, at !== undefined && at.size > 0);
    const linkSubnets = this.subnets.onLinks(topology, lines, tiles, taken);
    return { brackets, linkSubnets, labels };
  }

  private placed(
    topology: Topology,
    lines: ReadonlyMap<string, LinkLine>,
    taken: BoxIndex,
    moving: boolean,
  ): Map<string, Label> {
    const found = new Map<string, Label>();
    const open: LinkLine[] = [];
    for (const line of lines.values()) {
      if (!moving || this.before?.lines.get(line.id) !== line) {
        open.push(line);
        continue;
      }
      for (const end of ['a', 'b'] as const) {
        const label = this.before.labels.get(socketKey(line.id, end));
        if (!label) continue;
        taken.add(labelBox(label, line[end].text));
        found.set(socketKey(line.id, end), label);
      }
    }
    for (const [key, label] of placeLabels(open, topology.links, taken)) found.set(key, label);
    for (const [key, label] of found)
      found.set(
        key,
        this.labels.take(key, [label.x, label.y], () => label),
      );
    this.labels.turn();
    return found;
  }
}

const NO_TEXTS: Pick<Scene, 'brackets' | 'linkSubnets' | 'labels'> = {
  brackets: [],
  linkSubnets: [],
  labels: new Map(),
};

/** The room that is taken in the middle of links. */
function middleBoxes(lines: ReadonlyMap<string, LinkLine>, middles: SceneOptions['middles']): Box[] {
  return [...(middles ?? [])].flatMap(([id, { width, height }]) => {
    const line = lines.get(id);
    if (!line) return [];
    const { x, y } = stationAt(line.points, lengthOf(line.points) / 2);
    return [{ x: x - width / 2, y: y - height / 2, width, height }];
  });
}

/** The scene of a single drawing. */
export const sceneOf = (topology: Topology, options?: SceneOptions): Scene =>
  new SceneKeeper().scene(topology, options);

/** Stands for whatever is written below names. */
const SOME_ADDRESS = '.100';

/** The box of what is drawn with what is written round the tiles, without the legend; null for an empty sheet. */
export const sceneBox = ({
  tiles,
  sites,
  brackets,
  notes,
  pictures,
}: Pick<Scene, 'tiles' | 'sites' | 'brackets' | 'notes' | 'pictures'>): Box | null =>
  boxAround([
    ...tiles.values(),
    ...[...tiles.values()].flatMap((tile) => textsBox(tile, SOME_ADDRESS) ?? []),
    ...sites,
    ...notes,
    ...pictures,
    ...brackets.map(bracketBox),
  ]);

/** All that is drawn: also links that run far from what they join, what is written on them, and the legend. */
export function wholeBox(scene: Scene): Box | null {
  const box = sceneBox(scene);
  return (
    box &&
    boxAround([
      box,
      ...[...scene.lines.values()].map((line) => line.box),
      ...scene.linkSubnets.map(({ x, y, prefix }) => pillBox({ x, y }, pillWidth(prefix))),
      ...(scene.legend ? [scene.legend] : []),
    ])
  );
}
