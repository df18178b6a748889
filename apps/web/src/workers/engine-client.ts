import { type EngineOptions, type Topology } from '@sobrin/core';
import { type Facts } from './facts';

/** One worker that computes facts; only the newest question is answered. */
export interface EngineClient {
  ask(topology: Topology, options: Partial<EngineOptions>): void;
  close(): void;
}

export function startEngine(onFacts: (facts: Facts) => void): EngineClient {
  const worker = new Worker(new URL('./engine.worker.ts', import.meta.url), { type: 'module' });
  let turn = 0;
  let busy = false;
  let waiting: { topology: Topology; options: Partial<EngineOptions> } | null = null;
  const send = (question: { topology: Topology; options: Partial<EngineOptions> }): void => {
    busy = true;
    worker.postMessage({ turn: ++turn, ...question });
  };
  worker.onmessage = ({ data }: MessageEvent<{ turn: number; facts: Facts }>) => {
    busy = false;
    // While somebody types, questions come faster than answers: those in between are left out.
    const next = waiting;
    waiting = null;
    if (next) send(next);
    else onFacts(data.facts);
  };
  return {
    ask: (topology, options) => {
      if (busy) waiting = { topology, options };
      else send({ topology, options });
    },
    close: () => worker.terminate(),
  };
}
