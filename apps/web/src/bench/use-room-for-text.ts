import { type RefObject, useEffect } from 'react';
import { type DrawingView } from '../drawing/view';

/** The text takes room of the drawing: when it opens, what it covers is brought back into sight. */
export function useRoomForText(isTextOpen: boolean, view: RefObject<DrawingView | null>): void {
  useEffect(() => {
    if (!isTextOpen) return;
    view.current?.showAllIfOutside();
  }, [isTextOpen, view]);
}
