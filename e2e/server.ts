import { type ChildProcess, spawn } from 'node:child_process';
import { createServer } from 'node:net';
import path from 'node:path';
import { Client } from 'pg';

const main = path.resolve(__dirname, '..', 'apps', 'server', 'dist', 'main.js');

async function onServer(sql: string): Promise<void> {
  const client = new Client({ connectionString: process.env.TEST_DATABASE_URL });
  await client.connect();
  try {
    await client.query(sql);
  } finally {
    await client.end();
  }
}

/** The address of a fresh database with this name: an empty one, or a copy of another that nobody is connected to. */
export async function freshDatabase(name: string, copyOf?: string): Promise<string> {
  await onServer(`CREATE DATABASE ${name}${copyOf ? ` TEMPLATE ${copyOf}` : ''}`);
  const url = new URL(process.env.TEST_DATABASE_URL!);
  url.pathname = `/${name}`;
  return url.toString();
}
export const dropDatabase = (name: string): Promise<void> => onServer(`DROP DATABASE ${name} WITH (FORCE)`);

/** Starts the built server; resolved when it answers. */
export async function startServer(port: number, databaseUrl: string): Promise<ChildProcess> {
  const server = spawn(process.execPath, [main], {
    env: { ...process.env, NODE_ENV: 'production', PORT: String(port), DATABASE_URL: databaseUrl, SOBRIN_DEMO: '1' },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  await new Promise<void>((resolve, reject) => {
    server.stdout.on('data', (chunk: Buffer) => chunk.includes('is ready') && resolve());
    server.once('exit', (code) => reject(new Error(`The server ended with ${String(code)} before it was ready.`)));
  });
  return server;
}

export async function stopServer(server: ChildProcess, signal: NodeJS.Signals = 'SIGTERM'): Promise<void> {
  if (server.exitCode !== null || server.signalCode !== null) return;
  const ended = new Promise((resolve) => server.once('exit', resolve));
  server.kill(signal);
  await ended;
}

export const freePort = (): Promise<number> =>
  new Promise((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });

/** The database with the demo that each worker gets a copy of. */
export const TEMPLATE = `e2e_${process.env.E2E_RUN}`;

/** Before all tests: a database is filled with the demo, once. */
export default async function globalSetup(): Promise<() => Promise<void>> {
  await stopServer(await startServer(await freePort(), await freshDatabase(TEMPLATE)));
  return () => dropDatabase(TEMPLATE);
}
