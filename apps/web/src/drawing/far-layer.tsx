import { type Box, type Scene, overlap } from '@sobrin/core/drawing';
import { memo, useEffect, useRef } from 'react';
import { usePreferences } from '../ui/preferences';
import { type LinkFact } from '../workers/facts';
import { type Mark } from './marks';

interface Props {
  scene: Scene;
  facts: Readonly<Record<string, LinkFact>> | null;
  marks: ReadonlyMap<string, Mark>;
  /** What is painted of the drawing, and with how many pixels for each of its own. */
  area: Box;
  scale: number;
}

/** Line widths in pixels of the screen. */
const WIDTHS = { link: 0.9, tile: 0.9, mark: 1.8 };
/** Nothing is written on what is seen from far, so a tint may be strong. */
const TINT = 0.5;
/** No side of the picture has more pixels. */
const MOST_PIXELS = 4096;

/**
 * A large drawing seen from far, painted as one picture: names could not be read; those of sites are as large as their
 * areas let them be. While one zooms the picture is stretched, and painted anew when that pauses.
 */
export const FarLayer = memo(function FarLayer({ scene, facts, marks, area, scale }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  // The tones of the canvas are those of the theme.
  const scheme = usePreferences((state) => state.scheme);
  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d');
    if (!element || !context) return;
    const sharp = Math.min(scale * window.devicePixelRatio, MOST_PIXELS / Math.max(area.width, area.height));
    element.width = Math.ceil(area.width * sharp);
    element.height = Math.ceil(area.height * sharp);
    context.setTransform(sharp, 0, 0, sharp, -area.x * sharp, -area.y * sharp);
    paint(context, { scene, facts, marks, area, scale });
  }, [scene, facts, marks, area, scale, scheme]);
  return (
    <canvas
      ref={canvas}
      className="far"
      data-links={scene.lines.size}
      style={{ left: area.x, top: area.y, width: area.width, height: area.height }}
      aria-hidden
    />
  );
});

function paint(context: CanvasRenderingContext2D, { scene, facts, marks, area, scale }: Props): void {
  const style = getComputedStyle(context.canvas);
  const tone = (name: string): string => style.getPropertyValue(`--${name}`).trim();
  const shown = [...scene.tiles.values()].filter((tile) => overlap(tile, area));
  const links = (failing: boolean): Path2D => {
    const path = new Path2D();
    for (const { id, points, medium } of scene.lines.values()) {
      if (medium === 'wireless' || (facts?.[id]?.state === 'crossed') !== failing) continue;
      for (const [at, { x, y }] of points.entries())
        if (at) path.lineTo(x, y);
        else path.moveTo(x, y);
    }
    return path;
  };
  context.lineWidth = WIDTHS.link / scale;
  for (const failing of [false, true]) {
    context.strokeStyle = tone(failing ? 'brick' : 'link');
    context.stroke(links(failing));
  }
  const boxes = (keep: (tile: (typeof shown)[number]) => boolean): Path2D => {
    const path = new Path2D();
    for (const tile of shown) if (keep(tile)) path.rect(tile.x, tile.y, tile.width, tile.height);
    return path;
  };
  const fill = (path: Path2D, inside: string, edge: string, width: number): void => {
    context.fillStyle = tone(inside);
    context.fill(path);
    context.strokeStyle = tone(edge);
    context.lineWidth = width / scale;
    context.stroke(path);
  };
  fill(
    boxes((tile) => tile.shape === 'standing'),
    'surface',
    'ink2',
    WIDTHS.tile,
  );
  fill(
    boxes((tile) => tile.shape === 'lying'),
    'line2',
    'ink2',
    WIDTHS.tile,
  );
  context.globalAlpha = TINT;
  for (const tint of new Set(shown.map((tile) => tile.tint)))
    if (tint !== null) {
      context.fillStyle = tone(`vlan-${tint}`);
      context.fill(boxes((tile) => tile.tint === tint));
    }
  context.globalAlpha = 1;
  for (const [mark, edge] of [
    ['met', 'spruce'],
    ['unsure', 'plum'],
    ['lost', 'brick'],
  ] as const)
    if (marks.size)
      fill(
        boxes((tile) => marks.get(tile.id) === mark),
        `${edge}-tint`,
        edge,
        WIDTHS.mark,
      );
  context.textAlign = 'center';
  context.textBaseline = 'middle';
  context.lineJoin = 'round';
  for (const { name, x, y, width, height } of scene.sites) {
    const size = Math.min(height * 0.2, (width * 0.8) / (name.length * 0.6));
    context.font = `700 ${size}px ${style.fontFamily}`;
    context.strokeStyle = tone('canvas');
    context.lineWidth = size / 6;
    context.strokeText(name, x + width / 2, y + height / 2);
    context.fillStyle = tone('ink');
    context.fillText(name, x + width / 2, y + height / 2);
  }
}
