import {
  type Tile,
  GLYPH_PATHS,
  LINE_HEIGHT,
  TILE_TINT,
  WIDEST_NAME,
  addressUnder,
  secondLine,
  textsBox,
} from '../../drawing';
import { type Brush } from './brush';
import { n, tag, cut } from './elements';

export function paintTile(brush: Brush, tile: Tile): string {
  const device = brush.topology.devices[tile.id]!;
  const { x, y, width, height } = tile;
  const lying = tile.shape === 'lying';
  const plate = tile.count > 1 ? `×${tile.count}` : '';
  const [left, top, size] = lying ? [x + 7, y + 11, 20] : [x + 5, y + 13, 22];
  const box = { width, height, rx: 10, stroke: brush.tone('ink2'), 'stroke-width': 1.5, fill: brush.tone('surface') };
  return tag(
    'g',
    {},
    [
      tile.count > 1 ? tag('rect', { ...box, x: x + 4, y: y - 4 }) : '',
      tag('rect', { ...box, x, y, 'stroke-dasharray': tile.off ? '4 3' : undefined }),
      tile.tint === null
        ? ''
        : tag('rect', {
            x,
            y,
            width,
            height,
            rx: 10,
            fill: brush.tone(`vlan-${tile.tint}`),
            'fill-opacity': TILE_TINT,
          }),
      ...(size < brush.leastSize ? [] : paintSigns(brush, tile, { left, top, size })),
      ...paintTexts(brush, tile, device.label?.text ?? ''),
      plate &&
        tag('rect', {
          x: x + width - 17,
          y: y + height - 9,
          width: plate.length * 6.5 + 8,
          height: 15,
          rx: 6,
          fill: brush.tone('ink'),
        }),
      plate && brush.text(plate, { x: x + width - 13, y: y + height + 2.5 }, { size: 10, bold: true, fill: 'surface' }),
    ].join(''),
  );
}

/** The corner with the letters of the kind, and the glyph. */
export function paintSigns(brush: Brush, tile: Tile, glyph: { left: number; top: number; size: number }): string[] {
  const { x, y, width } = tile;
  return [
    tag('path', {
      d: `M${n(x + width - 21)} ${n(y)}H${n(x + width - 9)}Q${n(x + width)} ${n(y)} ${n(x + width)} ${n(y + 9)}V${n(y + 14)}H${n(x + width - 16)}Q${n(x + width - 21)} ${n(y + 14)} ${n(x + width - 21)} ${n(y + 9)}Z`,
      fill: brush.tone('sunk'),
    }),
    brush.text(
      tile.tag,
      { x: x + width - 10.5, y: y + 10.5 },
      { size: 10, bold: true, fill: 'ink2', anchor: 'middle' },
    ),
    ...GLYPH_PATHS[tile.kind].map((d) =>
      tag('path', {
        d,
        transform: `translate(${n(glyph.left)} ${n(glyph.top)}) scale(${n(glyph.size / 24)})`,
        fill: 'none',
        stroke: brush.tone('ink'),
        'stroke-width': 1.6,
        'stroke-linecap': 'round',
        'stroke-linejoin': 'round',
      }),
    ),
  ];
}

export function paintTexts(brush: Brush, tile: Tile, own: string): string[] {
  const device = brush.topology.devices[tile.id]!;
  const { x, y, width } = tile;
  const standing = tile.shape === 'standing';
  const second = standing
    ? addressUnder(device, brush.bracketed.has(tile.id))
    : own || secondLine(brush.topology, device);
  if (tile.texts === 'inside')
    return [
      brush.text(cut(tile.name, width - 54, 13), { x: x + 32, y: y + 18.5 }, { size: 13, bold: true, fill: 'ink' }),
      brush.text(
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
  const lines = tile.written?.lines ?? [tile.name];
  return [
    brush.behind(box),
    ...lines.map((line, nth) =>
      brush.text(
        tile.written ? line : cut(line, WIDEST_NAME, 12),
        { x: at, y: box.y + 11 + nth * LINE_HEIGHT },
        { size: 12, bold: true, fill: 'ink', ...(anchor && { anchor }) },
      ),
    ),
    brush.text(
      second,
      { x: at, y: box.y + 11 + lines.length * LINE_HEIGHT },
      { size: 11, mono: true, fill: 'ink2', ...(anchor && { anchor }) },
    ),
  ];
}
