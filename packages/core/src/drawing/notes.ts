import { type Note, type Topology, entriesById } from '../topology';
import { type SiteArea } from './areas';
import { type LinkLine } from './lines';
import { lengthOf, stationAt } from './media';
import { type Box, centreOf } from './boxes';
import { type Tile } from './tiles';

/** A note as it is drawn; `thread` is where the thing is that it hangs on, null for a note at a place. */
export interface NoteBox extends Box {
  readonly id: string;
  readonly lines: readonly string[];
  readonly thread: { readonly x: number; readonly y: number } | null;
}

const WIDEST = 200;
const NARROWEST = 72;
const PADDING = 10;
/** The height of a line of a note, in pixels. */
export const NOTE_ROW = 16;
/** Advance of a letter of a note (12 px, the mean). */
const ADVANCE = 6;

/** Words put into lines of at most so many letters; a longer word has a line of its own. */
export function wrapped(text: string, most: number): string[] {
  return text.split('\n').flatMap((paragraph) => {
    const lines: string[] = [];
    let line = '';
    for (const word of paragraph.split(/\s+/)) {
      if (line && line.length + 1 + word.length > most) {
        lines.push(line);
        line = word;
      } else line = line ? `${line} ${word}` : word;
    }
    return [...lines, line];
  });
}

/**
 * All notes. `at` of a note that hangs on something is counted from there (a device's place, the middle between the
 * devices of a link, the corner of a site), so that it goes along when that moves.
 */
export function notesOf(
  topology: Topology,
  tiles: ReadonlyMap<string, Tile>,
  lines: ReadonlyMap<string, LinkLine>,
  sites: readonly SiteArea[],
): NoteBox[] {
  return entriesById(topology.notes).map(([id, note]) => {
    const text = wrapped(note.text || 'An empty note', Math.floor((WIDEST - 2 * PADDING) / ADVANCE));
    const longest = Math.max(...text.map((line) => line.length));
    const from = originOf(note, tiles, sites, topology);
    return {
      id,
      lines: text,
      x: from.x + note.at.x,
      y: from.y + note.at.y,
      width: Math.round(Math.min(WIDEST, Math.max(NARROWEST, longest * ADVANCE + 2 * PADDING))),
      height: text.length * NOTE_ROW + 10,
      thread: threadOf(note, tiles, lines),
    };
  });
}

const NOWHERE = { x: 0, y: 0 };
/** Where the place of a note is counted from. */
function originOf(
  { anchor }: Pick<Note, 'anchor'>,
  tiles: ReadonlyMap<string, Tile>,
  sites: readonly SiteArea[],
  topology: Topology,
): { x: number; y: number } {
  if (anchor?.kind === 'device') return tiles.get(anchor.id) ?? NOWHERE;
  if (anchor?.kind === 'site') return sites.find((site) => site.id === anchor.id) ?? NOWHERE;
  const link = anchor && topology.links[anchor.id];
  const [a, b] = link ? [tiles.get(link.a.device), tiles.get(link.b.device)] : [];
  return a && b ? { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 } : NOWHERE;
}

function threadOf(
  { anchor }: Pick<Note, 'anchor'>,
  tiles: ReadonlyMap<string, Tile>,
  lines: ReadonlyMap<string, LinkLine>,
): NoteBox['thread'] {
  if (anchor?.kind === 'device') {
    const tile = tiles.get(anchor.id);
    return tile ? centreOf(tile) : null;
  }
  const line = anchor?.kind === 'link' ? lines.get(anchor.id) : undefined;
  return line ? stationAt(line.points, lengthOf(line.points) / 2) : null;
}
