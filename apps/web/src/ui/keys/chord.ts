import { latinKey } from './latin-key';

type Press = Pick<KeyboardEvent, 'key' | 'code' | 'ctrlKey' | 'metaKey' | 'altKey' | 'shiftKey'> &
  Partial<Pick<KeyboardEvent, 'getModifierState'>>;

const SHORT: Readonly<Record<string, string>> = { Delete: 'Del', Escape: 'Esc', ' ': 'Space' };

/**
 * What is pressed, as menus write it: "A", "Shift L", "Ctrl Shift Z", "/", "Del". Control and Command are one. A sign
 * (`/`, `[`, a digit) is read as what the keyboard writes, whichever keys that takes there; null for keys with Alt.
 */
export function chordOf(press: Press): string | null {
  // On some keyboards AltGr, which tells itself as Control with Alt, writes brackets.
  const isWritten = press.getModifierState?.('AltGraph') === true;
  if (press.altKey && !isWritten) return null;
  const key = latinKey(press);
  const isLetter = /^[A-Za-z\u00C0-\u024F]$/u.test(key);
  const isSign = [...key].length === 1 && key !== ' ' && !isLetter;
  return [
    (press.ctrlKey || press.metaKey) && !isWritten && 'Ctrl',
    press.shiftKey && !isSign && 'Shift',
    isLetter ? key.toUpperCase() : (SHORT[key] ?? key),
  ]
    .filter(Boolean)
    .join(' ');
}

/** One character without Control (WCAG 2.1.4): a person may change it, and switch all of them off. */
export const isSingle = (chord: string): boolean =>
  !chord.startsWith('Ctrl ') && [...chord.replace('Shift ', '')].length === 1;

const ARROWS: Readonly<Record<string, string>> = { ArrowLeft: '←', ArrowRight: '→', ArrowUp: '↑', ArrowDown: '↓' };

/** How a key is written for people: arrows as arrows. */
export const chordWords = (chord: string): string =>
  chord
    .split(' ')
    .map((word) => ARROWS[word] ?? word)
    .join(' ');
