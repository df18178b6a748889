import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import {
  type AddedStudent,
  type CourseSummary,
  type LabSummary,
  type Me,
  type OneTimeLink,
  type RosterEntry,
  type RosterStudent,
} from '@sobrin/contracts';
import { randomUUID } from 'node:crypto';
import { DataSource, In, IsNull, Not } from 'typeorm';
import { Account } from '../accounts/account.entity';
import { AccountsService } from '../accounts/accounts.service';
import { LinksService } from '../accounts/links.service';
import { Assignment } from '../assignments/assignment.entity';
import { type CheckFacts, newestChecks } from '../checks/newest-checks';
import { refuse } from '../platform/refusal';
import { Submission } from '../submissions/submission.entity';
import { Course, Enrolment } from './course.entity';

@Injectable()
export class CoursesService {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly accounts: AccountsService,
    private readonly links: LinksService,
  ) {}

  /** The courses of a person with their labs, newest first. */
  async list(me: Me): Promise<CourseSummary[]> {
    const mine = await this.db.manager.findBy(Enrolment, { accountId: me.id });
    const courses = await this.db.manager.find(Course, {
      where:
        me.role === 'instructor' ? { instructorId: me.id } : { id: In(mine.map((enrolment) => enrolment.courseId)) },
      order: { createdAt: 'DESC' },
    });
    const ids = In(courses.map((course) => course.id));
    const assignments = await this.db.manager.find(Assignment, {
      where: { courseId: ids, ...(me.role === 'student' && { releasedAt: Not(IsNull()) }) },
      order: { createdAt: 'ASC' },
    });
    const enrolments = await this.db.manager.findBy(Enrolment, { courseId: ids });
    const submissions = await this.db.manager.find(Submission, {
      where: {
        assignmentId: In(assignments.map((assignment) => assignment.id)),
        ...(me.role === 'student' && { studentId: me.id }),
      },
      select: { id: true, assignmentId: true, studentId: true, attempt: true },
    });
    const checks = await newestChecks(
      this.db.manager,
      submissions.map((submission) => submission.id),
    );
    return courses.map((course) => ({
      id: course.id,
      title: course.title,
      term: course.term,
      students: enrolments.filter((enrolment) => enrolment.courseId === course.id).length,
      labs: assignments
        .filter((assignment) => assignment.courseId === course.id)
        .map((assignment) =>
          summary(
            assignment,
            submissions.filter((submission) => submission.assignmentId === assignment.id),
            checks,
            me,
          ),
        ),
    }));
  }

  async create(me: Me, title: string, term: string): Promise<CourseSummary> {
    const course = { id: randomUUID(), title, term, instructorId: me.id, createdAt: new Date() };
    await this.db.manager.insert(Course, course);
    return { id: course.id, title, term, students: 0, labs: [] };
  }

  /** The course, if the person teaches it. */
  async taughtBy(me: Me, id: string): Promise<Course> {
    const course = await this.db.manager.findOneBy(Course, { id, instructorId: me.id });
    if (!course) throw refuse.missing('course');
    return course;
  }

  async titleOf(id: string): Promise<string> {
    return (await this.db.manager.findOneByOrFail(Course, { id })).title;
  }

  async isEnrolled(me: Me, courseId: string): Promise<boolean> {
    return this.db.manager.existsBy(Enrolment, { courseId, accountId: me.id });
  }

  /** The students of a course by name. */
  async roster(courseId: string): Promise<RosterStudent[]> {
    const enrolments = await this.db.manager.findBy(Enrolment, { courseId });
    const students = await this.db.manager.findBy(Account, {
      id: In(enrolments.map((enrolment) => enrolment.accountId)),
    });
    return students
      .map(({ id, name, login }) => ({ id, name, login }))
      .sort((a, b) => a.name.localeCompare(b.name, 'en'));
  }

  /** Adds people to a roster, all of them or none; accounts that do not exist yet are made, each with an address to choose a password. */
  async addToRoster(courseId: string, entries: readonly RosterEntry[]): Promise<AddedStudent[]> {
    const once = [...new Map(entries.map((entry) => [entry.login, entry])).values()];
    return this.db.transaction(async (manager) => {
      const added = await this.accounts.makeStudents(once, manager);
      const instructor = added.find(({ account }) => account.role !== 'student');
      if (instructor)
        throw refuse.input(
          `"${instructor.account.login}" is an instructor: only students are put on a roster. Nobody was added.`,
        );
      await manager
        .createQueryBuilder()
        .insert()
        .into(Enrolment)
        .values(added.map(({ account }) => ({ courseId, accountId: account.id })))
        .orIgnore()
        .execute();
      const links = await this.links.makeWithin(
        manager,
        added.flatMap(({ account, isNew }) => (isNew ? account.id : [])),
      );
      return added.map(({ account: { id, name, login } }) => ({ id, name, login, link: links.get(id) ?? null }));
    });
  }

  /** A new address to choose a password, for a student of the course who attends no course of anybody else. */
  async linkFor(me: Me, courseId: string, accountId: string): Promise<OneTimeLink> {
    const enrolled = await this.db.manager.existsBy(Enrolment, { courseId, accountId });
    const student = enrolled ? await this.db.manager.findOneBy(Account, { id: accountId, role: 'student' }) : null;
    if (!student) throw refuse.missing('student');
    if (student.demo) throw refuse.forbidden('People of the demo sign in with a click: there is no password to lose.');
    const enrolments = await this.db.manager.findBy(Enrolment, { accountId });
    const ids = In(enrolments.map((enrolment) => enrolment.courseId));
    if (await this.db.manager.existsBy(Course, { id: ids, instructorId: Not(me.id) }))
      throw refuse.forbidden(
        `${student.name} also attends courses of others. Whoever runs Sobrin makes a new address: npm run account -- reset ${student.login}`,
      );
    const links = await this.links.make([student.id]);
    return { link: links.get(student.id)! };
  }

  async removeFromRoster(courseId: string, accountId: string): Promise<void> {
    await this.db.manager.delete(Enrolment, { courseId, accountId });
  }
}

function summary(
  assignment: Assignment,
  submissions: readonly Submission[],
  checks: ReadonlyMap<string, CheckFacts>,
  me: Me,
): LabSummary {
  const newest = new Map<string, Submission>();
  for (const submission of submissions)
    if (submission.attempt > (newest.get(submission.studentId)?.attempt ?? 0))
      newest.set(submission.studentId, submission);
  const own = me.role === 'student' ? newest.get(me.id) : undefined;
  const check = own && checks.get(own.id);
  return {
    id: assignment.id,
    title: assignment.lab.title,
    isReleased: assignment.releasedAt !== null,
    dueAt: assignment.dueAt?.toISOString() ?? null,
    handedIn: newest.size,
    checked: [...newest.values()].filter((submission) => checks.has(submission.id)).length,
    mine:
      me.role === 'student'
        ? { attempts: own?.attempt ?? 0, points: check?.points ?? null, of: check?.outOf ?? null }
        : null,
  };
}
