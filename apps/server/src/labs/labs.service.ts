import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type ChangeLabRequest, type LabView, type Me } from '@sobrin/contracts';
import {
  type LabFile,
  LabFile as LabSchema,
  type Problem,
  emptyTopology,
  readLab,
  readLabText,
  shapeProblems,
  specProblems,
} from '@sobrin/core';
import { randomUUID } from 'node:crypto';
import { DataSource, type EntityManager } from 'typeorm';
import { newestChecks } from '../checks/newest-checks';
import { CoursesService } from '../courses/courses.service';
import { StoredDocument } from '../documents/document.entity';
import { DocumentsService } from '../documents/documents.service';
import { refuse } from '../platform/refusal';
import { Submission } from '../submissions/submission.entity';
import { Lab } from './lab.entity';

/** The parts of a lab that are changed as a whole, each with the schema that core has for it. */
const PARTS = ['brief', 'tasks', 'plan', 'spec', 'policy'] as const;

@Injectable()
export class LabsService {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly courses: CoursesService,
    private readonly documents: DocumentsService,
  ) {}

  /** A lab of a course the person teaches. */
  async taughtBy(me: Me, id: string): Promise<Lab> {
    const lab = await this.db.manager.findOneBy(Lab, { id });
    if (!lab) throw refuse.missing('lab');
    await this.courses.taughtBy(me, lab.courseId);
    return lab;
  }

  /** A lab of a course the student is on the roster of. */
  async openTo(me: Me, id: string): Promise<Lab> {
    const lab = await this.db.manager.findOneBy(Lab, { id });
    if (!lab || !(await this.courses.isEnrolled(me, lab.courseId))) throw refuse.missing('lab');
    return lab;
  }

  async byReference(documentId: string): Promise<Lab | null> {
    return this.db.manager.findOneBy(Lab, { referenceId: documentId });
  }

  async create(courseId: string, title: string): Promise<string> {
    return this.store(courseId, {
      format: 'sobrin-lab',
      version: 1,
      title,
      brief: {},
      tasks: [],
      plan: { blocks: {} },
      reference: emptyTopology(),
      spec: { groups: {}, sections: [] },
      policy: {},
    });
  }

  /** Takes a lab file; the error names what is wrong and where, and nothing is stored. */
  async import(courseId: string, text: string): Promise<string> {
    const read = readLabText(text);
    if (!read.ok) throw refuse.problems('The lab file cannot be taken. Nothing was stored.', read.error);
    return this.store(courseId, read.value);
  }

  async store(courseId: string, file: LabFile, dueAt: Date | null = null, manager?: EntityManager): Promise<string> {
    const inside = async (db: EntityManager): Promise<string> => {
      const id = randomUUID();
      const referenceId = await this.documents.create(file.reference, db);
      const { title, brief, tasks, plan, spec, policy, starter, handout, stages } = file;
      await db.insert(Lab, {
        id,
        courseId,
        title,
        revision: 0,
        brief,
        tasks: tasks as never,
        plan: plan as never,
        spec: spec as never,
        policy,
        starter: (starter ?? null) as never,
        handout: handout ?? null,
        stages: (stages ?? null) as never,
        referenceId,
        dueAt,
        createdAt: new Date(),
      });
      return id;
    };
    return manager ? inside(manager) : this.db.transaction(inside);
  }

  /** The lab with its reference as a file that another Sobrin reads. */
  async export(lab: Lab): Promise<LabFile> {
    const { topology } = await this.documents.read(lab.referenceId);
    const { title, brief, tasks, plan, spec, policy, starter, handout, stages } = lab;
    return {
      format: 'sobrin-lab',
      version: 1,
      title,
      brief,
      tasks,
      plan,
      reference: topology,
      ...(starter && { starter }),
      spec,
      ...(handout && { handout }),
      policy,
      ...(stages && { stages }),
    };
  }

  /** Changes parts of a lab. A stale change is refused: the newer version is shown instead of being overwritten. */
  async change(id: string, change: ChangeLabRequest): Promise<void> {
    await this.db.transaction(async (manager) => {
      const lab = await manager.findOne(Lab, { where: { id }, lock: { mode: 'pessimistic_write' } });
      if (!lab) throw refuse.missing('lab');
      if (lab.revision !== change.base)
        throw refuse.state(
          'Somebody changed this lab in between. Your change was not stored: load the lab again, then repeat it.',
        );
      const set: Partial<Lab> = { revision: lab.revision + 1 };
      if (change.title !== undefined) set.title = change.title;
      if (change.dueAt !== undefined) set.dueAt = change.dueAt === null ? null : new Date(change.dueAt);
      const problems: Problem[] = [];
      for (const part of PARTS) {
        if (change[part] === undefined) continue;
        problems.push(
          ...shapeProblems(LabSchema.properties[part], change[part]).map((one) => ({
            ...one,
            place: `${part} › ${one.place}`,
          })),
        );
        Object.assign(set, { [part]: change[part] });
      }
      if (problems.length) throw refuse.problems('The change cannot be taken. Nothing was stored.', problems);
      if (change.spec !== undefined) {
        const reference = await manager.findOneByOrFail(StoredDocument, { id: lab.referenceId });
        const wrong = readLab({ ...(await this.export(lab)), spec: change.spec, reference: reference.topology });
        if (!wrong.ok)
          throw refuse.problems('The spec points at something that is not there. Nothing was stored.', wrong.error);
      }
      await manager.update(Lab, { id }, set as never);
    });
  }

  async view(lab: Lab): Promise<LabView> {
    const course = await this.courseOf(lab);
    const { topology } = await this.documents.read(lab.referenceId);
    const submissions = await this.db.manager.find(Submission, {
      where: { labId: lab.id },
      select: { id: true, studentId: true, attempt: true },
    });
    const newest = new Map<string, Submission>();
    for (const one of submissions)
      if (one.attempt > (newest.get(one.studentId)?.attempt ?? 0)) newest.set(one.studentId, one);
    const checks = await newestChecks(
      this.db.manager,
      [...newest.values()].map((one) => one.id),
    );
    const { id, courseId, title, revision, brief, tasks, plan, spec, policy, referenceId } = lab;
    return {
      id,
      courseId,
      courseTitle: course,
      title,
      revision,
      dueAt: lab.dueAt?.toISOString() ?? null,
      brief,
      tasks,
      plan,
      spec,
      policy,
      referenceId,
      specProblems: specProblems(spec, topology),
      handedIn: newest.size,
      checked: checks.size,
      students: (await this.courses.roster(courseId)).length,
    };
  }

  async courseOf(lab: Lab): Promise<string> {
    const rows = await this.db.query<{ title: string }[]>('SELECT title FROM course WHERE id = $1', [lab.courseId]);
    return rows[0]?.title ?? '';
  }
}
