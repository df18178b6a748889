import { Injectable, type OnApplicationBootstrap, type OnModuleInit } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type CheckProgress, type ClassRow, type Me, type ResultsView, type SubmissionView } from '@sobrin/contracts';
import { type Plan } from '@sobrin/core/plan';
import { namesOf, requirementWords, sentenceOf } from '@sobrin/core/spec';
import { type Topology } from '@sobrin/core/topology';
import { CORE_VERSION } from '@sobrin/core/version';
import { randomUUID } from 'node:crypto';
import Papa from 'papaparse';
import { DataSource, In } from 'typeorm';
import { Assignment } from '../assignments/assignment.entity';
import { MembersService } from '../courses/members.service';
import { type CheckJob, JobsService } from '../jobs/jobs.service';
import { WorkerService } from '../jobs/worker.service';
import { raised } from '../documents/formats';
import { LabVersionsService } from '../labs/versions.service';
import { config } from '../platform/config';
import { refuse } from '../platform/refusal';
import { type CheckWish } from '../platform/thread';
import { ThreadsService } from '../platform/threads.service';
import { Submission } from '../submissions/submission.entity';
import { WorksService } from '../submissions/works.service';
import { CheckRecord, type MadeResult } from './check.entity';
import { differencesOf, inputsOf, isStale, isUnconfirmed } from './inputs';
import { newestCells, newestChecks, newestResults } from './newest-checks';

/** Checks are made here only: a student's browser never gets spec or reference. */
@Injectable()
export class ChecksService implements OnModuleInit, OnApplicationBootstrap {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly members: MembersService,
    private readonly works: WorksService,
    private readonly threads: ThreadsService,
    private readonly versions: LabVersionsService,
    private readonly jobs: JobsService,
    private readonly worker: WorkerService,
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

  /** Makes the result of a submission by a version; null where the submission is gone with its course. */
  private async judge(submission: string, version: string): Promise<MadeResult | null> {
    const [found] = await this.db.query<Pick<CheckWish, 'topology' | 'plan' | 'formats'>[]>(
      'SELECT topology::text, plan::text, formats FROM submission WHERE id = $1',
      [submission],
    );
    if (!found) return null;
    return this.threads.run('check', { version, lab: await this.versions.text(version), ...found });
  }

  /** What a worker does of the queue `check`: one that is there already is not kept twice. */
  private async keep({ submission, version }: CheckJob): Promise<void> {
    const made = await this.judge(submission, version);
    if (!made) return;
    const inputs = inputsOf({ submission: made.submissionHash, version, core: made.coreVersion });
    await this.db.transaction(async (manager) => {
      await manager.query('SELECT 1 FROM submission WHERE id = $1 FOR UPDATE', [submission]);
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
          made.points,
          made.of,
          JSON.stringify(made.cells),
          made.cells.filter(({ verdict }) => verdict === 'unjudged').length,
          made.text,
        ],
      );
    });
  }

  /** What a worker does of the queue `confirm`: the newest result, which another core made, is made again and compared. */
  private async confirm({ submission }: CheckJob): Promise<void> {
    const check = (await newestCells(this.db.manager, [submission])).get(submission);
    const made = check?.versionHash && (await this.judge(submission, check.versionHash));
    if (!made) return;
    await this.db.manager.update(
      CheckRecord,
      { id: check.id },
      { confirmedBy: made.coreVersion, differs: differencesOf(check.cells, made.cells) },
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

  /** Asks for checks of everybody's newest attempt that has no result by the version that judges now; the ids of the jobs. */
  async askAll(me: Me, assignment: Assignment): Promise<string[]> {
    const newest = await this.newestOf(assignment);
    const checks = await newestChecks(
      this.db.manager,
      newest.map((submission) => submission.id),
    );
    const open = newest.filter(({ id }) => {
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

  /** How far checking is, and what could not be checked by the version that judges now. */
  async progress(assignment: Assignment): Promise<CheckProgress> {
    const progress = await this.jobs.progress(assignment.id);
    const failed = (await this.jobs.failed(assignment.id)).filter((job) => job.version === assignment.versionHash);
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

  /** The newest attempt of each student, without what was handed in. */
  private async newestOf({
    id,
  }: Assignment): Promise<Pick<Submission, 'id' | 'studentId' | 'attempt' | 'handedInAt' | 'late'>[]> {
    return this.db.manager
      .createQueryBuilder(Submission, 'submission')
      .select(['id', 'studentId', 'attempt', 'handedInAt', 'late'].map((column) => `submission.${column}`))
      .distinctOn(['submission.studentId'])
      .where('submission.assignmentId = :id', { id })
      .orderBy('submission.studentId')
      .addOrderBy('submission.attempt', 'DESC')
      .getMany();
  }

  /** Everybody on the roster with the newest attempt and its result. */
  async classRows(assignment: Assignment): Promise<ClassRow[]> {
    const newest = new Map((await this.newestOf(assignment)).map((submission) => [submission.studentId, submission]));
    const checks = await newestChecks(
      this.db.manager,
      [...newest.values()].map((submission) => submission.id),
    );
    return (await this.members.students(assignment.courseId)).map(({ id, name, group, isInvited }): ClassRow => {
      const submission = newest.get(id);
      const check = submission && checks.get(submission.id);
      return {
        studentId: id,
        name,
        group,
        isInvited,
        attempts: submission?.attempt ?? 0,
        submissionId: submission?.id ?? null,
        handedInAt: submission?.handedInAt.toISOString() ?? null,
        late: submission?.late ?? false,
        points: check?.points ?? null,
        of: check?.outOf ?? null,
        unjudged: check?.unjudged ?? 0,
        stale: check !== undefined && isStale(check, assignment),
        unconfirmed: check !== undefined && isUnconfirmed(check),
      };
    });
  }

  async view(submission: Submission, assignment: Assignment): Promise<SubmissionView> {
    const name = (await this.members.namesIn(assignment.courseId, [submission.studentId])).get(submission.studentId)!;
    const check = (await newestResults(this.db.manager, [submission.id])).get(submission.id);
    const { id, attempt, formats, answers, late } = submission;
    const topology = raised('topology', formats.topology, submission.topology) as Topology;
    const plan = submission.plan && (raised('plan', formats.plan, submission.plan) as Plan);
    return {
      id,
      labId: assignment.id,
      student: { id: submission.studentId, name },
      attempt,
      handedInAt: submission.handedInAt.toISOString(),
      late,
      topology,
      plan,
      answers,
      attachments: await this.works.attachmentsOf(submission),
      result: check?.result ?? null,
      checkedAt: check?.madeAt.toISOString() ?? null,
      stale: check !== undefined && isStale(check, assignment),
      differs: check?.differs ?? [],
    };
  }

  /**
   * Students × requirements of the version that judges now. Who was judged by another one has no cells, and the mark is of
   * what that one gave.
   */
  async results(assignment: Assignment): Promise<ResultsView> {
    const numbers = await this.versions.numbersOf(assignment.labId);
    const file = assignment.versionHash === null ? null : await this.versions.read(assignment.versionHash);
    const names = file && namesOf(file);
    const requirements = (file?.spec.sections ?? []).flatMap((section) =>
      section.requirements.map((requirement) => ({
        id: requirement.id,
        section: section.id,
        sectionTitle: section.title,
        sentence: sentenceOf(requirementWords(requirement, names!)),
        of: requirement.points,
      })),
    );
    const newest = new Map((await this.newestOf(assignment)).map((submission) => [submission.studentId, submission]));
    const checks = await newestCells(
      this.db.manager,
      [...newest.values()].map((submission) => submission.id),
    );
    const rows = (await this.members.students(assignment.courseId)).map(({ id, name, group }) => {
      const submission = newest.get(id);
      const check = submission && checks.get(submission.id);
      const cells = check && check.versionHash === assignment.versionHash ? check.cells : [];
      return {
        studentId: id,
        submissionId: submission?.id ?? null,
        name,
        group,
        points: check?.points ?? null,
        of: check?.outOf ?? null,
        version: check?.versionHash ? (numbers.get(check.versionHash) ?? null) : null,
        stale: check !== undefined && isStale(check, assignment),
        cells,
      };
    });
    return {
      requirements,
      of: (file?.spec.sections ?? [])
        .flatMap((section) => section.requirements)
        .reduce((sum, requirement) => sum + (requirement.bonus ? 0 : requirement.points), 0),
      rows,
    };
  }

  /** The results as CSV (RFC 4180): a line a student, their group where there are any, the version of the lab that judged, a column a requirement, and the mark of what that version gave. */
  async csv(assignment: Assignment): Promise<string> {
    const { requirements, of, rows } = await this.results(assignment);
    const hasGroups = rows.some(({ group }) => group);
    const header = [
      'Student',
      ...(hasGroups ? ['Group'] : []),
      'Version',
      ...requirements.map((requirement) => requirement.id),
      'Points',
      'Of',
    ];
    const lines = rows.map((row) => [
      row.name,
      ...(hasGroups ? [row.group] : []),
      row.version ?? '',
      ...requirements.map((requirement) => row.cells.find((cell) => cell.id === requirement.id)?.points ?? ''),
      row.points ?? '',
      row.of ?? of,
    ]);
    return Papa.unparse([header, ...lines], { escapeFormulae: true, newline: '\r\n' });
  }
}
