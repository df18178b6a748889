import { type CheckResult, type JudgingLab, type Plan } from '@sobrin/core';
import { useEffect, useRef, useState } from 'react';

export interface ReferenceCheck {
  points: number;
  of: number;
  requirements: Pick<CheckResult['requirements'][number], 'id' | 'verdict' | 'items'>[];
}

/** Whether the reference meets its own spec, computed beside while the spec is written. Null until known. */
export function useReferenceCheck(lab: (JudgingLab & { plan: Plan }) | null): ReferenceCheck | null {
  const [result, setResult] = useState<ReferenceCheck | null>(null);
  const worker = useRef<Worker | null>(null);
  const turn = useRef(0);
  useEffect(() => {
    worker.current = new Worker(new URL('../workers/check.worker.ts', import.meta.url), { type: 'module' });
    worker.current.onmessage = ({ data }: MessageEvent<{ turn: number; result: ReferenceCheck | null }>) => {
      if (data.turn === turn.current) setResult(data.result);
    };
    return () => worker.current?.terminate();
  }, []);
  useEffect(() => {
    if (!lab) return;
    // Typing must not start a check for every letter.
    const timer = window.setTimeout(
      () => worker.current?.postMessage({ turn: ++turn.current, lab, drawing: lab.reference, plan: lab.plan }),
      250,
    );
    return () => window.clearTimeout(timer);
  }, [lab]);
  return result;
}
