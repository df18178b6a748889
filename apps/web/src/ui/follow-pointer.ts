/**
 * Follows the pointer from now until its button is let go. `end` is told whether that was so, or the browser took the
 * pointer away. The click that ends a drag is no click on what lies there: it is kept from everybody.
 */
export function followPointer(
  move: (event: PointerEvent) => void,
  end: (event: PointerEvent, dropped: boolean) => void,
): () => void {
  let moved = false;
  const onMove = (event: PointerEvent): void => {
    moved = true;
    move(event);
  };
  const onEnd = (event: PointerEvent): void => {
    stop();
    if (moved && event.type === 'pointerup') swallowClick();
    end(event, event.type === 'pointerup');
  };
  const stop = (): void => {
    window.removeEventListener('pointermove', onMove);
    window.removeEventListener('pointerup', onEnd);
    window.removeEventListener('pointercancel', onEnd);
  };
  window.addEventListener('pointermove', onMove);
  window.addEventListener('pointerup', onEnd);
  window.addEventListener('pointercancel', onEnd);
  return stop;
}

function swallowClick(): void {
  const swallow = (event: MouseEvent): void => event.stopPropagation();
  window.addEventListener('click', swallow, { capture: true, once: true });
  // Where no click follows, the next one is meant.
  window.setTimeout(() => window.removeEventListener('click', swallow, { capture: true }));
}
