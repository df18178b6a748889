import { Injectable, Logger, type OnApplicationBootstrap, type OnModuleDestroy } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { randomInt } from 'node:crypto';
import { Client } from 'pg';
import { type Subscription, merge } from 'rxjs';
import { DataSource } from 'typeorm';
import { config } from '../platform/config';
import { wordsOf } from '../platform/refusal';
import { SignalsService } from '../platform/signals.service';
import { THREADS } from '../platform/threads.service';
import { type CheckJob, JobsService, LIVING, QUEUES, type QueueName, within } from './jobs.service';

/** Only a safety net: whoever asks for something says so. */
const LOOK_MS = 2_000;

/** How long a worker that is told to end goes on with what it has; others do what is left then. */
const ENDS_MS = 5_000;

/** Jobs that are read from the database while as many as there are threads are worked out. */
const AHEAD = 4;
/** How long something that has ended waits for others to be written down with. */
const TOGETHER_MS = 15;

type Handler = (job: CheckJob) => Promise<void>;
interface Ended {
  id: string;
  assignment: string;
  /** Why it came to nothing; null where it did not. */
  sentence: string | null;
}
interface Taken {
  id: string;
  data: CheckJob;
}

/**
 * Does what waits, as many at a time as there are threads, again at once while there is any. What a worker has is written
 * down with its number, and its number is locked while it lives: others find what a dead one left, and do it.
 */
@Injectable()
export class WorkerService implements OnApplicationBootstrap, OnModuleDestroy {
  private readonly logger = new Logger('worker');
  private readonly handlers = new Map<QueueName, Handler>();
  /** What is being done; what has ended is written down beside it. */
  private readonly running = new Set<Promise<Ended>>();
  private readonly number = randomInt(1, 2 ** 31 - 1);
  private alive: Client | null = null;
  private told: Subscription | null = null;
  private timer: NodeJS.Timeout | null = null;
  /** Whether jobs are being fetched; once more after that, where something came meanwhile. */
  private fetching: Promise<void> | null = null;
  private once = false;
  private isOver = false;
  /** What has ended and is not written down yet. */
  private readonly done: Record<QueueName, Ended[]> = { check: [], diagnose: [], confirm: [] };
  private ending: Promise<void> | null = null;

  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly jobs: JobsService,
    private readonly signals: SignalsService,
  ) {}

  handle(queue: QueueName, handler: Handler): void {
    this.handlers.set(queue, handler);
  }

  async onApplicationBootstrap(): Promise<void> {
    if (!config.works) return;
    await this.live();
    this.told = merge(this.signals.of('waiting'), this.signals.missed).subscribe(() => this.wake());
    this.timer = setInterval(() => void this.rescue().finally(() => this.wake()), LOOK_MS);
    await this.rescue();
    this.wake();
  }

  async onModuleDestroy(): Promise<void> {
    this.isOver = true;
    this.told?.unsubscribe();
    if (this.timer) clearInterval(this.timer);
    // What is being done is finished; what was only fetched is somebody else's by then.
    await this.fetching;
    await Promise.race([
      Promise.allSettled(this.running),
      new Promise((resolve) => setTimeout(resolve, ENDS_MS).unref()),
    ]);
    await this.ending;
    await this.alive?.end().catch(() => undefined);
  }

  /** Holds the number of this worker as long as it lives. A connection that breaks is no end: it is made anew. */
  private async live(): Promise<void> {
    const client = new Client({ connectionString: config.databaseUrl, application_name: 'sobrin worker' });
    client.on('error', () => {
      if (this.alive === client) this.alive = null;
    });
    await client.connect();
    await client.query('SELECT pg_advisory_lock_shared($1, $2)', [LIVING, this.number]);
    this.alive = client;
  }

  /** Gives back what dead workers had, as a try that failed. */
  private async rescue(): Promise<void> {
    try {
      if (!this.alive && !this.isOver) await this.live();
      await this.db.transaction(async (manager) => {
        const [left] = await manager.query<[{ job_id: string; queue: QueueName }[], number]>(
          `DELETE FROM job_taken WHERE NOT EXISTS (
              SELECT 1 FROM pg_locks WHERE locktype = 'advisory' AND classid = $1 AND objid::bigint = job_taken.worker
                AND database = (SELECT oid FROM pg_database WHERE datname = current_database()))
            RETURNING job_id, queue`,
          [LIVING],
        );
        for (const { job_id: id, queue } of left) {
          await this.jobs.boss.fail(queue, id, {}, { db: within(manager) });
          this.logger.warn(`A worker ended while it had job ${id}.`);
        }
      });
    } catch (error) {
      this.logger.warn(`Looking for what dead workers left: ${String(error)}`);
    }
  }

  private wake(): void {
    if (this.isOver) return;
    if (this.fetching) {
      this.once = true;
      return;
    }
    this.fetching = this.fill()
      .catch((error: unknown) => this.logger.warn(`Fetching jobs: ${String(error)}`))
      .finally(() => {
        this.fetching = null;
        if (this.once) {
          this.once = false;
          this.wake();
        }
      });
  }

  /** Takes as many jobs as there is room for; not one at a time, as asking takes as long for one as for ten. */
  private async fill(): Promise<void> {
    for (const queue of QUEUES) {
      if (this.running.size > 2 * THREADS || this.isOver) return;
      for (const job of await this.take(queue, 2 * THREADS + AHEAD - this.running.size)) {
        const work = this.do(queue, job);
        this.running.add(work);
        void work.then((ended) => {
          this.running.delete(work);
          if (this.running.size <= 2 * THREADS) this.wake();
          void this.end(queue, ended);
        });
      }
    }
  }

  private take(queue: QueueName, most: number): Promise<Taken[]> {
    return this.db.transaction(async (manager) => {
      const found = await this.jobs.boss.fetch<CheckJob>(queue, { batchSize: most, db: within(manager) });
      const jobs = found ?? [];
      if (jobs.length)
        await manager.query(`INSERT INTO job_taken (job_id, queue, worker) SELECT unnest($1::uuid[]), $2, $3`, [
          jobs.map(({ id }) => id),
          queue,
          this.number,
        ]);
      return jobs;
    });
  }

  /** Does a job; never fails. */
  private async do(queue: QueueName, { id, data }: Taken): Promise<Ended> {
    let sentence: string | null = null;
    try {
      await this.handlers.get(queue)!(data);
    } catch (error) {
      sentence = wordsOf(error);
      this.logger.error(`Job ${id} (${queue} of submission ${data.submission}): ${String(error)}`);
    }
    return { id, assignment: data.assignment, sentence };
  }

  /** Writes down what has ended, all that ended in the same moment at once. */
  private end(queue: QueueName, job: Ended): Promise<void> {
    this.done[queue].push(job);
    this.ending ??= new Promise<void>((resolve) => setTimeout(resolve, TOGETHER_MS)).then(() => this.endAll());
    return this.ending;
  }

  private async endAll(): Promise<void> {
    this.ending = null;
    const batches = QUEUES.map((queue) => ({ queue, jobs: this.done[queue].splice(0) }));
    const ids = batches.flatMap(({ jobs }) => jobs.map(({ id }) => id));
    await this.db
      .transaction(async (manager) => {
        const db = within(manager);
        for (const { queue, jobs } of batches) {
          const good = jobs.filter(({ sentence }) => sentence === null).map(({ id }) => id);
          // Several are taken as one is; the types know only a way without a connection of one's own.
          if (good.length) await this.jobs.boss.complete(queue, good as unknown as string, {}, { db });
          for (const { id, sentence } of jobs)
            if (sentence !== null) await this.jobs.boss.fail(queue, id, { sentence }, { db });
        }
        await manager.query('DELETE FROM job_taken WHERE job_id = ANY($1)', [ids]);
        for (const { jobs } of batches)
          for (const { id, assignment } of jobs) await this.signals.tell(manager, 'ended', { job: id, assignment });
      })
      // They stay with this worker's number and are found when that is gone, or when they expire.
      .catch((error: unknown) => this.logger.error(`${ids.length} jobs could not be ended: ${String(error)}`));
  }
}
