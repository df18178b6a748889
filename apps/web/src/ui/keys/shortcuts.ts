import { useEffect, useRef, useSyncExternalStore } from 'react';
import { usePreferences } from '../preferences';
import { chordOf, isSingle } from './chord';

/** Something that a key does on a page. */
export interface Shortcut {
  /** By this name a person's own key for it is remembered. */
  id: string;
  /** What it does. */
  text: string;
  /** The keys that do it, each as menus write them: "A", "Shift L", "Ctrl Z", "Del". */
  keys: string | readonly string[];
  /** It cannot be done just now. */
  off?: boolean;
  /** Parts of a page that do something else with its keys. */
  butIn?: string;
  /** @param chord which of its keys it was */
  run: (chord: string) => void;
}

/** Undo and redo by the keys that people know from everywhere. */
export const historyKeys = ({ undo, redo }: { undo: () => void; redo: () => void }): Shortcut[] => [
  { id: 'undo', text: 'Undo', keys: 'Ctrl Z', run: undo },
  { id: 'redo', text: 'Redo', keys: ['Ctrl Shift Z', 'Ctrl Y'], run: redo },
];

/** Where keys are letters; the one that leads from part to part is none. */
const TYPING = 'input, textarea, select, [contenteditable]';
/** Whether what has the focus takes letters. */
export const isTyping = (at: Element | null): boolean => at?.closest(TYPING) != null;
/** Where keys without Control do what the page says: drawings, trees, lists and the page itself. */
const PAGE = '[data-line], .drawing, .react-flow__node, [role=tree], [role=grid], [role=listbox], table, main, body';
/** Parts that have their keys to themselves: a letter pressed on a button is no wish, and an arrow is the panel's. */
const PARTS =
  'button:not([data-line]), a, summary, aside, [role=toolbar], [role=button], [role=separator], [role=tab], [role=tabpanel]';

/** Whether a key that is pressed at a part of the page is a shortcut there. */
function isHeard(chord: string, at: Element): boolean {
  if (at.closest('[role=dialog], [role=menu]')) return false;
  if (/F6$/.test(chord)) return true;
  if (isTyping(at)) return false;
  if (/^Ctrl |^Esc$|^(Shift )?F\d+$/.test(chord)) return true;
  return !at.closest(`${PAGE}, ${PARTS}`)?.matches(PARTS);
}

/** The keys of something: those of the page, or the one a person chose; none while single keys are off. */
export function keysFor(
  { id, keys }: Pick<Shortcut, 'id' | 'keys'>,
  { singleKeys, ownKeys }: { singleKeys: boolean; ownKeys: Readonly<Record<string, string>> },
): string[] {
  const own = Object.hasOwn(ownKeys, id) ? ownKeys[id] : undefined;
  return [own ?? keys].flat().filter((chord) => chord !== '' && (singleKeys || !isSingle(chord)));
}

const mounted = new Set<{ readonly current: readonly Shortcut[] }>();
/** Who wants to know that a page, or a part of it, came or went with its keys. */
const watchers = new Set<() => void>();
const tellWatchers = (): void => watchers.forEach((tell) => tell());

/** All that keys do on the page that is open, those of parts that came last first. */
export const shortcutsNow = (): Shortcut[] => [...mounted].toReversed().flatMap(({ current }) => current);

/** How many parts have keys, for who shows them. */
export function useShortcutParts(): number {
  return useSyncExternalStore(
    (tell) => {
      watchers.add(tell);
      return () => void watchers.delete(tell);
    },
    () => mounted.size,
  );
}

function hear(event: KeyboardEvent): void {
  const chord = chordOf(event);
  // Where the focus was lost, it has just been given to what stands next.
  const pressed = event.target === document.body ? document.activeElement : event.target;
  const at = pressed instanceof Element ? pressed : document.body;
  if (event.defaultPrevented || chord === null || !isHeard(chord, at)) return;
  const preferences = usePreferences.getState();
  const meant = shortcutsNow().filter(
    (each) => keysFor(each, preferences).includes(chord) && !(each.butIn !== undefined && at.closest(each.butIn)),
  );
  const found = meant.find((each) => !each.off);
  // What cannot be done just now leaves its key alone, but none that would make the browser do something else.
  if (found || (meant.length && chord.startsWith('Ctrl '))) event.preventDefault();
  found?.run(chord);
}

/** Keys of a page or of a part of it. One that stands first goes before those that come after it. */
export function useShortcuts(shortcuts: readonly Shortcut[]): void {
  const latest = useRef(shortcuts);
  useEffect(() => {
    latest.current = shortcuts;
  });
  useEffect(() => {
    if (!mounted.size) window.addEventListener('keydown', hear);
    mounted.add(latest);
    tellWatchers();
    return () => {
      mounted.delete(latest);
      tellWatchers();
      if (!mounted.size) window.removeEventListener('keydown', hear);
    };
  }, []);
}

/** Entries of a menu with the keys that a person has for them. */
export function useOwnKeys<T extends { id: string; keys?: string }>(entries: readonly T[]): T[] {
  const preferences = usePreferences();
  return entries.map((entry) => {
    if (entry.keys === undefined) return entry;
    const { keys, ...others } = entry;
    const [own] = keysFor({ id: entry.id, keys }, preferences);
    return (own === undefined ? others : { ...entry, keys: own }) as T;
  });
}
