import { DateTime } from 'luxon';

const TIME_WORDS = {
  weekday: 'short',
  day: 'numeric',
  month: 'short',
  hour: '2-digit',
  minute: '2-digit',
} as const;
/** Day and time as the person's own place writes them. */
export const when = (iso: string): string => new Intl.DateTimeFormat(undefined, TIME_WORDS).format(new Date(iso));

/** The same on the clocks of a course; with the name of its zone where the person's own clock shows another time. */
export function whenIn(timeZone: string, iso: string): string {
  const there = new Intl.DateTimeFormat(undefined, { ...TIME_WORDS, timeZone }).format(new Date(iso));
  return there === when(iso)
    ? there
    : new Intl.DateTimeFormat(undefined, { ...TIME_WORDS, timeZone, timeZoneName: 'short' }).format(new Date(iso));
}

/** A moment as an input for date and time wants it: what the clocks of a zone show. */
export const clockTime = (timeZone: string, iso: string): string =>
  DateTime.fromISO(iso, { zone: timeZone }).toFormat("yyyy-MM-dd'T'HH:mm");
/** The moment at which clocks of a zone show that; null for none. Of two, when clocks are set back, the first. */
export const momentOf = (timeZone: string, clock: string): string | null =>
  DateTime.fromISO(clock, { zone: timeZone }).toUTC().toISO();
/** The zone of this browser. */
export const ownZone = (): string => new Intl.DateTimeFormat().resolvedOptions().timeZone;

/** Points without needless zeros. */
export const points = (value: number): string => String(Math.round(value * 100) / 100);

/** A size as people read it. */
export const bytes = (size: number): string =>
  size >= 1_000_000 ? `${(size / 1_000_000).toFixed(1)} MB` : `${Math.max(1, Math.round(size / 1000))} kB`;
