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
