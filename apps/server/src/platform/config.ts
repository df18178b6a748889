import path from 'node:path';

/** A number that the environment sets, of at least `least`. Anything else ends the start with a sentence. */
function settingOf(name: string, otherwise: number, least = 1): number {
  const text = process.env[name]?.trim();
  if (!text) return otherwise;
  const value = Number(text);
  if (Number.isInteger(value) && value >= least && value <= 10_000) return value;
  throw new Error(`${name} is "${text}": wanted is a whole number from ${least} to 10000.`);
}

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
  /** Sessions end after so many days, and after so many hours in which nobody used them. */
  get session(): { days: number; idleHours: number } {
    return { days: settingOf('SOBRIN_SESSION_DAYS', 14), idleHours: settingOf('SOBRIN_SESSION_IDLE_HOURS', 12) };
  },
  /**
   * How many proxies stand in front, whose word on addresses and TLS is taken; none where nothing is said. Never say more
   * than there are: anybody could then write their own address.
   */
  get proxies(): number {
    return settingOf('SOBRIN_PROXIES', 0, 0);
  },
  /** Whether this process answers people, does what waits in the queue, or both. */
  get serves(): boolean {
    return process.env.SOBRIN_ROLE !== 'worker';
  },
  get works(): boolean {
    return process.env.SOBRIN_ROLE !== 'web';
  },
  /** How many threads work things out; as many as the machine bears where nothing is said. */
  get threads(): number | null {
    return settingOf('SOBRIN_THREADS', 0, 0) || null;
  },
  /** The word that a program sends which collects figures; null where nobody may. */
  get metricsToken(): string | null {
    const token = process.env.SOBRIN_METRICS_TOKEN?.trim();
    if (!token) return null;
    if (token.length >= 16) return token;
    throw new Error('SOBRIN_METRICS_TOKEN is too short: at least 16 characters that nobody guesses.');
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
/** Says that somebody has signed in from a browser before, and nothing else. */
export const BROWSER_COOKIE = 'sobrin-browser';
/** Reads every number that the environment sets, so that a wrong one is told at the start and not by the first request. */
export const checkSettings = (): object => ({
  session: config.session,
  proxies: config.proxies,
  threads: config.threads,
  metricsToken: config.metricsToken,
});

/** Browsers send this header only from our own pages: another site's form cannot set it. */
export const REQUEST_HEADER = 'x-sobrin-request';
