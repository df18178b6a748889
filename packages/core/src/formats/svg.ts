import {
  LEGEND_ADVANCE,
  type Box,
  type LegendCard,
  type LinkLine,
  type NoteBox,
  type Scene,
  type Scheme,
  type SiteArea,
  type Tile,
  GLYPH_PATHS,
  LEGEND_ROW,
  NOTE_ROW,
  PILL_HEIGHT,
  boxAround,
  colour,
  firstAddressText,
  holds,
  legendTones,
  mediumForm,
  overlap,
  pillWidth,
  sceneOf,
  secondLine,
  shortAddress,
  socketKey,
  textsBox,
  wholeBox,
  wirelessLetter,
  wrapped,
} from '../drawing';
import { type Topology } from '../topology';
import { xmlText } from './xml';

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
const CHIP = 8.5;
/** Letters and signs of fewer pixels are dust. */
const LEAST_SIGN = 3;
const FONTS = {
  text: "'Atkinson Hyperlegible Next', 'Atkinson Hyperlegible Next Variable', sans-serif",
  mono: "'Atkinson Hyperlegible Mono', 'Atkinson Hyperlegible Mono Variable', monospace",
};

/** Advances of letters at one pixel of size, the mean: for cutting what is too long. */
const ADVANCE = 0.585;

const n = (value: number): string => String(Math.round(value * 100) / 100);
type Attributes = Readonly<Record<string, string | number | undefined>>;
const tag = (name: string, attributes: Attributes, inside = ''): string => {
  const told = Object.entries(attributes)
    .flatMap(([key, value]) =>
      value === undefined ? [] : ` ${key}="${typeof value === 'number' ? n(value) : xmlText(value)}"`,
    )
    .join('');
  return inside ? `<${name}${told}>${inside}</${name}>` : `<${name}${told}/>`;
};

/** A picture of a drawing as SVG 1.1, with the same tiles, forms, labels and legend as the bench, from the same geometry. */
export function writeSvg(topology: Topology, options: SvgOptions = {}): string {
  const scene = sceneOf(topology);
  return new Picture(topology, scene, options).svg();
}

/** The part of a drawing that a picture of all of it shows. */
export function pictureBox(scene: Scene): Box {
  const drawn = wholeBox(scene);
  return boxAround(drawn ? [drawn] : [], MARGIN) ?? { x: 0, y: 0, width: 320, height: 200 };
}

/** Paints one scene. Every part is left out that lies outside of the area, or that nobody could see. */
class Picture {
  private readonly area: Box;
  private readonly fonts: NonNullable<SvgOptions['fonts']>;
  private readonly tone: (name: string) => string;
  private readonly ends: boolean;
  /** The smallest letters and signs that can be made out. */
  private readonly leastSize: number;
  private readonly bracketed: ReadonlySet<string>;

  constructor(
    private readonly topology: Topology,
    private readonly scene: Scene,
    private readonly options: SvgOptions,
  ) {
    this.area = options.area ?? pictureBox(scene);
    this.fonts = options.fonts ?? FONTS;
    this.tone = (name) => colour(options.scheme ?? 'light', name);
    this.ends = options.ends ?? true;
    this.leastSize = options.paintedWidth ? (LEAST_SIGN * this.area.width) / options.paintedWidth : 0;
    const subnets = options.subnets ?? true;
    this.bracketed = new Set(subnets ? scene.brackets.flatMap((bracket) => bracket.members) : []);
  }

  svg(): string {
    const { scene, area, tone } = this;
    const seen = (box: Box): boolean => overlap(box, area);
    const pictures = (beneath: boolean): string[] =>
      scene.pictures
        .filter((picture) => (picture.beneath ?? false) === beneath && seen(picture))
        .map((picture) => this.image(picture));
    const lines = [...scene.lines.values()].filter(({ box }) =>
      seen({ x: box.x - 8, y: box.y - 8, width: box.width + 16, height: box.height + 16 }),
    );
    const tiles = [...scene.tiles.values()]
      .filter((tile) => seen(boxAround([tile, textsBox(tile, LONGEST) ?? tile])!))
      .sort((a, b) => a.layer - b.layer);
    const subnets = this.options.subnets ?? true;
    const parts = [
      ...pictures(true),
      ...scene.sites.filter(seen).map((site) => this.site(site)),
      ...tiles.map((tile) => this.tile(tile)),
      ...lines.map((line) => this.link(line)),
      ...(subnets ? scene.brackets.map((bracket) => this.bracket(bracket)) : []),
      ...(subnets ? scene.linkSubnets.map((subnet) => this.pill(subnet)) : []),
      ...scene.notes.filter(seen).map((note) => this.note(note)),
      ...pictures(false),
      ...(scene.legend && seen(scene.legend) ? [this.legend(scene.legend)] : []),
    ];
    const { x, y, width, height } = area;
    const ground = this.options.transparent ? '' : tag('rect', { x, y, width, height, fill: tone('canvas') });
    const faces = this.fonts.faces ? `<style>${this.fonts.faces}</style>` : '';
    const title = this.topology.title ? tag('title', {}, xmlText(this.topology.title)) : '';
    return `<?xml version="1.0" encoding="UTF-8"?>\n${tag(
      'svg',
      { xmlns: 'http://www.w3.org/2000/svg', width, height, viewBox: [x, y, width, height].map(n).join(' ') },
      [title, faces, ground, ...parts].filter(Boolean).join('\n'),
    )}\n`;
  }

  private text(
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
  private groundAt(at: { x: number; y: number }): string {
    const site = this.scene.sites.filter((site) => holds(site, at)).at(-1);
    return this.tone(site ? `site-${SITE_TONES[site.tone]!}` : 'canvas');
  }

  private behind(box: Box): string {
    if (box.height < this.leastSize) return '';
    const fill = this.groundAt({ x: box.x + box.width / 2, y: box.y + box.height / 2 });
    return tag('rect', { ...box, rx: 2, fill, 'fill-opacity': 0.85 });
  }

  private site({ x, y, width, height, name, tone }: SiteArea): string {
    const tab = Math.min(width, name.length * 12 * ADVANCE + 28);
    return [
      tag('rect', { x, y, width, height, rx: 12, fill: this.tone(`site-${SITE_TONES[tone]!}`) }),
      tag('path', {
        d: `M${n(x)} ${n(y + 22)}V${n(y + 12)}Q${n(x)} ${n(y)} ${n(x + 12)} ${n(y)}H${n(x + tab)}V${n(y + 12)}Q${n(x + tab)} ${n(y + 22)} ${n(x + tab - 10)} ${n(y + 22)}Z`,
        fill: this.tone('line'),
        'fill-opacity': 0.75,
      }),
      this.text(name, { x: x + 12, y: y + 15.5 }, { size: 12, bold: true, fill: 'ink' }),
    ].join('');
  }

  private tile(tile: Tile): string {
    const device = this.topology.devices[tile.id]!;
    const { x, y, width, height } = tile;
    const lying = tile.shape === 'lying';
    const plate = tile.count > 1 ? `×${tile.count}` : '';
    const [left, top, size] = lying ? [x + 7, y + 11, 20] : [x + 5, y + 13, 22];
    const box = { width, height, rx: 10, stroke: this.tone('ink2'), 'stroke-width': 1.5, fill: this.tone('surface') };
    return tag(
      'g',
      {},
      [
        tile.count > 1 ? tag('rect', { ...box, x: x + 4, y: y - 4 }) : '',
        tag('rect', { ...box, x, y, 'stroke-dasharray': tile.off ? '4 3' : undefined }),
        ...(size < this.leastSize ? [] : this.signs(tile, { left, top, size })),
        ...this.tileTexts(tile, device.label?.text ?? '', firstAddressText(device)),
        plate &&
          tag('rect', {
            x: x + width - 17,
            y: y + height - 9,
            width: plate.length * 6.5 + 8,
            height: 15,
            rx: 6,
            fill: this.tone('ink'),
          }),
        plate &&
          this.text(plate, { x: x + width - 13, y: y + height + 2.5 }, { size: 10, bold: true, fill: 'surface' }),
      ].join(''),
    );
  }

  /** The corner with the letters of the kind, and the glyph. */
  private signs(tile: Tile, glyph: { left: number; top: number; size: number }): string[] {
    const { x, y, width } = tile;
    return [
      tag('path', {
        d: `M${n(x + width - 21)} ${n(y)}H${n(x + width - 9)}Q${n(x + width)} ${n(y)} ${n(x + width)} ${n(y + 9)}V${n(y + 14)}H${n(x + width - 16)}Q${n(x + width - 21)} ${n(y + 14)} ${n(x + width - 21)} ${n(y + 9)}Z`,
        fill: this.tone('sunk'),
      }),
      this.text(
        tile.tag,
        { x: x + width - 10.5, y: y + 10.5 },
        { size: 10, bold: true, fill: 'ink2', anchor: 'middle' },
      ),
      ...GLYPH_PATHS[tile.kind].map((d) =>
        tag('path', {
          d,
          transform: `translate(${n(glyph.left)} ${n(glyph.top)}) scale(${n(glyph.size / 24)})`,
          fill: 'none',
          stroke: this.tone('ink'),
          'stroke-width': 1.6,
          'stroke-linecap': 'round',
          'stroke-linejoin': 'round',
        }),
      ),
    ];
  }

  private tileTexts(tile: Tile, own: string, address: string | null): string[] {
    const device = this.topology.devices[tile.id]!;
    const { x, y, width } = tile;
    const standing = tile.shape === 'standing';
    const short = address === null ? '' : this.bracketed.has(tile.id) ? shortAddress(address) : address;
    const second = standing ? short : own || secondLine(this.topology, device);
    if (tile.texts === 'inside')
      return [
        this.text(cut(tile.name, width - 54, 13), { x: x + 32, y: y + 18.5 }, { size: 13, bold: true, fill: 'ink' }),
        this.text(
          cut(second, width - 38, 11 * 1.08),
          { x: x + 32, y: y + 33.5 },
          { size: 11, mono: true, fill: 'ink2' },
        ),
      ];
    const box = textsBox(tile, second)!;
    const [anchor, at] =
      tile.texts === 'right'
        ? [undefined, box.x]
        : tile.texts === 'left'
          ? (['end', box.x + box.width] as const)
          : (['middle', x + width / 2] as const);
    return [
      this.behind(box),
      this.text(
        cut(tile.name, 130, 12),
        { x: at, y: box.y + 11 },
        { size: 12, bold: true, fill: 'ink', ...(anchor && { anchor }) },
      ),
      this.text(second, { x: at, y: box.y + 25 }, { size: 11, mono: true, fill: 'ink2', ...(anchor && { anchor }) }),
    ];
  }

  private link(line: LinkLine): string {
    const form = mediumForm(line.medium, line.points, line.clock);
    const state = form.squareEnds ? undefined : this.options.states?.[line.id];
    const wire = { fill: 'none', 'stroke-linecap': 'round', 'stroke-linejoin': 'round' };
    const link = this.tone('link');
    const ends = [line.a, line.b];
    const label = (end: 'a' | 'b'): string => {
      const at = this.ends ? this.scene.labels.get(socketKey(line.id, end)) : undefined;
      const { text } = line[end];
      if (!at || !text) return '';
      const box = { x: at.x - 1, y: at.y - 9.5, width: text.length * 6.7 + 2, height: 12 };
      return this.behind(box) + this.text(text, at, { size: 11, mono: true, fill: 'ink2' });
    };
    return tag(
      'g',
      {},
      [
        ...form.strokes.map(({ d, width, core }) =>
          tag('path', { ...wire, d, stroke: core ? this.tone('canvas') : link, 'stroke-width': width }),
        ),
        ...form.beads.map(({ x, y }) =>
          tag('circle', {
            cx: x,
            cy: y,
            r: 3.1,
            stroke: link,
            'stroke-width': 1.5,
            fill: form.beadsFilled ? link : this.tone('canvas'),
          }),
        ),
        ...ends.map((end) =>
          line.medium === 'wireless' ? this.badge(line.id, end) : this.chip(end, state, form.squareEnds),
        ),
        label('a'),
        label('b'),
      ].join(''),
    );
  }

  private chip({ x, y }: LinkLine['a'], state: 'up' | 'down' | 'crossed' | undefined, square: boolean): string {
    if (CHIP < this.leastSize) return '';
    const [fill, stroke] =
      state === 'up'
        ? ['spruce', 'spruce']
        : state === 'crossed'
          ? ['surface', 'brick']
          : ['surface', state ? 'ink2' : 'link'];
    const cross = `M${n(x - 6.5)} ${n(y - 6.5)}L${n(x + 6.5)} ${n(y + 6.5)}M${n(x + 6.5)} ${n(y - 6.5)}L${n(x - 6.5)} ${n(y + 6.5)}`;
    return [
      tag('rect', {
        x: x - CHIP / 2,
        y: y - CHIP / 2,
        width: CHIP,
        height: CHIP,
        rx: square ? 0 : 2.5,
        'stroke-width': 1.5,
        fill: this.tone(fill),
        stroke: this.tone(stroke),
      }),
      state === 'crossed'
        ? tag('path', { d: cross, stroke: this.tone('brick'), 'stroke-width': 2, 'stroke-linecap': 'round' })
        : '',
    ].join('');
  }

  /** Wireless has no line: the same letter at both ends. */
  private badge(id: string, { x, y }: LinkLine['a']): string {
    const letter = wirelessLetter(id);
    return (
      tag('circle', { cx: x, cy: y, r: 6.5, fill: this.tone('ink') }) +
      this.text(letter, { x, y: y + 3.5 }, { size: 10, bold: true, mono: true, fill: 'surface', anchor: 'middle' })
    );
  }

  private bracket({ from, to, y, above, middle, prefix }: Scene['brackets'][number]): string {
    const hook = above ? 4 : -4;
    const at = { x: middle, y: y + (above ? -6 : 14) };
    const width = prefix.length * 6.7;
    return [
      tag('path', {
        d: `M${n(from)} ${n(y)}m0 ${hook}V${n(y)}H${n(to)}v${hook}`,
        fill: 'none',
        stroke: this.tone('spruce'),
        'stroke-width': 1.5,
      }),
      this.behind({ x: middle - width / 2, y: at.y - 9.5, width, height: 12 }),
      this.text(prefix, at, { size: 11, mono: true, fill: 'ink', anchor: 'middle' }),
    ].join('');
  }

  private pill({ prefix, x, y }: Scene['linkSubnets'][number]): string {
    const width = pillWidth(prefix);
    return [
      tag('rect', {
        x: x - width / 2,
        y: y - PILL_HEIGHT / 2,
        width,
        height: PILL_HEIGHT,
        rx: PILL_HEIGHT / 2,
        fill: this.tone('surface'),
        stroke: this.tone('line2'),
      }),
      this.text(prefix, { x, y: y + 4 }, { size: 11, mono: true, fill: 'ink', anchor: 'middle' }),
    ].join('');
  }

  private note({ x, y, width, height, lines, thread }: NoteBox): string {
    return [
      thread
        ? tag('path', {
            d: `M${n(x + 2)} ${n(y + height / 2)}L${n(thread.x)} ${n(thread.y)}`,
            fill: 'none',
            stroke: this.tone('plum'),
            'stroke-dasharray': '2 3',
          })
        : '',
      tag('rect', { x, y, width, height, rx: 6, fill: this.tone('plum-tint') }),
      tag('rect', { x, y, width: 3, height, fill: this.tone('plum') }),
      ...lines.map((line, at) => this.text(line, { x: x + 12, y: y + 17 + at * NOTE_ROW }, { size: 12, fill: 'ink' })),
    ].join('');
  }

  private image({ id, x, y, width, height, dim = 0 }: Scene['pictures'][number]): string {
    const { data } = this.topology.pictures![id]!;
    return tag('image', {
      x,
      y,
      width,
      height,
      href: data,
      preserveAspectRatio: 'none',
      opacity: dim ? 1 - dim : undefined,
    });
  }

  private legend({ x, y, width, height, heading, lines }: LegendCard): string {
    const tones = legendTones(lines);
    const start = x + 12 + (tones.size ? 34 : 0);
    let row = y + 24;
    const rows = lines.flatMap(({ text, vlan }) => {
      const parts = wrapped(text, Math.floor((x + width - 11 - start) / LEGEND_ADVANCE));
      const badge = vlan === null ? [] : this.vlanBadge(vlan, tones.get(vlan) ?? 7, { x: x + 12, y: row });
      const told = parts.map((part, at) =>
        this.text(part, { x: start, y: row + 17 + at * LEGEND_ROW }, { size: 12, fill: 'ink' }),
      );
      row += Math.max(1, parts.length) * LEGEND_ROW;
      return [...badge, ...told];
    });
    return [
      tag('rect', { x, y, width, height, rx: 10, fill: this.tone('surface'), stroke: this.tone('line') }),
      this.text(cut(heading, width - 24, 12), { x: x + 12, y: y + 20 }, { size: 12, bold: true, fill: 'ink' }),
      ...rows,
    ].join('');
  }

  private vlanBadge(vlan: number, tone: number, { x, y }: { x: number; y: number }): string[] {
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

const SITE_TONES = ['a', 'b', 'c', 'd'];
/** Stands for whatever is written below a name, when it is only asked whether that is in sight. */
const LONGEST = '255.255.255.255/32';

function cut(text: string, room: number, size: number): string {
  const most = Math.max(1, Math.floor(room / (size * ADVANCE)));
  return text.length > most ? `${text.slice(0, most - 1)}…` : text;
}
