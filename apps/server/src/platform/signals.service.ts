import { Global, Injectable, Logger, Module, type OnModuleDestroy, type OnModuleInit } from '@nestjs/common';
import { Client } from 'pg';
import { type Observable, Subject, filter, map } from 'rxjs';
import { type EntityManager } from 'typeorm';
import { config } from './config';

/** What servers and workers of one database tell each other: ids and numbers, never contents. */
export interface Signals {
  /** A document was saved. */
  saved: { id: string; revision: number };
  /** Something waits to be done; with the assignment whose work is to be checked, where it is that. */
  waiting: { assignment?: string };
  /** A job ended, whatever came of it. */
  ended: { job: string; assignment: string };
  /** Somebody opened a lab or a document, or left it. */
  present: { place: string };
}
type Name = keyof Signals;
type Told = { [Each in Name]: { name: Each; data: Signals[Each] } }[Name];

const CHANNEL = 'sobrin';
const AGAIN_MS = { first: 200, most: 10_000 };

/**
 * PostgreSQL's LISTEN and NOTIFY. A signal that is sent in a transaction is heard when that is there to be read, by all
 * processes, this one too. The connection is no part of the pool and comes back by itself; what was said while it was
 * away is lost, so whoever listens is told to look again.
 */
@Injectable()
export class SignalsService implements OnModuleInit, OnModuleDestroy {
  private readonly logger = new Logger('signals');
  private readonly told = new Subject<Told>();
  /** Told when signals may have been missed. */
  readonly missed = new Subject<void>();
  private client: Client | null = null;
  private pause = AGAIN_MS.first;
  private timer: NodeJS.Timeout | null = null;
  private isOver = false;

  async onModuleInit(): Promise<void> {
    await this.connect();
  }

  onModuleDestroy(): void {
    this.isOver = true;
    if (this.timer) clearTimeout(this.timer);
    this.told.complete();
    this.missed.complete();
    void this.client?.end().catch(() => undefined);
  }

  private async connect(): Promise<void> {
    const client = new Client({
      connectionString: config.databaseUrl,
      application_name: 'sobrin signals',
      keepAlive: true,
    });
    client.on('notification', ({ payload }) => payload && this.hear(payload));
    client.on('error', (error: Error) => this.lose(client, error));
    client.once('end', () => this.lose(client, null));
    await client.connect();
    await client.query(`LISTEN ${CHANNEL}`);
    this.client = client;
    this.pause = AGAIN_MS.first;
  }

  private hear(payload: string): void {
    this.told.next(JSON.parse(payload) as Told);
  }

  private lose(client: Client, error: Error | null): void {
    if (this.isOver || this.client !== client) return;
    this.client = null;
    this.logger.warn(`The line to the database broke: ${error?.message ?? 'it was closed'}.`);
    this.comeBack();
  }

  private comeBack(): void {
    this.timer = setTimeout(() => {
      this.connect().then(
        () => this.missed.next(),
        () => this.isOver || this.comeBack(),
      );
    }, this.pause);
    this.pause = Math.min(2 * this.pause, AGAIN_MS.most);
  }

  /** Tells all processes; in a transaction, as soon as it has ended well. */
  async tell<Each extends Name>(manager: EntityManager, name: Each, data: Signals[Each]): Promise<void> {
    await manager.query('SELECT pg_notify($1, $2)', [CHANNEL, JSON.stringify({ name, data })]);
  }

  /** What is told of one kind from now on; ends with the process. */
  of<Each extends Name>(name: Each): Observable<Signals[Each]> {
    return this.told.pipe(
      filter((signal) => signal.name === name),
      map((signal) => signal.data as Signals[Each]),
    );
  }
}

@Global()
@Module({ providers: [SignalsService], exports: [SignalsService] })
export class SignalsModule {}
