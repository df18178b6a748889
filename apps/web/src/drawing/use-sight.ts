import { type Scene } from '@sobrin/core/drawing';
import { type ReactFlowInstance, type Viewport } from '@xyflow/react';
import { type RefObject, useCallback, useEffect, useRef, useState } from 'react';
import { type DrawingNode } from './nodes';
import { type Selection } from './selection';
import { type DrawingView, type Seen, seenFrom, viewOf } from './view';

/** So long after the last step of zooming what came into sight is drawn. */
const ZOOM_PAUSE_MS = 90;
/** A wheel that moves sideways is a trackpad, and stays one for so long. */
const PAD_MS = 500;

/** What is in sight of a drawing, and the ways to change that. */
export function useSight(
  root: RefObject<HTMLElement | null>,
  scene: RefObject<Scene | null>,
  onReady: ((view: DrawingView) => void) | undefined,
  chosen: RefObject<Selection>,
  onMoved?: (after: Viewport, before: Viewport) => void,
) {
  const [seen, setSeen] = useState<Seen | null>(null);
  const size = useRef({ width: 0, height: 0 });
  const view = useRef<DrawingView | null>(null);
  const waiting = useRef<{ zoom: number; timer: number | undefined }>({ zoom: 0, timer: undefined });
  const moved = useRef(onMoved);
  const last = useRef<Viewport | null>(null);
  useEffect(() => {
    moved.current = onMoved;
  }, [onMoved]);
  /** Draws what came into sight: at once while the drawing is moved, now and then while it is zoomed. */
  const follow = useCallback((viewport: Viewport, byPerson = false): void => {
    if (byPerson && last.current) moved.current?.(viewport, last.current);
    last.current = viewport;
    const { current: wait } = waiting;
    const look = (): void => {
      wait.timer = undefined;
      wait.zoom = viewport.zoom;
      setSeen((was) => seenFrom(was, viewport, size.current.width, size.current.height));
    };
    window.clearTimeout(wait.timer);
    if (wait.zoom === 0 || viewport.zoom === wait.zoom) look();
    else wait.timer = window.setTimeout(look, ZOOM_PAUSE_MS);
  }, []);
  useEffect(() => () => window.clearTimeout(waiting.current.timer), []);
  /** Shows everything as soon as both the drawing and its size are known. */
  const fit = useCallback((): void => {
    if (!size.current.width || !view.current) return;
    view.current.showAll({ duration: 0 });
    follow(view.current.viewport());
  }, [follow]);
  const sized = useCallback(
    (width: number, height: number): void => {
      const before = size.current;
      const isFirst = !before.width;
      size.current = { width, height };
      if (isFirst) fit();
      else if (view.current) {
        view.current.resized(before, chosen.current);
        follow(view.current.viewport());
      }
    },
    [fit, follow, chosen],
  );
  const ready = (flow: ReactFlowInstance<DrawingNode>): void => {
    const made = viewOf(
      flow,
      () => root.current?.getBoundingClientRect(),
      () => scene.current!,
    );
    view.current = made;
    fit();
    onReady?.(made);
  };
  const showAll = useCallback(() => view.current?.showAll(), []);
  const release = useCallback(() => view.current?.release(), []);
  useTrackpad(root, view, moved);
  return { seen, view, follow, sized, ready, showAll, release };
}

/** Two fingers on a trackpad move the drawing, a wheel and a pinch zoom it. */
function useTrackpad(
  root: RefObject<HTMLElement | null>,
  view: RefObject<DrawingView | null>,
  moved: RefObject<((after: Viewport, before: Viewport) => void) | undefined>,
): void {
  const pad = useRef(-Infinity);
  useEffect(() => {
    const slide = (event: WheelEvent): void => {
      if (event.ctrlKey || !view.current) return;
      const isPad = event.deltaX !== 0 || event.timeStamp - pad.current < PAD_MS;
      if (!isPad) return;
      pad.current = event.timeStamp;
      event.preventDefault();
      event.stopPropagation();
      view.current.release();
      const before = view.current.viewport();
      view.current.panBy({ x: -event.deltaX, y: -event.deltaY });
      moved.current?.({ ...before, x: before.x - event.deltaX, y: before.y - event.deltaY }, before);
    };
    const element = root.current;
    // The listeners of the library are further in: this one must see the event first, and may stop it.
    element?.addEventListener('wheel', slide, { capture: true, passive: false });
    return () => element?.removeEventListener('wheel', slide, { capture: true });
  }, [root, view, moved]);
}
