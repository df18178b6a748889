import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import { type Scheme } from '@sobrin/core/drawing';

interface Preferences {
  scheme: Scheme;
  toggleScheme: () => void;
}

const dark = (): boolean => typeof matchMedia === 'function' && matchMedia('(prefers-color-scheme: dark)').matches;

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
