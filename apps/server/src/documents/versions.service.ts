import { Injectable } from '@nestjs/common';
import {
  type AnyDocument,
  type DocumentView,
  type Me,
  type NameVersionRequest,
  type VersionView,
} from '@sobrin/contracts';
import { InjectDataSource } from '@nestjs/typeorm';
import { Between, DataSource, type EntityManager, In } from 'typeorm';
import { Account } from '../accounts/account.entity';
import { refuse } from '../platform/refusal';
import { type DocumentKindName } from './document-kinds';
import { DocumentChange, DocumentVersion, StoredDocument } from './document.entity';
import { type StoredVersion, versionOf } from './stored-version';

/** After so long without a change a sitting is over: how the document was left then is a version. */
const SITTING_OVER_MS = 20 * 60_000;
/** More versions than this are not listed: the newest are. */
const MOST = 300;

/**
 * Versions of documents. They are stored as differences: every save keeps what takes it back, and an older version is
 * worked out from the newest one by taking back what came after it.
 */
@Injectable()
export class VersionsService {
  constructor(@InjectDataSource() private readonly db: DataSource) {}

  async list(id: string): Promise<VersionView[]> {
    const { manager } = this.db;
    const [document, named, changes] = await Promise.all([
      manager.findOneBy(StoredDocument, { id }),
      manager.find(DocumentVersion, { where: { documentId: id } }),
      manager.find(DocumentChange, {
        select: { revision: true, authorId: true, madeAt: true },
        where: { documentId: id },
        order: { revision: 'ASC' },
      }),
    ]);
    if (!document) throw refuse.missing('document');
    const names = new Map(named.map((version) => [version.revision, version]));
    const ends = changes.filter((change, at) => {
      const next = changes[at + 1];
      return !next || next.madeAt.getTime() - change.madeAt.getTime() >= SITTING_OVER_MS;
    });
    const shown = new Map(ends.map((end) => [end.revision, end]));
    const all = [
      ...named.map(({ revision, authorId, madeAt }) => ({ revision, authorId, madeAt })),
      ...[...shown.values()].filter((change) => !names.has(change.revision)),
    ]
      .sort((a, b) => b.revision - a.revision)
      .slice(0, MOST);
    const authors = await manager.findBy(Account, { id: In([...new Set(all.map((version) => version.authorId))]) });
    const nameOf = new Map(authors.map((author) => [author.id, author.name]));
    return all.map(({ revision, authorId, madeAt }) => ({
      revision,
      name: names.get(revision)?.name ?? null,
      by: nameOf.get(authorId) ?? '',
      at: madeAt.toISOString(),
    }));
  }

  /** Names the document as it is at a revision; a second name for one revision takes the place of the first. */
  async name(id: string, { revision, name }: NameVersionRequest, author: Me): Promise<void> {
    const document = await this.db.manager.findOneBy(StoredDocument, { id });
    if (!document) throw refuse.missing('document');
    if (revision > document.revision)
      throw refuse.input(
        `The document has revision ${document.revision}: there is no revision ${revision} to be named.`,
      );
    const version = { documentId: id, revision, name: name.trim(), authorId: author.id, madeAt: new Date() };
    if (!version.name) throw refuse.input('A version wants a name with at least one letter.');
    await this.db.manager.upsert(DocumentVersion, version, ['documentId', 'revision']);
  }

  /** Names a revision beside what somebody may have named it before. */
  async nameWithin(manager: EntityManager, id: string, revision: number, name: string, author: Me): Promise<void> {
    const known = await manager.findOneBy(DocumentVersion, { documentId: id, revision });
    const names = (known?.name.split(', ') ?? []).filter((other) => other !== name);
    const version = known ?? { documentId: id, revision, authorId: author.id, madeAt: new Date() };
    await manager.upsert(DocumentVersion, { ...version, name: [...names, name].join(', ') }, [
      'documentId',
      'revision',
    ]);
  }

  /** A document as it was at a revision. */
  async read(id: string, revision: number): Promise<DocumentView<AnyDocument>> {
    return { id, revision, document: versionOf(await this.stored(id, revision)) };
  }

  /** What the document at a revision is worked out from: the newest one, or what was there when its format changed next. */
  async stored(id: string, revision: number): Promise<StoredVersion> {
    const { manager } = this.db;
    const [newest] = await manager.query<
      { kind: DocumentKindName; format: number; revision: number; newest: string }[]
    >(
      `SELECT kind, format, revision, content::text AS newest FROM document WHERE id = $1 AND revision >= $2
        AND NOT EXISTS (SELECT FROM document_barrier WHERE document_id = $1 AND document_barrier.revision >= $2)
        UNION ALL
        (SELECT kind, document_barrier.format, document_barrier.revision, document_barrier.content::text
          FROM document_barrier JOIN document ON document.id = document_id
          WHERE document_id = $1 AND document_barrier.revision >= $2 ORDER BY document_barrier.revision LIMIT 1)`,
      [id, revision],
    );
    if (!newest || revision < 0) throw refuse.missing('version');
    const since = await manager
      .createQueryBuilder(DocumentChange, 'change')
      .select('change.inverse::text', 'inverse')
      .where({ documentId: id, revision: Between(revision + 1, newest.revision) })
      .orderBy('change.revision', 'DESC')
      .getRawMany<{ inverse: string }>();
    const { kind, format, newest: text } = newest;
    return { kind, format, newest: text, since: since.map((edit) => edit.inverse) };
  }
}
