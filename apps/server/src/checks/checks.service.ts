import { Injectable, Logger } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type ClassRow, type Me, type ResultsView, type SubmissionView } from '@sobrin/contracts';
import { namesOf, requirementWords, sentenceOf } from '@sobrin/core/spec';
import { randomUUID } from 'node:crypto';
import Papa from 'papaparse';
import { DataSource } from 'typeorm';
import { Account } from '../accounts/account.entity';
import { Assignment } from '../assignments/assignment.entity';
import { CoursesService } from '../courses/courses.service';
import { LabsService } from '../labs/labs.service';
import { LabVersionsService } from '../labs/versions.service';
import { jsonb } from '../platform/jsonb';
import { refuse } from '../platform/refusal';
import { ThreadsService } from '../platform/threads.service';
import { Submission } from '../submissions/submission.entity';
import { WorksService } from '../submissions/works.service';
import { CheckRecord } from './check.entity';
import { inputsOf, isStale } from './inputs';
import { newestChecks, newestResults, unjudgedOf } from './newest-checks';

/** Checks are made here only: a student's browser never gets spec or reference. */
@Injectable()
export class ChecksService {
  private readonly logger = new Logger('checks');

  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly labs: LabsService,
    private readonly courses: CoursesService,
    private readonly works: WorksService,
    private readonly threads: ThreadsService,
    private readonly versions: LabVersionsService,
  ) {}

  async submissionOf(me: Me, id: string): Promise<{ submission: Submission; assignment: Assignment }> {
    const submission = await this.db.manager.findOneBy(Submission, { id });
    if (!submission) throw refuse.missing('submission');
    return { submission, assignment: await this.labs.taughtBy(me, submission.assignmentId) };
  }

  /** Checks one submission by the version of the lab that judges now, and keeps the result; one that is there already is not kept twice. */
  async check(assignment: Assignment, submission: Submission): Promise<void> {
    const version = assignment.versionHash;
    if (version === null) throw refuse.state('The lab is not released yet: there is nothing to check.');
    const { topology, plan } = submission;
    const lab = await this.versions.read(version);
    const result = await this.threads.run('check', { lab, topology, plan: plan ?? undefined });
    const inputs = inputsOf({ submission: result.submissionHash, version, core: result.coreVersion });
    await this.db.transaction(async (manager) => {
      await manager.findOne(Submission, {
        where: { id: submission.id },
        select: { id: true },
        lock: { mode: 'pessimistic_write' },
      });
      const newest = (await newestChecks(manager, [submission.id])).get(submission.id);
      if (newest?.inputs === inputs && !newest.differs.length) return;
      await manager.insert(CheckRecord, {
        id: randomUUID(),
        submissionId: submission.id,
        madeAt: new Date(),
        coreVersion: result.coreVersion,
        versionHash: version,
        inputs,
        confirmedBy: null,
        differs: [],
        points: result.points,
        outOf: result.of,
        result: jsonb(result),
      });
    });
  }

  /**
   * Checks the newest attempt of everybody who has no result by the version that judges now; returns how many were
   * checked. One that cannot be judged stays to be checked, and the others go on.
   */
  async checkAll(assignment: Assignment): Promise<number> {
    const newest = await this.newestOf(assignment);
    const checks = await newestChecks(
      this.db.manager,
      newest.map((submission) => submission.id),
    );
    let count = 0;
    for (const { id } of newest) {
      const check = checks.get(id);
      if (check && !isStale(check, assignment)) continue;
      // One at a time: what a whole class handed in need not lie in memory at once.
      try {
        await this.check(assignment, await this.db.manager.findOneByOrFail(Submission, { id }));
        count++;
      } catch (error) {
        this.logger.error(`Submission ${id} cannot be judged: ${String(error)}`);
      }
    }
    return count;
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
    const unjudged = await unjudgedOf(
      this.db.manager,
      [...checks.values()].map((check) => check.id),
    );
    return (await this.courses.roster(assignment.courseId)).map(({ id, name }): ClassRow => {
      const submission = newest.get(id);
      const check = submission && checks.get(submission.id);
      return {
        studentId: id,
        name,
        attempts: submission?.attempt ?? 0,
        submissionId: submission?.id ?? null,
        handedInAt: submission?.handedInAt.toISOString() ?? null,
        late: submission?.late ?? false,
        points: check?.points ?? null,
        of: check?.outOf ?? null,
        unjudged: (check && unjudged.get(check.id)) ?? 0,
        stale: check !== undefined && isStale(check, assignment),
      };
    });
  }

  async view(submission: Submission, assignment: Assignment): Promise<SubmissionView> {
    const student = await this.db.manager.findOneByOrFail(Account, { id: submission.studentId });
    const check = (await newestResults(this.db.manager, [submission.id])).get(submission.id);
    const { id, attempt, topology, plan, answers, late } = submission;
    return {
      id,
      labId: assignment.id,
      student: { id: student.id, name: student.name },
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
    const checks = await newestResults(
      this.db.manager,
      [...newest.values()].map((submission) => submission.id),
    );
    const rows = (await this.courses.roster(assignment.courseId)).map(({ id, name }) => {
      const submission = newest.get(id);
      const check = submission && checks.get(submission.id);
      const cells = check && check.versionHash === assignment.versionHash ? check.result.requirements : [];
      return {
        studentId: id,
        submissionId: submission?.id ?? null,
        name,
        points: check?.points ?? null,
        of: check?.outOf ?? null,
        version: check?.versionHash ? (numbers.get(check.versionHash) ?? null) : null,
        stale: check !== undefined && isStale(check, assignment),
        cells: cells.map(({ id: requirement, points, of, verdict }) => ({ id: requirement, points, of, verdict })),
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

  /** The results as CSV (RFC 4180): a line a student, the version of the lab that judged, a column a requirement, and the mark of what that version gave. */
  async csv(assignment: Assignment): Promise<string> {
    const { requirements, of, rows } = await this.results(assignment);
    const header = ['Student', 'Version', ...requirements.map((requirement) => requirement.id), 'Points', 'Of'];
    const lines = rows.map((row) => [
      row.name,
      row.version ?? '',
      ...requirements.map((requirement) => row.cells.find((cell) => cell.id === requirement.id)?.points ?? ''),
      row.points ?? '',
      row.of ?? of,
    ]);
    return Papa.unparse([header, ...lines], { escapeFormulae: true, newline: '\r\n' });
  }
}
