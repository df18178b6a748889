import express from 'express';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { ROUTES, type Route } from '@sobrin/contracts';
import request from 'supertest';
import { DataSource, type MigrationInterface, type QueryRunner } from 'typeorm';
import { checkSettings, config } from '../platform/config';
import { migrate } from '../platform/database';
import { useDemo } from '../tests/demo';
import { databaseUrl, onServer } from '../tests/server';
import { applicationOn } from '../tests/template';
import { seedDemo } from './seed';
import { protectPages, serveInterface } from './page';
import { LabParts1764374400000, MIGRATIONS, Plans1732665600000 } from './migrations';

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
  expect(components.schemas.AddToRosterRequest).toMatchObject({
    properties: { students: { type: 'array', items: { $ref: '#/components/schemas/RosterEntry' } } },
  });
  const classes = Object.values<Route>(ROUTES).flatMap(({ body }) => body?.name ?? []);
  expect(Object.keys(components.schemas)).toEqual(expect.arrayContaining(classes));
});

test('the routes are those that the contracts tell, no more and no fewer', async () => {
  const response = await request(demo.running.app.getHttpServer()).get('/api/docs.json').expect(200);
  const { paths } = response.body as { paths: Record<string, Record<string, unknown>> };
  const there = Object.entries(paths).flatMap(([path, methods]) =>
    Object.keys(methods).map(
      (method) => `${method.toUpperCase()} ${path.replace('/api/', '').replace(/\{(\w+)\}/g, ':$1')}`,
    ),
  );
  expect(there.sort()).toEqual(Object.keys(ROUTES).sort());
});

test('no request holds a connection for ever: the database itself knows the limits', async () => {
  const db = demo.running.app.get(DataSource);
  for (const limit of ['statement_timeout', 'lock_timeout', 'idle_in_transaction_session_timeout']) {
    const [row] = await db.query<Record<string, string>[]>(`SHOW ${limit}`);
    expect(row![limit]).toMatch(/^\d+s$/);
  }
});

test.each([
  ['SOBRIN_SESSION_DAYS', '0'],
  ['SOBRIN_SESSION_IDLE_HOURS', 'half a day'],
  ['SOBRIN_PROXIES', '-1'],
])('a setting %s of %s is told with what is wanted', (name, value) => {
  process.env[name] = value;
  try {
    expect(checkSettings).toThrow(new RegExp(`^${name} is "${value}": wanted is a whole number from`));
  } finally {
    delete process.env[name];
  }
});

test('every column that refers to another table has an index', async () => {
  const without = await demo.running.app.get(DataSource).query<{ column: string }[]>(
    `SELECT conrelid::regclass || '.' || attname AS column
       FROM pg_constraint
       JOIN pg_attribute ON attrelid = conrelid AND attnum = conkey[1]
      WHERE contype = 'f' AND connamespace = 'public'::regnamespace
        AND NOT EXISTS (SELECT FROM pg_index WHERE indrelid = conrelid AND indkey[0] = conkey[1])`,
  );
  expect(without).toEqual([]);
});

test('a database of a newer Sobrin is refused', async () => {
  const db = demo.running.app.get(DataSource);
  await db.query(`INSERT INTO schema_migration (timestamp, name) VALUES (9999999999999, 'FromTheFuture9999999999999')`);
  await expect(migrate()).rejects.toThrow(/newer Sobrin/);
  await db.query(`DELETE FROM schema_migration WHERE name = 'FromTheFuture9999999999999'`);
});

test('servers that start at once on one empty database bring its schema up to date and fill it once', async () => {
  const name = `migrated_${process.pid}`;
  const before = process.env.DATABASE_URL;
  await onServer(`CREATE DATABASE ${name}`);
  process.env.DATABASE_URL = databaseUrl(name);
  try {
    await Promise.all(Array.from({ length: 4 }, migrate));
    const servers = [await applicationOn(name), await applicationOn(name)];
    const filled = await Promise.all(servers.map((server) => seedDemo(server, new Date())));
    expect(filled.sort()).toEqual([false, true]);
    await Promise.all(servers.map((server) => server.close()));
  } finally {
    process.env.DATABASE_URL = before;
    await onServer(`DROP DATABASE ${name} WITH (FORCE)`);
  }
});

test('every migration has a way down', async () => {
  const db = demo.running.app.get(DataSource);
  const runner = db.createQueryRunner();
  await runner.startTransaction();
  for (const migration of [...db.migrations].reverse()) await migration.down(runner);
  const left = (await runner.query(`SELECT tablename FROM pg_tables WHERE schemaname = 'public'`)) as {
    tablename: string;
  }[];
  expect(left.map((table) => table.tablename)).toEqual(['schema_migration']);
  await runner.rollbackTransaction();
  await runner.release();
});

/** The schema as it was before a migration. */
async function before(runner: QueryRunner, Migration: new () => MigrationInterface): Promise<void> {
  for (const Later of MIGRATIONS.slice(MIGRATIONS.findIndex((each) => each === Migration)).reverse())
    await new Later().down(runner);
}

test('the parts of labs become documents with all that is in them, and come back into their labs', async () => {
  const runner = demo.running.app.get(DataSource).createQueryRunner();
  await runner.startTransaction();
  const migration = new LabParts1764374400000();
  const inLabs = (): Promise<Record<string, unknown>[]> =>
    runner.query('SELECT id, brief, tasks, spec, policy, handout, stages, starter FROM lab ORDER BY id') as Promise<
      Record<string, unknown>[]
    >;
  await before(runner, LabParts1764374400000);
  const old = await inLabs();
  const filled = {
    tasks: [{ id: 't1', text: 'Draw.' }],
    handout: { introduction: 'Read this.' },
    stages: [{ id: 's1', title: 'Plan', kind: 'plan' }],
    starter: { format: 'sobrin-topology', version: 1, sites: {}, devices: {}, links: {} },
  };
  for (const [part, content] of Object.entries(filled))
    await runner.query(`UPDATE lab SET ${part} = $1 WHERE id = $2`, [JSON.stringify(content), old[0]!.id]);
  await migration.up(runner);
  const rows = (await runner.query(
    `SELECT kind, content FROM document WHERE kind NOT IN ('topology', 'plan') AND id IN
      (SELECT unnest(ARRAY[brief_id, tasks_id, spec_id, policy_id, handout_id, stages_id, starter_id]) FROM lab WHERE id = $1)`,
    [old[0]!.id],
  )) as { kind: string; content: unknown }[];
  expect(Object.fromEntries(rows.map(({ kind, content }) => [kind, content]))).toEqual({
    brief: old[0]!.brief,
    spec: old[0]!.spec,
    policy: old[0]!.policy,
    handout: filled.handout,
    starter: filled.starter,
    tasks: { tasks: filled.tasks },
    stages: { stages: filled.stages },
  });
  await migration.down(runner);
  expect(await inLabs()).toEqual([{ ...old[0], ...filled }, ...old.slice(1)]);
  await runner.rollbackTransaction();
  await runner.release();
});

test('plans of the first schema become documents with all that is in them, and come back as blocks', async () => {
  const runner = demo.running.app.get(DataSource).createQueryRunner();
  await runner.startTransaction();
  const migration = new Plans1732665600000();
  const [lab] = (await runner.query(`SELECT id FROM lab WHERE title = 'Valley Station LAN'`)) as [{ id: string }];
  const drawings = (): Promise<unknown> => runner.query('SELECT count(*)::int AS n FROM document');
  await before(runner, Plans1732665600000);
  const count = await drawings();
  const old = {
    blocks: {
      lan: {
        prefix: '10.84.1.0/26',
        name: 'LAN',
        addresses: [{ address: '10.84.1.9', name: 'TILL' }],
        ranges: [{ from: '10.84.1.40', to: '10.84.1.50', purpose: 'DHCP pool' }],
      },
    },
  };
  const brief = { groups: [{ name: 'Desks', now: 1, later: 2 }], sites: ['Valley'] };
  await runner.query('UPDATE lab SET plan = $1, brief = $2 WHERE id = $3', [
    JSON.stringify(old),
    JSON.stringify(brief),
    lab.id,
  ]);
  await migration.up(runner);
  const [row] = (await runner.query(
    'SELECT document.content, document.kind, lab.brief FROM lab JOIN document ON document.id = lab.plan_id WHERE lab.id = $1',
    [lab.id],
  )) as { content: unknown; kind: string; brief: unknown }[];
  expect(row).toEqual({
    kind: 'plan',
    content: {
      blocks: { lan: { prefix: '10.84.1.0/26', name: 'LAN' } },
      ranges: { r1: { from: '10.84.1.40', to: '10.84.1.50', use: 'pool', name: 'DHCP pool' } },
      addresses: { '10.84.1.9': { name: 'TILL' } },
    },
    brief: { groups: [{ id: 'g1', name: 'Desks', now: 1, later: 2 }], sites: [{ name: 'Valley' }] },
  });
  await migration.down(runner);
  expect(await drawings()).toEqual(count);
  await runner.rollbackTransaction();
  await runner.release();
});

describe('pages', () => {
  const folder = mkdtempSync(path.join(tmpdir(), 'sobrin-web-'));
  const server = express();
  beforeAll(() => {
    writeFileSync(path.join(folder, 'index.html'), '<meta property="csp-nonce" nonce="SOBRIN_NONCE">');
    process.env.SOBRIN_WEB = folder;
    protectPages(server);
    serveInterface(server);
    server.use((_request, response) => void response.send('something of the API'));
  });
  afterAll(() => {
    process.env.SOBRIN_WEB = '/nowhere';
    rmSync(folder, { recursive: true });
  });
  const page = (place: string) => request(server).get(place).expect(200);
  /** The directives of a Content-Security-Policy by their names. */
  const policyOf = (headers: Record<string, string>): ReadonlyMap<string, string> =>
    new Map(
      headers['content-security-policy']!.split(';').map((directive) => {
        const [name, ...values] = directive.trim().split(' ');
        return [name!, values.join(' ')];
      }),
    );

  test('write no style that others could write: each answer has a word of its own for it', async () => {
    const nonces = new Set<string>();
    for (const place of ['/', '/index.html', '/labs/somewhere/bench']) {
      const { headers, text } = await page(place);
      const nonce = /^'self' 'nonce-([A-Za-z0-9+/=]{24})'$/.exec(policyOf(headers).get('style-src')!)![1]!;
      expect(text).toContain(`nonce="${nonce}"`);
      expect(text).not.toContain('SOBRIN_NONCE');
      expect(headers['cache-control']).toBe('no-store');
      nonces.add(nonce);
    }
    expect(nonces.size).toBe(3);
  });
  test('run scripts of their own only, are framed by nobody, and ask for no camera', async () => {
    const { headers } = await page('/');
    const policy = policyOf(headers);
    expect(policy.get('script-src')).toBe("'self'");
    expect(policy.get('object-src')).toBe("'none'");
    expect(policy.get('frame-ancestors')).toBe("'self'");
    expect(headers).toMatchObject({ 'x-content-type-options': 'nosniff', 'referrer-policy': 'no-referrer' });
    expect(headers['permissions-policy']).toMatch(/camera=\(\)/);
  });
  test('of the API’s description write styles as its package does, and nothing else does', async () => {
    const { headers } = await page('/api/docs');
    expect(policyOf(headers).get('style-src')).toBe("'self' 'unsafe-inline'");
    expect(policyOf((await page('/api/health')).headers).get('style-src')).toMatch(/nonce-/);
  });
});

describe('figures for whoever runs Sobrin', () => {
  const TOKEN = 'a word of 20 letters';
  afterEach(() => delete process.env.SOBRIN_METRICS_TOKEN);
  const ask = (token?: string) =>
    request(demo.running.app.getHttpServer())
      .get('/api/metrics')
      .set(token === undefined ? {} : { Authorization: `Bearer ${token}` });

  test('are not there until a setting says who may read them, and for nobody else then', async () => {
    await ask(TOKEN).expect(404);
    process.env.SOBRIN_METRICS_TOKEN = TOKEN;
    await ask().expect(401);
    await ask(`${TOKEN}s`).expect(401);
    process.env.SOBRIN_METRICS_TOKEN = 'short';
    expect(() => config.metricsToken).toThrow(/at least 16/);
  });
  test('count requests by their route, and tell of the queue', async () => {
    process.env.SOBRIN_METRICS_TOKEN = TOKEN;
    const lab = await demo.labOf('Three Stations');
    await demo.zofia.get(`labs/${lab.id}`).expect(403);
    await demo.zofia.get('no/such/place').expect(404);
    const { text, headers } = await ask(TOKEN).expect(200);
    expect(headers['content-type']).toMatch(/^application\/openmetrics-text;.* version=1\.0\.0/);
    const count = (route: string, status: number): number =>
      Number(
        text
          .split('\n')
          .find(
            (line) =>
              line.startsWith('sobrin_request_duration_seconds_count') &&
              line.includes(`route="${route}",status="${status}"`),
          )
          ?.split(' ')
          .at(-1),
      );
    expect(count('/api/labs/:id', 403)).toBe(1);
    expect(count('/api/labs/:id', 200)).toBeGreaterThan(0);
    expect(text).not.toContain(lab.id);
    expect(text).toMatch(/^sobrin_queue_jobs\{state="waiting"\} \d+$/m);
    expect(text).toMatch(/^sobrin_workers \d+$/m);
    expect(text.trimEnd().endsWith('# EOF')).toBe(true);
  });
});
