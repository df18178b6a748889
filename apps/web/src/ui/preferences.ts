import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import { type Scheme } from '@sobrin/core/drawing';

interface Preferences {
  scheme: Scheme;
  toggleScheme: () => void;
}

const matches = (media: string): boolean => typeof matchMedia === 'function' && matchMedia(media).matches;
/** Whether somebody asked the system for less movement. */
export const prefersStill = (): boolean => matches('(prefers-reduced-motion: reduce)');
const dark = (): boolean => matches('(prefers-color-scheme: dark)');

/** What a person prefers in this browser. */
export const usePreferences = create<Preferences>()(
  persist(
    (set) => ({
      scheme: dark() ? 'dark' : 'light',
      toggleScheme: () => set(({ scheme }) => ({ scheme: scheme === 'light' ? 'dark' : 'light' })),
    }),
    { name: 'sobrin-preferences' },
  ),
);
