import { Injectable, Logger } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type ClassRow, type Me, type ResultsView, type SubmissionView } from '@sobrin/contracts';
import { type CheckResult, type LabFile, namesOf, requirementWords, sentenceOf, specHash } from '@sobrin/core/spec';
import { randomUUID } from 'node:crypto';
import Papa from 'papaparse';
import { DataSource } from 'typeorm';
import { Account } from '../accounts/account.entity';
import { CoursesService } from '../courses/courses.service';
import { Lab } from '../labs/lab.entity';
import { LabsService } from '../labs/labs.service';
import { jsonb } from '../platform/jsonb';
import { refuse } from '../platform/refusal';
import { ThreadsService } from '../platform/threads.service';
import { Submission } from '../submissions/submission.entity';
import { WorksService } from '../submissions/works.service';
import { CheckRecord } from './check.entity';
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
  ) {}

  async submissionOf(me: Me, id: string): Promise<{ submission: Submission; lab: Lab }> {
    const submission = await this.db.manager.findOneBy(Submission, { id });
    if (!submission) throw refuse.missing('submission');
    return { submission, lab: await this.labs.taughtBy(me, submission.labId) };
  }

  /** Checks one submission against the lab as it is now, and keeps the result. */
  async check(lab: Lab, submission: Submission, file?: LabFile): Promise<CheckResult> {
    const { topology, plan } = submission;
    const result = await this.threads.run('check', {
      lab: file ?? (await this.labs.judging(lab)),
      topology,
      plan: plan ?? undefined,
    });
    await this.db.manager.insert(CheckRecord, {
      id: randomUUID(),
      submissionId: submission.id,
      madeAt: new Date(),
      coreVersion: result.coreVersion,
      specHash: result.specHash,
      submissionHash: result.submissionHash,
      points: result.points,
      outOf: result.of,
      result: jsonb(result),
    });
    return result;
  }

  /**
   * Checks the newest attempt of everybody who has no result of the lab as it is now; returns how many were checked. One
   * that cannot be judged stays to be checked, and the others go on.
   */
  async checkAll(lab: Lab): Promise<number> {
    const file = await this.labs.judging(lab);
    const newest = await this.newestOf(lab);
    const checks = await newestChecks(
      this.db.manager,
      newest.map((submission) => submission.id),
    );
    const hash = specHash(file);
    let count = 0;
    for (const { id } of newest) {
      if (checks.get(id)?.specHash === hash) continue;
      // One at a time: what a whole class handed in need not lie in memory at once.
      try {
        await this.check(lab, await this.db.manager.findOneByOrFail(Submission, { id }), file);
        count++;
      } catch (error) {
        this.logger.error(`Submission ${id} cannot be judged: ${String(error)}`);
      }
    }
    return count;
  }

  /** The newest attempt of each student, without what was handed in. */
  private async newestOf(
    lab: Lab,
  ): Promise<Pick<Submission, 'id' | 'studentId' | 'attempt' | 'handedInAt' | 'late'>[]> {
    return this.db.manager
      .createQueryBuilder(Submission, 'submission')
      .select(['id', 'studentId', 'attempt', 'handedInAt', 'late'].map((column) => `submission.${column}`))
      .distinctOn(['submission.studentId'])
      .where('submission.labId = :lab', { lab: lab.id })
      .orderBy('submission.studentId')
      .addOrderBy('submission.attempt', 'DESC')
      .getMany();
  }

  /** Everybody on the roster with the newest attempt and its result. */
  async classRows(lab: Lab): Promise<ClassRow[]> {
    const hash = specHash(await this.labs.judging(lab));
    const newest = new Map((await this.newestOf(lab)).map((submission) => [submission.studentId, submission]));
    const checks = await newestChecks(
      this.db.manager,
      [...newest.values()].map((submission) => submission.id),
    );
    const unjudged = await unjudgedOf(
      this.db.manager,
      [...checks.values()].map((check) => check.id),
    );
    return (await this.courses.roster(lab.courseId)).map(({ id, name }): ClassRow => {
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
        stale: check !== undefined && check.specHash !== hash,
      };
    });
  }

  async view(submission: Submission, lab: Lab): Promise<SubmissionView> {
    const student = await this.db.manager.findOneByOrFail(Account, { id: submission.studentId });
    const check = (await newestResults(this.db.manager, [submission.id])).get(submission.id);
    const { id, attempt, topology, plan, answers, late } = submission;
    return {
      id,
      labId: lab.id,
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
      stale: check !== undefined && check.specHash !== specHash(await this.labs.judging(lab)),
    };
  }

  /** Students × requirements. Only results of the lab as it is now have cells. */
  async results(lab: Lab): Promise<ResultsView> {
    const file = await this.labs.judging(lab);
    const names = namesOf(file);
    const requirements = file.spec.sections.flatMap((section) =>
      section.requirements.map((requirement) => ({
        id: requirement.id,
        section: section.id,
        sectionTitle: section.title,
        sentence: sentenceOf(requirementWords(requirement, names)),
        of: requirement.points,
      })),
    );
    const newest = new Map((await this.newestOf(lab)).map((submission) => [submission.studentId, submission]));
    const checks = await newestResults(
      this.db.manager,
      [...newest.values()].map((submission) => submission.id),
    );
    const rows = (await this.courses.roster(lab.courseId)).map(({ id, name }) => {
      const submission = newest.get(id);
      const check = submission && checks.get(submission.id);
      return {
        studentId: id,
        submissionId: submission?.id ?? null,
        name,
        points: check?.points ?? null,
        cells:
          check?.result.requirements.map(({ id: requirement, points, of, verdict }) => ({
            id: requirement,
            points,
            of,
            verdict,
          })) ?? [],
      };
    });
    return {
      requirements,
      of: file.spec.sections
        .flatMap((section) => section.requirements)
        .reduce((sum, requirement) => sum + (requirement.bonus ? 0 : requirement.points), 0),
      rows,
    };
  }

  /** The results as CSV (RFC 4180): a line a student, a column a requirement, and the mark. */
  async csv(lab: Lab): Promise<string> {
    const { requirements, of, rows } = await this.results(lab);
    const header = ['Student', ...requirements.map((requirement) => requirement.id), 'Points', 'Of'];
    const lines = rows.map((row) => [
      row.name,
      ...requirements.map((requirement) => row.cells.find((cell) => cell.id === requirement.id)?.points ?? ''),
      row.points ?? '',
      of,
    ]);
    return Papa.unparse([header, ...lines], { escapeFormulae: true, newline: '\r\n' });
  }
}
