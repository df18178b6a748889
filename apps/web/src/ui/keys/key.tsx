import { usePreferences } from '../preferences';
import { chordWords } from './chord';
import { keysFor } from './shortcuts';

/** The key of something, where a page tells of it: a person's own, or nothing while single keys are off. */
export function Key({ id, keys, inBrackets = false }: { id: string; keys: string; inBrackets?: boolean }) {
  const preferences = usePreferences();
  const [own] = keysFor({ id, keys }, preferences);
  if (own === undefined) return null;
  const key = <kbd>{chordWords(own)}</kbd>;
  return inBrackets ? <> ({key})</> : key;
}
