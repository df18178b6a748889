import { AsyncLocalStorage } from 'node:async_hooks';
import { type DataSource, type QueryRunner } from 'typeorm';

/**
 * Inside a transaction its manager is the only way to the database: code that asks the pool for a second connection there
 * waits for ever as soon as as many do so as the pool has connections. In tests it is refused at once, wherever it stands
 * and however deep it was called.
 */
export function refuseSecondConnections(source: DataSource): void {
  const inside = new AsyncLocalStorage<{ runner: QueryRunner | null }>();
  const { createQueryRunner, transaction } = source;
  source.createQueryRunner = function (mode) {
    const runner = createQueryRunner.call(this, mode);
    const within = inside.getStore();
    if (!within) return runner;
    if (!within.runner) {
      // The transaction's own, which is the first that is asked for in it.
      within.runner = runner;
      return runner;
    }
    throw new Error('A second connection is asked for inside a transaction: pass its manager on.');
  };
  source.transaction = function (this: DataSource, ...args: unknown[]) {
    if (inside.getStore()?.runner) throw new Error('A transaction is begun inside another one: pass its manager on.');
    return inside.run({ runner: null }, () =>
      (transaction as (...all: unknown[]) => Promise<unknown>).apply(this, args),
    );
  } as DataSource['transaction'];
}
