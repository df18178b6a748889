import { type Box, type Scene, type Spot } from '@sobrin/core/drawing';
import { type Topology } from '@sobrin/core/topology';
import { type NodeChange } from '@xyflow/react';
import { type RefObject, useMemo, useState } from 'react';
import { type Moved, movedBy, snapped } from './moving';
import { type DrawingNode } from './nodes';
import { type PictureSizing } from './picture-node';
import { type Selection, afterPick } from './selection';
import { type Seen } from './view';

export interface MoveHandlers {
  onMove?: ((to: Record<string, Spot>) => void) | undefined;
  onMoveSite?: ((id: string, by: Spot) => void) | undefined;
  onMoveNote?: ((id: string, by: Spot) => void) | undefined;
  onMovePicture?: ((id: string, by: Spot) => void) | undefined;
  onSizePicture?: ((id: string, box: Box) => void) | undefined;
}

/** What is dragged or sized just now. */
export function useMoved() {
  const [moving, setMoving] = useState<Moved | null>(null);
  const [sizing, setSizing] = useState<ReadonlyMap<string, Box> | undefined>(undefined);
  return { moving, setMoving, sizing, setSizing };
}

/** Dragging and sizing on a drawing, and choosing by the library's own ways. */
export function useMoving({
  moved: { moving, setMoving, sizing, setSizing },
  topology,
  scene,
  chosenDevices,
  selection,
  onSelect,
  editable,
  seen,
  modifiers,
  handlers,
}: {
  moved: ReturnType<typeof useMoved>;
  topology: Topology;
  scene: Scene;
  chosenDevices: ReadonlySet<string>;
  selection: Selection;
  onSelect: ((selection: Selection) => void) | undefined;
  editable: boolean;
  seen: Seen | null;
  modifiers: RefObject<{ add: boolean; free: boolean }>;
  handlers: MoveHandlers;
}) {
  const onNodesChange = (changes: NodeChange<DrawingNode>[]): void => {
    // The library tells the place of a picture that is sized as well: that is no movement.
    if (sizing) return;
    const moves = changes.flatMap((change) =>
      change.type === 'position' && change.position ? { ...change, to: change.position } : [],
    );
    const [first] = moves;
    if (first && editable) {
      const isOver = first.dragging !== true;
      const next = movedBy(topology, scene, chosenDevices, first.id, first.to, moving);
      const snap = isOver || modifiers.current.free || !seen ? null : snapped(scene, next, seen.area);
      const now = snap ? { ...next, ...snap } : isOver && moving ? moving : next;
      setMoving(isOver ? null : now);
      if (isOver) drop(now);
    }
    const picked = changes.flatMap((change) => (change.type === 'select' ? change : []));
    if (picked.length) onSelect?.(afterPick(selection, picked, modifiers.current.add));
  };
  const drop = (done: Moved): void => {
    const { site, note: carried, picture: shifted, by } = done;
    if (shifted) handlers.onMovePicture?.(shifted.id, by);
    else if (carried) handlers.onMoveNote?.(carried.id, by);
    else if (site !== undefined) handlers.onMoveSite?.(site, { x: Math.round(by.x), y: Math.round(by.y) });
    else
      handlers.onMove?.(
        Object.fromEntries([...done.devices].map(([id, { x, y }]) => [id, { x: Math.round(x), y: Math.round(y) }])),
      );
  };
  const { onSizePicture } = handlers;
  const sizes = useMemo<PictureSizing>(
    () => ({
      onSizing: (id, box) => setSizing(new Map([[id, box]])),
      onSized: (id, box) => {
        setSizing(undefined);
        onSizePicture?.(id, box);
      },
    }),
    [onSizePicture, setSizing],
  );
  return { onNodesChange, sizes };
}
