import { type SiteArea } from '@sobrin/core/drawing';
import { type Node, type NodeProps } from '@xyflow/react';
import { memo } from 'react';
import { type Mark } from './marks';

export type SiteNode = Node<{ area: SiteArea; mark: Mark | null }, 'site'>;
const TINTS = ['a', 'b', 'c', 'd'];

/** A site: a tinted area that lets clicks through; its tab is what one takes hold of. */
export const SiteView = memo(function SiteView({ data: { area, mark }, selected }: NodeProps<SiteNode>) {
  return (
    <div
      className={`site${selected ? ' selected' : ''}${mark ? ` marked-${mark}` : ''}`}
      style={{ background: `var(--site-${TINTS[area.tone]})` }}
    >
      <div className="tab">{area.name}</div>
    </div>
  );
});
