import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type AsideRequest, type Me, type SetAside } from '@sobrin/contracts';
import { type Footprint, applyEdits, editsBetween, takenBack } from '@sobrin/core/changes';
import { shapeProblems } from '@sobrin/core/topology';
import { randomUUID } from 'node:crypto';
import { DataSource, type EntityManager, MoreThan } from 'typeorm';
import { jsonb } from '../platform/jsonb';
import { refuse } from '../platform/refusal';
import { SignalsService } from '../platform/signals.service';
import { type Document, type DocumentKind, DOCUMENT_KINDS } from './document-kinds';
import { DocumentBarrier, DocumentChange, StoredDocument } from './document.entity';
import { isWhole } from './documents.service';
import { VersionsService } from './versions.service';

/** Both changes together change nothing: whoever knew the document before them meets neither. */
const NOTHING: Footprint = { reads: [], writes: [] };

/**
 * Keeps as a version what somebody changed and what is not to hold: two that met of which one was chosen, or what was
 * refused. The document becomes it and at once again what it was, so that it is a version like all others.
 */
@Injectable()
export class AsideService {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly signals: SignalsService,
    private readonly versions: VersionsService,
  ) {}

  async set(id: string, request: AsideRequest, author: Me): Promise<SetAside> {
    return this.db.transaction(async (manager) => {
      const current = await manager.findOne(StoredDocument, { where: { id }, lock: { mode: 'pessimistic_write' } });
      if (!current) throw refuse.missing('document');
      const known = await manager.findOneBy(DocumentChange, { documentId: id, saveId: request.save });
      if (known) return { revision: known.revision, left: 0 };
      const now = current.content as Document;
      const { document, left } = made(
        DOCUMENT_KINDS[current.kind],
        await this.at(manager, current, request.base),
        request.commands,
      );
      const edits = editsBetween(now, document);
      if (!edits.length) return { revision: null, left };
      const { inverse: back } = applyEdits(now, edits);
      const revision = current.revision + 1;
      const change = (at: number, saveId: string, there: object[], home: object[]) => ({
        documentId: id,
        revision: at,
        saveId,
        authorId: author.id,
        madeAt: new Date(),
        commands: [{ kind: 'edits', edits: there }],
        inverse: jsonb({ kind: 'edits', edits: home }),
        footprint: jsonb(NOTHING),
      });
      await manager.insert(DocumentChange, [
        change(revision, request.save, edits, back),
        change(revision + 1, randomUUID(), back, edits),
      ]);
      await manager.update(StoredDocument, { id }, { revision: revision + 1 });
      if (request.met)
        await this.versions.nameWithin(manager, id, current.revision, 'Saved, when two versions met', author);
      const name = request.met ? 'Not saved, when two versions met' : 'Could not be saved';
      await this.versions.nameWithin(manager, id, revision, name, author);
      await this.signals.tell(manager, 'saved', { id, revision: revision + 1 });
      return { revision, left };
    });
  }

  /** The document as it was at a revision; as it is now, where that cannot be told any more. */
  private async at(manager: EntityManager, current: StoredDocument, base: number): Promise<Document> {
    const now = current.content as Document;
    if (
      base >= current.revision ||
      (await manager.existsBy(DocumentBarrier, { documentId: current.id, revision: MoreThan(base) }))
    )
      return now;
    const since = await manager.find(DocumentChange, {
      where: { documentId: current.id, revision: MoreThan(base) },
      order: { revision: 'DESC' },
    });
    return takenBack(
      now,
      since.map((change) => change.inverse),
    );
  }
}

/** So often is a document looked at as a whole, which takes long for a large one; what has not been made by then is left. */
const MOST_LOOKS = 16;

/** What commands make of a document: all of them, or those that can be made and leave it whole. */
function made(kind: DocumentKind, from: Document, commands: readonly object[]): { document: Document; left: number } {
  const shaped = commands.filter((command) => !shapeProblems(kind.command, command).length);
  let [document, left, looks] = [from, commands.length - shaped.length, 0];
  // Halves of what cannot be made as a whole, until what stands in the way is alone.
  const make = (some: readonly object[]): void => {
    if (!some.length) return;
    const done = looks < MOST_LOOKS ? kind.applyAll(document, 'set aside', some) : null;
    if (done?.ok && (looks++, isWhole(kind, done.value.document))) document = done.value.document;
    else if (some.length === 1 || looks >= MOST_LOOKS) left += some.length;
    else {
      const half = Math.ceil(some.length / 2);
      make(some.slice(0, half));
      make(some.slice(half));
    }
  };
  make(shaped);
  return { document, left };
}
