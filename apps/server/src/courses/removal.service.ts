import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { plural } from '@sobrin/core';
import { DataSource, type EntityManager, In } from 'typeorm';
import { Assignment } from '../assignments/assignment.entity';
import { StoredDocument } from '../documents/document.entity';
import { refuse } from '../platform/refusal';
import { Submission, Work } from '../submissions/submission.entity';
import { Course } from './course.entity';

/** Takes labs out of courses, and courses away, with all that was done for them. Labs themselves stay in libraries. */
@Injectable()
export class RemovalService {
  constructor(@InjectDataSource() private readonly db: DataSource) {}

  /** @param attempts how many were handed in, as far as the person who decides was told */
  async lab({ id }: Assignment, attempts: number): Promise<void> {
    await this.db.transaction((manager) => this.remove(manager, { id }, attempts));
  }

  async course({ id }: Course, attempts: number): Promise<void> {
    await this.db.transaction(async (manager) => {
      await manager.findOneOrFail(Course, { where: { id }, lock: { mode: 'pessimistic_write' } });
      await this.remove(manager, { courseId: id }, attempts);
      await manager.delete(Course, { id });
    });
  }

  private async remove(
    manager: EntityManager,
    which: { id: string } | { courseId: string },
    told: number,
  ): Promise<void> {
    // Whoever hands in at this moment is counted, or finds no lab any more.
    const assignments = await manager
      .createQueryBuilder(Assignment, 'assignment')
      .setLock('pessimistic_write')
      .where(which)
      .getMany();
    const ids = In(assignments.map((assignment) => assignment.id));
    const attempts = await manager.countBy(Submission, { assignmentId: ids });
    if (attempts > told)
      throw refuse.state(
        `${plural(attempts - told, 'attempt was', 'attempts were')} handed in since you were asked. Nothing was removed: look again.`,
      );
    const works = await manager.findBy(Work, { assignmentId: ids });
    await manager.delete(Assignment, { id: ids });
    await manager.delete(StoredDocument, { id: In(works.flatMap(({ documentId, planId }) => [documentId, planId])) });
  }
}
