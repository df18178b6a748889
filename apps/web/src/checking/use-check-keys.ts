import { useEffect, useRef } from 'react';

/** Handlers by key; digits all go to `section`. */
type Keys = Readonly<Partial<Record<'j' | 'k' | 'p' | 'r' | 'ArrowDown' | 'ArrowUp', () => void>>> & {
  section?: (nth: number) => void;
};

/** Keys of the check, so that a whole class can be gone through without the mouse. */
export function useCheckKeys(keys: Keys): void {
  const current = useRef(keys);
  useEffect(() => {
    current.current = keys;
  });
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent): void => {
      const target = event.target as HTMLElement;
      if (
        event.defaultPrevented ||
        event.ctrlKey ||
        event.metaKey ||
        event.altKey ||
        target.closest('input, textarea, select, [role=dialog], .react-flow__node')
      )
        return;
      const name = event.key.length === 1 ? event.key.toLowerCase() : event.key;
      const { section, ...rest } = current.current;
      const run = /^[1-9]$/.test(name) ? section && (() => section(Number(name))) : rest[name as keyof typeof rest];
      if (!run) return;
      event.preventDefault();
      run();
    };
    window.addEventListener('keydown', onKeyDown);
    return () => window.removeEventListener('keydown', onKeyDown);
  }, []);
}
