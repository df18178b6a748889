import { type Topology } from '../topology';
import { type LinkSubnet, type SiteArea, type SubnetBracket, linkSubnets, siteAreas, subnetBrackets } from './areas';
import { type LegendCard, legendCard } from './legend';
import { type LinkLine, linesOf } from './lines';
import { type NoteBox, notesOf } from './notes';
import { type Box, type Tile, boxAround, tilesOf } from './tiles';

/** Everything that is drawn of a topology, in the drawing's own pixels. */
export interface Scene {
  readonly tiles: ReadonlyMap<string, Tile>;
  readonly lines: ReadonlyMap<string, LinkLine>;
  readonly sites: readonly SiteArea[];
  readonly brackets: readonly SubnetBracket[];
  readonly linkSubnets: readonly LinkSubnet[];
  readonly notes: readonly NoteBox[];
  readonly legend: LegendCard | null;
}

/** Works out the scene; `at` replaces the positions of devices that are being dragged. */
export function sceneOf(topology: Topology, at?: ReadonlyMap<string, { x: number; y: number }>): Scene {
  const tiles = tilesOf(topology, at);
  const lines = linesOf(topology, tiles);
  const sites = siteAreas(topology, tiles);
  const notes = notesOf(topology, tiles, lines, sites);
  const drawn = { tiles, sites, brackets: subnetBrackets(topology, tiles), notes };
  return {
    ...drawn,
    lines,
    linkSubnets: linkSubnets(topology, lines, tiles),
    legend: legendCard(topology, sceneBox(drawn)),
  };
}

/** The box of what is drawn with what is written round the tiles, without the legend; null for an empty sheet. */
export const sceneBox = ({
  tiles,
  sites,
  brackets,
  notes,
}: Pick<Scene, 'tiles' | 'sites' | 'brackets' | 'notes'>): Box | null =>
  boxAround([
    ...[...tiles.values()].map((tile) => ({ ...tile, height: tile.height + (tile.shape === 'standing' ? 32 : 0) })),
    ...sites,
    ...notes,
    ...brackets.map((one) => ({ x: one.from, y: one.y, width: one.to - one.from, height: 20 })),
  ]);
