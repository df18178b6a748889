/**
 * The frame of pages (WCAG 1.4.10). On wide ones parts stand beside each other and scroll by themselves; on narrow ones
 * they stand beneath each other; on small ones the page is as long as what is on it and scrolls as a whole.
 */

/** So narrow that what stands beside something else on wider pages stands beneath it. */
export const NARROW = '(max-width: 1000px)';
export const IF_NARROW = `@media ${NARROW}`;

/** As small as a telephone, or as a page at 200 % and more. */
export const SMALL = '(max-width: 640px), (max-height: 480px)';
export const IF_SMALL = `@media ${SMALL}`;

/** A page, or what fills one: its parts from the top down. */
export const PAGE = {
  height: '100%',
  display: 'flex',
  flexDirection: 'column',
  minWidth: 0,
  [IF_SMALL]: { height: 'auto', minHeight: '100dvh' },
} as const;

/** What takes the room that is left, and scrolls in it. */
export const BODY = {
  flex: 1,
  minHeight: 0,
  minWidth: 0,
  overflow: 'auto',
  [IF_SMALL]: { overflow: 'visible' },
} as const;

/** A drawing or a list with a panel beside it, or beneath it where the page is narrow. */
export const DESK = { flex: 1, minHeight: 0, display: 'flex', [IF_NARROW]: { flexDirection: 'column' } } as const;

/** What shows a picture: on a small page as much of it as leaves room to see that there is more. */
export const SIGHT = {
  flex: 1,
  minHeight: 0,
  minWidth: 0,
  [IF_SMALL]: { flex: 'none', width: '100%', height: 'clamp(180px, 56dvh, 520px)' },
} as const;
