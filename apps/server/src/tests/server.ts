import { Client } from 'pg';

/** The PostgreSQL server of the tests. */
function server(): string {
  const url = process.env.TEST_DATABASE_URL;
  if (!url) throw new Error('TEST_DATABASE_URL is not set: run these tests with npm run test:server.');
  return url;
}

export function databaseUrl(name: string): string {
  const url = new URL(server());
  url.pathname = `/${name}`;
  return url.toString();
}

/** Runs statements on the server, or on one of its databases. */
export async function onServer(sql: string, name?: string): Promise<void> {
  const client = new Client({ connectionString: name ? databaseUrl(name) : server() });
  await client.connect();
  try {
    await client.query(sql);
  } finally {
    await client.end();
  }
}
