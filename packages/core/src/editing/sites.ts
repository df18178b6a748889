import { siteAreas, tilesOf } from '../drawing';
import { type Command, type Topology } from '../topology';
import { type Position } from './place';

const BETWEEN_SITES = 40;
const EMPTY = { width: 240, height: 140 };

/** A new site round some devices, else an empty one to the right of the others; the first one stands at `at`. */
export function addSite(
  topology: Topology,
  id: string,
  devices: readonly string[],
  at: Position,
  name = nextSiteName(topology),
): Command[] {
  const members = devices.map((device) => ({ kind: 'setDevice', id: device, set: { site: id } }) as const);
  if (members.length) return [{ kind: 'setSite', id, set: { name } }, ...members];
  const right = siteAreas(topology, tilesOf(topology)).reduce<{ x: number; y: number } | null>(
    (most, { x, y, width }) => (most && most.x >= x + width ? most : { x: x + width, y }),
    null,
  );
  const { x, y } = right ? { x: right.x + BETWEEN_SITES, y: right.y } : at;
  return [{ kind: 'setSite', id, set: { name, area: { x: Math.round(x), y: Math.round(y), ...EMPTY } } }];
}

/** "Site 1" and so on: the first that no site is called. */
function nextSiteName({ sites }: Topology): string {
  const names = new Set(Object.values(sites).map((site) => site.name));
  for (let number = 1; ; number++) if (!names.has(`Site ${number}`)) return `Site ${number}`;
}
