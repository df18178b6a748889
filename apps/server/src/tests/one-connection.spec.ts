import { DataSource } from 'typeorm';
import { Account } from '../accounts/account.entity';
import { useDemo } from './demo';

const demo = useDemo();

test('what asks for a second connection inside a transaction is refused, wherever it stands', async () => {
  const db = demo.running.app.get(DataSource);
  const deep = async (): Promise<unknown> => {
    await Promise.resolve();
    return db.manager.findBy(Account, { demo: true });
  };
  await expect(db.transaction((manager) => manager.query('SELECT 1'))).resolves.toBeDefined();
  await expect(db.transaction(deep)).rejects.toThrow('second connection');
  await expect(db.transaction(() => db.query('SELECT 1'))).rejects.toThrow('second connection');
  await expect(db.transaction(() => db.transaction(() => Promise.resolve()))).rejects.toThrow('inside another');
  // Nor is one reached for that is needed only where nothing is kept in memory yet.
  await expect(db.transaction(() => Promise.resolve(db.manager))).rejects.toThrow('second connection');
  // Beside transactions nothing is refused.
  await expect(Promise.all([deep(), db.transaction((manager) => manager.find(Account)), deep()])).resolves.toHaveLength(
    3,
  );
});
