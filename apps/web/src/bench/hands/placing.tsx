import { findModels } from '@sobrin/core/bench';
import { type Spot } from '@sobrin/core/drawing';
import { type Topology } from '@sobrin/core/topology';
import { useEffect, useRef } from 'react';
import { createPortal } from 'react-dom';
import { GLYPHS } from '../../drawing/glyphs';
import { followPointer } from '../../ui/follow-pointer';

/** A model on its way from the kit to the drawing: carried with the button held, or put down with each click. */
export interface Placing {
  model: string;
  held: boolean;
}

/** The device that is on its way, under the pointer. `onEnd` gets the place of the screen where a held one is let go. */
export function Carried({
  placing,
  topology,
  onEnd,
}: {
  placing: Placing;
  topology: Topology;
  onEnd: (dropped: Spot | null) => void;
}) {
  const ghost = useRef<HTMLDivElement>(null);
  const end = useRef(onEnd);
  useEffect(() => {
    end.current = onEnd;
  });
  useEffect(() => {
    const follow = ({ clientX: x, clientY: y }: PointerEvent): void => {
      if (ghost.current) ghost.current.style.transform = `translate(${x}px, ${y}px) translate(-50%, -50%)`;
    };
    window.addEventListener('pointermove', follow);
    return () => window.removeEventListener('pointermove', follow);
  }, []);
  useEffect(() => {
    if (!placing.held) return;
    return followPointer(
      () => {},
      ({ clientX: x, clientY: y }, dropped) => end.current(dropped ? { x, y } : null),
    );
  }, [placing]);
  const model = findModels(topology, '').find(([id]) => id === placing.model)?.[1];
  if (!model) return null;
  const Glyph = GLYPHS[model.kind];
  return createPortal(
    <div ref={ghost} className="carried" style={{ transform: 'translate(-999px, -999px)' }}>
      <Glyph size={20} stroke={1.6} aria-hidden />
      {model.name}
    </div>,
    document.body,
  );
}
