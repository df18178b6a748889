import { type Layout, type LayoutTask } from '@sobrin/core/editing';
import ELK, { type ElkNode } from 'elkjs/lib/elk-api.js';
import workerUrl from 'elkjs/lib/elk-worker.min.js?url';

const OPTIONS = {
  'elk.algorithm': 'layered',
  'elk.direction': 'DOWN',
  'elk.partitioning.activate': 'true',
  'elk.layered.nodePlacement.strategy': 'NETWORK_SIMPLEX',
  'elk.layered.considerModelOrder.strategy': 'NODES_AND_EDGES',
  'elk.layered.thoroughness': '20',
  'elk.spacing.nodeNode': '34',
  'elk.layered.spacing.nodeNodeBetweenLayers': '60',
  'elk.randomSeed': '1',
};

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
        const laid = await elk.layout(graphOf(task));
        layouts.set(task.id, new Map((laid.children ?? []).map(({ id, x = 0, y = 0 }) => [id, { x, y }])));
        onProgress(at + 1);
      }
      return layouts;
    },
    cancel: () => elk.terminateWorker(),
  };
}

const graphOf = ({ id, boxes, edges }: LayoutTask): ElkNode => ({
  id: `task ${id}`,
  layoutOptions: OPTIONS,
  children: boxes.map(({ id: box, width, height, tier }) => ({
    id: box,
    width,
    height,
    layoutOptions: { 'elk.partitioning.partition': String(tier) },
  })),
  edges: edges.map(({ id: edge, from, to }) => ({ id: edge, sources: [from], targets: [to] })),
});
