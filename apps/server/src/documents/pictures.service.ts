import { Injectable } from '@nestjs/common';
import { type Me } from '@sobrin/contracts';
import { LRUCache } from 'lru-cache';
import { type PictureWish } from '../platform/thread';
import { ThreadsService } from '../platform/threads.service';
import { VersionsService } from './versions.service';

export const PICTURE_TYPES: Readonly<Record<PictureWish['format'], string>> = {
  svg: 'image/svg+xml',
  png: 'image/png',
  pdf: 'application/pdf',
};

const KEPT_BYTES = 64 * 1024 * 1024;

/** Pictures and papers of drawings, painted beside the thread that answers everybody. */
@Injectable()
export class PicturesService {
  private readonly kept = new LRUCache<string, Uint8Array>({
    maxSize: KEPT_BYTES,
    sizeCalculation: (picture) => picture.length,
  });
  private readonly beingPainted = new Map<string, Promise<Uint8Array>>();

  constructor(
    private readonly versions: VersionsService,
    private readonly threads: ThreadsService,
  ) {}

  /** The picture of a drawing at a revision. It never changes: it is painted once, and kept as long as there is room. */
  async paint({ id: person }: Me, id: string, revision: number, wish: PictureWish): Promise<Uint8Array> {
    const name = JSON.stringify([id, revision, wish]);
    const known = this.kept.get(name) ?? this.beingPainted.get(name);
    if (known) return known;
    const painting = this.paintNow(person, id, revision, wish);
    this.beingPainted.set(name, painting);
    try {
      const picture = await painting;
      this.kept.set(name, picture);
      return picture;
    } finally {
      this.beingPainted.delete(name);
    }
  }

  private async paintNow(person: string, id: string, revision: number, wish: PictureWish): Promise<Uint8Array> {
    const stored = await this.versions.stored(id, revision);
    return this.threads.runFor(person, 'paint', { stored, wish });
  }
}
