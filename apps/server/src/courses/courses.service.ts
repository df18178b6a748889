import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import {
  type ChangeCourseRequest,
  type CourseRole,
  type CourseSummary,
  type CreateCourseRequest,
  type LabSummary,
  type Me,
} from '@sobrin/contracts';
import { type Policy, shownNow } from '@sobrin/core/spec';
import { randomUUID } from 'node:crypto';
import { DataSource, type EntityManager, In, IsNull, Not } from 'typeorm';
import { Assignment } from '../assignments/assignment.entity';
import { type Marking, countingOf, markingsOf, penaltyOf } from '../checks/counting-attempts';
import { type CheckFacts, newestChecks } from '../checks/newest-checks';
import { StoredDocument } from '../documents/document.entity';
import { Submission, Work } from '../submissions/submission.entity';
import { Course, Membership } from './course.entity';

@Injectable()
export class CoursesService {
  constructor(@InjectDataSource() private readonly db: DataSource) {}

  /** The courses of a person with their labs: as they were put in order, and what came since on top. */
  async list(me: Me, now = new Date()): Promise<CourseSummary[]> {
    const mine = await this.db.manager.findBy(Membership, { accountId: me.id, acceptedAt: Not(IsNull()) });
    const roles = new Map(mine.map(({ courseId, role }) => [courseId, role]));
    const ids = In([...roles.keys()]);
    const places = new Map(mine.map(({ courseId, position }) => [courseId, position ?? -1]));
    const courses = (await this.db.manager.find(Course, { where: { id: ids }, order: { createdAt: 'DESC' } })).sort(
      (a, b) => places.get(a.id)! - places.get(b.id)!,
    );
    const assignments = (
      await this.db.manager.find(Assignment, {
        where: { courseId: ids },
        order: { position: { direction: 'ASC', nulls: 'LAST' }, createdAt: 'ASC' },
      })
    ).filter(({ courseId, releasedAt }) => releasedAt !== null || roles.get(courseId) !== 'student');
    const students = await this.db.manager.findBy(Membership, { courseId: ids, role: 'student' });
    const [attended, taught] = [true, false].map((attends) =>
      assignments.flatMap(({ id, courseId }) => ((roles.get(courseId) === 'student') === attends ? id : [])),
    );
    const submissions = await this.db.manager.find(Submission, {
      where: [{ assignmentId: In(taught!) }, { assignmentId: In(attended!), studentId: me.id }],
      select: { id: true, assignmentId: true, studentId: true, attempt: true, handedInAt: true, late: true },
    });
    const checks = await newestChecks(
      this.db.manager,
      submissions.map((submission) => submission.id),
    );
    const pictures = await this.pictures(me, assignments, roles);
    const policies = await this.policies(assignments);
    const isStudent = [...roles.values()].every((role) => role === 'student');
    const markings = await markingsOf(
      this.db.manager,
      assignments.map(({ id, dueAt, lab }) => ({ id, dueAt, policy: policies.get(lab.policyId) ?? {} })),
      isStudent ? me.id : null,
    );
    return courses.map((course) => {
      const role = roles.get(course.id)!;
      return {
        ...termsOf(course),
        role,
        students: students.filter((student) => student.courseId === course.id).length,
        labs: assignments
          .filter((assignment) => assignment.courseId === course.id)
          .map((assignment) =>
            summary(
              assignment,
              submissions.filter((submission) => submission.assignmentId === assignment.id),
              checks,
              markings.get(assignment.id)!,
              role === 'student' ? me.id : null,
              pictures.get(assignment.id) ?? null,
              now,
            ),
          ),
      };
    });
  }

  /** A course whose instructor is who begins it. */
  async create(me: Me, { title, term = '', timeZone = 'UTC' }: CreateCourseRequest): Promise<CourseSummary> {
    const course = { id: randomUUID(), title, term, timeZone, createdAt: new Date() };
    await this.db.transaction(async (manager) => {
      await manager.insert(Course, course);
      await manager.insert(Membership, {
        courseId: course.id,
        accountId: me.id,
        role: 'instructor',
        name: me.name,
        group: '',
        acceptedAt: course.createdAt,
      });
    });
    return { ...termsOf(course), role: 'instructor', students: 0, labs: [] };
  }

  async change(course: Course, change: ChangeCourseRequest): Promise<void> {
    const { title = course.title, term = course.term, timeZone = course.timeZone } = change;
    await this.db.manager.update(Course, { id: course.id }, { title, term, timeZone });
  }

  /** By assignment, the drawing that stands for a lab: the reference for who teaches, the own one for a student. */
  private async pictures(
    me: Me,
    assignments: readonly Assignment[],
    roles: ReadonlyMap<string, CourseRole>,
  ): Promise<ReadonlyMap<string, NonNullable<LabSummary['picture']>>> {
    const works = await this.db.manager.find(Work, {
      where: { studentId: me.id, assignmentId: In(assignments.map(({ id }) => id)) },
      select: { assignmentId: true, documentId: true },
    });
    const own = new Map(works.map(({ assignmentId, documentId }) => [assignmentId, documentId]));
    const drawings = assignments.flatMap(({ id, courseId, lab }): [string, string][] => {
      const role = roles.get(courseId);
      const document = role === 'instructor' ? lab.referenceId : role === 'student' ? own.get(id) : undefined;
      return document === undefined ? [] : [[id, document]];
    });
    const rows = await this.db.manager.query<{ id: string; revision: number }[]>(
      `SELECT id, revision FROM document WHERE id = ANY($1) AND content->'devices' <> '{}'::jsonb`,
      [drawings.map(([, document]) => document)],
    );
    const drawn = new Map(rows.map(({ id, revision }) => [id, revision]));
    return new Map(
      drawings.flatMap(([id, document]) => {
        const revision = drawn.get(document);
        return revision === undefined ? [] : [[id, { document, revision }] as const];
      }),
    );
  }

  /** The labs' rules: what students see, and which attempt counts. */
  private async policies(assignments: readonly Assignment[]): Promise<ReadonlyMap<string, Policy>> {
    const found = await this.db.manager.findBy(StoredDocument, {
      id: In(assignments.map(({ lab }) => lab.policyId)),
    });
    return new Map(found.map(({ id, content }) => [id, content as Policy]));
  }

  /** Puts a person's courses in order; those that are not named come first. */
  async order(me: Me, ids: readonly string[]): Promise<void> {
    await this.db.transaction(async (manager) => {
      await manager.update(Membership, { accountId: me.id }, { position: null });
      for (const [position, courseId] of ids.entries())
        await manager.update(Membership, { accountId: me.id, courseId }, { position });
    });
  }

  /** Puts the labs of a course in order; those that are not named come last. */
  async orderLabs({ id: courseId }: Course, ids: readonly string[]): Promise<void> {
    await this.db.transaction(async (manager) => {
      await manager.findOneOrFail(Course, { where: { id: courseId }, lock: { mode: 'pessimistic_write' } });
      await manager.update(Assignment, { courseId }, { position: null });
      for (const [position, id] of ids.entries()) await manager.update(Assignment, { courseId, id }, { position });
    });
  }

  async byId(id: string, manager: EntityManager = this.db.manager): Promise<Course> {
    return manager.findOneByOrFail(Course, { id });
  }
}

const termsOf = ({ id, title, term, timeZone }: Course): Pick<CourseSummary, 'id' | 'title' | 'term' | 'timeZone'> => ({
  id,
  title,
  term,
  timeZone,
});

function summary(
  assignment: Assignment,
  submissions: readonly Submission[],
  checks: ReadonlyMap<string, CheckFacts>,
  marking: Marking,
  /** The student who asks; null for staff. */
  student: string | null,
  picture: LabSummary['picture'],
  now: Date,
): LabSummary {
  const attempts = new Map<string, Submission[]>();
  for (const submission of submissions)
    attempts.set(submission.studentId, [...(attempts.get(submission.studentId) ?? []), submission]);
  const counting = new Map(
    [...attempts].map(([id, own]) => {
      const inOrder = own.sort((one, other) => one.attempt - other.attempt);
      return [id, countingOf(inOrder, checks, marking)!];
    }),
  );
  const own = student === null ? undefined : counting.get(student);
  const isShown = student !== null && shownNow(marking.policy, assignment.dueAt, now) !== 'nothing';
  const check = own && isShown ? checks.get(own.id) : undefined;
  return {
    id: assignment.id,
    title: assignment.lab.title,
    picture,
    isReleased: assignment.releasedAt !== null,
    dueAt: assignment.dueAt?.toISOString() ?? null,
    attempts: submissions.length,
    handedIn: counting.size,
    checked: [...counting.values()].filter((submission) => checks.has(submission.id)).length,
    mine:
      student === null
        ? null
        : {
            attempts: attempts.get(student)?.length ?? 0,
            points: check?.points ?? null,
            of: check?.outOf ?? null,
            penalty: penaltyOf(marking, own, check),
          },
  };
}
