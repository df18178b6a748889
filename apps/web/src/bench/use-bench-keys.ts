import { useEffect, useRef } from 'react';

/** What keys do, by the key's name ("a", "L" with shift, "ctrl z", "ctrl shift z"); `arrows` gets the way to go. */
export type BenchKeys = { arrows: (x: number, y: number) => void } & Readonly<Record<string, unknown>>;
const STEP = 8;
const ARROWS: Record<string, readonly [number, number]> = {
  ArrowLeft: [-STEP, 0],
  ArrowRight: [STEP, 0],
  ArrowUp: [0, -STEP],
  ArrowDown: [0, STEP],
};

const nameOf = (event: KeyboardEvent): string =>
  event.ctrlKey || event.metaKey
    ? `ctrl ${event.shiftKey ? 'shift ' : ''}${event.key.toLowerCase()}`
    : event.key.length === 1 && !event.shiftKey
      ? event.key.toLowerCase()
      : event.key;

/** Keys of the bench, wherever the focus is but in a text field or a dialog. */
export function useBenchKeys(keys: BenchKeys): void {
  const current = useRef(keys);
  useEffect(() => {
    current.current = keys;
  });
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent): void => {
      const target = event.target as HTMLElement;
      if (
        event.defaultPrevented ||
        event.altKey ||
        target.closest('input, textarea, select, [contenteditable], [role=dialog], [role=menu]')
      )
        return;
      const arrow = ARROWS[event.key];
      // A focused tile is moved by the drawing itself, a row of a table scrolls, and a list has a way of its own.
      if (arrow) {
        if (target.closest('.react-flow__node, table, [role=grid], [role=listbox], [role=separator]')) return;
        event.preventDefault();
        current.current.arrows(...arrow);
        return;
      }
      const run = current.current[nameOf(event)];
      if (typeof run !== 'function') return;
      event.preventDefault();
      (run as () => void)();
    };
    window.addEventListener('keydown', onKeyDown);
    return () => window.removeEventListener('keydown', onKeyDown);
  }, []);
}
