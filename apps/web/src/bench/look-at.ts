import { type Spot } from '@sobrin/core/drawing';
import { type RefObject } from 'react';
import { type DrawingView } from '../drawing/view';

/** What the page shows a moment later: an inspector that opens takes room of the drawing first. */
const LATER_MS = 120;
/** Where a drawing is looked at that is not shown yet. */
const AT_FIRST: Spot = { x: 200, y: 200 };

/** Moves what is seen of the drawing. */
export function lookAt(view: RefObject<DrawingView | null>) {
  const later = (show: (of: DrawingView) => void): void =>
    void window.setTimeout(() => view.current && show(view.current), LATER_MS);
  return {
    later,
    /** Brings things into sight, where they are not in sight already. */
    reveal: (devices: readonly string[], sites: readonly string[] = []): void =>
      later((of) => of.reveal({ devices, sites })),
    showAll: (): void => view.current?.showAll(),
    middle: (): Spot => view.current?.middle() ?? AT_FIRST,
  };
}
export type Look = ReturnType<typeof lookAt>;
