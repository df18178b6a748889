import { type Comment } from '@sobrin/core/topology';
import { createContext } from 'react';

/** A talk that is open, one that is just begun about something, or the list of all. */
export type Talk = { id: string } | { about: NonNullable<Comment['anchor']> | { x: number; y: number } } | 'all';

/** Opens a talk from anywhere on the bench. */
export const OpenTalk = createContext<(talk: Talk) => void>(() => {});
