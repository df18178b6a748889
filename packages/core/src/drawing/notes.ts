import { type Note, type Topology, entriesById } from '../topology';
import { type SiteArea } from './areas';
import { type Spot } from './edges';
import { type LinkLine } from './lines';
import { lengthOf, stationAt } from './media';
import { type Box, centreOf } from './boxes';
import { type Tile } from './tiles';
import { type Run, runsWidth, plainLine, writtenLines, LINE_ENDS } from './written';

/** A note as it is drawn; `thread` is where the thing is that it hangs on, null for a note at a place. */
export interface NoteBox extends Box {
  readonly id: string;
  readonly lines: readonly string[];
  /** Its lines as they are written. */
  readonly runs: readonly (readonly Run[])[];
  readonly thread: { readonly x: number; readonly y: number } | null;
  /** Whether the thread points at what it hangs on. */
  readonly arrow: boolean;
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
  return text.split(LINE_ENDS).flatMap((paragraph) => {
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
    const runs = writtenLines(note.text || 'An empty note', Math.floor((WIDEST - 2 * PADDING) / ADVANCE));
    const text = runs.map(plainLine);
    const longest = Math.max(...runs.map(runsWidth));
    const from = originOf(note, tiles, sites, topology);
    const box = {
      x: from.x + note.at.x,
      y: from.y + note.at.y,
      width: Math.round(Math.min(WIDEST, Math.max(NARROWEST, longest * ADVANCE + 2 * PADDING))),
      height: text.length * NOTE_ROW + 10,
    };
    const arrow = note.arrow === true;
    return {
      id,
      lines: text,
      runs,
      ...box,
      thread: threadOf(note, tiles, lines, arrow ? threadStart(box) : null),
      arrow,
    };
  });
}

/** Where the thread of a note begins. */
export const threadStart = ({ x, y, height }: Box): Spot => ({ x: x + 2, y: y + height / 2 });

/** The place a little outside of a box from which one comes to its middle. */
function edgeTowards(box: Box, from: Spot): Spot {
  const GAP = 3;
  const middle = centreOf(box);
  const [dx, dy] = [from.x - middle.x, from.y - middle.y];
  const share = Math.min(
    dx ? (box.width / 2 + GAP) / Math.abs(dx) : Infinity,
    dy ? (box.height / 2 + GAP) / Math.abs(dy) : Infinity,
    1,
  );
  return { x: middle.x + dx * share, y: middle.y + dy * share };
}

/** The head of an arrow that comes from a place, as SVG path data. */
export function arrowHead(from: Spot, to: Spot): string {
  const [LONG, HALF] = [9, 4];
  const length = Math.hypot(to.x - from.x, to.y - from.y) || 1;
  const [x, y] = [(to.x - from.x) / length, (to.y - from.y) / length];
  const n = (value: number): string => String(Math.round(value * 10) / 10);
  const foot = (side: number): string =>
    `${n(to.x - x * LONG - y * HALF * side)} ${n(to.y - y * LONG + x * HALF * side)}`;
  return `M${n(to.x)} ${n(to.y)}L${foot(1)}L${foot(-1)}Z`;
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
  /** Where an arrow comes from: it ends at the edge of a tile, which would cover its head. */
  from: Spot | null,
): NoteBox['thread'] {
  if (anchor?.kind === 'device') {
    const tile = tiles.get(anchor.id);
    if (!tile) return null;
    return from ? edgeTowards(tile, from) : centreOf(tile);
  }
  const line = anchor?.kind === 'link' ? lines.get(anchor.id) : undefined;
  return line ? stationAt(line.points, lengthOf(line.points) / 2) : null;
}
