import { type Topology, entriesById } from '../topology';
import { type Box, boxAround } from './boxes';
import { LINE_HEIGHT, type Tile } from './tiles';

/** A site as a tinted area; `depth` 0 for an outermost one. `tone` runs through the four tints by order. */
export interface SiteArea extends Box {
  readonly id: string;
  readonly name: string;
  readonly depth: number;
  readonly tone: number;
}

/** Space round the members of a site, more above for its tab and below for names, addresses and brackets. */
const ROUND = { left: 24, right: 24, top: 42, bottom: 72 };
const EMPTY_SITE = { width: 240, height: 140 };

/** The areas of sites, outermost first: as stored, else round what stands in them. `carried` tells how far some are being moved. */
export function siteAreas(
  topology: Topology,
  tiles: ReadonlyMap<string, Tile>,
  carried: ReadonlyMap<string, { x: number; y: number }> = new Map(),
): SiteArea[] {
  const known = new Map<string, SiteArea>();
  const sites = entriesById(topology.sites);
  const depthOf = (id: string): number => {
    const parent = topology.sites[id]?.parent;
    return parent === undefined ? 0 : 1 + depthOf(parent);
  };
  const members = new Map(sites.map(([id]) => [id, [] as Box[]]));
  for (const tile of tiles.values()) members.get(topology.devices[tile.id]!.site ?? '')?.push(withLines(tile));
  let free = 0;
  // Innermost first, so that an outer site can close round the areas inside it.
  for (const [id, site] of [...sites].sort(([a], [b]) => depthOf(b) - depthOf(a))) {
    const inside: Box[] = [
      ...members.get(id)!,
      ...sites.flatMap(([child, site]) => (site.parent === id && known.has(child) ? [known.get(child)!] : [])),
    ];
    const around = boxAround(inside);
    const computed: Box = around
      ? {
          x: around.x - ROUND.left,
          y: around.y - ROUND.top,
          width: around.width + ROUND.left + ROUND.right,
          height: around.height + ROUND.top + ROUND.bottom,
        }
      : { x: 20 + free++ * (EMPTY_SITE.width + 20), y: 20, ...EMPTY_SITE };
    const by = carried.get(id) ?? { x: 0, y: 0 };
    const stored = site.area && { ...site.area, x: site.area.x + by.x, y: site.area.y + by.y };
    // A stored area grows where members stand outside it: what belongs to a site is seen inside it.
    const box = stored ? (around ? boxAround([stored, computed])! : stored) : computed;
    known.set(id, {
      id,
      name: site.name,
      depth: depthOf(id),
      tone: sites.findIndex(([site]) => site === id) % 4,
      ...box,
    });
  }
  return [...known.values()].sort((a, b) => a.depth - b.depth || (a.id < b.id ? -1 : 1));
}

/** The box of a tile with those lines of its name for which there is no room in what is left round all. */
function withLines(tile: Tile): Box {
  const more = ((tile.written?.lines.length ?? 1) - 1) * LINE_HEIGHT;
  return more && tile.texts === 'bottom' ? { ...tile, height: tile.height + more } : tile;
}

/** A site and all sites inside it. */
export function sitesWithin(topology: Topology, id: string): Set<string> {
  const inside = new Set([id]);
  for (const at of inside)
    for (const [child, site] of Object.entries(topology.sites)) if (site.parent === at) inside.add(child);
  return inside;
}
