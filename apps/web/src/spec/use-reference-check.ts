import { type Plan } from '@sobrin/core/plan';
import { type CheckResult, type Doubt, type JudgingLab } from '@sobrin/core/spec';
import { type Problem } from '@sobrin/core/topology';
import { useEffect, useRef, useState } from 'react';

export interface ReferenceCheck {
  points: number;
  of: number;
  requirements: Pick<CheckResult['requirements'][number], 'id' | 'verdict' | 'items' | 'given'>[];
}

interface SpecCheck {
  /** Null until known. */
  check: ReferenceCheck | null;
  /** Where the spec points at something that is not there. */
  problems: readonly Problem[];
  /** What of it can hardly be meant. */
  doubts: readonly Doubt[];
}

/** Whether the reference meets its own spec, computed beside while the spec is written. */
export function useReferenceCheck(lab: JudgingLab & { plan: Plan }): SpecCheck {
  const [result, setResult] = useState<SpecCheck>({ check: null, problems: [], doubts: [] });
  const worker = useRef<Worker | null>(null);
  const turn = useRef(0);
  useEffect(() => {
    worker.current = new Worker(new URL('../workers/check.worker.ts', import.meta.url), { type: 'module' });
    worker.current.onmessage = ({
      data,
    }: MessageEvent<{ turn: number; result: ReferenceCheck | null; problems: Problem[]; doubts: Doubt[] }>) => {
      if (data.turn === turn.current) setResult({ check: data.result, problems: data.problems, doubts: data.doubts });
    };
    return () => worker.current?.terminate();
  }, []);
  useEffect(() => {
    // Typing must not start a check for every letter.
    const timer = window.setTimeout(
      () => worker.current?.postMessage({ turn: ++turn.current, lab, drawing: lab.reference, plan: lab.plan }),
      250,
    );
    return () => window.clearTimeout(timer);
  }, [lab]);
  return result;
}
