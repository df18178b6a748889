import { type Link } from '../topology';
import { type Box, type BoxIndex } from './boxes';
import { CHIP, type Spot, socketKey } from './edges';
import { type LineEnd, type LinkLine } from './lines';
import { type Station, lengthOf, stationAt } from './media';
import { MONO_ADVANCE } from './tiles';

/** Where what is written at the end of a link stands: the start of its baseline. */
export type Label = Spot;

const HEIGHT = 13;
/** From the middle of a line of text down to its baseline. */
const BASELINE = 4;
/** Between a line and what is written beside it. */
const BESIDE = 5;
const STEP = 7;
/** A line is upright where it goes down at least so much for each pixel across. */
const UPRIGHT = 0.45;
/** No text goes further along its link than this share of it: it would seem to belong to the other end. */
const FURTHEST = 0.47;
const AFTER_CHIP = CHIP / 2 + 4;

export const labelWidth = (text: string): number => text.length * MONO_ADVANCE;

/** The box of a text that starts at a place. */
export const labelBox = ({ x, y }: Label, text: string): Box => ({
  x,
  y: y - BASELINE - HEIGHT / 2,
  width: labelWidth(text),
  height: HEIGHT,
});

/** The box of a text in full at the place of the short one: it grows away from its own tile. */
export function fullLabelBox({ side, text, full }: LinkLine['a'], label: Label): Box {
  const box = labelBox(label, full);
  return side === 'left' ? { ...box, x: label.x + labelWidth(text) - box.width } : box;
}

/**
 * Finds a place for what is written at each end of the given links: beside its own line, as near to its chip as what is
 * there already allows, first on the right of the line or above it. `taken` holds tiles, chips and texts, and takes the
 * new ones in. What was placed by hand stands there whatever lies below. A text that finds no place is left out.
 */
export function placeLabels(
  lines: Iterable<LinkLine>,
  links: Readonly<Record<string, Link>>,
  taken: BoxIndex,
): Map<string, Label> {
  const labels = new Map<string, Label>();
  const open: { key: string; line: LinkLine; end: 'a' | 'b' }[] = [];
  for (const line of lines)
    for (const end of ['a', 'b'] as const) {
      const { text, x, y } = line[end];
      if (!text) continue;
      const key = socketKey(line.id, end);
      const byHand = links[line.id]?.labelOffsets?.[end];
      if (byHand) {
        const label = { x: x + byHand.x, y: y + byHand.y };
        taken.add(labelBox(label, text));
        labels.set(key, label);
      } else open.push({ key, line, end });
    }
  for (const { key, line, end } of open) {
    const label = firstFree(line, end, taken);
    if (!label) continue;
    taken.add(labelBox(label, line[end].text));
    labels.set(key, label);
  }
  return labels;
}

function firstFree(line: LinkLine, end: 'a' | 'b', taken: BoxIndex): Label | null {
  const { text } = line[end];
  const points = end === 'a' ? line.points : [...line.points].reverse();
  const length = lengthOf(points);
  const furthest = Math.max(length * FURTHEST, STEP);
  for (let way = 0; way <= furthest; way += STEP)
    for (const box of besideLine(line[end], stationAt(points, way), labelWidth(text)))
      if (taken.isFree(box)) return { x: box.x, y: box.y + HEIGHT / 2 + BASELINE };
  return null;
}

/** The two boxes beside a line at a station, in the order in which they are preferred. */
function besideLine(end: LineEnd, { x, y, along }: Station, width: number): Box[] {
  const box = (left: number, middle: number): Box => ({ x: left, y: middle - HEIGHT / 2, width, height: HEIGHT });
  if (Math.abs(along.y) > UPRIGHT * Math.abs(along.x)) {
    // The line leans over the height of the text: the box keeps clear of it.
    const lean = Math.min(12, (HEIGHT / 2) * Math.abs(along.x / along.y));
    const away = Math.max(BESIDE + lean, Math.abs(end.y - y) < AFTER_CHIP ? AFTER_CHIP : 0);
    const [right, left] = [box(x + away, y), box(x - away - width, y)];
    return along.x / Math.abs(along.y) > 0.8 ? [left, right] : [right, left];
  }
  const slope = along.y / (along.x || 1);
  const start = along.x < 0 ? x - width : x;
  // The highest and the lowest place of the line beside the text.
  const [p, q] = [y + slope * (start - x), y + slope * (start + width - x)];
  const near = Math.abs(end.x - x) < AFTER_CHIP ? CHIP / 2 : 0;
  const [high, low] = [Math.min(p, q, y - near), Math.max(p, q, y + near)];
  return [box(start, high - HEIGHT / 2 - 1), box(start, low + HEIGHT / 2 + 2)];
}
