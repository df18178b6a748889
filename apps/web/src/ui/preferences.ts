import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import { type Scheme } from '@sobrin/core/drawing';

interface Preferences {
  /** What is shown: what a person chose, else what the system has. */
  scheme: Scheme;
  /** What a person chose; null for as the system. */
  ownScheme: Scheme | null;
  toggleScheme: () => void;
  /** How wide the panel beside a drawing is, in pixels. */
  panelWidth: number;
  setPanelWidth: (width: number) => void;
  /** Whether keys of one character do something without Control (WCAG 2.1.4). */
  singleKeys: boolean;
  setSingleKeys: (on: boolean) => void;
  /** Keys of a person's own, by what they do; an empty one is none. */
  ownKeys: Readonly<Record<string, string>>;
  /** Null brings back the one it comes with. */
  setOwnKey: (id: string, chord: string | null) => void;
}
/** What addresses of IPv4 stand in uncut, two beside each other, and how far it goes. */
export const PANEL_WIDTHS = { least: 304, start: 352, most: 640, step: 16 } as const;

const matches = (media: string): boolean => typeof matchMedia === 'function' && matchMedia(media).matches;
/** Whether somebody asked the system for less movement. */
export const prefersStill = (): boolean => matches('(prefers-reduced-motion: reduce)');
const DARK = '(prefers-color-scheme: dark)';
const ofSystem = (): Scheme => (matches(DARK) ? 'dark' : 'light');

/** What a person prefers in this browser. */
export const usePreferences = create<Preferences>()(
  persist(
    (set) => ({
      scheme: ofSystem(),
      ownScheme: null,
      toggleScheme: () =>
        set(({ scheme }) => {
          const next = scheme === 'light' ? 'dark' : 'light';
          return { scheme: next, ownScheme: next };
        }),
      panelWidth: PANEL_WIDTHS.start,
      setPanelWidth: (width) =>
        set({ panelWidth: Math.round(Math.max(PANEL_WIDTHS.least, Math.min(PANEL_WIDTHS.most, width))) }),
      singleKeys: true,
      setSingleKeys: (singleKeys) => set({ singleKeys }),
      ownKeys: {},
      setOwnKey: (id, chord) =>
        set(({ ownKeys }) => ({
          ownKeys: {
            ...Object.fromEntries(Object.entries(ownKeys).filter(([each]) => each !== id)),
            ...(chord !== null && { [id]: chord }),
          },
        })),
    }),
    {
      name: 'sobrin-preferences',
      merge: (kept, now) => ({ ...now, ...readKept(kept) }),
    },
  ),
);

/** What a browser kept, whoever wrote it there: of what is not as it must be, nothing. */
function readKept(kept: unknown): Partial<Preferences> {
  const { ownScheme, panelWidth, singleKeys, ownKeys } = (kept ?? {}) as Readonly<Record<string, unknown>>;
  const chosen = ownScheme === 'light' || ownScheme === 'dark' ? ownScheme : null;
  const { least, most } = PANEL_WIDTHS;
  return {
    ownScheme: chosen,
    scheme: chosen ?? ofSystem(),
    ...(typeof panelWidth === 'number' && panelWidth >= least && panelWidth <= most && { panelWidth }),
    ...(typeof singleKeys === 'boolean' && { singleKeys }),
    ...(typeof ownKeys === 'object' && {
      ownKeys: Object.fromEntries(
        Object.entries(ownKeys ?? {}).filter((entry): entry is [string, string] => typeof entry[1] === 'string'),
      ),
    }),
  };
}

// What is chosen in one tab holds in the others, and none writes over it with what it knew before.
if (typeof window === 'object')
  window.addEventListener('storage', ({ key }) => {
    if (key === usePreferences.persist.getOptions().name) void usePreferences.persist.rehydrate();
  });

// Who never chose goes with the system, also while a page is open.
if (typeof matchMedia === 'function')
  matchMedia(DARK).addEventListener?.('change', () =>
    usePreferences.setState(({ ownScheme }) => ({ scheme: ownScheme ?? ofSystem() })),
  );
