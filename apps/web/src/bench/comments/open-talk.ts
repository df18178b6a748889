import { type Comment } from '@sobrin/core/topology';
import { createContext } from 'react';

/** A talk that is open, one that is just begun about something, or the list of all. */
export type Talk = { id: string } | { about: NonNullable<Comment['anchor']> | { x: number; y: number } } | 'all';

/** What a talk is about, as a key. */
export const talkKey = (talk: Talk): string =>
  talk === 'all' ? talk : 'id' in talk ? talk.id : JSON.stringify(talk.about);

/** Opens a talk from anywhere on the bench. */
export const OpenTalk = createContext<(talk: Talk) => void>(() => {});
