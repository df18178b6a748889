import { editsBetween } from '@sobrin/core/changes';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { type EngineAnswer, type Question } from './engine.worker';
import { type Facts, NO_FACTS } from './facts';
import { type Equipment, type RequestKind, type EngineRequests } from './engine-requests';
import { engineWorker } from './start-worker';

/** One worker that computes; only the newest question about facts is answered, others always. */
export interface EngineClient {
  watch(topology: Topology, options: Equipment): void;
  ask<K extends RequestKind>(
    topology: Topology,
    options: Equipment,
    kind: K,
    asked: EngineRequests[K]['asked'],
  ): Promise<EngineRequests[K]['answer']>;
  close(): void;
}
const AFTER_FIRST_SIGHT_MS = 80;
/** The first question waits no longer than this, however busy the page is. */
const AT_THE_LATEST_MS = 400;

export function startEngine(onFacts: (facts: Facts) => void): EngineClient {
  let worker: Worker | null = null;
  let starting: number | undefined;
  const open = new Map<
    number,
    { answered: (answered: EngineAnswer['answer']) => void; failed: (error: Error) => void }
  >();
  let turn = 0;
  let busy = false;
  let waiting: { topology: Topology; options: Equipment } | null = null;
  /** The drawing as the worker has it. */
  let posted = emptyTopology();
  let revision = 0;
  const post = (topology: Topology, options: Equipment, kind: RequestKind, asked: Question['asked']): number => {
    worker ??= start();
    const edits = topology === posted ? [] : editsBetween(posted, topology);
    if (edits.length) revision++;
    posted = topology;
    worker.postMessage({ turn: ++turn, revision, edits, options, kind, asked } satisfies Question);
    return turn;
  };
  const send = ({ topology, options }: NonNullable<typeof waiting>): void => {
    busy = true;
    post(topology, options, 'facts', null);
  };
  const onMessage = ({ data }: MessageEvent<EngineAnswer>): void => {
    if (data.failed !== undefined) giveUp(data.failed);
    const wanted = open.get(data.turn);
    open.delete(data.turn);
    if (wanted) return wanted.answered(data.answer);
    busy = false;
    // While somebody types, questions come faster than answers: those in between are left out.
    const next = waiting;
    waiting = null;
    if (next) send(next);
    else if (data.failed === undefined) onFacts(data.answer as Facts);
  };
  /** Something in the drawing is too much for the engine: that is told, and a new worker takes the next question. */
  const giveUp = (why: string): void => {
    worker?.terminate();
    worker = null;
    posted = emptyTopology();
    revision = 0;
    for (const { failed } of open.values()) failed(new Error(why));
    open.clear();
    const text = `The check of this drawing stopped (${why}): undo the last change, and tell whoever looks after Sobrin.`;
    onFacts({ ...NO_FACTS, problems: [{ code: 'NOT_COMPUTED', text, at: {} }] });
  };
  const start = (): Worker => {
    const made = engineWorker();
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
    watch: (topology, options) => {
      if (busy) waiting = { topology, options };
      else if (!worker) {
        waiting = { topology, options };
        starting ??= window.setTimeout(whenIdle, AFTER_FIRST_SIGHT_MS);
      } else send({ topology, options });
    },
    ask: (topology, options, kind, asked) =>
      new Promise((resolve, failed) => {
        const answered = resolve as (answered: EngineAnswer['answer']) => void;
        open.set(post(topology, options, kind, asked), { answered: answered, failed });
      }),
    close: () => {
      waiting = null;
      window.clearTimeout(starting);
      worker?.terminate();
    },
  };
}
