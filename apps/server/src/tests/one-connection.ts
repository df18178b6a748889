import { AsyncLocalStorage } from 'node:async_hooks';
import { type DataSource, type QueryRunner } from 'typeorm';

type Transaction = (...given: readonly unknown[]) => Promise<never>;

/**
 * Inside a transaction its manager is the only way to the database: code that asks the pool for a second connection there
 * waits for ever as soon as as many do so as the pool has connections. In tests it is refused at once, wherever it stands
 * and however deep it was called; also where something is kept in memory so that only a server that has just begun asks.
 */
export function refuseSecondConnections(source: DataSource): void {
  const inside = new AsyncLocalStorage<{ runner: QueryRunner | null }>();
  const createQueryRunner = source.createQueryRunner.bind(source);
  const transaction = source.transaction.bind(source) as Transaction;
  source.createQueryRunner = (mode) => {
    const within = inside.getStore();
    if (within?.runner) throw new Error('A second connection is asked for inside a transaction: pass its manager on.');
    const runner = createQueryRunner(mode);
    // The transaction's own is the first that is asked for in it.
    if (within) within.runner = runner;
    return runner;
  };
  const guarded: Transaction = (...given) => {
    if (inside.getStore()?.runner) throw new Error('A transaction is begun inside another one: pass its manager on.');
    return inside.run({ runner: null }, () => transaction(...given));
  };
  source.transaction = guarded;
  const { manager } = source;
  Object.defineProperty(source, 'manager', {
    get: () => {
      // TypeORM's own code looks there too, for what it was given.
      const [, , caller] = new Error().stack!.split('\n');
      if (inside.getStore()?.runner && caller!.includes('/apps/server/'))
        throw new Error('The way to a second connection is reached for inside a transaction: pass its manager on.');
      return manager;
    },
  });
}
