import { Injectable, type OnApplicationBootstrap, type OnModuleInit } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type CheckProgress, type Me } from '@sobrin/contracts';
import { type CheckResult, type Pins } from '@sobrin/core/spec';
import { CORE_VERSION } from '@sobrin/core/version';
import { randomUUID } from 'node:crypto';
import { DataSource, type EntityManager, In } from 'typeorm';
import { Assignment } from '../assignments/assignment.entity';
import { MembersService } from '../courses/members.service';
import { type CheckJob, JobsService } from '../jobs/jobs.service';
import { WorkerService } from '../jobs/worker.service';
import { LabsService } from '../labs/labs.service';
import { LabVersionsService } from '../labs/versions.service';
import { config } from '../platform/config';
import { refuse } from '../platform/refusal';
import { type CheckWish } from '../platform/thread';
import { ThreadsService } from '../platform/threads.service';
import { Submission } from '../submissions/submission.entity';
import { CheckRecord, type MadeResult, cellsOf, openIn } from './check.entity';
import { DecisionsService } from './decisions.service';
import { differencesOf, inputsOf, isStale } from './inputs';
import { attemptsOf, toBeJudged } from './counting-attempts';
import { newestCells, newestChecks } from './newest-checks';

/** Checks are made here only: a student's browser never gets spec or reference. */
@Injectable()
export class ChecksService implements OnModuleInit, OnApplicationBootstrap {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly members: MembersService,
    private readonly threads: ThreadsService,
    private readonly versions: LabVersionsService,
    private readonly jobs: JobsService,
    private readonly worker: WorkerService,
    private readonly decisions: DecisionsService,
    private readonly labs: LabsService,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    if (config.works) await this.askForConfirmation();
  }

  onModuleInit(): void {
    this.worker.handle('check', (job) => this.keep(job));
    this.worker.handle('confirm', (job) => this.confirm(job));
  }

  /** Checks one submission by the version of the lab that judges now; ends when that is done. */
  async check(me: Me, assignment: Assignment, submission: Submission): Promise<void> {
    if (assignment.versionHash === null) throw refuse.state('The lab is not released yet: there is nothing to check.');
    // Somebody waits for this one.
    const ids = await this.ask(me, assignment, [submission.id], 10);
    const [sentence] = (await this.jobs.ended(ids)).values();
    if (sentence !== undefined) throw refuse.tooMuch(sentence);
  }

  private ask(me: Me, assignment: Assignment, submissions: readonly string[], priority = 0): Promise<string[]> {
    const version = assignment.versionHash;
    if (version === null) return Promise.resolve([]);
    return this.jobs.ask(
      'check',
      submissions.map((submission) => ({
        key: `${submission} ${version}`,
        data: { assignment: assignment.id, submission, version, by: me.id },
        priority,
      })),
    );
  }

  /** All that a result of a submission by a version is made from; null where the submission is gone with its course. */
  async wish(submission: string, version: string): Promise<CheckWish | null> {
    const pins = await this.decisions.pinsOf(submission);
    const [found] = await this.db.query<Pick<CheckWish, 'topology' | 'plan' | 'answers' | 'formats'>[]>(
      'SELECT topology::text, plan::text, answers::text, formats FROM submission WHERE id = $1',
      [submission],
    );
    return found ? { version, lab: await this.versions.text(version), ...found, pins } : null;
  }

  /** Makes the result of a submission by a version; null where the submission is gone with its course. */
  private async judge(submission: string, version: string): Promise<(MadeResult & { pins: Pins }) | null> {
    const wish = await this.wish(submission, version);
    return wish && { ...(await this.threads.run('check', wish)), pins: wish.pins };
  }

  /** What a worker does of the queue `check`: one that is there already is not kept twice. */
  private async keep({ submission, version }: CheckJob): Promise<void> {
    const made = await this.judge(submission, version);
    if (!made) return;
    const inputs = inputsOf({ submission: made.submissionHash, version, core: made.coreVersion, pins: made.pins });
    await this.db.transaction(async (manager) => {
      await manager.query('SELECT 1 FROM submission WHERE id = $1 FOR UPDATE', [submission]);
      const shown = await this.shown(submission, version, made, manager);
      await manager.query(
        `INSERT INTO check_result (id, submission_id, made_at, core_version, version_hash, inputs, points, out_of, cells, unjudged, result)
          SELECT $1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11 WHERE NOT EXISTS (
            SELECT 1 FROM (SELECT inputs, differs FROM check_result WHERE submission_id = $2 ORDER BY made_at DESC LIMIT 1) newest
            WHERE newest.inputs = $6 AND newest.differs = '[]')`,
        [
          randomUUID(),
          submission,
          new Date(),
          made.coreVersion,
          version,
          inputs,
          shown.points,
          shown.of,
          JSON.stringify(shown.cells),
          openIn(shown.cells),
          made.text,
        ],
      );
    });
  }

  /** What tables show of a result: with what persons decided of its submission. */
  private async shown(
    submissionId: string,
    versionHash: string,
    made: MadeResult,
    manager: EntityManager = this.db.manager,
  ): Promise<Pick<MadeResult, 'points' | 'of' | 'cells'>> {
    if (!(await this.decisions.holding(manager, submissionId)).length) return made;
    const result = JSON.parse(made.text) as CheckResult;
    const shown = await this.decisions.applied({ submissionId, versionHash, result }, manager);
    return { points: shown.points, of: shown.of, cells: cellsOf(shown) };
  }

  /** What a worker does of the queue `confirm`: the newest result, which another core made, is made again and compared. */
  private async confirm({ submission }: CheckJob): Promise<void> {
    const check = (await newestCells(this.db.manager, [submission])).get(submission);
    const made = check?.versionHash && (await this.judge(submission, check.versionHash));
    if (!made) return;
    const { cells } = await this.shown(submission, check.versionHash!, made);
    await this.db.manager.update(
      CheckRecord,
      { id: check.id },
      { confirmedBy: made.coreVersion, differs: differencesOf(check.cells, cells) },
    );
  }

  /** Asks that the newest results that another core made, and that this one did not confirm, are made again; how many. */
  async askForConfirmation(): Promise<number> {
    const rows = await this.db.query<{ submission: string; assignment: string; version: string }[]>(
      `SELECT submission.id AS submission, submission.assignment_id AS assignment, newest.version_hash AS version
        FROM (SELECT DISTINCT ON (submission_id) submission_id, version_hash, core_version, confirmed_by
                FROM check_result ORDER BY submission_id, made_at DESC) newest
        JOIN submission ON submission.id = newest.submission_id
        WHERE newest.version_hash IS NOT NULL AND newest.core_version <> $1 AND newest.confirmed_by IS DISTINCT FROM $1`,
      [CORE_VERSION],
    );
    await this.jobs.ask(
      'confirm',
      rows.map(({ submission, assignment, version }) => ({
        key: `${submission} ${CORE_VERSION}`,
        data: { assignment, submission, version, by: null },
      })),
    );
    return rows.length;
  }

  /** Asks for checks of everybody's attempts that must be judged and that have no result by the version that judges now; the ids of the jobs. */
  async askAll(me: Me, assignment: Assignment): Promise<string[]> {
    const { policy } = await this.labs.parts(assignment.lab);
    const wanted = toBeJudged(await attemptsOf(this.db.manager, assignment), policy);
    const checks = await newestChecks(
      this.db.manager,
      wanted.map((submission) => submission.id),
    );
    const open = wanted.filter(({ id }) => {
      const check = checks.get(id);
      return !check || isStale(check, assignment);
    });
    return this.ask(
      me,
      assignment,
      open.map((submission) => submission.id),
    );
  }

  /** The same, and ends when they are done; returns how many were checked. One that cannot be judged stays to be checked, and the others go on. */
  async checkAll(me: Me, assignment: Assignment): Promise<number> {
    const ids = await this.askAll(me, assignment);
    return ids.length - (await this.jobs.ended(ids)).size;
  }

  /** How far checking is, or looking for mistakes, and what came to nothing with the version that judges now. */
  async progress(assignment: Assignment, queue: 'check' | 'diagnose' = 'check'): Promise<CheckProgress> {
    const progress = await this.jobs.progress(assignment.id, queue);
    const failed = (await this.jobs.failed(assignment.id, queue)).filter(
      (job) => job.version === assignment.versionHash,
    );
    const people = await this.db.manager.find(Submission, {
      where: { id: In(failed.map((job) => job.submission)) },
      select: { id: true, studentId: true },
    });
    const names = await this.members.namesIn(
      assignment.courseId,
      people.map(({ studentId }) => studentId),
    );
    return {
      ...progress,
      failed: failed.map(({ submission, sentence }) => ({
        submissionId: submission,
        name: names.get(people.find(({ id }) => id === submission)?.studentId ?? '') ?? '',
        sentence,
      })),
    };
  }

  async cancel(assignment: Assignment): Promise<void> {
    await this.jobs.cancel(assignment.id);
  }
}
