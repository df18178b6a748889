/** So narrow that what stands beside something else on wider pages stands beneath it. */
export const NARROW = '(max-width: 1000px)';
export const IF_NARROW = `@media ${NARROW}`;

/** A drawing or a list with a panel beside it, or beneath it where the page is narrow. */
export const DESK = { flex: 1, minHeight: 0, display: 'flex', [IF_NARROW]: { flexDirection: 'column' } } as const;
