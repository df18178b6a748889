import { LEGEND_ID, NOTE_PREFIX, PICTURE_PREFIX, SITE_PREFIX } from './nodes';
import { type Selection, NOTHING } from './selection';

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
