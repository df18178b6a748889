import { useEffect, useRef } from 'react';

interface Keys {
  j: () => void;
  k: () => void;
  r: () => void;
  ArrowDown: () => void;
  ArrowUp: () => void;
  section: (nth: number) => void;
}

/** A whole class can be gone through without the mouse. */
export function useCheckKeys(keys: Keys): void {
  const current = useRef(keys);
  useEffect(() => {
    current.current = keys;
  });
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent): void => {
      const target = event.target as HTMLElement;
      if (event.defaultPrevented || event.ctrlKey || event.metaKey || event.altKey || target.closest('input, textarea, select, [role=dialog], .react-flow__node')) return;
      const name = event.key.length === 1 ? event.key.toLowerCase() : event.key;
      if (/^[1-9]$/.test(name)) current.current.section(Number(name));
      else if (name === 'j' || name === 'k' || name === 'r' || name === 'ArrowDown' || name === 'ArrowUp') current.current[name]();
      else return;
      event.preventDefault();
    };
    window.addEventListener('keydown', onKeyDown);
    return () => window.removeEventListener('keydown', onKeyDown);
  }, []);
}
