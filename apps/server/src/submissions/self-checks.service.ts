import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type Me, type SelfCheckRequest, type SelfChecksView } from '@sobrin/contracts';
import { plural } from '@sobrin/core';
import { type CheckResult, type Policy, selfCheckOf } from '@sobrin/core/spec';
import { DataSource, type EntityManager } from 'typeorm';
import { type Assignment } from '../assignments/assignment.entity';
import { DocumentsService } from '../documents/documents.service';
import { FORMATS } from '../documents/formats';
import { LabsService } from '../labs/labs.service';
import { LabVersionsService } from '../labs/versions.service';
import { refuse } from '../platform/refusal';
import { ThreadsService } from '../platform/threads.service';
import { checkTheirs, isBlank } from './own-work';
import { selfChecksOf } from './self-checks';
import { SelfCheckRecord, type Work } from './submission.entity';
import { WorksService } from './works.service';

/** What students ask of their work before they hand it in: judged as an attempt would be, and little of it told. */
@Injectable()
export class SelfChecksService {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly works: WorksService,
    private readonly labs: LabsService,
    private readonly versions: LabVersionsService,
    private readonly documents: DocumentsService,
    private readonly threads: ThreadsService,
  ) {}

  /**
   * Judges the work as it is now, and tells what the lab allows to be told. The clock is passed in, so that deadlines can be
   * tested. What is sent again is told again.
   */
  async ask(me: Me, assignment: Assignment, now: Date, { id, drawing }: SelfCheckRequest): Promise<SelfChecksView> {
    const work = await this.works.workOf(me, assignment);
    checkTheirs(work, drawing);
    const before = await this.mayAsk(this.db.manager, me, assignment, work, now, id);
    if (before.isKnown) return this.view(this.db.manager, work, before.rule);
    // The two are of different moments where somebody draws meanwhile; an attempt takes both at one.
    const [topology, plan] = await Promise.all([
      this.documents.readDrawing(work.documentId),
      this.documents.readPlan(work.planId),
    ]);
    const version = assignment.versionHash!;
    const made = await this.threads.runFor(me.id, 'check', {
      version,
      lab: await this.versions.text(version),
      topology: JSON.stringify(topology.document),
      plan: isBlank(plan.document) ? null : JSON.stringify(plan.document),
      answers: JSON.stringify(work.answers),
      formats: { topology: FORMATS.topology.version, plan: FORMATS.plan.version },
      pins: {},
    });
    const { spec } = await this.versions.read(version);
    const told = selfCheckOf(JSON.parse(made.text) as CheckResult, spec, before.rule);
    if (!(told.sections ?? told.requirements)!.length)
      throw refuse.state(
        'In this lab there is nothing that may be told. Nothing was counted: talk to your instructor.',
      );
    return this.db.transaction(async (manager) => {
      await this.works.lock(work, manager);
      // Others may have been asked while this one was judged.
      const { rule, isKnown } = await this.mayAsk(manager, me, assignment, work, now, id);
      if (!isKnown) await manager.insert(SelfCheckRecord, { id, workId: work.id, at: now, told });
      return this.view(manager, work, rule);
    });
  }

  private async mayAsk(
    manager: EntityManager,
    me: Me,
    assignment: Assignment,
    work: Work,
    now: Date,
    id: string,
  ): Promise<{ rule: NonNullable<Policy['selfChecks']>; isKnown: boolean }> {
    const { policy } = await this.labs.parts(assignment.lab, manager);
    const rule = policy.selfChecks;
    if (!rule) throw refuse.state('In this lab nothing is told before it is handed in.');
    const known = await manager.findOneBy(SelfCheckRecord, { id });
    if (known && known.workId !== work.id)
      throw refuse.input('This question belongs to something else. Nothing was checked: load the page again.');
    if (known) return { rule, isKnown: true };
    await this.works.mayHandIn(me, assignment, now, manager);
    const used = await manager.countBy(SelfCheckRecord, { workId: work.id });
    if (used >= rule.most)
      throw refuse.state(
        `You have used ${rule.most === 1 ? 'the one self-check' : `all ${plural(rule.most, 'self-check')}`} of this lab. What you were told last stays here.`,
      );
    return { rule, isKnown: false };
  }

  private async view(
    manager: EntityManager,
    work: Work,
    rule: NonNullable<Policy['selfChecks']>,
  ): Promise<SelfChecksView> {
    return (await selfChecksOf(manager, work, { selfChecks: rule }))!;
  }
}
