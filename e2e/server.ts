import { type ChildProcess, spawn } from 'node:child_process';
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

/** The address of a fresh database with this name. */
export async function freshDatabase(name: string): Promise<string> {
  await onServer(`CREATE DATABASE ${name}`);
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

/** Before all tests: the built server on a database of its own, filled with the demo. */
export default async function globalSetup(): Promise<() => Promise<void>> {
  const name = `e2e_${process.pid}`;
  const server = await startServer(Number(process.env.E2E_PORT), await freshDatabase(name));
  return async () => {
    await stopServer(server);
    await dropDatabase(name);
  };
}
