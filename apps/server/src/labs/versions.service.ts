import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type LabVersionView, type Me } from '@sobrin/contracts';
import { type JudgingLab, type Policy, type Spec, LAB_VERSION, judgedBy, specHash } from '@sobrin/core/spec';
import { type Brief } from '@sobrin/core/plan';
import { type Topology, documentHash } from '@sobrin/core/topology';
import { DataSource, type EntityManager, In } from 'typeorm';
import { Account } from '../accounts/account.entity';
import { Assignment } from '../assignments/assignment.entity';
import { raised } from '../documents/formats';
import { jsonb } from '../platform/jsonb';
import { refuse } from '../platform/refusal';
import { Lab, LabFinal, LabVersion } from './lab.entity';

/** How many versions are kept at hand: as many as are judged by at one time. */
const KEPT = 8;

/** A version as labs are today: what is kept stays as it was made. */
function ofToday({ format, content: { reference, spec, policy, brief, starter, tasks } }: LabVersion): JudgingLab {
  return {
    reference: raised('topology', reference.version, reference) as Topology,
    spec: raised('spec', format, spec) as Spec,
    policy: raised('policy', format, policy) as Policy,
    brief: raised('brief', format, brief) as Brief,
    ...(tasks && { tasks }),
    ...(starter && { starter: raised('topology', starter.version, starter) as Topology }),
  };
}

interface Known {
  content: JudgingLab;
  text: string;
}

/** The versions of labs: what judges, kept as it was when a person made it final. */
@Injectable()
export class LabVersionsService {
  /** Some that were read: they never change. */
  private readonly kept = new Map<string, Known>();

  constructor(@InjectDataSource() private readonly db: DataSource) {}

  /**
   * Keeps what judges now as a version of the lab; what is one already is none a second time. The lab's row is locked by
   * whoever calls.
   */
  async makeFinal(manager: EntityManager, lab: Lab, file: JudgingLab, author: Me): Promise<LabFinal> {
    const content = judgedBy(file);
    const hash = documentHash(content);
    const finals = await manager.find(LabFinal, { where: { labId: lab.id }, order: { number: 'ASC' } });
    for (const final of finals) if ((await this.judges(final.versionHash, manager)) === hash) return final;
    await manager
      .createQueryBuilder()
      .insert()
      .into(LabVersion)
      .values({ hash, format: LAB_VERSION, content: jsonb(content) })
      .orIgnore()
      .execute();
    const final: LabFinal = {
      labId: lab.id,
      number: (finals.at(-1)?.number ?? 0) + 1,
      versionHash: hash,
      authorId: author.id,
      madeAt: new Date(),
    };
    await manager.insert(LabFinal, final);
    return final;
  }

  /** How a version judges, as a hash: two that were written differently may judge alike. */
  async judges(hash: string, manager?: EntityManager): Promise<string> {
    return specHash(await this.read(hash, manager));
  }

  /** What judges by a version. */
  async read(hash: string, manager?: EntityManager): Promise<JudgingLab> {
    return (await this.known(hash, manager)).content;
  }

  /** The same as the text of its JSON, for threads. */
  async text(hash: string): Promise<string> {
    return (await this.known(hash)).text;
  }

  private async known(hash: string, manager: EntityManager = this.db.manager): Promise<Known> {
    const kept = this.kept.get(hash);
    if (kept) return kept;
    const found = await manager.findOneBy(LabVersion, { hash });
    if (!found) throw refuse.missing('version');
    const content = ofToday(found);
    const known = { content, text: JSON.stringify(content) };
    if (this.kept.size >= KEPT) this.kept.delete(this.kept.keys().next().value!);
    this.kept.set(hash, known);
    return known;
  }

  /** The versions of the lab of an assignment, newest first. */
  async list({ labId, versionHash }: Assignment): Promise<LabVersionView[]> {
    const finals = await this.db.manager.find(LabFinal, { where: { labId }, order: { number: 'DESC' } });
    const authors = await this.db.manager.findBy(Account, { id: In(finals.map((final) => final.authorId)) });
    return finals.map((final) => ({
      number: final.number,
      madeAt: final.madeAt.toISOString(),
      by: authors.find((author) => author.id === final.authorId)?.name ?? '',
      judges: final.versionHash === versionHash,
    }));
  }

  /** The number of a version of a lab, by its hash; null where it is none of it. */
  async numbersOf(labId: string): Promise<ReadonlyMap<string, number>> {
    const finals = await this.db.manager.findBy(LabFinal, { labId });
    return new Map(finals.map(({ versionHash, number }) => [versionHash, number]));
  }
}
