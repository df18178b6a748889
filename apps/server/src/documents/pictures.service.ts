import { Injectable, type OnModuleDestroy } from '@nestjs/common';
import { LRUCache } from 'lru-cache';
import { availableParallelism } from 'node:os';
import path from 'node:path';
import { Piscina } from 'piscina';
import { type PictureWish } from './picture-worker';
import { VersionsService } from './versions.service';

export const PICTURE_TYPES: Readonly<Record<PictureWish['format'], string>> = {
  svg: 'image/svg+xml',
  png: 'image/png',
  pdf: 'application/pdf',
};

/** A core is left to those who save and to the database, and painting waits for whoever else wants the others. */
const THREADS = Math.max(1, availableParallelism() - 1);
const NICE = 10;
const IDLE_MS = 60_000;
const KEPT_BYTES = 64 * 1024 * 1024;

/** Pictures and papers of drawings, painted beside the thread that answers everybody. */
@Injectable()
export class PicturesService implements OnModuleDestroy {
  private readonly painters = new Piscina({
    // Always what is compiled: a thread reads no TypeScript, in tests neither.
    filename: path.resolve(__dirname, '..', '..', 'dist', 'documents', 'picture-worker.js'),
    minThreads: 0,
    maxThreads: THREADS,
    idleTimeout: IDLE_MS,
    niceIncrement: NICE,
  });
  private readonly kept = new LRUCache<string, Uint8Array>({
    maxSize: KEPT_BYTES,
    sizeCalculation: (picture) => picture.length,
  });
  private readonly beingPainted = new Map<string, Promise<Uint8Array>>();

  constructor(private readonly versions: VersionsService) {}

  /** The picture of a drawing at a revision. It never changes: it is painted once, and kept as long as there is room. */
  async paint(id: string, revision: number, wish: PictureWish): Promise<Uint8Array> {
    const name = JSON.stringify([id, revision, wish]);
    const known = this.kept.get(name) ?? this.beingPainted.get(name);
    if (known) return known;
    const painting = this.paintNow(id, revision, wish);
    this.beingPainted.set(name, painting);
    try {
      const picture = await painting;
      this.kept.set(name, picture);
      return picture;
    } finally {
      this.beingPainted.delete(name);
    }
  }

  private async paintNow(id: string, revision: number, wish: PictureWish): Promise<Uint8Array> {
    const stored = await this.versions.stored(id, revision);
    return this.painters.run({ stored, wish }) as Promise<Uint8Array>;
  }

  async onModuleDestroy(): Promise<void> {
    await this.painters.destroy();
  }
}
