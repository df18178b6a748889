import { type Spot } from '@sobrin/core/drawing';
import { type RefObject } from 'react';
import { type DrawingView } from '../drawing/view';

/** Where a drawing is looked at that is not shown yet. */
const AT_FIRST: Spot = { x: 200, y: 200 };

/** Moves what is seen of the drawing. */
export function lookAt(view: RefObject<DrawingView | null>) {
  /** When what was done is drawn. Panels that open after it take room: then the drawing shows it again by itself. */
  const later = (show: (of: DrawingView) => void): void =>
    void window.setTimeout(() => view.current && show(view.current));
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
