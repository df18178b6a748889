import { type DraftedLab } from '@sobrin/core/spec';
import { useEffect, useState } from 'react';
import { type DraftNews } from '../workers/draft.worker';

/** A draft for a lab as it is when this begins; what becomes of the lab meanwhile changes nothing of it. */
export function useDraft(lab: DraftedLab): DraftNews {
  const [news, setNews] = useState<DraftNews>({ done: 0, of: 0 });
  const [begun] = useState(lab);
  useEffect(() => {
    const worker = new Worker(new URL('../workers/draft.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<DraftNews>) => setNews(data);
    worker.onerror = () => setNews({ trouble: 'The draft could not be made.' });
    worker.postMessage(begun);
    return () => worker.terminate();
  }, [begun]);
  return news;
}
