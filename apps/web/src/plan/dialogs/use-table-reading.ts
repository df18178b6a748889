import { type Plan, type TableReading, type TableWish } from '@sobrin/core';
import { useEffect, useState } from 'react';
import { type PlanTableAnswer } from '../../workers/plan-table.worker';

export interface TableProgress {
  reading: TableReading | null;
  /** Share of the lines read so far, from 0 to 1. */
  progress: number;
}

/** What a table would do to a plan, worked out beside the page. */
export function useTableReading(plan: Plan, wish: TableWish | null): TableProgress {
  const [state, setState] = useState<TableProgress & { for: TableWish | null }>({
    reading: null,
    progress: 0,
    for: null,
  });
  useEffect(() => {
    if (!wish) return;
    const worker = new Worker(new URL('../../workers/plan-table.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<PlanTableAnswer>) =>
      setState(
        'reading' in data
          ? { reading: data.reading, progress: 1, for: wish }
          : { reading: null, progress: data.done / data.of, for: wish },
      );
    worker.postMessage({ turn: 0, plan, wish });
    return () => worker.terminate();
  }, [plan, wish]);
  return state.for === wish ? state : { reading: null, progress: 0 };
}
