import { type Scene } from '@sobrin/core/drawing';
import { PAPER_SIZES, pageUnder, pictureBox, titleBlockOf } from '@sobrin/core/formats';
import { type Topology } from '@sobrin/core/topology';
import { useState } from 'react';

/** The page on which the drawing would be printed, with its title block, as saving on paper proposes it. */
export default function PageFrame({ topology, scene }: { topology: Topology; scene: Scene }) {
  const [today] = useState(() => new Date().toISOString().slice(0, 10));
  const { frame, titleBlock, scale } = pageUnder(pictureBox(scene), PAPER_SIZES[0]);
  const { title, lines } = titleBlockOf(topology, today);
  const { x, y, width, height } = titleBlock;
  return (
    <svg className="links page-frame" role="presentation">
      <rect className="page" {...frame} strokeWidth={scale} />
      <rect className="title-block" x={x} y={y} width={width} height={height} strokeWidth={scale * 0.75} />
      <text className="page-title" x={x + 10 * scale} y={y + 32 * scale} style={{ fontSize: 15 * scale }}>
        {title}
      </text>
      {lines.map((line, at) => (
        <text
          key={at}
          className="page-line"
          x={x + width - 10 * scale}
          y={y + (17 + at * 12) * scale}
          style={{ fontSize: 9 * scale, textAnchor: 'end' }}
        >
          {line}
        </text>
      ))}
    </svg>
  );
}
