import { NOTE_PREFIX, PICTURE_PREFIX, SITE_PREFIX } from './nodes';

/** What is chosen in a drawing, by id. */
export interface Selection {
  readonly devices: readonly string[];
  readonly links: readonly string[];
  readonly sites: readonly string[];
  readonly notes?: readonly string[];
  readonly pictures?: readonly string[];
}
export const NOTHING: Selection = { devices: [], links: [], sites: [] };
export const isNothing = ({ devices, links, sites, notes = [], pictures = [] }: Selection): boolean =>
  devices.length + links.length + sites.length + notes.length + pictures.length === 0;

/** What is chosen after the library says what was picked; it knows only of what is drawn. */
export function afterPick(
  before: Selection,
  picked: readonly { id: string; selected: boolean }[],
  add: boolean,
): Selection {
  const added = picked.filter((change) => change.selected).map((change) => change.id);
  const keep = add || !added.length;
  // Where one more is chosen the others stay, also where the library missed the key that says so.
  const isOneMore = add && added.length > 0;
  const gone = new Set(isOneMore ? [] : picked.filter((change) => !change.selected).map((change) => change.id));
  const of = (ids: readonly string[], prefix: string, isMine: (id: string) => boolean): string[] => [
    ...new Set([
      ...(keep ? ids.filter((id) => !gone.has(prefix + id)) : []),
      ...added.filter(isMine).map((id) => id.slice(prefix.length)),
    ]),
  ];
  const isSite = (id: string): boolean => id.startsWith(SITE_PREFIX);
  const isNote = (id: string): boolean => id.startsWith(NOTE_PREFIX);
  const isPicture = (id: string): boolean => id.startsWith(PICTURE_PREFIX);
  return {
    devices: of(before.devices, '', (id) => !isSite(id) && !isNote(id) && !isPicture(id)),
    sites: of(before.sites, SITE_PREFIX, isSite),
    notes: of(before.notes ?? [], NOTE_PREFIX, isNote),
    pictures: of(before.pictures ?? [], PICTURE_PREFIX, isPicture),
    links: [],
  };
}

/** What is chosen, to be asked id by id. */
export const chosenIds = ({ devices, links, sites, notes, pictures }: Selection) => ({
  devices: new Set(devices),
  links: new Set(links),
  sites: new Set(sites),
  notes: new Set(notes),
  pictures: new Set(pictures),
});
