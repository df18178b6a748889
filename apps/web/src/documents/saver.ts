import { type AnyDocument, type Conflict, type Saved } from '@sobrin/contracts';
import { type Merge } from '@sobrin/core/changes';
import { type Topology } from '@sobrin/core/topology';
import { ApiError } from '../api/client';
import { type Pending, type Save } from './pending';

export type Document = AnyDocument;

/** What the top bar says of saving. */
export type SaveState<D extends Document = Topology> =
  | { kind: 'saved' }
  | { kind: 'saving' }
  | { kind: 'offline'; text: string }
  | { kind: 'conflict'; conflict: Conflict<D>; merge: Merge<D> }
  | { kind: 'refused'; text: string };

/** Commands with the revision they were made on. */
export interface Own<C> {
  base: number;
  commands: readonly C[];
}

export interface SaverPorts<D extends Document, C> {
  post(save: Save<C>): Promise<Saved<D>>;
  /** Keeps what is unconfirmed; resolved when it is safe. */
  keep(pending: Pending<C>): Promise<void>;
  onState(state: SaveState<D>): void;
  /** What was sent meets with what others saved. Nothing more is sent until `resolve` is called. */
  onConflict(conflict: Conflict<D>): void;
  /** Somebody else saved in between: the document with both, to which what is still waiting is to be applied. */
  onMerged(document: D, waiting: readonly C[]): void;
  /** Others saved while nothing of one's own was on its way. */
  onOthers(document: D): void;
  newId(): string;
  later(run: () => void, ms: number): void;
  /** What the server has now; absent where nobody else can save. */
  read?(): Promise<{ document: D; revision: number }>;
}

const GATHER_MS = 250;
/** So many commands go with one save: what is drawn in a day without a connection is more than one may hold. */
export const MOST_AT_ONCE = 500;
const RETRY_MS = [2_000, 5_000, 15_000, 30_000];

/**
 * Sends commands to the server in the order in which they were made, one save at a time. Everything is kept in this
 * browser first; a save whose answer is lost is sent again under the same id until it is confirmed.
 */
export class Saver<D extends Document, C> {
  private sent: Save<C> | null = null;
  private waiting: C[] = [];
  private busy = false;
  private scheduled = false;
  private failures = 0;
  private stopped = false;
  private unkept = false;
  private kept: Promise<void> = Promise.resolve();

  constructor(
    private base: number,
    private readonly ports: SaverPorts<D, C>,
  ) {}

  /** Takes commands that are applied to the document already. */
  add(commands: readonly C[]): void {
    this.waiting.push(...commands);
    this.keep();
    if (!this.stopped) this.ports.onState({ kind: 'saving' });
    this.schedule(GATHER_MS);
  }

  get isClean(): boolean {
    return !this.sent && !this.waiting.length;
  }

  /** Sends at once what waits; resolved when everything is confirmed or cannot be for now. */
  async flush(): Promise<boolean> {
    while (!this.isClean && !this.stopped && this.failures === 0) {
      await this.send();
      if (this.busy) await new Promise<void>((resolve) => this.ports.later(resolve, 30));
    }
    return this.isClean;
  }

  /** Tries again now, for instance when the connection is back. */
  retry(): void {
    this.failures = 0;
    void this.send();
  }

  /**
   * Others saved: what they made is shown, where nothing of one's own is on its way. Else the answer to that brings it,
   * and tells where the two meet.
   */
  async heard(revision: number): Promise<void> {
    const isOpen = (): boolean => this.isClean && !this.busy && !this.stopped;
    if (revision <= this.base || !isOpen() || !this.ports.read) return;
    const there = await this.ports.read().catch(() => null);
    if (!there || there.revision <= this.base || !isOpen()) return;
    this.base = there.revision;
    this.ports.onOthers(there.document);
  }

  /** Sends nothing more until `resolve` is called. */
  stop(): void {
    this.stopped = true;
  }

  /** Ends a conflict: what the server has holds, but for the commands that are still to be made on top of it. */
  resolve(revision: number, mine: readonly C[]): void {
    this.base = revision;
    this.sent = null;
    this.waiting = [...mine];
    this.stopped = false;
    this.keep();
    this.ports.onState(mine.length ? { kind: 'saving' } : { kind: 'saved' });
    if (mine.length) this.schedule(0);
  }

  /** Commands that the server has not confirmed. */
  get unconfirmed(): readonly C[] {
    return [...(this.sent?.commands ?? []), ...this.waiting];
  }

  /** What the server has not confirmed, with the revision it was made on. */
  get own(): Own<C> {
    return { base: this.sent?.base ?? this.base, commands: this.unconfirmed };
  }

  private keep(): void {
    const pending = { sent: this.sent, waiting: [...this.waiting], base: this.base };
    this.kept = this.kept
      .then(() => this.ports.keep(pending))
      .then(
        () => void (this.unkept = false),
        // A full store must not keep a save from the server; where that does not answer either, it is told.
        () => void (this.unkept = true),
      );
  }

  private schedule(ms: number): void {
    if (this.scheduled) return;
    this.scheduled = true;
    this.ports.later(() => {
      this.scheduled = false;
      void this.send();
    }, ms);
  }

  private async send(): Promise<void> {
    if (this.busy || this.stopped) return;
    if (!this.sent) {
      if (!this.waiting.length) return;
      this.sent = { save: this.ports.newId(), base: this.base, commands: this.waiting.slice(0, MOST_AT_ONCE) };
      this.waiting = this.waiting.slice(MOST_AT_ONCE);
      this.keep();
    }
    this.busy = true;
    try {
      await this.kept; // first here, then there: a crash between the two loses nothing
      this.confirmed(await this.ports.post(this.sent));
    } catch (error) {
      this.failed(error);
    } finally {
      this.busy = false;
    }
    if (this.waiting.length && this.failures === 0) this.schedule(0);
  }

  private confirmed({ revision, merged }: Saved<D>): void {
    this.base = revision;
    this.sent = null;
    this.failures = 0;
    this.keep();
    if (merged) this.ports.onMerged(merged, this.waiting);
    this.ports.onState(this.waiting.length ? { kind: 'saving' } : { kind: 'saved' });
  }

  private failed(error: unknown): void {
    const status = error instanceof ApiError ? error.status : 0;
    const text = error instanceof Error ? error.message : String(error);
    if (status === 409 && error instanceof ApiError && isConflict<D>(error.body)) {
      this.stopped = true;
      this.ports.onConflict(error.body);
    } else if (status >= 400 && status < 500 && status !== 401 && status !== 408 && status !== 429) {
      this.stopped = true;
      const problems = error instanceof ApiError ? error.problems.map((problem) => problem.text) : [];
      this.ports.onState({ kind: 'refused', text: [text, ...problems.slice(0, 3)].join(' ') });
    } else {
      this.ports.onState({
        kind: 'offline',
        text:
          status === 401
            ? text
            : this.unkept
              ? 'Not saved on the server yet: it does not answer, and this browser has no room to keep your changes. Leave this page open, they are sent when the server is back; or save the drawing as a file.'
              : 'Not saved on the server yet: it does not answer. Your changes are kept in this browser and sent when it is back.',
      });
      this.schedule(RETRY_MS[Math.min(this.failures, RETRY_MS.length - 1)]!);
      this.failures++;
    }
  }
}

/** The answer to a save that meets with others: both versions. */
export const isConflict = <D extends Document>(body: unknown): body is Conflict<D> =>
  body !== null && typeof body === 'object' && 'theirs' in body;
