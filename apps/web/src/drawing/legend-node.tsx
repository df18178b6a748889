import { type LegendCard, legendTones } from '@sobrin/core/drawing';
import { type Node, type NodeProps } from '@xyflow/react';
import { memo } from 'react';
import { VlanBadge } from '../ui/vlan-badge';

export type LegendNode = Node<{ card: LegendCard }, 'legend'>;

/** Title, author and legend below the drawing; a line that speaks of a VLAN has its badge before it. */
export const LegendView = memo(function LegendView({ data: { card } }: NodeProps<LegendNode>) {
  const tones = legendTones(card.lines);
  return (
    <section className="legend" aria-label="Legend">
      <div className="legend-heading">{card.heading}</div>
      {card.lines.map((line, at) => (
        <div key={at} className="legend-line">
          {tones.size > 0 && (
            <span className="legend-badge">
              {line.vlan !== null && <VlanBadge vlan={line.vlan} tone={tones.get(line.vlan) ?? null} />}
            </span>
          )}
          <span>{line.text || '\u00a0'}</span>
        </div>
      ))}
    </section>
  );
});
