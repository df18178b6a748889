import { Injectable } from '@nestjs/common';
import { type Me, type Showing } from '@sobrin/contracts';
import { publicView } from '@sobrin/core/drawing';
import { type Topology } from '@sobrin/core/topology';
import { InjectDataSource } from '@nestjs/typeorm';
import { randomBytes } from 'node:crypto';
import { DataSource } from 'typeorm';
import { refuse } from '../platform/refusal';
import { DocumentShowing, StoredDocument } from './document.entity';

/** So many that nobody finds a key by trying. */
const KEY_BYTES = 24;

/** Drawings that may be looked at without signing in, by an address that holds a key. */
@Injectable()
export class ShowingService {
  constructor(@InjectDataSource() private readonly db: DataSource) {}

  async of(id: string): Promise<Showing> {
    const found = await this.db.manager.findOneBy(DocumentShowing, { documentId: id });
    return { key: found?.key ?? null };
  }

  /** Begins to show a drawing; one that is shown already keeps its key. */
  async begin(id: string, author: Me): Promise<Showing> {
    const document = await this.db.manager.findOneBy(StoredDocument, { id });
    if (document?.kind !== 'topology') throw refuse.input('Only drawings can be shown without signing in.');
    const key = randomBytes(KEY_BYTES).toString('base64url');
    await this.db.manager
      .createQueryBuilder()
      .insert()
      .into(DocumentShowing)
      .values({ documentId: id, key, authorId: author.id, madeAt: new Date() })
      .orIgnore()
      .execute();
    return this.of(id);
  }

  /** The key opens nothing any more; another beginning makes another key. */
  async end(id: string): Promise<void> {
    await this.db.manager.delete(DocumentShowing, { documentId: id });
  }

  /** The drawing that a key opens, as far as it can be seen; with its id, for whoever knows its title. */
  async shown(key: string): Promise<{ id: string; document: Topology } | null> {
    const showing = await this.db.manager.findOneBy(DocumentShowing, { key });
    const found = showing && (await this.db.manager.findOneBy(StoredDocument, { id: showing.documentId }));
    return found && { id: found.id, document: publicView(found.content as Topology) };
  }
}
