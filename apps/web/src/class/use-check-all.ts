import { type ClassRow } from '@sobrin/contracts';
import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { api } from '../api/client';
import { readAnew } from '../api/queries';

/** Checks everybody who has no current result, one after the other, with progress and a way to stop. */
export function useCheckAll(lab: string) {
  const client = useQueryClient();
  const [progress, setProgress] = useState<{ done: number; all: number } | null>(null);
  const [error, setError] = useState<unknown>(null);
  const stopped = useRef(false);
  const start = async (rows: readonly ClassRow[]): Promise<void> => {
    const waiting = rows.flatMap((row) =>
      row.submissionId !== null && (row.points === null || row.stale) ? [row.submissionId] : [],
    );
    stopped.current = false;
    setError(null);
    try {
      for (const [at, submission] of waiting.entries()) {
        if (stopped.current) break;
        setProgress({ done: at, all: waiting.length });
        await api('POST submissions/:id/check', { id: submission });
      }
    } catch (failure) {
      setError(failure);
    }
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
