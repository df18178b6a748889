import { useEffect, useRef } from 'react';

/** What keys do, by the key's name; undo and redo stand for Ctrl Z and Ctrl Shift Z. */
export type Keys = Readonly<Record<string, () => void>>;

/** Keys of a page, wherever the focus is but in a text field or a dialog. */
export function useKeys(keys: Keys): void {
  const current = useRef(keys);
  useEffect(() => {
    current.current = keys;
  });
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent): void => {
      const target = event.target as HTMLElement;
      if (event.defaultPrevented || event.altKey) return;
      if (target.closest('input, textarea, select, [contenteditable], [role=dialog], [role=menu]')) return;
      const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
      const name =
        event.ctrlKey || event.metaKey
          ? key === 'y' || (key === 'z' && event.shiftKey)
            ? 'redo'
            : key === 'z'
              ? 'undo'
              : ''
          : key;
      const run = current.current[name];
      if (!run) return;
      event.preventDefault();
      run();
    };
    window.addEventListener('keydown', onKeyDown);
    return () => window.removeEventListener('keydown', onKeyDown);
  }, []);
}
