import { entryOf } from '../records';
import { type Topology } from './schema';

const MOST_LETTERS = 40;
const short = (text: string): string => (text.length > MOST_LETTERS ? `${text.slice(0, MOST_LETTERS - 1)}…` : text);

/** A place in a drawing as people call it: by the names of things, never by their ids where they have one. */
export function placeInDrawing([map, id, ...rest]: readonly string[], drawing: Topology): string {
  if (map === undefined) return 'the whole drawing';
  if (id === undefined) return map;
  const { devices, sites, notes, comments, pictures, models } = drawing;
  const device = map === 'devices' ? entryOf(devices, id) : undefined;
  const words = {
    devices: () => device?.name,
    sites: () => entryOf(sites, id)?.name,
    links: () => linkWords(drawing, id),
    notes: () => noteWords('the note', entryOf(notes, id)?.text),
    comments: () => noteWords('the comment', entryOf(comments, id)?.entries[0]?.text),
    pictures: () => noteWords('the picture', entryOf(pictures, id)?.name),
    models: () => noteWords('the model', entryOf(models, id)?.name),
  }[map];
  const [part, key, ...within] = rest;
  const on = part === 'interfaces' && key !== undefined ? entryOf(device?.interfaces, key)?.on : undefined;
  const inner = on && 'port' in on ? [on.port, ...within] : rest;
  return [words?.() ?? `${map} › ${id}`, ...inner].join(' › ');
}

function linkWords({ devices, links }: Topology, id: string): string | undefined {
  const link = entryOf(links, id);
  return link && [link.a, link.b].map((end) => `${devices[end.device]?.name ?? ''} ${end.port}`).join(' – ');
}

const noteWords = (what: string, text: string | undefined): string | undefined =>
  text === undefined ? undefined : `${what} “${short(text.split('\n')[0]!)}”`;

/** A filter in a sentence: "filter guests", and "filter-1" where its name says already what it is. */
export const filterWords = (name: string): string => (/^filter\b/i.test(name) ? name : `filter ${name}`);
