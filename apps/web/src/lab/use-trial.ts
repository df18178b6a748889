import pLimit from 'p-limit';
import { useEffect, useState } from 'react';
import { api } from '../api/client';
import { type TrialNews, type TrialWish } from '../workers/trial.worker';
import { type Tried } from './trial';

export interface Trial {
  /** How many submissions there are; null until that is known. */
  readonly of: number | null;
  readonly tried: readonly Tried[];
  /** Whose could not be judged. */
  readonly failed: readonly string[];
  /** Why nothing more comes. */
  readonly error: unknown;
}

/** Submissions are fetched a few at a time. */
const AT_ONCE = 3;

/** Tries a lab as it is saved on everybody's attempt that counts; leaving the page ends it. */
export function useTrial(labId: string): Trial {
  const [trial, setTrial] = useState<Trial>({ of: null, tried: [], failed: [], error: null });
  useEffect(() => {
    let isGone = false;
    const worker = new Worker(new URL('../workers/trial.worker.ts', import.meta.url), { type: 'module' });
    const ask = (wish: TrialWish): void => worker.postMessage(wish);
    worker.onmessage = ({ data }: MessageEvent<TrialNews>) =>
      setTrial((before) =>
        'tried' in data
          ? { ...before, tried: [...before.tried, data.tried] }
          : { ...before, failed: [...before.failed, data.failed] },
      );
    const limit = pLimit(AT_ONCE);
    const run = async (): Promise<void> => {
      const [lab, rows] = await Promise.all([
        api('GET labs/:id/file', { id: labId }),
        api('GET labs/:id/submissions', { id: labId }),
      ]);
      const ids = rows.flatMap(({ submissionId }) => submissionId ?? []);
      setTrial((before) => ({ ...before, of: ids.length }));
      ask({ lab });
      await Promise.all(
        ids.map((id) =>
          limit(async () => {
            if (!isGone) ask({ submission: await api('GET submissions/:id', { id }) });
          }),
        ),
      );
    };
    run().catch((error: unknown) => {
      if (!isGone) setTrial((before) => ({ ...before, error }));
    });
    return () => {
      isGone = true;
      worker.terminate();
    };
  }, [labId]);
  return trial;
}
