/** The worker that computes; a file of its own, so that tests can put another in its place. */
export const engineWorker = (): Worker =>
  new Worker(new URL('./engine.worker.ts', import.meta.url), { type: 'module' });
