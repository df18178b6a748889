import { useEffect, useRef } from 'react';

interface Keys {
  a: () => void;
  l: () => void;
  s: () => void;
  Delete: () => void;
  Backspace: () => void;
  F2: () => void;
  F8: () => void;
  Escape: () => void;
  arrows: (x: number, y: number) => void;
  undo: () => void;
  redo: () => void;
  all: () => void;
}
const STEP = 8;
const ARROWS: Record<string, readonly [number, number]> = {
  ArrowLeft: [-STEP, 0],
  ArrowRight: [STEP, 0],
  ArrowUp: [0, -STEP],
  ArrowDown: [0, STEP],
};

/** Keys of the bench, wherever the focus is but in a text field or a dialog. */
export function useBenchKeys(keys: Keys): void {
  const current = useRef(keys);
  useEffect(() => {
    current.current = keys;
  });
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent): void => {
      const target = event.target as HTMLElement;
      if (
        event.defaultPrevented ||
        target.closest('input, textarea, select, [contenteditable], [role=dialog], [role=menu]')
      )
        return;
      const now = current.current;
      const take = (run: () => void): void => {
        event.preventDefault();
        run();
      };
      if (event.ctrlKey || event.metaKey) {
        const key = event.key.toLowerCase();
        if (key === 'z') take(event.shiftKey ? now.redo : now.undo);
        if (key === 'y') take(now.redo);
        if (key === 'a') take(now.all);
        return;
      }
      const arrow = ARROWS[event.key];
      // A focused tile is moved by the drawing itself, and a row of a table scrolls.
      if (arrow) {
        if (!target.closest('.react-flow__node, table')) take(() => now.arrows(...arrow));
        return;
      }
      const name = event.key.length === 1 ? event.key.toLowerCase() : event.key;
      if (!event.altKey && ['a', 'l', 's', 'Delete', 'Backspace', 'F2', 'F8', 'Escape'].includes(name))
        take(now[name as 'a']);
    };
    window.addEventListener('keydown', onKeyDown);
    return () => window.removeEventListener('keydown', onKeyDown);
  }, []);
}
