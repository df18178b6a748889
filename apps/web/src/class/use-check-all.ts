import { type ClassRow } from '@sobrin/contracts';
import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { ApiError, api } from '../api/client';
import { readAnew } from '../api/queries';

interface Failed {
  name: string;
  error: unknown;
}
/** Whose hand-in could not be checked, and why; what is no answer of the server stays what it is. */
const failureOf = ({ name, error }: Failed, more: number): unknown =>
  error instanceof ApiError
    ? new ApiError(
        error.status,
        `${name}${more ? ` and ${more} more` : ''} could not be checked: ${error.message}`,
        error.problems,
      )
    : error;

/** Checks everybody who has no current result, one after the other, with progress and a way to stop. */
export function useCheckAll(lab: string) {
  const client = useQueryClient();
  const [progress, setProgress] = useState<{ done: number; all: number } | null>(null);
  const [error, setError] = useState<unknown>(null);
  const stopped = useRef(false);
  const start = async (rows: readonly ClassRow[]): Promise<void> => {
    const waiting = rows.flatMap(({ submissionId: id, name, points, stale }) =>
      id !== null && (points === null || stale) ? [{ id, name }] : [],
    );
    stopped.current = false;
    setError(null);
    const failed: Failed[] = [];
    for (const [at, { id, name }] of waiting.entries()) {
      if (stopped.current) break;
      setProgress({ done: at, all: waiting.length });
      try {
        await api('POST submissions/:id/check', { id });
      } catch (error) {
        failed.push({ name, error });
        // What the server says of one submission concerns that one; no answer at all concerns all.
        if (!(error instanceof ApiError) || [0, 401].includes(error.status)) break;
      }
    }
    const [first, ...more] = failed;
    if (first) setError(failureOf(first, more.length));
    setProgress(null);
    await readAnew(client, ['class', lab], ['lab', lab], ['results', lab], ['submission'], ['courses']);
  };
  return {
    progress,
    error,
    start: (rows: readonly ClassRow[]) => void start(rows),
    cancel: () => {
      stopped.current = true;
    },
  };
}
