import { type Box, boxAround, overlap, sceneOf, textsBox } from '../../drawing';
import { type Topology } from '../../topology';
import { xmlText } from '../xml';
import { type SvgOptions, Brush } from './brush';
import { n, tag } from './elements';
import { paintTile } from './tiles';
import { paintBracket, paintEnds, paintPill, paintWire } from './links';
import { paintImage, paintLegend, paintNote, paintSite } from './grounds';

export { type SvgOptions, pictureBox } from './brush';

/** A picture of a drawing as SVG 1.1, with the same tiles, forms, labels and legend as the bench, from the same geometry. */
export function writeSvg(topology: Topology, options: SvgOptions = {}): string {
  const scene = sceneOf(topology);
  return svg(new Brush(topology, scene, options));
}

/** Every part is left out that lies outside of the area, or that nobody could see. */
function svg(brush: Brush): string {
  const { scene, area, tone } = brush;
  const seen = (box: Box): boolean => overlap(box, area);
  const pictures = (beneath: boolean): string[] =>
    scene.pictures
      .filter((picture) => (picture.beneath ?? false) === beneath && seen(picture))
      .map((picture) => paintImage(brush, picture));
  const lines = [...scene.lines.values()].filter(({ box }) =>
    seen({ x: box.x - 8, y: box.y - 8, width: box.width + 16, height: box.height + 16 }),
  );
  const tiles = [...scene.tiles.values()]
    .filter((tile) => seen(boxAround([tile, textsBox(tile, LONGEST) ?? tile])!))
    .sort((a, b) => a.layer - b.layer);
  const subnets = brush.options.subnets ?? true;
  const parts = [
    ...pictures(true),
    ...scene.sites.filter(seen).map((site) => paintSite(brush, site)),
    ...lines.map((line) => paintWire(brush, line)),
    ...tiles.map((tile) => paintTile(brush, tile)),
    ...lines.map((line) => paintEnds(brush, line)),
    ...(subnets ? scene.brackets.map((bracket) => paintBracket(brush, bracket)) : []),
    ...(subnets ? scene.linkSubnets.map((subnet) => paintPill(brush, subnet)) : []),
    ...scene.notes.filter(seen).map((note) => paintNote(brush, note)),
    ...pictures(false),
    ...(scene.legend && seen(scene.legend) ? [paintLegend(brush, scene.legend)] : []),
  ];
  const { x, y, width, height } = area;
  const ground = brush.options.transparent ? '' : tag('rect', { x, y, width, height, fill: tone('canvas') });
  const faces = brush.fonts.faces ? `<style>${brush.fonts.faces}</style>` : '';
  const title = brush.topology.title ? tag('title', {}, xmlText(brush.topology.title)) : '';
  return `<?xml version="1.0" encoding="UTF-8"?>\n${tag(
    'svg',
    { xmlns: 'http://www.w3.org/2000/svg', width, height, viewBox: [x, y, width, height].map(n).join(' ') },
    [title, faces, ground, ...parts].filter(Boolean).join('\n'),
  )}\n`;
}

/** Stands for whatever is written below a name, when it is only asked whether that is in sight. */
const LONGEST = '255.255.255.255/32';
