import { Injectable, Logger, type OnModuleDestroy, type OnModuleInit } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type JobState } from '@sobrin/contracts';
import PgBoss from 'pg-boss';
import {
  type Observable,
  auditTime,
  filter,
  firstValueFrom,
  interval,
  merge,
  startWith,
  switchMap,
  throwError,
  timeout,
} from 'rxjs';
import { DataSource, type EntityManager } from 'typeorm';
import { config } from '../platform/config';
import { refuse } from '../platform/refusal';
import { SignalsService } from '../platform/signals.service';

/** What a job is about: ids only, so that it reads what is stored when it is its turn. */
export interface CheckJob {
  assignment: string;
  submission: string;
  version: string;
  /** Who asked; null for what Sobrin asks for by itself. */
  by: string | null;
}
/**
 * The queues: `check` judges a submission, `diagnose` looks for the mistakes behind its newest result, `confirm` makes a result
 * again that another core made.
 */
export const QUEUES = ['check', 'diagnose', 'confirm'] as const;
export type QueueName = (typeof QUEUES)[number];
export interface Wanted {
  /** Two that are waiting with one key are one. */
  key: string;
  data: CheckJob;
  priority?: number;
}
export interface Progress {
  waiting: number;
  running: number;
}
/** How pg-boss calls it, and how it is told. */
const STATES = {
  created: 'waits',
  retry: 'waits',
  active: 'runs',
  completed: 'done',
  cancelled: 'taken back',
  failed: 'given up',
} as const satisfies Record<string, JobState>;
export interface ListedJob {
  id: string;
  queue: QueueName;
  data: CheckJob;
  state: JobState;
  /** Tries that came to nothing before this one. */
  retries: number;
  askedAt: Date;
  startedAt: Date | null;
  endedAt: Date | null;
  /** Why it was given up. */
  sentence: string | null;
}
export interface FailedJob extends CheckJob {
  sentence: string;
}

/** What workers of a database hold while they live, beside a number of their own. */
export const LIVING = 84_843;
const SCHEMA = 'pgboss';
/** Three tries in all. */
const RETRIES = 2;
/** Longer than any job takes; what a dead worker had is found sooner. */
const EXPIRES_S = 900;
const LOOK_MS = 2_000;
/** Of a class that is checked nobody wants to hear of each single one. */
const TOGETHER_MS = 250;
/** How long somebody waits for the end of jobs at the most: there may be no worker. */
const PATIENCE_MS = 300_000;

/** pg-boss's way to the connection of a transaction of ours. */
export const within = (manager: EntityManager) => ({
  executeSql: async (text: string, values: unknown[]) => {
    const found = await manager.query<unknown>(text, values);
    // TypeORM gives rows and count for what changes rows, and the rows alone for what reads them.
    const rows =
      Array.isArray(found) && found.length === 2 && Array.isArray(found[0]) ? (found[0] as unknown[]) : found;
    return { rows: rows as object[] };
  },
});

/** The queue, in PostgreSQL: whoever asks for something may be gone, and whoever does it may be another machine. */
@Injectable()
export class JobsService implements OnModuleInit, OnModuleDestroy {
  private readonly logger = new Logger('jobs');
  readonly boss = new PgBoss({ connectionString: config.databaseUrl, max: 2, schema: SCHEMA, schedule: false });

  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly signals: SignalsService,
  ) {}

  async onModuleInit(): Promise<void> {
    this.boss.on('error', (error) => this.logger.warn(`The queue: ${error.message}`));
    await this.boss.start();
    for (const queue of QUEUES)
      await this.boss.createQueue(queue, {
        name: queue,
        policy: 'short',
        retryLimit: RETRIES,
        expireInSeconds: EXPIRES_S,
      });
  }

  async onModuleDestroy(): Promise<void> {
    await this.boss.stop({ graceful: false, wait: true });
  }

  /** Asks for jobs; the ids of those that wait or run for these keys, whoever asked first. */
  async ask(queue: QueueName, wanted: readonly Wanted[]): Promise<string[]> {
    if (!wanted.length) return [];
    return this.db.transaction(async (manager) => {
      await this.boss.insert(
        wanted.map(({ key, data, priority = 0 }) => ({
          name: queue,
          data,
          priority,
          singletonKey: key,
          retryLimit: RETRIES,
          expireInSeconds: EXPIRES_S,
        })),
        { db: within(manager) },
      );
      const rows = await manager.query<{ id: string }[]>(
        `SELECT DISTINCT ON (singleton_key) id FROM ${SCHEMA}.job
          WHERE name = $1 AND singleton_key = ANY($2) AND state <= 'active' ORDER BY singleton_key, created_on DESC`,
        [queue, wanted.map(({ key }) => key)],
      );
      await this.signals.tell(
        manager,
        'waiting',
        queue !== 'confirm' ? { assignment: wanted[0]!.data.assignment } : {},
      );
      return rows.map(({ id }) => id);
    });
  }

  /** Waits until all of these jobs have ended; the sentence of each that came to nothing, by its id. */
  async ended(ids: readonly string[]): Promise<ReadonlyMap<string, string>> {
    const mine = new Set(ids);
    const look = async (): Promise<{ id: string; state: string; output: unknown }[] | null> => {
      const rows = await this.db.query<{ id: string; state: string; output: unknown }[]>(
        `SELECT id, state, output FROM ${SCHEMA}.job WHERE id = ANY($1)`,
        [ids],
      );
      return rows.some(({ state }) => ['created', 'retry', 'active'].includes(state)) ? null : rows;
    };
    // Told by the worker; looked for now and then, should a word have got lost.
    const rows = await firstValueFrom(
      merge(
        this.signals.of('ended').pipe(
          filter(({ job }) => mine.has(job)),
          auditTime(20),
        ),
        interval(LOOK_MS),
      ).pipe(
        startWith(null),
        switchMap(look),
        filter((found) => found !== null),
        timeout({
          first: PATIENCE_MS,
          with: () => throwError(() => refuse.state('It is not its turn yet. It is done by itself: look again later.')),
        }),
      ),
    );
    return new Map(
      rows.flatMap(({ id, state, output }) =>
        state === 'failed' || state === 'cancelled' ? [[id, sentenceOf(state, output)]] : [],
      ),
    );
  }

  /** Told when something changed of the checks of what a course handed in, some changes at a time. */
  changes(assignment: string): Observable<unknown> {
    return merge(
      this.signals.of('waiting').pipe(filter((told) => told.assignment === assignment)),
      this.signals.of('ended').pipe(filter((told) => told.assignment === assignment)),
      this.signals.missed,
    ).pipe(auditTime(TOGETHER_MS));
  }

  /** What the queue has to do, and how many workers there are. */
  async load(): Promise<{ waiting: number; running: number; workers: number }> {
    const [load] = await this.db.query<[{ waiting: number; running: number; workers: number }]>(
      `SELECT count(*) FILTER (WHERE state < 'active')::int AS waiting, count(*) FILTER (WHERE state = 'active')::int AS running,
          (SELECT count(*)::int FROM pg_locks WHERE locktype = 'advisory' AND classid = $1
            AND database = (SELECT oid FROM pg_database WHERE datname = current_database())) AS workers
        FROM ${SCHEMA}.job WHERE state <= 'active' AND name = ANY($2)`,
      [LIVING, QUEUES],
    );
    return load;
  }

  /** How many jobs of a queue wait and run for what a course handed in. */
  async progress(assignment: string, queue: QueueName = 'check'): Promise<Progress> {
    const rows = await this.db.query<{ state: string; count: number }[]>(
      `SELECT state, count(*)::int AS count FROM ${SCHEMA}.job
        WHERE name = $2 AND data ->> 'assignment' = $1 AND state <= 'active' GROUP BY state`,
      [assignment, queue],
    );
    const count = (...states: string[]): number =>
      rows.filter(({ state }) => states.includes(state)).reduce((sum, row) => sum + row.count, 0);
    return { waiting: count('created', 'retry'), running: count('active') };
  }

  /** What came to nothing of a queue, of what a course handed in: the newest of each submission. */
  async failed(assignment: string, queue: QueueName = 'check'): Promise<FailedJob[]> {
    const rows = await this.db.query<{ data: CheckJob; state: string; output: unknown }[]>(
      `SELECT DISTINCT ON (data ->> 'submission') data, state, output FROM ${SCHEMA}.job
        WHERE name = $2 AND data ->> 'assignment' = $1 AND state IN ('completed', 'failed')
        ORDER BY data ->> 'submission', created_on DESC`,
      [assignment, queue],
    );
    return rows.flatMap(({ data, state, output }) =>
      state === 'failed' ? [{ ...data, sentence: sentenceOf(state, output) }] : [],
    );
  }

  /** What a job is about; null where there is none. */
  async about(id: string): Promise<CheckJob | null> {
    const [job] = await this.db.query<{ data: CheckJob }[]>(
      `SELECT data FROM ${SCHEMA}.job WHERE id = $1 AND name = ANY($2)`,
      [id, QUEUES],
    );
    return job?.data ?? null;
  }

  /** Jobs for what these courses got, those that asked last first. */
  async list(assignments: readonly string[], most: number): Promise<ListedJob[]> {
    const rows = await this.db.query<
      (Omit<ListedJob, 'sentence' | 'state'> & { state: keyof typeof STATES; output: unknown })[]
    >(
      `SELECT id, name AS queue, data, state, output, retry_count AS retries, created_on AS "askedAt",
          started_on AS "startedAt", completed_on AS "endedAt"
        FROM ${SCHEMA}.job WHERE name = ANY($1) AND data ->> 'assignment' = ANY($2) ORDER BY created_on DESC, id LIMIT $3`,
      [QUEUES, assignments, most],
    );
    return rows.map(({ output, state, ...job }) => ({
      ...job,
      state: STATES[state],
      sentence: state === 'failed' ? sentenceOf(state, output) : null,
    }));
  }

  /** Takes one back that waits; whether it did. */
  async cancelOne(id: string): Promise<boolean> {
    const job = await this.about(id);
    const rows = await this.db.query<{ name: string }[]>(
      `SELECT name FROM ${SCHEMA}.job WHERE id = $1 AND state < 'active'`,
      [id],
    );
    if (!job || !rows[0]) return false;
    await this.boss.cancel(rows[0].name, id);
    await this.signals.tell(this.db.manager, 'ended', { job: id, assignment: job.assignment });
    return true;
  }

  /** Takes back what waits; what runs already goes on. */
  async cancel(assignment: string): Promise<void> {
    const rows = await this.db.query<{ id: string }[]>(
      `SELECT id FROM ${SCHEMA}.job WHERE name = 'check' AND data ->> 'assignment' = $1 AND state < 'active'`,
      [assignment],
    );
    const ids = rows.map(({ id }) => id);
    if (!ids.length) return;
    await this.boss.cancel('check', ids);
    for (const job of ids) await this.signals.tell(this.db.manager, 'ended', { job, assignment });
  }
}

function sentenceOf(state: string, output: unknown): string {
  if (state === 'cancelled') return 'It was taken back before its turn came.';
  const { sentence } = (output ?? {}) as { sentence?: string };
  return sentence ?? 'It was given up: whoever did it ended three times.';
}
