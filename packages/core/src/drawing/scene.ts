import { type Topology } from '../topology';
import { type LinkSubnet, type SiteArea, type SubnetBracket, linkSubnets, siteAreas, subnetBrackets } from './areas';
import { type LinkLine, linesOf } from './lines';
import { type Box, type Tile, boxAround, tilesOf } from './tiles';

/** Everything that is drawn of a topology, in the drawing's own pixels. */
export interface Scene {
  readonly tiles: ReadonlyMap<string, Tile>;
  readonly lines: ReadonlyMap<string, LinkLine>;
  readonly sites: readonly SiteArea[];
  readonly brackets: readonly SubnetBracket[];
  readonly linkSubnets: readonly LinkSubnet[];
}

/** Works out the scene; `at` replaces the positions of devices that are being dragged. */
export function sceneOf(topology: Topology, at?: ReadonlyMap<string, { x: number; y: number }>): Scene {
  const tiles = tilesOf(topology, at);
  const lines = linesOf(topology, tiles);
  return {
    tiles,
    lines,
    sites: siteAreas(topology, tiles),
    brackets: subnetBrackets(topology, tiles),
    linkSubnets: linkSubnets(topology, lines, tiles),
  };
}

/** The box of the whole scene with what is written round the tiles; null for an empty sheet. */
export const sceneBox = ({ tiles, sites, brackets }: Scene): Box | null =>
  boxAround([
    ...[...tiles.values()].map((tile) => ({ ...tile, height: tile.height + (tile.shape === 'standing' ? 32 : 0) })),
    ...sites,
    ...brackets.map((one) => ({ x: one.from, y: one.y, width: one.to - one.from, height: 20 })),
  ]);
