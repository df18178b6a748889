import request from 'supertest';
import { DataSource } from 'typeorm';
import { migrate } from '../platform/database';
import { useDemo } from '../tests/demo';

const demo = useDemo();

test('the API is described, with the request bodies', async () => {
  const response = await request(demo.running.app.getHttpServer()).get('/api/docs.json').expect(200);
  const { paths, components } = response.body as {
    paths: Record<string, object>;
    components: { schemas: Record<string, { properties: object; required: string[] }> };
  };
  expect(Object.keys(paths)).toEqual(
    expect.arrayContaining(['/api/labs/{id}', '/api/documents/{id}/changes', '/api/my/labs/{id}/hand-in']),
  );
  expect(components.schemas.SaveRequest).toMatchObject({
    properties: {
      save: { type: 'string', format: 'uuid' },
      base: { type: 'integer', minimum: 0 },
      commands: { type: 'array', minItems: 1 },
    },
    required: ['save', 'base', 'commands'],
  });
  expect(components.schemas.ChangeLabRequest!.required).toEqual(['base']);
});

test('a database of a newer Sobrin is refused', async () => {
  const db = demo.running.app.get(DataSource);
  await db.query(`INSERT INTO schema_migration (timestamp, name) VALUES (9999999999999, 'FromTheFuture9999999999999')`);
  await expect(migrate()).rejects.toThrow(/newer Sobrin/);
  await db.query(`DELETE FROM schema_migration WHERE name = 'FromTheFuture9999999999999'`);
});

test('every migration has a way down', async () => {
  const db = demo.running.app.get(DataSource);
  const runner = db.createQueryRunner();
  await runner.startTransaction();
  for (const migration of [...db.migrations].reverse()) await migration.down(runner);
  const left = (await runner.query(`SELECT tablename FROM pg_tables WHERE schemaname = 'public'`)) as {
    tablename: string;
  }[];
  expect(left.map((one) => one.tablename)).toEqual(['schema_migration']);
  await runner.rollbackTransaction();
  await runner.release();
});
