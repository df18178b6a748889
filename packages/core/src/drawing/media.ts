import { type Medium } from '../topology';
import { type Spot } from './edges';

/** The form of a link as SVG path data. Strokes are drawn in the order given; beads are circles. */
export interface MediumForm {
  readonly strokes: readonly { readonly d: string; readonly width: number; readonly core?: boolean }[];
  readonly beads: readonly Spot[];
  readonly beadsFilled: boolean;
  /** Console lines end in open squares in place of port chips. */
  readonly squareEnds: boolean;
}

const CORNER = 8;
const n = (value: number): string => String(Math.round(value * 10) / 10);
const at = ({ x, y }: Spot): string => `${n(x)} ${n(y)}`;

/** A polyline with rounded corners, or with sharp ones. */
export function roundedPath(points: readonly Spot[], square = false): string {
  const [first, ...rest] = points;
  if (!first || !rest.length) return '';
  let d = `M${at(first)}`;
  for (const [index, corner] of rest.slice(0, -1).entries()) {
    const [before, after] = [points[index]!, points[index + 2]!];
    if (square) {
      d += `L${at(corner)}`;
      continue;
    }
    const radius = Math.min(CORNER, distance(before, corner) / 2, distance(corner, after) / 2);
    d += `L${at(towards(corner, before, radius))}Q${at(corner)} ${at(towards(corner, after, radius))}`;
  }
  return `${d}L${at(rest.at(-1)!)}`;
}

const distance = (a: Spot, b: Spot): number => Math.hypot(b.x - a.x, b.y - a.y);
function towards(from: Spot, to: Spot, by: number): Spot {
  const length = distance(from, to) || 1;
  return { x: from.x + ((to.x - from.x) * by) / length, y: from.y + ((to.y - from.y) * by) / length };
}

/** A place on the polyline with the unit vector along it and the one across (to the right of the way). */
export interface Station extends Spot {
  readonly along: Spot;
  readonly across: Spot;
}

/** The length of a polyline, in pixels. */
export const lengthOf = (points: readonly Spot[]): number =>
  points.slice(1).reduce((sum, point, index) => sum + distance(points[index]!, point), 0);

/** The station at a distance from the start of a polyline. */
export function stationAt(points: readonly Spot[], wanted: number): Station {
  let left = wanted;
  for (let index = 1; index < points.length; index++) {
    const [a, b] = [points[index - 1]!, points[index]!];
    const length = distance(a, b);
    if (left <= length || index === points.length - 1) {
      const along = length ? { x: (b.x - a.x) / length, y: (b.y - a.y) / length } : { x: 1, y: 0 };
      return { x: a.x + along.x * left, y: a.y + along.y * left, along, across: { x: -along.y, y: along.x } };
    }
    left -= length;
  }
  const only = points[0] ?? { x: 0, y: 0 };
  return { ...only, along: { x: 1, y: 0 }, across: { x: 0, y: 1 } };
}

/** Stations every `step` along the way, the rest shared between both ends. */
function stations(points: readonly Spot[], step: number): Station[] {
  const length = lengthOf(points);
  const count = Math.floor((length - step) / step);
  if (count < 0) return [stationAt(points, length / 2)];
  const first = (length - count * step) / 2;
  return Array.from({ length: count + 1 }, (_, index) => stationAt(points, first + index * step));
}

const tick = (station: Station, half: number, shift = 0): string => {
  const middle = { x: station.x + station.along.x * shift, y: station.y + station.along.y * shift };
  const [dx, dy] = [station.across.x * half, station.across.y * half];
  return `M${at({ x: middle.x - dx, y: middle.y - dy })}L${at({ x: middle.x + dx, y: middle.y + dy })}`;
};
const ticks = (list: readonly Station[], half: number, ...shifts: number[]): string =>
  list.flatMap((station) => (shifts.length ? shifts : [0]).map((shift) => tick(station, half, shift))).join('');

/** What of a link its form depends on. `clock` says at which end of a serial link the clock is. */
export interface FormOf {
  readonly medium: Medium;
  readonly points: readonly Spot[];
  readonly clock?: 'a' | 'b' | null;
  readonly scale?: number;
  readonly square?: boolean;
}

/** How a link looks along its polyline: the form says the medium, the thickness only makes it stand out. */
export function mediumForm(link: FormOf): MediumForm {
  const { scale = 1, ...shape } = link;
  const form = shapeOf(shape);
  if (scale === 1) return form;
  return { ...form, strokes: form.strokes.map((stroke) => ({ ...stroke, width: stroke.width * scale })) };
}

function shapeOf({ medium, points, clock = null, square = false }: Omit<FormOf, 'scale'>): MediumForm {
  const line = roundedPath(points, square);
  const plain = { beads: [], beadsFilled: false, squareEnds: false };
  switch (medium) {
    case 'straight':
      return { ...plain, strokes: [{ d: line, width: 1.75 }] };
    case 'crossover':
      return { ...plain, strokes: [{ d: crossing(points, square), width: 1.75 }] };
    case 'rollover':
      return { ...plain, strokes: [{ d: line, width: 1.5 }], squareEnds: true };
    case 'mm-fibre':
    case 'sm-fibre':
      return {
        ...plain,
        strokes: [{ d: line, width: 1.5 }],
        beads: stations(points, 14).map(({ x, y }) => ({ x, y })),
        beadsFilled: medium === 'sm-fibre',
      };
    case 'serial':
      return {
        ...plain,
        strokes: [
          { d: line, width: 1.5 },
          { d: rungs(points, clock), width: 1.5 },
        ],
      };
    case 'coax':
      return {
        ...plain,
        strokes: [
          { d: line, width: 5.5 },
          { d: line, width: 2.2, core: true },
        ],
      };
    case 'phone':
      return {
        ...plain,
        strokes: [
          { d: line, width: 1.1 },
          { d: ticks(stations(points, 26), 4, -2, 2), width: 1.1 },
        ],
      };
    case 'wireless':
      return { ...plain, strokes: [] };
  }
}

/** A crossover swaps sides at its middle: half the way on one side, half on the other, with a counter-stroke. */
function crossing(points: readonly Spot[], square: boolean): string {
  const SIDE = 3.6;
  const HALF = 6;
  const length = lengthOf(points);
  const [before, after] = [
    stationAt(points, Math.max(0, length / 2 - HALF)),
    stationAt(points, Math.min(length, length / 2 + HALF)),
  ];
  const beside = (station: Station, by: number): Spot => ({
    x: station.x + station.across.x * by,
    y: station.y + station.across.y * by,
  });
  const cut = pointsUpTo(points, length / 2);
  const shifted = (list: readonly Spot[], by: number, station: Station): Spot[] =>
    list.map(({ x, y }) => ({ x: x + station.across.x * by, y: y + station.across.y * by }));
  const first = roundedPath([...shifted(cut.before, SIDE, before), beside(before, SIDE)], square);
  const second = roundedPath([beside(after, -SIDE), ...shifted(cut.after, -SIDE, after)], square);
  return `${first}L${at(beside(after, -SIDE))}${second}M${at(beside(before, -SIDE))}L${at(beside(after, SIDE))}`;
}

function pointsUpTo(points: readonly Spot[], wanted: number): { before: Spot[]; after: Spot[] } {
  let way = 0;
  for (let index = 1; index < points.length; index++) {
    way += distance(points[index - 1]!, points[index]!);
    if (way >= wanted) return { before: points.slice(0, index), after: points.slice(index) };
  }
  return { before: [...points], after: [] };
}

/** Short rungs; the four nearest to the clock end are doubled. */
function rungs(points: readonly Spot[], clock: 'a' | 'b' | null): string {
  const list = stations(points, 10);
  const isDouble = (index: number): boolean => (clock === 'a' ? index < 4 : clock === 'b' && index >= list.length - 4);
  return list
    .map((station, index) => (isDouble(index) ? ticks([station], 3.5, -1.5, 1.5) : tick(station, 3.5)))
    .join('');
}

/** What is written on a cable for its medium. */
export const MEDIUM_TAGS: Record<Medium, string> = {
  straight: 'Cu',
  crossover: 'Cu×',
  rollover: 'Con',
  'mm-fibre': 'MM',
  'sm-fibre': 'SM',
  serial: 'Ser',
  coax: 'Cx',
  phone: 'Tel',
  wireless: 'Air',
};

/** The letter of a wireless link: the same at both of its ends. */
export const wirelessLetter = (id: string): string =>
  String.fromCharCode(65 + ([...id].reduce((sum, char) => sum + char.charCodeAt(0), 0) % 26));
