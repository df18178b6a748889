import { Global, Injectable, Module, type OnModuleDestroy } from '@nestjs/common';
import { availableParallelism } from 'node:os';
import path from 'node:path';
import { type MessagePort } from 'node:worker_threads';
import { Piscina } from 'piscina';
import { config } from './config';
import { refuse } from './refusal';
import type * as tasks from './thread';

type Tasks = typeof tasks;
type Task = keyof Tasks;

/** Where people are answered a core is left to those who save and to the database, and what is worked out waits for whoever else wants the others. */
export const THREADS = config.threads ?? Math.max(1, availableParallelism() - (config.serves ? 1 : 0));
/** A third of what others get where all want it. A worker is so as a whole: see worker.ts. */
export const NICE = 5;
const IDLE_MS = 60_000;
/** More than a page asks for at once. */
const MOST_WAITING = 40;
/** Megabytes of a thread: a drawing of 5,000 devices is judged in a tenth of it. */
const MEMORY_MB = 1024;

/** How long a task may take with the wait for its turn, in seconds, and what is said of one that is given up. */
const LIMITS: Readonly<Record<Task, { seconds: number; words: string }>> = {
  paint: { seconds: 60, words: 'The picture takes too long to paint: it was given up.' },
  readSubmission: { seconds: 60, words: 'The file takes too long to read: it was given up, and nothing was stored.' },
  readLab: { seconds: 60, words: 'The file takes too long to read: it was given up, and nothing was stored.' },
  diagnosis: { seconds: 300, words: 'Looking for the mistakes takes too long: it was given up.' },
  hints: { seconds: 60, words: 'The hint takes too long: nothing was taken. Ask again.' },
  check: { seconds: 300, words: 'The drawing takes too long to judge: the check was given up.' },
};

/** Whatever takes long, in threads of its own: nobody who saves waits for it, and none of it goes on for ever. */
@Injectable()
export class ThreadsService implements OnModuleDestroy {
  private readonly pool = new Piscina({
    // Always what is compiled: a thread reads no TypeScript, in tests neither.
    filename: path.resolve(__dirname, '..', '..', 'dist', 'platform', 'thread.js'),
    minThreads: 0,
    maxThreads: THREADS,
    idleTimeout: IDLE_MS,
    niceIncrement: config.serves ? NICE : 0,
    resourceLimits: { maxOldGenerationSizeMb: MEMORY_MB },
  });

  /** What each person has asked for and not got yet. */
  private readonly queues = new Map<string, { count: number; last: Promise<unknown> }>();

  /**
   * Runs a task for a person, after whatever else this person has asked for: who asks for a hundred holds up nobody else.
   *
   * @param transferList the ports in the input, which belong to the thread from then on
   */
  async runFor<Name extends Task>(
    person: string,
    name: Name,
    input: Parameters<Tasks[Name]>[0],
    transferList: MessagePort[] = [],
  ): Promise<Awaited<ReturnType<Tasks[Name]>>> {
    const queue = this.queues.get(person) ?? { count: 0, last: Promise.resolve() };
    if (queue.count >= MOST_WAITING)
      throw refuse.tooMany(`${MOST_WAITING} pictures and files that you asked for are not done yet: wait for them.`);
    this.queues.set(person, queue);
    queue.count++;
    const mine = queue.last.then(() => this.run(name, input, transferList));
    queue.last = mine.catch(() => undefined);
    try {
      return await mine;
    } finally {
      if (!--queue.count) this.queues.delete(person);
    }
  }

  /** Runs a task in a thread. One that takes too much time or memory is given up with a sentence. */
  async run<Name extends Task>(
    name: Name,
    input: Parameters<Tasks[Name]>[0],
    transferList: MessagePort[] = [],
  ): Promise<Awaited<ReturnType<Tasks[Name]>>> {
    const { seconds, words } = LIMITS[name];
    try {
      return (await this.pool.run(input, {
        name,
        transferList,
        signal: AbortSignal.timeout(seconds * 1000),
      })) as Awaited<ReturnType<Tasks[Name]>>;
    } catch (error) {
      const { name: kind, code } = error as { name?: string; code?: string };
      if (kind === 'AbortError' || code === 'ERR_WORKER_OUT_OF_MEMORY') throw refuse.tooMuch(words);
      throw error;
    }
  }

  async onModuleDestroy(): Promise<void> {
    await this.pool.destroy();
  }
}

@Global()
@Module({ providers: [ThreadsService], exports: [ThreadsService] })
export class ThreadsModule {}
