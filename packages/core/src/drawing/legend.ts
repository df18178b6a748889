import { type Topology } from '../topology';
import { type Box } from './boxes';
import { LINE_ENDS } from './written';

/** One line of a legend; `vlan` is the VLAN it speaks of, whose tone it is drawn with. */
export interface LegendLine {
  readonly text: string;
  readonly vlan: number | null;
}

/** Title, author and legend as they stand on the drawing, below all that is drawn. */
export interface LegendCard extends Box {
  readonly heading: string;
  readonly lines: readonly LegendLine[];
}

/** The height of a line of the legend, in pixels. */
export const LEGEND_ROW = 18;
const PADDING = 12;
const HEADING_HEIGHT = 24;
const BADGE_WIDTH = 34;
/** Space between the drawing and its legend. */
const BELOW = 28;
/** Advance of a letter of the legend (12 px, the mean of a line of it). */
export const LEGEND_ADVANCE = 5.9;
const [NARROWEST, WIDEST] = [200, 860];

/** The lines of a legend, with the VLAN that each of them names. */
export function legendLines(legend: string): LegendLine[] {
  return legend.split(LINE_ENDS).map((text) => {
    const found = /(?:^|· |, )VLAN (\d{1,4})(?= ·|,|:|$)/.exec(text);
    return { text, vlan: found ? Number(found[1]) : null };
  });
}

/** Which of the eight tones each VLAN named in a legend has: by its place among their numbers, as in the plan. */
export function legendTones(lines: readonly LegendLine[]): ReadonlyMap<number, number> {
  const numbers = [...new Set(lines.flatMap(({ vlan }) => vlan ?? []))].sort((a, b) => a - b);
  return new Map(numbers.map((vlan, at) => [vlan, (at % 8) + 1]));
}

/** Where the legend stands: under the lower left corner of what is drawn; null where there is none, or nothing drawn. */
export function legendCard(topology: Topology, drawn: Box | null): LegendCard | null {
  if (!topology.legend?.trim() || !drawn) return null;
  const lines = legendLines(topology.legend.trim());
  const badge = lines.some((line) => line.vlan !== null) ? BADGE_WIDTH : 0;
  const wanted = Math.max(...lines.map((line) => line.text.length * LEGEND_ADVANCE)) + badge + 2 * PADDING;
  const width = Math.round(Math.min(WIDEST, Math.max(NARROWEST, wanted)));
  const rows = lines.map((line) =>
    Math.max(1, Math.ceil((line.text.length * LEGEND_ADVANCE) / (width - badge - 2 * PADDING + 1))),
  );
  return {
    x: drawn.x,
    y: drawn.y + drawn.height + BELOW,
    width,
    height: HEADING_HEIGHT + rows.reduce((sum, row) => sum + row, 0) * LEGEND_ROW + PADDING,
    heading: ['Legend', topology.title, topology.author].filter(Boolean).join(' · '),
    lines,
  };
}
