import { type TableReading, type TableRequest } from '@sobrin/core/formats';
import { type Plan } from '@sobrin/core/plan';
import { useEffect, useState } from 'react';
import { type PlanTableAnswer } from '../../workers/plan-table.worker';

export interface TableProgress {
  reading: TableReading | null;
  /** Share of the lines read so far, from 0 to 1. */
  progress: number;
}

/** What a table would do to a plan, worked out beside the page. */
export function useTableReading(plan: Plan, request: TableRequest | null): TableProgress {
  const [state, setState] = useState<TableProgress & { for: TableRequest | null }>({
    reading: null,
    progress: 0,
    for: null,
  });
  useEffect(() => {
    if (!request) return;
    const worker = new Worker(new URL('../../workers/plan-table.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<PlanTableAnswer>) =>
      setState(
        'reading' in data
          ? { reading: data.reading, progress: 1, for: request }
          : { reading: null, progress: data.done / data.of, for: request },
      );
    worker.postMessage({ turn: 0, plan, request });
    return () => worker.terminate();
  }, [plan, request]);
  return state.for === request ? state : { reading: null, progress: 0 };
}
