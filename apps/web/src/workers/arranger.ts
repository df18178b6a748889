import { type Layout, type LayoutTask, layeredGraph, layoutOf } from '@sobrin/core/editing';
import ELK from 'elkjs/lib/elk-api.js';
import workerUrl from 'elkjs/lib/elk-worker.min.js?url';

export { arrange } from '@sobrin/core/editing';

/** Lays tasks out in a worker, one after another; `cancel` ends the worker, and what is waited for never comes. */
export function startArranger(): {
  layOut: (tasks: readonly LayoutTask[], onProgress: (done: number) => void) => Promise<Map<string, Layout>>;
  cancel: () => void;
} {
  const elk = new ELK({ workerFactory: () => new Worker(workerUrl) });
  return {
    layOut: async (tasks, onProgress) => {
      const layouts = new Map<string, Layout>();
      for (const [at, task] of tasks.entries()) {
        layouts.set(task.id, layoutOf(await elk.layout(layeredGraph(task))));
        onProgress(at + 1);
      }
      return layouts;
    },
    cancel: () => elk.terminateWorker(),
  };
}
