import { useEffect, useRef } from 'react';
import { createKeybindingsHandler } from 'tinykeys';
import { latinKey } from './latin-key';

/** What a key does; `butIn` are parts of a page that do something else with it. */
type Key = (() => void) | { readonly run: () => void; readonly butIn: string };

/**
 * What keys do, as tinykeys writes them: "a", "Shift+l", "$mod+z" (Control, or Command where that is usual). One that is
 * undefined does nothing.
 */
export type Keys = Readonly<Record<string, Key | undefined>>;

/** Where keys are letters, or belong to what is open. */
const TYPING = 'input, textarea, select, [contenteditable], [role=dialog], [role=menu]';

/** Undo and redo by the keys that people know from everywhere. */
export const historyKeys = ({ undo, redo }: { undo: () => void; redo: () => void }): Keys => ({
  '$mod+z': undo,
  '$mod+Shift+z': redo,
  '$mod+y': redo,
});

/** The event of another key; everything else is the event's own. */
const withKey = (event: KeyboardEvent, key: string): KeyboardEvent =>
  key === event.key
    ? event
    : new Proxy(event, {
        get: (of, name) => {
          if (name === 'key') return key;
          const value: unknown = Reflect.get(of, name);
          return typeof value === 'function' ? (value.bind(of) as unknown) : value;
        },
      });

/** Keys of a page, wherever the focus is but in a text field or a dialog. */
export function useKeys(keys: Keys): void {
  const current = useRef(keys);
  useEffect(() => {
    current.current = keys;
  });
  const names = Object.keys(keys).join('\n');
  useEffect(() => {
    const bindings = names.split('\n').map((name) => {
      const press = (event: KeyboardEvent): void => {
        const key = current.current[name];
        const at = event.target as Element;
        if (!key || event.defaultPrevented || at.closest(TYPING)) return;
        if (typeof key !== 'function' && at.closest(key.butIn)) return;
        event.preventDefault();
        if (typeof key === 'function') key();
        else key.run();
      };
      return [name, press] as const;
    });
    // The stroke is typed with Shift on some keyboards.
    const stroke = bindings.flatMap(([name, press]) => (name === '/' ? [['Shift+/', press] as const] : []));
    const bound = createKeybindingsHandler(Object.fromEntries([...bindings, ...stroke]));
    const handle = (event: KeyboardEvent): void => bound(withKey(event, latinKey(event)));
    window.addEventListener('keydown', handle);
    return () => window.removeEventListener('keydown', handle);
  }, [names]);
}
