import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type ClassRow, type ResultsView, type SubmissionView } from '@sobrin/contracts';
import { type Plan } from '@sobrin/core/plan';
import { namesOf, requirementWords, sentenceOf } from '@sobrin/core/spec';
import { type Topology } from '@sobrin/core/topology';
import Papa from 'papaparse';
import { DataSource } from 'typeorm';
import { Assignment } from '../assignments/assignment.entity';
import { MembersService } from '../courses/members.service';
import { raised } from '../documents/formats';
import { LabVersionsService } from '../labs/versions.service';
import { Submission } from '../submissions/submission.entity';
import { WorksService } from '../submissions/works.service';
import { isStale, isUnconfirmed } from './inputs';
import { newestAttempts } from './newest-attempts';
import { newestCells, newestChecks, newestResults } from './newest-checks';

/** What came of the checks of a class, for those who teach it. */
@Injectable()
export class ResultsService {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly members: MembersService,
    private readonly works: WorksService,
    private readonly versions: LabVersionsService,
  ) {}

  /** Everybody on the roster with the newest attempt and its result. */
  async classRows(assignment: Assignment): Promise<ClassRow[]> {
    const newest = new Map(
      (await newestAttempts(this.db.manager, assignment)).map((submission) => [submission.studentId, submission]),
    );
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
    const newest = new Map(
      (await newestAttempts(this.db.manager, assignment)).map((submission) => [submission.studentId, submission]),
    );
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
