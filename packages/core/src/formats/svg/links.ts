import {
  type LinkLine,
  type Scene,
  PILL_HEIGHT,
  TINT_OPACITY,
  TINT_WIDTH,
  bracketLineY,
  lengthOf,
  mediumForm,
  pillWidth,
  roundedPath,
  socketKey,
  stationAt,
  wordWidth,
  wirelessLetter,
} from '../../drawing';
import { type Brush } from './brush';
import { n, tag } from './elements';

const CHIP = 8.5;

/** A link's line, in the form of its medium. */
export function paintWire(brush: Brush, line: LinkLine): string {
  const form = mediumForm(line);
  const wire = { fill: 'none', 'stroke-linecap': 'round', 'stroke-linejoin': 'round' };
  const link = brush.tone('link');
  return tag(
    'g',
    {},
    [
      line.tint === null
        ? ''
        : tag('path', {
            ...wire,
            d: roundedPath(line.points, line.square),
            stroke: brush.tone(`vlan-${line.tint}`),
            'stroke-width': TINT_WIDTH,
            'stroke-opacity': TINT_OPACITY,
          }),
      ...form.strokes.map(({ d, width, core }) =>
        tag('path', { ...wire, d, stroke: core ? brush.tone('canvas') : link, 'stroke-width': width }),
      ),
      ...form.beads.map(({ x, y }) =>
        tag('circle', {
          cx: x,
          cy: y,
          r: 3.1,
          stroke: link,
          'stroke-width': 1.5,
          fill: form.beadsFilled ? link : brush.tone('canvas'),
        }),
      ),
    ].join(''),
  );
}

/** The chips of a link, and what is written at them. */
export function paintEnds(brush: Brush, line: LinkLine): string {
  const { squareEnds } = mediumForm(line);
  const state = squareEnds ? undefined : brush.options.states?.[line.id];
  const ends = [line.a, line.b];
  const label = (end: 'a' | 'b'): string => {
    const at = brush.ends ? brush.scene.labels.get(socketKey(line.id, end)) : undefined;
    const { text } = line[end];
    if (!at || !text) return '';
    const box = { x: at.x - 1, y: at.y - 9.5, width: text.length * 6.7 + 2, height: 12 };
    return brush.behind(box) + brush.text(text, at, { size: 11, mono: true, fill: 'ink2' });
  };
  return tag(
    'g',
    {},
    [
      ...ends.map((end) =>
        line.medium === 'wireless' ? paintBadge(brush, line.id, end) : paintChip(brush, end, state, squareEnds),
      ),
      paintWord(brush, line),
      label('a'),
      label('b'),
    ].join(''),
  );
}

/** The word in the middle of a link, on its tint. */
function paintWord(brush: Brush, { word, tint, points }: LinkLine): string {
  if (!word) return '';
  const { x, y } = stationAt(points, lengthOf(points) / 2);
  const width = wordWidth(word);
  const [fill, ink] = tint === null ? ['surface', 'ink'] : [`vlan-${tint}`, `on-vlan-${tint}`];
  return (
    tag('rect', {
      x: x - width / 2,
      y: y - 8,
      width,
      height: 16,
      rx: 4,
      fill: brush.tone(fill),
      ...(tint === null && { stroke: brush.tone('line2') }),
    }) + brush.text(word, { x, y: y + 3.5 }, { size: 10, bold: true, fill: ink, anchor: 'middle' })
  );
}

export function paintChip(
  brush: Brush,
  { x, y }: LinkLine['a'],
  state: 'up' | 'down' | 'crossed' | undefined,
  square: boolean,
): string {
  if (CHIP < brush.leastSize) return '';
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
      fill: brush.tone(fill),
      stroke: brush.tone(stroke),
    }),
    state === 'crossed'
      ? tag('path', { d: cross, stroke: brush.tone('brick'), 'stroke-width': 2, 'stroke-linecap': 'round' })
      : '',
  ].join('');
}

/** Wireless has no line: the same letter at both ends. */
export function paintBadge(brush: Brush, id: string, { x, y }: LinkLine['a']): string {
  const letter = wirelessLetter(id);
  return (
    tag('circle', { cx: x, cy: y, r: 6.5, fill: brush.tone('ink') }) +
    brush.text(letter, { x, y: y + 3.5 }, { size: 10, bold: true, mono: true, fill: 'surface', anchor: 'middle' })
  );
}

export function paintBracket(brush: Brush, bracket: Scene['brackets'][number]): string {
  const { from, to, y, above, middle, lines } = bracket;
  const hook = above ? 4 : -4;
  return [
    tag('path', {
      d: `M${n(from)} ${n(y)}m0 ${hook}V${n(y)}H${n(to)}v${hook}`,
      fill: 'none',
      stroke: brush.tone('spruce'),
      'stroke-width': 1.5,
    }),
    ...lines.flatMap((line, nth) => {
      const at = { x: middle, y: bracketLineY(bracket, nth) };
      const width = line.length * 6.7;
      return [
        brush.behind({ x: middle - width / 2, y: at.y - 9.5, width, height: 12 }),
        brush.text(line, at, { size: 11, mono: true, fill: 'ink', anchor: 'middle' }),
      ];
    }),
  ].join('');
}

export function paintPill(brush: Brush, { prefix, x, y }: Scene['linkSubnets'][number]): string {
  const width = pillWidth(prefix);
  return [
    tag('rect', {
      x: x - width / 2,
      y: y - PILL_HEIGHT / 2,
      width,
      height: PILL_HEIGHT,
      rx: PILL_HEIGHT / 2,
      fill: brush.tone('surface'),
      stroke: brush.tone('line2'),
    }),
    brush.text(prefix, { x, y: y + 4 }, { size: 11, mono: true, fill: 'ink', anchor: 'middle' }),
  ].join('');
}
