import { type EngineOptions, type Topology } from '@sobrin/core';
import { type EngineAnswer, type Question } from './engine.worker';
import { type Facts } from './facts';
import { type ToldReach } from './told-reach';
import { type ToldTrace } from './told-trace';

/** One worker that computes facts; only the newest question about all of them is answered. */
export interface EngineClient {
  ask(topology: Topology, options: Partial<EngineOptions>): void;
  trace(topology: Topology, options: Partial<EngineOptions>, from: string, to: string): Promise<ToldTrace>;
  reach(topology: Topology, options: Partial<EngineOptions>, from: string): Promise<ToldReach>;
  close(): void;
}
const AFTER_FIRST_SIGHT_MS = 80;
/** The first question waits no longer than this, however busy the page is. */
const AT_THE_LATEST_MS = 400;
type About = Pick<Question, 'topology' | 'options'>;

export function startEngine(onFacts: (facts: Facts) => void): EngineClient {
  let worker: Worker | null = null;
  let starting: number | undefined;
  const packets = new Map<number, (trace: ToldTrace) => void>();
  const reaches = new Map<number, (reach: ToldReach) => void>();
  let turn = 0;
  let busy = false;
  let waiting: About | null = null;
  const post = (question: Omit<Question, 'turn'>): number => {
    worker ??= start();
    worker.postMessage({ turn: ++turn, ...question } satisfies Question);
    return turn;
  };
  const send = (question: About): void => {
    busy = true;
    post(question);
  };
  const onMessage = ({ data }: MessageEvent<EngineAnswer>): void => {
    if (data.trace) {
      packets.get(data.turn)?.(data.trace);
      packets.delete(data.turn);
      return;
    }
    if (data.reach) {
      reaches.get(data.turn)?.(data.reach);
      reaches.delete(data.turn);
      return;
    }
    busy = false;
    // While somebody types, questions come faster than answers: those in between are left out.
    const next = waiting;
    waiting = null;
    if (next) send(next);
    else onFacts(data.facts!);
  };
  const start = (): Worker => {
    const made = new Worker(new URL('./engine.worker.ts', import.meta.url), { type: 'module' });
    made.onmessage = onMessage;
    return made;
  };
  /** The first question waits until the drawing is seen: it is what one looks for first. */
  const sendFirst = (): void => {
    starting = undefined;
    const first = waiting;
    waiting = null;
    if (first) send(first);
  };
  const whenIdle = (): void => {
    if ('requestIdleCallback' in window) window.requestIdleCallback(sendFirst, { timeout: AT_THE_LATEST_MS });
    else sendFirst();
  };
  return {
    ask: (topology, options) => {
      if (busy) waiting = { topology, options };
      else if (!worker) {
        waiting = { topology, options };
        starting ??= window.setTimeout(whenIdle, AFTER_FIRST_SIGHT_MS);
      } else send({ topology, options });
    },
    trace: (topology, options, from, to) =>
      new Promise((resolve) => void packets.set(post({ topology, options, packet: { from, to } }), resolve)),
    reach: (topology, options, from) =>
      new Promise((resolve) => void reaches.set(post({ topology, options, reach: from }), resolve)),
    close: () => {
      waiting = null;
      window.clearTimeout(starting);
      worker?.terminate();
    },
  };
}
