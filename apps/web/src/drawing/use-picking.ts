import { type Scene, type Spot, pickAt, tilesInBox, tilesInLasso } from '@sobrin/core/drawing';
import { type KeyboardEvent, type PointerEvent, type RefObject, useCallback, useRef, useState } from 'react';
import { type MarqueeKind, useMarquee } from './marquee';
import { type Selection, NOTHING, afterPick } from './selection';
import { type DrawingView } from './view';

const AFTER_FRAME_MS = 40;

/** How near a click must be to a link, in pixels of the screen. */
const REACH = 7;
interface Client {
  clientX: number;
  clientY: number;
}

/** What is picked with the pointer: things, places, and all in a shape. */
export function usePicking({
  scene,
  view,
  byPlace,
  selection,
  onSelect,
  shape,
  onShapeEnd,
  onPlace,
}: {
  scene: Scene;
  view: RefObject<DrawingView | null>;
  /** The drawing is one picture: what is under the pointer is found by its place. */
  byPlace: boolean;
  selection: Selection;
  onSelect: ((selection: Selection) => void) | undefined;
  /** The next drag draws a shape. */
  shape: MarqueeKind | null;
  onShapeEnd: (() => void) | undefined;
  onPlace: ((at: Spot) => void) | undefined;
}) {
  const [hovered, setHovered] = useState<string | null>(null);
  const modifiers = useRef({ add: false, free: false });
  const pickLink = useCallback(
    (link: string, add: boolean) =>
      onSelect?.(
        add ? { ...selection, links: [...new Set([...selection.links, link])] } : { ...NOTHING, links: [link] },
      ),
    [onSelect, selection],
  );
  const underPointer = ({ clientX: x, clientY: y }: Client, reach: number) => {
    const place = view.current?.placeAt({ x, y });
    return place ? pickAt(scene, place, reach) : null;
  };
  const clickPane = (event: Client & { shiftKey: boolean }): void => {
    const place = view.current?.placeAt({ x: event.clientX, y: event.clientY });
    if (onPlace && place) return onPlace(place);
    const found = byPlace ? underPointer(event, REACH / (view.current?.viewport().zoom ?? 1)) : null;
    if (!found) onSelect?.(NOTHING);
    else if ('device' in found) onSelect?.({ ...NOTHING, devices: [found.device] });
    else pickLink(found.link, event.shiftKey);
  };
  const marquee = useMarquee((kind, points, add) => {
    const places = points.flatMap((point) => view.current?.placeAt(point) ?? []);
    const [from, to] = [places[0], places.at(-1)];
    onShapeEnd?.();
    if (!from || !to) return;
    const found =
      kind === 'lasso'
        ? tilesInLasso(scene, places)
        : tilesInBox(scene, {
            x: Math.min(from.x, to.x),
            y: Math.min(from.y, to.y),
            width: Math.abs(from.x - to.x),
            height: Math.abs(from.y - to.y),
          });
    onSelect?.({ ...NOTHING, devices: add ? [...new Set([...selection.devices, ...found])] : found });
  });
  const begin = (event: PointerEvent): void => {
    modifiers.current = { add: event.ctrlKey || event.metaKey || event.shiftKey, free: event.altKey };
    if (shape) marquee.start(event, shape);
    else if (onSelect && event.shiftKey && event.button === 0 && isPane(event.target)) marquee.start(event, 'box');
  };
  /** Enter and Space choose what has the focus; with Shift or Control it is added to what is chosen, or taken out. */
  const pickByKey = (event: KeyboardEvent): void => {
    const node = event.target instanceof Element && event.target.matches('.react-flow__node') ? event.target : null;
    const id = node?.getAttribute('data-id');
    if (!node || !id || !onSelect) return;
    if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault();
      event.stopPropagation();
      const add = event.shiftKey || event.ctrlKey || event.metaKey;
      onSelect(afterPick(selection, [{ id, selected: !(add && node.classList.contains('selected')) }], add));
    }
    // The library gives the focus to nobody when Escape chooses nothing.
    if (event.key === 'Escape' && node instanceof HTMLElement)
      setTimeout(() => document.activeElement === document.body && node.focus({ preventScroll: true }), AFTER_FRAME_MS);
  };
  const hover = (event: PointerEvent): void => {
    modifiers.current.free = event.altKey;
    if (!byPlace || event.buttons) return;
    const found = underPointer(event, 0);
    setHovered(found && 'device' in found ? found.device : null);
  };
  /** Whether a press of the button begins a shape and nothing else. */
  const takes = (event: { shiftKey: boolean; target: EventTarget }): boolean =>
    shape !== null || (event.shiftKey && isPane(event.target));
  return { hovered, modifiers, pickLink, clickPane, drawn: marquee.drawn, begin, hover, takes, pickByKey };
}

const isPane = (target: EventTarget): boolean =>
  target instanceof Element && target.classList.contains('react-flow__pane');
