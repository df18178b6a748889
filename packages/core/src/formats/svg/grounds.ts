import {
  LEGEND_ADVANCE,
  type LegendCard,
  type NoteBox,
  type Scene,
  type SiteArea,
  LEGEND_ROW,
  NOTE_ROW,
  arrowHead,
  legendTones,
  threadStart,
  wrapped,
} from '../../drawing';
import { SITE_TONES, type Brush } from './brush';
import { ADVANCE, n, tag, cut } from './elements';

export function paintSite(brush: Brush, { x, y, width, height, name, tone }: SiteArea): string {
  const tab = Math.min(width, name.length * 12 * ADVANCE + 28);
  return [
    tag('rect', { x, y, width, height, rx: 12, fill: brush.tone(`site-${SITE_TONES[tone]!}`) }),
    tag('path', {
      d: `M${n(x)} ${n(y + 22)}V${n(y + 12)}Q${n(x)} ${n(y)} ${n(x + 12)} ${n(y)}H${n(x + tab)}V${n(y + 12)}Q${n(x + tab)} ${n(y + 22)} ${n(x + tab - 10)} ${n(y + 22)}Z`,
      fill: brush.tone('line'),
      'fill-opacity': 0.75,
    }),
    brush.text(name, { x: x + 12, y: y + 15.5 }, { size: 12, bold: true, fill: 'ink' }),
  ].join('');
}

export function paintNote(brush: Brush, { x, y, width, height, runs, thread, arrow }: NoteBox): string {
  const start = threadStart({ x, y, width, height });
  return [
    thread
      ? tag('path', {
          d: `M${n(start.x)} ${n(start.y)}L${n(thread.x)} ${n(thread.y)}`,
          fill: 'none',
          stroke: brush.tone('plum'),
          'stroke-dasharray': '2 3',
        })
      : '',
    tag('rect', { x, y, width, height, rx: 6, fill: brush.tone('plum-tint') }),
    tag('rect', { x, y, width: 3, height, fill: brush.tone('plum') }),
    thread && arrow ? tag('path', { d: arrowHead(start, thread), fill: brush.tone('plum') }) : '',
    ...runs.map((line, at) => brush.written(line, { x: x + 12, y: y + 17 + at * NOTE_ROW }, { size: 12, fill: 'ink' })),
  ].join('');
}

export function paintImage(brush: Brush, { id, x, y, width, height, dim = 0 }: Scene['pictures'][number]): string {
  const { data } = brush.topology.pictures![id]!;
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

export function paintLegend(brush: Brush, { x, y, width, height, heading, lines }: LegendCard): string {
  const tones = legendTones(lines);
  const start = x + 12 + (tones.size ? 34 : 0);
  let row = y + 24;
  const rows = lines.flatMap(({ text, vlan }) => {
    const parts = wrapped(text, Math.floor((x + width - 11 - start) / LEGEND_ADVANCE));
    const badge = vlan === null ? [] : brush.vlanBadge(vlan, tones.get(vlan) ?? 7, { x: x + 12, y: row });
    const painted = parts.map((part, at) =>
      brush.text(part, { x: start, y: row + 17 + at * LEGEND_ROW }, { size: 12, fill: 'ink' }),
    );
    row += Math.max(1, parts.length) * LEGEND_ROW;
    return [...badge, ...painted];
  });
  return [
    tag('rect', { x, y, width, height, rx: 10, fill: brush.tone('surface'), stroke: brush.tone('line') }),
    brush.text(cut(heading, width - 24, 12), { x: x + 12, y: y + 20 }, { size: 12, bold: true, fill: 'ink' }),
    ...rows,
  ].join('');
}
