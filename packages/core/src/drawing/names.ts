import { type Box, overlap } from './boxes';
import { Memo } from './memo';
import { LINE_HEIGHT, NAME_GAP, type Tile, WIDEST_NAME, lineWidth, nameWidth } from './tiles';

/** The most lines that a name is broken into. */
const MOST_LINES = 3;

/** Names that stand above or below their tile and meet others there: they are broken, so that each can be read. */
export class Names {
  private readonly memo = new Memo<Tile>();

  /** The tiles with the lines of their names. `before` are those whose lines stay while they are moved. */
  of(tiles: ReadonlyMap<string, Tile>, before?: ReadonlyMap<string, Tile>): ReadonlyMap<string, Tile> {
    const rooms = before ? null : roomsOf(tiles);
    let found: Map<string, Tile> | null = null;
    for (const [id, tile] of tiles) {
      const room = rooms?.get(id);
      const written = before ? before.get(id)?.written : room === undefined ? undefined : writtenIn(tile.name, room);
      if (!written) continue;
      found ??= new Map(tiles);
      const { lines, width } = written;
      found.set(
        id,
        this.memo.take(id, [tile, width, ...lines], () => ({ ...tile, written })),
      );
    }
    if (!before) this.memo.turn();
    return found ?? tiles;
  }
}

/** The width that is left for each name that has not all it would like, by the tile's id. */
function roomsOf(tiles: ReadonlyMap<string, Tile>): Map<string, number> {
  const all = [...tiles.values()].sort((a, b) => centre(a) - centre(b));
  const found = new Map<string, number>();
  for (const [at, tile] of all.entries()) {
    if (!isAcross(tile)) continue;
    const strip = firstLine(tile);
    let room = nameWidth(tile.name);
    for (const step of [-1, 1])
      for (let next = at + step; all[next]; next += step) {
        const other = all[next]!;
        const apart = Math.abs(centre(other) - centre(tile));
        if (apart > WIDEST_NAME + other.width) break;
        const [half, isSame] = halfOf(other, strip);
        if (half === 0 || apart === 0) continue;
        // Two long names share what lies between them; beside a short one there is more.
        room = Math.min(room, 2 * (isSame ? Math.max(apart / 2, apart - half) : apart - half) - NAME_GAP);
      }
    if (room < nameWidth(tile.name)) found.set(tile.id, Math.max(room, tile.width));
  }
  return found;
}

const centre = ({ x, width }: Tile): number => x + width / 2;
const isAcross = ({ texts }: Tile): boolean => texts === 'top' || texts === 'bottom';

/** Where the first line of a name stands, as wide as names can be. */
function firstLine(tile: Tile): Box {
  const y = tile.texts === 'top' ? tile.y - tile.away - LINE_HEIGHT : tile.y + tile.height + tile.away;
  return { x: centre(tile) - WIDEST_NAME, y, width: 2 * WIDEST_NAME, height: LINE_HEIGHT };
}

/** Half of what another tile takes of a strip, and whether that is a name, which may give way, too. */
function halfOf(tile: Tile, strip: Box): [half: number, isName: boolean] {
  const across = { x: strip.x, width: strip.width };
  if (overlap({ ...across, y: tile.y, height: tile.height }, strip)) return [tile.width / 2, false];
  if (isAcross(tile) && overlap({ ...across, y: firstLine(tile).y, height: LINE_HEIGHT }, strip))
    return [nameWidth(tile.name) / 2, true];
  return [0, false];
}

/** A name in lines of a width: broken where words end, and where one is too long its middle is left out. */
export function writtenIn(name: string, width: number): NonNullable<Tile['written']> {
  const fits = (line: string): boolean => lineWidth(line.trimEnd()) <= width;
  const lines: string[] = [];
  for (const word of name.match(/[^\s_./-]*[\s_./-]*/g) ?? []) {
    const last = lines.at(-1);
    if (last !== undefined && fits(last + word)) lines[lines.length - 1] = last + word;
    else if (word) lines.push(word);
  }
  const kept =
    lines.length > MOST_LINES ? [...lines.slice(0, MOST_LINES - 1), lines.slice(MOST_LINES - 1).join('')] : lines;
  return { lines: kept.map((line) => withoutMiddle(line.trimEnd(), fits)), width };
}

/** The end of a name tells it from others as often as its beginning. */
function withoutMiddle(line: string, fits: (line: string) => boolean): string {
  if (fits(line)) return line;
  const letters = [...line];
  for (let left = letters.length - 1; left > 1; left--) {
    const tail = Math.floor(left / 2);
    const short = `${letters.slice(0, left - tail).join('')}…${letters.slice(letters.length - tail).join('')}`;
    if (fits(short)) return short;
  }
  return '…';
}
