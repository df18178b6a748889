import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type ClassRow, type Me, type ResultsView, type StudentAttempt, type SubmissionView } from '@sobrin/contracts';
import { type Plan } from '@sobrin/core/plan';
import {
  type Penalty,
  countedOnce,
  findingsFor,
  namesOf,
  requirementWords,
  sentenceOf,
  shownBy,
  shownNow,
} from '@sobrin/core/spec';
import { type Topology } from '@sobrin/core/topology';
import Papa from 'papaparse';
import { DataSource } from 'typeorm';
import { Assignment } from '../assignments/assignment.entity';
import { CoursesService } from '../courses/courses.service';
import { MembersService } from '../courses/members.service';
import { raised } from '../documents/formats';
import { LabsService } from '../labs/labs.service';
import { LabVersionsService } from '../labs/versions.service';
import { refuse } from '../platform/refusal';
import { Submission, Work } from '../submissions/submission.entity';
import { WorksService } from '../submissions/works.service';
import { CommentsService } from './comments.service';
import { DecisionsService } from './decisions.service';
import { isStale, isUnconfirmed } from './inputs';
import { askedBefore } from '../submissions/asked-before';
import { attemptsOf, countingAttempts, markingOf, penaltyOf, toBeJudged } from './counting-attempts';
import { newestCells, newestChecks, newestResults } from './newest-checks';

/** What came of the checks of a class, for those who teach it. */
@Injectable()
export class ResultsService {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly courses: CoursesService,
    private readonly members: MembersService,
    private readonly works: WorksService,
    private readonly labs: LabsService,
    private readonly versions: LabVersionsService,
    private readonly decisions: DecisionsService,
    private readonly comments: CommentsService,
  ) {}

  /** Everybody on the roster with the attempt that counts and its result. */
  async classRows(assignment: Assignment): Promise<ClassRow[]> {
    const { policy } = await this.labs.parts(assignment.lab);
    const attempts = await attemptsOf(this.db.manager, assignment);
    const marking = await markingOf(this.db.manager, assignment, policy);
    const counting = await countingAttempts(this.db.manager, assignment, policy, { all: attempts, marking });
    const wanted = toBeJudged(attempts, policy);
    const checks = await newestChecks(this.db.manager, [
      ...new Set([...counting.values(), ...wanted].map((submission) => submission.id)),
    ]);
    const open = wanted.filter(({ id }) => {
      const check = checks.get(id);
      return !check || isStale(check, assignment);
    });
    const works = await this.db.manager.find(Work, {
      where: { assignmentId: assignment.id },
      select: { studentId: true },
    });
    const begun = new Set(works.map(({ studentId }) => studentId));
    return (await this.members.students(assignment.courseId)).map(({ id, name, group, isInvited }): ClassRow => {
      const submission = counting.get(id);
      const check = submission && checks.get(submission.id);
      return {
        studentId: id,
        name,
        group,
        isInvited,
        hasBegun: begun.has(id),
        attempts: submission?.attempts ?? 0,
        counts: submission?.attempt ?? null,
        toCheck: open.filter(({ studentId }) => studentId === id).length,
        submissionId: submission?.id ?? null,
        handedInAt: submission?.handedInAt.toISOString() ?? null,
        late: submission?.late ?? false,
        points: check?.points ?? null,
        of: check?.outOf ?? null,
        penalty: penaltyOf(marking, submission, check),
        unjudged: check?.unjudged ?? 0,
        stale: check !== undefined && isStale(check, assignment),
        unconfirmed: check !== undefined && isUnconfirmed(check),
      };
    });
  }

  async view(me: Me, submission: Submission, assignment: Assignment): Promise<SubmissionView> {
    const name = (await this.members.namesIn(assignment.courseId, [submission.studentId])).get(submission.studentId)!;
    const check = (await newestResults(this.db.manager, [submission.id])).get(submission.id);
    const { policy } = await this.labs.parts(assignment.lab);
    const marking = await markingOf(this.db.manager, assignment, policy, submission.studentId);
    const { id, attempt, answers, late } = submission;
    return {
      id,
      labId: assignment.id,
      student: { id: submission.studentId, name },
      attempt,
      handedInAt: submission.handedInAt.toISOString(),
      late,
      ...documentsOf(submission),
      answers,
      attachments: await this.works.attachmentsOf(submission),
      attempts: await this.db.manager.find(Submission, {
        where: { assignmentId: assignment.id, studentId: submission.studentId },
        select: { id: true, attempt: true, late: true },
        order: { attempt: 'ASC' },
      }),
      result: check ? await this.decisions.applied(check) : null,
      decisions: await this.decisions.list(submission, assignment, check),
      pins: await this.decisions.pinViews(submission.id),
      comments: await this.comments.list(me, submission.id),
      asked: await askedBefore(this.db.manager, submission),
      penalty: penaltyOf(marking, submission, check),
      checkedAt: check?.madeAt.toISOString() ?? null,
      stale: check !== undefined && isStale(check, assignment),
      differs: check?.differs ?? [],
    };
  }

  /** An attempt as its student sees it. The clock is passed in, so that what is shown after the due date can be tested. */
  async attempt(me: Me, assignment: Assignment, id: string, now: Date): Promise<StudentAttempt> {
    const submission = await this.db.manager.findOneBy(Submission, {
      id,
      assignmentId: assignment.id,
      studentId: me.id,
    });
    if (!submission) throw refuse.missing('attempt');
    const { policy } = await this.labs.parts(assignment.lab);
    const marking = await markingOf(this.db.manager, assignment, policy, me.id);
    const what = shownNow(policy, assignment.dueAt, now);
    const check = (await newestResults(this.db.manager, [id])).get(id);
    const result = check && what !== 'nothing' && (await this.decisions.applied(check));
    const made = await this.db.manager.countBy(Submission, { assignmentId: assignment.id, studentId: me.id });
    const isOver = assignment.dueAt !== null && now > assignment.dueAt && policy.late !== 'accepted';
    const mayCorrect = !isOver && (policy.attempts === undefined || made < policy.attempts);
    // Less than findings tells no more than that there was something.
    const once = result
      ? countedOnce(result, what === 'findings' ? shownBy(policy).strength : 'that', mayCorrect)
      : undefined;
    return {
      id,
      attempt: submission.attempt,
      handedInAt: submission.handedInAt.toISOString(),
      late: submission.late,
      ...documentsOf(submission),
      answers: submission.answers,
      attachments: await this.works.attachmentsOf(submission),
      isChecked: check !== undefined,
      shown: shownBy(policy),
      result:
        check && result
          ? {
              points: check.points,
              of: check.outOf,
              penalty: penaltyOf(marking, submission, check),
              ...(result.hurdlesMissed && { isPassed: !result.hurdlesMissed.length }),
              ...(what !== 'points' && {
                sections: result.sections.map(({ title, points, of }) => ({ title, points, of })),
              }),
              ...(what === 'findings' && { findings: findingsFor(result, shownBy(policy).strength) }),
              ...(once && { once }),
            }
          : null,
      comments: result ? await this.comments.forStudent(id, result, what === 'findings') : [],
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
    const { policy } = await this.labs.parts(assignment.lab);
    const marking = await markingOf(this.db.manager, assignment, policy);
    const counting = await countingAttempts(this.db.manager, assignment, policy, { marking });
    const checks = await newestCells(
      this.db.manager,
      [...counting.values()].map((submission) => submission.id),
    );
    const rows = (await this.members.students(assignment.courseId)).map(({ id, name, group }) => {
      const submission = counting.get(id);
      const check = submission && checks.get(submission.id);
      const cells = check && check.versionHash === assignment.versionHash ? check.cells : [];
      return {
        studentId: id,
        submissionId: submission?.id ?? null,
        name,
        group,
        points: check?.points ?? null,
        of: check?.outOf ?? null,
        penalty: penaltyOf(marking, submission, check),
        version: check?.versionHash ? (numbers.get(check.versionHash) ?? null) : null,
        stale: check !== undefined && isStale(check, assignment),
        cells,
      };
    });
    return {
      requirements,
      of: (file?.spec.sections ?? [])
        .flatMap((section) => section.requirements)
        .reduce((sum, requirement) => sum + (requirement.bonus || requirement.deduction ? 0 : requirement.points), 0),
      rows,
    };
  }

  /**
   * The results as CSV (RFC 4180): a line a student with the sign-in name and group where there are any, the attempt and when
   * it was handed in on the course's clocks, the version of the lab that judged, a column a requirement, the mark of what that
   * version gave, and what counts where hints or lateness take something off.
   */
  async csv(assignment: Assignment): Promise<string> {
    const { requirements, of, rows } = await this.results(assignment);
    const { timeZone } = await this.courses.byId(assignment.courseId);
    const logins = new Map((await this.members.students(assignment.courseId)).map(({ id, login }) => [id, login]));
    const { policy } = await this.labs.parts(assignment.lab);
    const attempts = await countingAttempts(this.db.manager, assignment, policy);
    const onClocks = (date: Date): string =>
      // As spreadsheets read it: 2026-12-14 18:00.
      new Intl.DateTimeFormat('sv-SE', { dateStyle: 'short', timeStyle: 'short', timeZone }).format(date);
    const hasGroups = rows.some(({ group }) => group);
    const [isHinted, isLate] = [rows.some(({ penalty }) => penalty?.hints), rows.some(({ penalty }) => penalty?.late)];
    const header = [
      'Student',
      'Sign-in name',
      ...(hasGroups ? ['Group'] : []),
      'Attempt',
      `Handed in (${timeZone})`,
      'Version',
      ...requirements.map((requirement) => requirement.id),
      'Points',
      'Of',
      ...(isHinted ? ['Off for hints'] : []),
      ...(isLate ? ['Off for lateness'] : []),
      ...(isHinted || isLate ? ['Counts'] : []),
    ];
    const lines = rows.map((row) => [
      row.name,
      logins.get(row.studentId) ?? '',
      ...(hasGroups ? [row.group] : []),
      attempts.get(row.studentId)?.attempt ?? '',
      attempts.has(row.studentId) ? onClocks(attempts.get(row.studentId)!.handedInAt) : '',
      row.version ?? '',
      ...requirements.map((requirement) => row.cells.find((cell) => cell.id === requirement.id)?.points ?? ''),
      row.points ?? '',
      row.of ?? of,
      ...(isHinted ? [row.penalty?.hints?.points ?? 0] : []),
      ...(isLate ? [row.penalty?.late?.points ?? 0] : []),
      ...(isHinted || isLate ? [counted(row)] : []),
    ]);
    return Papa.unparse([header, ...lines], { escapeFormulae: true, newline: '\r\n' });
  }
}

/** What counts of the points that were won; empty where nothing was judged. */
const counted = ({ points, penalty }: { points: number | null; penalty: Penalty | null }): number | '' =>
  points === null ? '' : Math.round((points - (penalty?.points ?? 0)) * 100) / 100;

/** What was handed in, in the formats of today. */
const documentsOf = ({ formats, topology, plan }: Submission): { topology: Topology; plan: Plan | null } => ({
  topology: raised('topology', formats.topology, topology) as Topology,
  plan: plan && (raised('plan', formats.plan, plan) as Plan),
});
