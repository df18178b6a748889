const TIME_WORDS = new Intl.DateTimeFormat(undefined, {
  weekday: 'short',
  day: 'numeric',
  month: 'short',
  hour: '2-digit',
  minute: '2-digit',
});
/** Day and time as the person's own place writes them. */
export const when = (iso: string): string => TIME_WORDS.format(new Date(iso));

/** Points without needless zeros. */
export const points = (value: number): string => String(Math.round(value * 100) / 100);

/** A size as people read it. */
export const bytes = (size: number): string =>
  size >= 1_000_000 ? `${(size / 1_000_000).toFixed(1)} MB` : `${Math.max(1, Math.round(size / 1000))} kB`;
