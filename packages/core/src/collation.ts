const collator = new Intl.Collator('en', { numeric: true });

/** The order of names in lists: PC-2 before PC-10. One collator for all: making one for each comparison is slow. */
export const byName = (a: string, b: string): number => collator.compare(a, b);
