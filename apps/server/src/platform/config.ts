import path from 'node:path';

/** What the environment sets. Read when asked for, so that tests can set it first. */
export const config = {
  get databaseUrl(): string {
    const url = process.env.DATABASE_URL;
    if (!url) throw new Error('DATABASE_URL is not set: start Sobrin with "npm start", or name a PostgreSQL database.');
    return url;
  },
  get port(): number {
    return Number(process.env.PORT ?? 8484);
  },
  get host(): string {
    return process.env.HOST ?? '127.0.0.1';
  },
  /** Whether everybody may sign in as one of the demo's people. Never on for real data. */
  get demo(): boolean {
    return process.env.SOBRIN_DEMO === '1';
  },
  /** Where the built interface lies; in development Vite serves it instead. */
  get webFolder(): string {
    return process.env.SOBRIN_WEB ?? path.resolve(__dirname, '..', '..', '..', 'web', 'dist');
  },
  get demoFolder(): string {
    return path.resolve(__dirname, '..', '..', '..', '..', 'demo');
  },
};

export const SESSION_COOKIE = 'sobrin-session';
/** Browsers send this header only from our own pages: another site's form cannot set it. */
export const REQUEST_HEADER = 'x-sobrin-request';
