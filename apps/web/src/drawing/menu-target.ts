import { type Scene, type Spot } from '@sobrin/core/drawing';
import { LEGEND_ID, NOTE_PREFIX, PICTURE_PREFIX, SITE_PREFIX } from './nodes';
import { type Selection, NOTHING } from './selection';

/** A port of the drawing, and the link that is plugged into it. */
export interface PortSpot {
  readonly device: string;
  readonly port: string;
  readonly link: string;
}

/** So near to a chip its port is meant, in the drawing's pixels. */
const AT_CHIP = 8;

/** The port at whose chip a place is; null elsewhere. */
export function portAt({ lines }: Pick<Scene, 'lines'>, place: Spot | null): PortSpot | null {
  if (!place) return null;
  for (const { id, medium, a, b } of lines.values())
    for (const { x, y, device, port } of medium === 'wireless' ? [] : [a, b])
      if (Math.hypot(x - place.x, y - place.y) <= AT_CHIP) return { device, port, link: id };
  return null;
}

/** What is chosen once a menu is asked for at a place: what lies there, or all that is chosen where that is part of it. */
export function chosenAt(target: EventTarget, selection: Selection): Selection {
  if (!(target instanceof Element)) return NOTHING;
  const link = target.closest<SVGElement>('[data-hit]')?.dataset.hit;
  if (link !== undefined) return selection.links.includes(link) ? selection : { ...NOTHING, links: [link] };
  const node = target.closest<HTMLElement>('.react-flow__node')?.dataset.id;
  if (node === undefined || node === LEGEND_ID) return NOTHING;
  for (const [prefix, kind] of [
    [SITE_PREFIX, 'sites'],
    [NOTE_PREFIX, 'notes'],
    [PICTURE_PREFIX, 'pictures'],
    ['', 'devices'],
  ] as const) {
    if (!node.startsWith(prefix)) continue;
    const id = node.slice(prefix.length);
    return selection[kind]?.includes(id) ? selection : { ...NOTHING, [kind]: [id] };
  }
  return NOTHING;
}
