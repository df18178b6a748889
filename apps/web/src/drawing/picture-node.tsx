import { type PictureBox } from '@sobrin/core/drawing';
import { type Node, type NodeProps, NodeResizer } from '@xyflow/react';
import { createContext, memo, useContext } from 'react';
import { usePreferences } from '../ui/preferences';

export type PictureNode = Node<{ picture: PictureBox; data: string; sizable: boolean }, 'picture'>;

/** What a picture asks for while it is sized, and when it has its size. */
export interface PictureSizing {
  onSizing: (id: string, box: { x: number; y: number; width: number; height: number }) => void;
  onSized: (id: string, box: { x: number; y: number; width: number; height: number }) => void;
}
const SizingContext = createContext<PictureSizing | null>(null);
export const PictureSizes = SizingContext.Provider;
const LEAST = 24;

/** A picture on the drawing, or dimmed beneath it. */
export const PictureView = memo(function PictureView({
  data: { picture, data, sizable },
  selected,
}: NodeProps<PictureNode>) {
  const sizing = useContext(SizingContext);
  const dark = usePreferences((state) => state.scheme === 'dark');
  return (
    <>
      {sizable && (
        <NodeResizer
          isVisible={selected}
          keepAspectRatio
          minWidth={LEAST}
          minHeight={LEAST}
          onResize={(_event, box) => sizing?.onSizing(picture.id, box)}
          onResizeEnd={(_event, box) => sizing?.onSized(picture.id, box)}
        />
      )}
      <img
        className={['picture', picture.beneath && dark && 'inverted', selected && 'selected'].filter(Boolean).join(' ')}
        src={data}
        alt={picture.name}
        draggable={false}
        style={{ opacity: 1 - (picture.dim ?? 0) }}
      />
    </>
  );
});
