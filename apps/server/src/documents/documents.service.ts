import { Injectable } from '@nestjs/common';
import { type DocumentView, type Me, type SaveRequest, type Saved } from '@sobrin/contracts';
import {
  type Applied,
  type Command,
  Command as CommandSchema,
  type Footprint,
  type Topology,
  MAX_TOPOLOGY_BYTES,
  applyBatch,
  applyCommand,
  conflictOf,
  readTopology,
  shapeProblems,
} from '@sobrin/core';
import { InjectDataSource } from '@nestjs/typeorm';
import { randomUUID } from 'node:crypto';
import { DataSource, type EntityManager, MoreThan } from 'typeorm';
import { refuse } from '../platform/refusal';
import { DocumentChange, StoredDocument } from './document.entity';

/** Drawings and their saves. Who may see or change one is decided by whoever owns it (labs, submissions). */
@Injectable()
export class DocumentsService {
  constructor(@InjectDataSource() private readonly db: DataSource) {}

  async create(topology: Topology, manager: EntityManager = this.db.manager): Promise<string> {
    const id = randomUUID();
    await manager.insert(StoredDocument, { id, revision: 0, topology: topology as never });
    return id;
  }

  async read(id: string): Promise<DocumentView> {
    const found = await this.db.manager.findOneBy(StoredDocument, { id });
    if (!found) throw refuse.missing('drawing');
    return { id, revision: found.revision, topology: found.topology };
  }

  /**
   * Takes commands that were made at revision `base`. Where others saved in between, the commands are replayed on top if
   * they go together with those saves; otherwise nothing is stored and both versions come back. A save that is known
   * already was sent again because its answer got lost: it is answered, not made twice.
   */
  async save(id: string, { save, base, commands }: SaveRequest, author: Me): Promise<Saved> {
    const problems = commands.flatMap((one, at) =>
      shapeProblems(CommandSchema, one).map((problem) => ({
        ...problem,
        place: `commands › ${at}${problem.place && ` › ${problem.place}`}`,
      })),
    );
    if (problems.length) throw refuse.problems('The change cannot be read. Nothing was stored.', problems);
    return this.db.transaction(async (manager) => {
      const current = await manager.findOne(StoredDocument, { where: { id }, lock: { mode: 'pessimistic_write' } });
      if (!current) throw refuse.missing('drawing');
      if (await manager.existsBy(DocumentChange, { documentId: id, saveId: save }))
        return { revision: current.revision, merged: current.topology };
      if (base > current.revision)
        throw refuse.input(
          `The drawing has revision ${current.revision}, and the change claims to know revision ${base}.`,
        );
      const since = await manager.find(DocumentChange, {
        where: { documentId: id, revision: MoreThan(base) },
        order: { revision: 'ASC' },
      });
      const done = this.replay(current, since, commands as Command[]);
      checkResult(done.topology);
      const revision = current.revision + 1;
      await manager.update(StoredDocument, { id }, { revision, topology: done.topology });
      await manager.insert(DocumentChange, {
        documentId: id,
        revision,
        saveId: save,
        authorId: author.id,
        madeAt: new Date(),
        commands: commands as never,
        inverse: done.inverse as never,
        footprint: { reads: done.reads, writes: done.writes } as never,
      });
      return { revision, merged: since.length ? done.topology : null };
    });
  }

  private replay(current: StoredDocument, since: readonly DocumentChange[], commands: readonly Command[]): Applied {
    const title = 'save';
    if (!since.length) {
      const done = applyBatch(current.topology, title, commands);
      if (!done.ok) throw refuse.problems(`${done.error} Nothing was stored.`, []);
      return done.value;
    }
    const before = since.reduceRight((topology, change) => undone(topology, change.inverse), current.topology);
    const mine = applyBatch(before, title, commands);
    if (!mine.ok) throw refuse.problems(`${mine.error} Nothing was stored.`, []);
    const theirs: Footprint = {
      reads: since.flatMap((one) => one.footprint.reads),
      writes: since.flatMap((one) => one.footprint.writes),
    };
    const place = conflictOf(mine.value, theirs);
    const done = place ? null : applyBatch(current.topology, title, commands);
    if (done?.ok) return done.value;
    const where = place?.length ? place.join(' › ') : 'the whole drawing';
    throw refuse.conflict({
      message: `Somebody saved a change of the same thing in between (${where}). Nothing was overwritten: choose which version holds.`,
      revision: current.revision,
      place: where,
      mine: mine.value.topology,
      theirs: current.topology,
    });
  }
}

function undone(topology: Topology, inverse: Command): Topology {
  const done = applyCommand(topology, inverse);
  return done.ok ? done.value.topology : topology;
}

function checkResult(topology: Topology): void {
  const bytes = Buffer.byteLength(JSON.stringify(topology));
  if (bytes > MAX_TOPOLOGY_BYTES)
    throw refuse.problems(
      `The drawing would have ${(bytes / 1e6).toFixed(1)} MB: at most ${MAX_TOPOLOGY_BYTES / 1e6} MB are stored.`,
      [],
    );
  const read = readTopology(topology);
  if (!read.ok)
    throw refuse.problems(
      'The change would leave a drawing that does not hold together. Nothing was stored.',
      read.error,
    );
}
