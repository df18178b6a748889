import { type Spot } from '@sobrin/core/drawing';
import { type PointerEvent as ReactPointerEvent, useState } from 'react';
import { followPointer } from '../ui/follow-pointer';

export type MarqueeKind = 'box' | 'lasso';
interface Drawn {
  kind: MarqueeKind;
  points: readonly Spot[];
}

/** Shorter than this it was a click. */
const LEAST = 4;

/**
 * A rectangle or a free line drawn with the pointer to choose what lies in it. `start` takes the event that begins it;
 * places given to `onDrawn` are those of the screen.
 */
export function useMarquee(onDrawn: (kind: MarqueeKind, points: readonly Spot[], add: boolean) => void) {
  const [drawn, setDrawn] = useState<Drawn | null>(null);
  const start = (event: ReactPointerEvent, kind: MarqueeKind): void => {
    let points: Spot[] = [{ x: event.clientX, y: event.clientY }];
    followPointer(
      ({ clientX: x, clientY: y }) => {
        points = kind === 'box' ? [points[0]!, { x, y }] : [...points, { x, y }];
        setDrawn({ kind, points });
      },
      (up, dropped) => {
        setDrawn(null);
        const last = points.at(-1)!;
        const far = points.some((point) => Math.hypot(point.x - last.x, point.y - last.y) >= LEAST);
        if (far && dropped) onDrawn(kind, points, up.ctrlKey || up.metaKey);
      },
    );
  };
  return { drawn, start };
}

/** The shape that is being drawn, over everything. */
export function MarqueeShape({ drawn }: { drawn: Drawn | null }) {
  const [first, last] = [drawn?.points[0], drawn?.points.at(-1)];
  if (!drawn || !first || !last) return null;
  const d =
    drawn.kind === 'lasso'
      ? `M${drawn.points.map(({ x, y }) => `${x} ${y}`).join('L')}z`
      : `M${first.x} ${first.y}H${last.x}V${last.y}H${first.x}z`;
  return (
    <svg className="marquee" aria-hidden>
      <path d={d} />
    </svg>
  );
}
