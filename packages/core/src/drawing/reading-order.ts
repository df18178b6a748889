import { type Site, type Topology } from '../topology';
import { type SiteArea } from './areas';
import { type Box } from './boxes';
import { type Tile } from './tiles';

/** A place in the order in which one reads a drawing. */
export interface Read {
  readonly kind: 'site' | 'device';
  readonly id: string;
}

interface Part extends Read {
  readonly box: Box;
}

/**
 * Sites and devices in the order in which one reads them: row by row from the top, each from the left; what stands in a
 * site comes right after it. A row is what reaches above the middle of its first one.
 */
export function readingOrder(
  { devices, sites }: Pick<Topology, 'devices' | 'sites'>,
  { tiles, sites: areas }: { readonly tiles: ReadonlyMap<string, Tile>; readonly sites: readonly SiteArea[] },
): Read[] {
  const shown = new Set(areas.map(({ id }) => id));
  /** The nearest site around something that is drawn; '' for the sheet. */
  const within = (site: Site['parent']): string => (site !== undefined && shown.has(site) ? site : '');
  const parts = new Map<string, Part[]>();
  const put = (where: string, part: Part): void => void parts.set(where, [...(parts.get(where) ?? []), part]);
  for (const area of areas) put(within(sites[area.id]?.parent), { kind: 'site', id: area.id, box: area });
  for (const tile of tiles.values()) put(within(devices[tile.id]?.site), { kind: 'device', id: tile.id, box: tile });
  const read: Read[] = [];
  const visit = (where: string): void => {
    for (const { kind, id } of inRows(parts.get(where) ?? [])) {
      read.push({ kind, id });
      if (kind === 'site') visit(id);
    }
  };
  visit('');
  return read;
}

function inRows(parts: readonly Part[]): Part[] {
  const byTop = parts.toSorted((one, other) => one.box.y - other.box.y || one.box.x - other.box.x);
  const rows: Part[][] = [];
  for (const part of byTop) {
    const first = rows.at(-1)?.[0]?.box;
    if (first && part.box.y < first.y + first.height / 2) rows.at(-1)!.push(part);
    else rows.push([part]);
  }
  return rows.flatMap((row) => row.sort((one, other) => one.box.x - other.box.x));
}
