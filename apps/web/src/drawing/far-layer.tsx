import { type Scene, type Tile } from '@sobrin/core';
import { memo } from 'react';
import { type LinkFact } from '../workers/facts';
import { type Mark } from './marks';

interface Props {
  scene: Scene;
  facts: Readonly<Record<string, LinkFact>> | null;
  marks: ReadonlyMap<string, Mark>;
}

const SHAPES = ['lying', 'standing'] as const;
const boxPath = ({ x, y, width, height }: Tile): string => `M${x} ${y}h${width}v${height}h${-width}z`;

/**
 * A large drawing seen from far: all links are one path, and all tiles of a shape are one. Names could not be read; those
 * of sites are as large as their areas let them be.
 */
export const FarLayer = memo(function FarLayer({ scene, facts, marks }: Props) {
  const tiles = [...scene.tiles.values()];
  const [fine, failing]: [string[], string[]] = [[], []];
  for (const { id, points, medium } of scene.lines.values()) {
    if (medium === 'wireless') continue;
    const way = `M${points.map(({ x, y }) => `${x} ${y}`).join('L')}`;
    (facts?.[id]?.state === 'crossed' ? failing : fine).push(way);
  }
  const marked = (mark: Mark): string =>
    tiles
      .filter((one) => marks.get(one.id) === mark)
      .map(boxPath)
      .join('');
  return (
    <svg className="links far" role="presentation">
      <path className="far-links" d={fine.join('')} />
      {failing.length > 0 && <path className="far-links failing" d={failing.join('')} />}
      {SHAPES.map((shape) => (
        <path
          key={shape}
          className={`far-tiles ${shape}`}
          d={tiles
            .filter((one) => one.shape === shape)
            .map(boxPath)
            .join('')}
        />
      ))}
      {marks.size > 0 &&
        (['met', 'unsure', 'lost'] as const).map((mark) => (
          <path key={mark} className={`far-marked ${mark}`} d={marked(mark)} />
        ))}
      {scene.sites.map(({ id, name, x, y, width, height }) => {
        const size = Math.min(height * 0.2, (width * 0.8) / (name.length * 0.6));
        return (
          <text
            key={id}
            className="far-site"
            x={x + width / 2}
            y={y + height / 2 + size * 0.35}
            style={{ fontSize: size, strokeWidth: size / 6 }}
          >
            {name}
          </text>
        );
      })}
    </svg>
  );
});
