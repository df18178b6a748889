import { Injectable } from '@nestjs/common';
import { type Conflict, type DocumentView, type Me, type SaveRequest, type Saved } from '@sobrin/contracts';
import { type Applied, type Footprint, editsBetween, meetingPlaces, takenBack } from '@sobrin/core/changes';
import { type Plan } from '@sobrin/core/plan';
import { type Topology, shapeProblems } from '@sobrin/core/topology';
import { InjectDataSource } from '@nestjs/typeorm';
import { randomUUID } from 'node:crypto';
import { type Observable, filter, from, map, merge, mergeMap } from 'rxjs';
import { DataSource, type EntityManager, In, MoreThan } from 'typeorm';
import { Account } from '../accounts/account.entity';
import { jsonb } from '../platform/jsonb';
import { refuse } from '../platform/refusal';
import { SignalsService } from '../platform/signals.service';
import { type Document, type DocumentKind, type DocumentKindName, DOCUMENT_KINDS } from './document-kinds';
import { DocumentBarrier, DocumentChange, StoredDocument } from './document.entity';
import { FORMATS } from './formats';

type Done = Applied<Document, object>;
type Judge = (before: Document, after: Document) => void;

/** Documents and their saves. Who may see or change one is decided by whoever owns it (labs, submissions). */
@Injectable()
export class DocumentsService {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly signals: SignalsService,
  ) {}

  async create(content: Document, kind: DocumentKindName, manager: EntityManager = this.db.manager): Promise<string> {
    const id = randomUUID();
    await manager.insert(StoredDocument, { id, kind, revision: 0, format: FORMATS[kind].version, content });
    return id;
  }

  /** Inside a transaction its manager is passed in: asking the pool for a second connection there can wait for ever. */
  async read<D extends Document>(id: string, manager: EntityManager = this.db.manager): Promise<DocumentView<D>> {
    const found = await manager.findOneBy(StoredDocument, { id });
    if (!found) throw refuse.missing('document');
    return { id, revision: found.revision, document: found.content as D };
  }

  /** What is to be known of a document without reading it. */
  async about(id: string): Promise<{ kind: DocumentKindName; revision: number }> {
    const found = await this.db.manager.findOne(StoredDocument, {
      select: { kind: true, revision: true },
      where: { id },
    });
    if (!found) throw refuse.missing('document');
    return found;
  }

  /** The revisions of a document from now on, as they are saved by whichever server; ends when this one stops. */
  revisions = (id: string): Observable<number> =>
    merge(
      this.signals.of('saved').pipe(
        filter((row) => row.id === id),
        map((row) => row.revision),
      ),
      this.signals.missed.pipe(mergeMap(() => from(this.about(id)).pipe(map(({ revision }) => revision)))),
    );

  readDrawing = (id: string, manager?: EntityManager): Promise<DocumentView<Topology>> => this.read(id, manager);
  readPlan = (id: string, manager?: EntityManager): Promise<DocumentView<Plan>> => this.read(id, manager);

  /**
   * Takes commands that were made at revision `base`. Where others saved in between, the commands are replayed on top if
   * they go together with those saves; otherwise nothing is stored and both versions come back. A save that is known
   * already was sent again because its answer got lost: it is answered, not made twice.
   */
  async save(
    id: string,
    request: SaveRequest,
    author: Me,
    {
      first = () => Promise.resolve(),
      judge,
    }: {
      /** What else belongs to the save; it comes first, so that whoever locks several rows does so in one order. */
      first?: (manager: EntityManager) => Promise<void>;
      /** Refuses what this author may not make of the document. */
      judge?: Judge;
    } = {},
  ): Promise<Saved<Document>> {
    return this.db.transaction(async (manager) => {
      await first(manager);
      return this.saveWithin(manager, id, request, author, judge);
    });
  }

  /** Makes a document another one as a save of its own, inside a transaction. */
  async replaceWithin(manager: EntityManager, id: string, document: Document, author: Me): Promise<void> {
    const { revision, document: now } = await this.read(id, manager);
    const edits = editsBetween(now, document);
    if (!edits.length) return;
    const commands = [{ kind: 'edits', edits }];
    await this.saveWithin(manager, id, { save: randomUUID(), base: revision, commands }, author);
  }

  private async saveWithin(
    manager: EntityManager,
    id: string,
    { save, base, commands }: SaveRequest,
    author: Me,
    judge?: Judge,
  ): Promise<Saved<Document>> {
    const current = await manager.findOne(StoredDocument, { where: { id }, lock: { mode: 'pessimistic_write' } });
    if (!current) throw refuse.missing('document');
    const kind = DOCUMENT_KINDS[current.kind];
    if (await manager.existsBy(DocumentChange, { documentId: id, saveId: save }))
      return { revision: current.revision, merged: current.content as Document };
    checkCommands(kind, commands);
    if (base > current.revision)
      throw refuse.input(
        `The ${kind.word} has revision ${current.revision}, and the change claims to know revision ${base}.`,
      );
    if (
      base < current.revision &&
      (await manager.existsBy(DocumentBarrier, { documentId: id, revision: MoreThan(base) }))
    )
      throw refuse.problems(
        `Sobrin was brought up to date since this ${kind.word} was opened. Nothing was stored: load the page again, and make the change again.`,
        [],
      );
    const since = await manager.find(DocumentChange, {
      where: { documentId: id, revision: MoreThan(base) },
      order: { revision: 'ASC' },
    });
    const done = await this.replay(kind, current, since, commands, manager);
    checkResult(kind, done.document);
    judge?.(current.content, done.document);
    const revision = current.revision + 1;
    await manager.update(StoredDocument, { id }, { revision, content: done.document });
    await manager.insert(DocumentChange, {
      documentId: id,
      revision,
      saveId: save,
      authorId: author.id,
      madeAt: new Date(),
      commands,
      inverse: jsonb(done.inverse),
      footprint: jsonb({ reads: done.reads, writes: done.writes }),
    });
    await this.signals.tell(manager, 'saved', { id, revision });
    return { revision, merged: since.length ? done.document : null };
  }

  private async replay(
    kind: DocumentKind,
    current: StoredDocument,
    since: readonly DocumentChange[],
    commands: readonly object[],
    manager: EntityManager,
  ): Promise<Done> {
    const title = 'save';
    if (!since.length) {
      const done = kind.applyAll(current.content, title, commands);
      if (!done.ok) throw refuse.problems(`${done.error} Nothing was stored.`, []);
      return done.value;
    }
    const before = takenBack(current.content as Document, since.map((change) => change.inverse).reverse());
    const mine = kind.applyAll(before, title, commands);
    if (!mine.ok) throw refuse.problems(`${mine.error} Nothing was stored.`, []);
    const theirs: Footprint = {
      reads: since.flatMap((change) => change.footprint.reads),
      writes: since.flatMap((change) => change.footprint.writes),
    };
    const meetings = meetingPlaces(mine.value, theirs);
    const done = meetings.length ? null : kind.applyAll(current.content, title, commands);
    if (done?.ok) return done.value;
    throw refuse.conflict(await this.conflictOf(kind, current, since, before, mine.value.document, meetings, manager));
  }

  private async conflictOf(
    kind: DocumentKind,
    current: StoredDocument,
    since: readonly DocumentChange[],
    before: Document,
    mine: Document,
    meetings: readonly (readonly string[])[],
    manager: EntityManager,
  ): Promise<Conflict<Document>> {
    const authors = await manager.findBy(Account, { id: In([...new Set(since.map((change) => change.authorId))]) });
    const places = [...new Set(meetings.map((path) => kind.placeWords(path, current.content as Document)))];
    const where = places.length ? places.slice(0, 3).join(', ') : `the whole ${kind.word}`;
    const more = places.length > 3 ? ` and ${places.length - 3} more` : '';
    return {
      message: `Somebody saved a change of the same thing in between (${where}${more}). Nothing was overwritten: choose which version holds.`,
      revision: current.revision,
      places: places.length ? places.slice(0, 200) : [where],
      by: authors.map((author) => author.name),
      before,
      mine,
      theirs: current.content as Document,
    };
  }
}

function checkCommands(kind: DocumentKind, commands: readonly object[]): void {
  const problems = commands.flatMap((command, at) =>
    shapeProblems(kind.command, command).map((problem) => ({
      ...problem,
      place: `commands › ${at}${problem.place && ` › ${problem.place}`}`,
    })),
  );
  if (problems.length) throw refuse.problems('The change cannot be read. Nothing was stored.', problems);
}

/** Whether a document may be stored. */
export const isWhole = (kind: DocumentKind, document: Document): boolean =>
  Buffer.byteLength(JSON.stringify(document)) <= kind.maxBytes && kind.read(document).ok;

function checkResult(kind: DocumentKind, document: Document): void {
  const bytes = Buffer.byteLength(JSON.stringify(document));
  if (bytes > kind.maxBytes)
    throw refuse.problems(
      `The ${kind.word} would have ${(bytes / 1e6).toFixed(1)} MB: at most ${kind.maxBytes / 1e6} MB are stored.`,
      [],
    );
  const read = kind.read(document);
  if (!read.ok)
    throw refuse.problems(
      `The change would leave a ${kind.word} that does not hold together. Nothing was stored.`,
      read.error,
    );
}
