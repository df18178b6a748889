import { type Edit } from '../../changes';
import { type Command, entryOf } from '../../topology';
import { type Place, capital } from '../rule';

/** Where it is known from that something should be otherwise: what comes first outranks what comes after it. */
export const SOURCES = ['reference', 'problem', 'siblings'] as const;
export type Source = (typeof SOURCES)[number];

/** One thing of a drawing that could be otherwise, with what makes it so. */
export interface Change {
  /** Which thing of the drawing: two changes of one thing exclude one another. */
  readonly thing: string;
  /** What sort of thing, alike for all drawings. */
  readonly sort: string;
  /** Whether something stands there that is wrong, something is missing, or something is too much. */
  readonly what: 'other' | 'missing' | 'extra';
  readonly source: Source;
  readonly commands: readonly Command[];
  /** The mistaken thing itself. */
  readonly places: readonly Place[];
  /** What is wrong and what it should be, as a sentence that names device and place. */
  readonly text: string;
  /** The device with its port, or the link, that it is at. */
  readonly at: string;
  /** What of it, without what it should be; empty where it is the thing itself. */
  readonly field: string;
  /** What is done about it, in a few words each. */
  readonly repair: readonly string[];
  /** Equal for what is the same mistake at several members; null for what is none of that sort. */
  readonly alike: string | null;
  /** How many fields it changes. */
  readonly fields: number;
  /** Whether it removes or widens what keeps apart: such repairs come last. */
  readonly opens: boolean;
  /** Whether it adds what nobody began, which is no mistake but left out. */
  readonly leftOut: boolean;
  /** Devices that it adds, by the roles that they play. */
  readonly plays?: readonly (readonly [role: string, device: string])[];
  /** Whose thing it is: the role, or the roles, of the reference. */
  readonly role?: string;
  /** The sentence for the student, where it is another one. */
  readonly theirText?: string;
  /** Whether its text says nothing but what a student may read where findings say what is wrong. */
  readonly isTold?: boolean;
  /** How many members it changes at once. */
  readonly members: number;
}

export const editing = (...edits: Edit[]): Command => ({ kind: 'edits', edits });

/** One change for the same mistake at several members: the parts go together and count once. */
export function together(changes: readonly Change[]): Change {
  const [first] = changes as [Change, ...Change[]];
  const names = [...new Set(changes.map(({ at }) => at))];
  const plays = changes.flatMap((change) => change.plays ?? []);
  return {
    ...first,
    thing: changes.map(({ thing }) => thing).join(' & '),
    commands: changes.flatMap(({ commands }) => commands),
    places: changes.flatMap(({ places }) => places),
    text: names.length > 1 ? `${first.text} The same at ${listed(names.slice(1))}.` : first.text,
    at: listed(names),
    repair: changes.flatMap(({ repair }) => repair),
    leftOut: changes.every(({ leftOut }) => leftOut),
    members: changes.length,
    ...(plays.length && { plays }),
  };
}

/** Where to look for a change, without what it should be. */
export const whereOf = ({ at, field }: Change): string => `Look at ${at}${field ? `: ${field}` : ''}.`;

/** The sentence for the student: without names and values that only the reference has. */
export function theirTextOf({ text, theirText, isTold, source, at, field, what }: Change): string {
  if (theirText !== undefined) return theirText;
  if (isTold || source !== 'reference') return text;
  return `${capital(at)}${field ? `: ${field}` : ''} ${what === 'missing' ? 'is missing, or not complete' : 'is not right'}.`;
}

export const listed = (words: readonly string[], most = 4): string =>
  words.length > most
    ? `${words.slice(0, most - 1).join(', ')} and ${words.length - most + 1} more`
    : words.length > 1
      ? `${words.slice(0, -1).join(', ')} and ${words.at(-1)!}`
      : (words[0] ?? '');

/** An id that a map does not have yet. */
export const freshId = (map: Readonly<Record<string, unknown>>, id: string): string =>
  entryOf(map, id) === undefined ? id : freshId(map, `${id}-`);
