import { useState } from 'react';

const KEY = 'sobrin-command-history';
const MOST = 50;

/** What was done with the command field in this browser, the newest first. */
export interface History {
  keep: (text: string) => void;
  isPast: (text: string) => boolean;
  /** What was done before a text, or last of all; undefined where there is nothing. */
  before: (text: string) => string | undefined;
}

export function useHistory(): History {
  const [past, setPast] = useState(read);
  return {
    keep: (text) => {
      const next = [text.trim(), ...past.filter((line) => line !== text.trim())].slice(0, MOST);
      setPast(next);
      try {
        localStorage.setItem(KEY, JSON.stringify(next));
      } catch {
        // A full store loses nothing but the history.
      }
    },
    isPast: (text) => past.includes(text),
    before: (text) => past[past.indexOf(text) + 1],
  };
}

function read(): string[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(KEY) ?? '[]');
    return Array.isArray(kept) ? kept.filter((line) => typeof line === 'string').slice(0, MOST) : [];
  } catch {
    return [];
  }
}
