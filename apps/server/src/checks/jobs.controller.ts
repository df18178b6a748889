import { Controller, HttpCode } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type JobView, type Me } from '@sobrin/contracts';
import { DataSource, In, IsNull, Not } from 'typeorm';
import { Needs, TheObject } from '../access/access.guard';
import { Account } from '../accounts/account.entity';
import { CurrentUser } from '../accounts/session.guard';
import { Assignment } from '../assignments/assignment.entity';
import { Course, Membership } from '../courses/course.entity';
import { JobsService } from '../jobs/jobs.service';
import { refuse } from '../platform/refusal';
import { Answers } from '../platform/route';
import { Submission } from '../submissions/submission.entity';

/** More are not listed: the newest are. */
const MOST = 200;

/** What Sobrin does by itself for the courses of a person. */
@Controller()
export class JobsController {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly jobs: JobsService,
  ) {}

  @Answers('GET jobs')
  async list(@CurrentUser() me: Me): Promise<JobView[]> {
    const { manager } = this.db;
    const mine = await manager.findBy(Membership, {
      accountId: me.id,
      role: In(['instructor', 'assistant']),
      acceptedAt: Not(IsNull()),
    });
    const courses = await manager.findBy(Course, { id: In(mine.map(({ courseId }) => courseId)) });
    const got = await manager.findBy(Assignment, { courseId: In(courses.map(({ id }) => id)) });
    const jobs = await this.jobs.list(
      got.map(({ id }) => id),
      MOST,
    );
    const submissions = await manager.find(Submission, {
      where: { id: In(jobs.map(({ data }) => data.submission)) },
      select: { id: true, studentId: true },
    });
    const students = new Map(submissions.map(({ id, studentId }) => [id, studentId]));
    const people = [...students.values(), ...jobs.flatMap(({ data }) => data.by ?? [])];
    const accounts = await manager.findBy(Account, { id: In(people) });
    const members = await manager.findBy(Membership, {
      courseId: In(courses.map(({ id }) => id)),
      accountId: In(people),
    });
    return jobs.flatMap(({ id, queue, data, state, retries, askedAt, startedAt, endedAt, sentence }) => {
      const assignment = got.find((each) => each.id === data.assignment)!;
      const nameOf = (person: string): string =>
        (
          members.find(({ courseId, accountId }) => courseId === assignment.courseId && accountId === person) ??
          accounts.find((account) => account.id === person)
        )?.name ?? '';
      const student = students.get(data.submission);
      // What is gone with its course is nothing that somebody could look at.
      if (student === undefined) return [];
      return {
        id,
        what: queue,
        state,
        course: courses.find((course) => course.id === assignment.courseId)!.title,
        lab: { id: assignment.id, title: assignment.lab.title },
        student: nameOf(student),
        submissionId: data.submission,
        by: data.by && nameOf(data.by),
        askedAt: askedAt.toISOString(),
        startedAt: startedAt?.toISOString() ?? null,
        endedAt: endedAt?.toISOString() ?? null,
        retries,
        sentence,
      };
    });
  }

  /** Takes back what waits. */
  @Needs('cancel', 'job')
  @Answers('DELETE jobs/:id')
  @HttpCode(204)
  async cancel(@TheObject() id: string): Promise<void> {
    if (!(await this.jobs.cancelOne(id)))
      throw refuse.state('It runs already, or is done: nothing is left to take back.');
  }
}
