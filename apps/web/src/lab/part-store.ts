import { type Problem } from '@sobrin/core';
import { createStore, type StoreApi } from 'zustand/vanilla';
import { ApiError } from '../api/client';

export type PartSave =
  | { kind: 'saved' }
  | { kind: 'saving' }
  | { kind: 'refused'; text: string; problems: Problem[]; stale: boolean }
  | { kind: 'offline'; text: string };

export interface PartState<T> {
  value: T;
  past: readonly T[];
  future: readonly T[];
  save: PartSave;
  change: (next: T) => void;
  undo: () => void;
  redo: () => void;
  again: () => void;
}
export type PartStore<T> = StoreApi<PartState<T>>;

/**
 * A part of a lab while it is edited: its spec, or its brief. Every change is sent at once as the whole part; while one is
 * on its way the newest waits. What the server refuses stays here with the reasons, until it is put right or undone.
 * `send` also gets the value that the server confirmed last.
 */
export function createPartStore<T>(
  start: { value: T; revision: number },
  send: (base: number, value: T, confirmed: T) => Promise<{ revision: number }>,
): PartStore<T> {
  return createStore<PartState<T>>((set, get) => {
    let base = start.revision;
    let confirmed = start.value;
    let busy = false;
    let dirty = false;
    const push = async (): Promise<void> => {
      if (busy) {
        dirty = true;
        return;
      }
      busy = true;
      dirty = false;
      set({ save: { kind: 'saving' } });
      try {
        const { value } = get();
        base = (await send(base, value, confirmed)).revision;
        confirmed = value;
        set({ save: { kind: 'saved' } });
      } catch (error) {
        set({ save: saveOf(error) });
      }
      busy = false;
      if (dirty) await push();
    };
    const take = (value: T, past: readonly T[], future: readonly T[]): void => {
      set({ value, past, future });
      void push();
    };
    return {
      value: start.value,
      past: [],
      future: [],
      save: { kind: 'saved' },
      change: (next) => take(next, [...get().past, get().value], []),
      undo: () => {
        const { past, value, future } = get();
        if (past.length) take(past.at(-1)!, past.slice(0, -1), [value, ...future]);
      },
      redo: () => {
        const { past, value, future } = get();
        if (future.length) take(future[0]!, [...past, value], future.slice(1));
      },
      again: () => void push(),
    };
  });
}

function saveOf(error: unknown): PartSave {
  if (error instanceof ApiError && error.status >= 400 && error.status < 500)
    return { kind: 'refused', text: error.message, problems: error.problems, stale: error.status === 409 };
  return {
    kind: 'offline',
    text: 'Not saved: the server does not answer. Your changes stay in this tab; try again when it is back.',
  };
}
