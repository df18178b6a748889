import {
  type Box,
  type Run,
  type Scene,
  type Scheme,
  boxAround,
  colour,
  holds,
  overlap,
  plainLine,
  wholeBox,
} from '../../drawing';
import { type Topology } from '../../topology';
import { xmlText } from '../xml';
import { ADVANCE, tag } from './elements';

/** How a drawing is written as a picture. */
export interface SvgOptions {
  readonly scheme?: Scheme;
  /** Without a ground of its own. */
  readonly transparent?: boolean;
  /** Only this part of the drawing, in its own pixels; all of it with a margin where nothing is said. */
  readonly area?: Box | undefined;
  /** What lenses show: what is written at the ends of links, and subnets. Both where nothing is said. */
  readonly ends?: boolean;
  readonly subnets?: boolean;
  /** How links are, as port chips show it; plain chips where nothing is known. */
  readonly states?: Readonly<Record<string, 'up' | 'down' | 'crossed'>>;
  /** How many pixels wide it is going to be painted; what is too small to be made out then is left out. */
  readonly paintedWidth?: number;
  /** The families of text and of addresses, and CSS that brings their faces along. */
  readonly fonts?: { readonly text: string; readonly mono: string; readonly faces?: string };
}

const MARGIN = 24;
/** Letters and signs of fewer pixels are dust. */
const LEAST_SIGN = 3;
const FONTS = {
  text: "'Atkinson Hyperlegible Next', 'Atkinson Hyperlegible Next Variable', sans-serif",
  mono: "'Atkinson Hyperlegible Mono', 'Atkinson Hyperlegible Mono Variable', monospace",
};

export const SITE_TONES = ['a', 'b', 'c', 'd'];

/** The part of a drawing that a picture of all of it shows. */
export function pictureBox(scene: Scene): Box {
  const drawn = wholeBox(scene);
  return boxAround(drawn ? [drawn] : [], MARGIN) ?? { x: 0, y: 0, width: 320, height: 200 };
}

/** What paints a scene: its colours, its letters, and what is too small or too far away to be seen. */
export class Brush {
  readonly area: Box;
  readonly fonts: NonNullable<SvgOptions['fonts']>;
  readonly tone: (name: string) => string;
  readonly ends: boolean;
  /** The smallest letters and signs that can be made out. */
  readonly leastSize: number;
  readonly bracketed: ReadonlySet<string>;

  constructor(
    readonly topology: Topology,
    readonly scene: Scene,
    readonly options: SvgOptions,
  ) {
    this.area = options.area ?? pictureBox(scene);
    this.fonts = options.fonts ?? FONTS;
    this.tone = (name) => colour(options.scheme ?? 'light', name);
    this.ends = options.ends ?? true;
    this.leastSize = options.paintedWidth ? (LEAST_SIGN * this.area.width) / options.paintedWidth : 0;
    const subnets = options.subnets ?? true;
    this.bracketed = new Set(subnets ? scene.brackets.flatMap((bracket) => bracket.members) : []);
  }

  /** A line that is written in several ways. */
  written(runs: readonly Run[], at: { x: number; y: number }, how: { size: number; fill: string }): string {
    const line = plainLine(runs);
    const isSeen = overlap(
      { x: at.x, y: at.y - how.size, width: line.length * how.size, height: how.size * 1.25 },
      this.area,
    );
    if (!line.trim() || !isSeen || how.size < this.leastSize) return '';
    const spans = runs.map(({ text, bold, italic, mono }) =>
      tag(
        'tspan',
        {
          'font-weight': bold ? 'bold' : undefined,
          'font-style': italic ? 'italic' : undefined,
          'font-family': mono ? this.fonts.mono : undefined,
        },
        xmlText(text),
      ),
    );
    const all = { x: at.x, y: at.y, 'font-family': this.fonts.text, 'font-size': how.size, fill: this.tone(how.fill) };
    return tag('text', all, spans.join(''));
  }

  text(
    text: string,
    at: { x: number; y: number },
    how: { size: number; bold?: boolean; mono?: boolean; fill: string; anchor?: 'middle' | 'end' },
  ): string {
    const width = text.length * how.size * ADVANCE * 1.08;
    const left = at.x - (how.anchor === 'end' ? width : how.anchor === 'middle' ? width / 2 : 0);
    // Words that nobody sees must not be found either.
    const isSeen = overlap({ x: left, y: at.y - how.size, width, height: how.size * 1.25 }, this.area);
    if (!text.trim() || !isSeen || how.size < this.leastSize) return '';
    return tag(
      'text',
      {
        x: at.x,
        y: at.y,
        'font-family': how.mono ? this.fonts.mono : this.fonts.text,
        'font-size': how.size,
        'font-weight': how.bold ? 'bold' : undefined,
        'text-anchor': how.anchor,
        fill: this.tone(how.fill),
      },
      xmlText(text),
    );
  }

  /** The ground at a place: that of the innermost site there. Lines that pass behind words do not cross them. */
  groundAt(at: { x: number; y: number }): string {
    const site = this.scene.sites.filter((site) => holds(site, at)).at(-1);
    return this.tone(site ? `site-${SITE_TONES[site.tone]!}` : 'canvas');
  }

  behind(box: Box): string {
    if (box.height < this.leastSize) return '';
    const fill = this.groundAt({ x: box.x + box.width / 2, y: box.y + box.height / 2 });
    return tag('rect', { ...box, rx: 2, fill, 'fill-opacity': 0.85 });
  }

  vlanBadge(vlan: number, tone: number, { x, y }: { x: number; y: number }): string[] {
    return [
      tag('rect', { x, y: y + 5, width: 26, height: 15, rx: 4, fill: this.tone(`vlan-${tone}`) }),
      this.text(
        String(vlan),
        { x: x + 13, y: y + 16 },
        { size: 10, bold: true, mono: true, fill: `on-vlan-${tone}`, anchor: 'middle' },
      ),
    ];
  }
}
