import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type ChangeLabRequest, type LabView, type Me } from '@sobrin/contracts';
import {
  type LabFile,
  LAB_VERSION,
  LabFile as LabSchema,
  type Problem,
  type Spec,
  briefProblems,
  emptyPlan,
  emptyTopology,
  planProblems,
  readLabText,
  shapeProblems,
  specProblems,
} from '@sobrin/core';
import { randomUUID } from 'node:crypto';
import { DataSource, type EntityManager } from 'typeorm';
import { newestChecks } from '../checks/newest-checks';
import { CoursesService } from '../courses/courses.service';
import { DocumentsService } from '../documents/documents.service';
import { refuse } from '../platform/refusal';
import { Submission } from '../submissions/submission.entity';
import { LabFilesService } from './lab-files.service';
import { Lab } from './lab.entity';

/** The parts of a lab that are changed as a whole, each with the schema that core has for it. */
const PARTS = ['brief', 'tasks', 'spec', 'policy'] as const;

@Injectable()
export class LabsService {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly courses: CoursesService,
    private readonly documents: DocumentsService,
    private readonly files: LabFilesService,
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

  /** The lab whose reference or plan a document is. */
  async byDocument(documentId: string): Promise<Lab | null> {
    return this.db.manager.findOneBy(Lab, [{ referenceId: documentId }, { planId: documentId }]);
  }

  async create(courseId: string, title: string): Promise<string> {
    return this.store(courseId, {
      format: 'sobrin-lab',
      version: LAB_VERSION,
      title,
      brief: {},
      tasks: [],
      plan: emptyPlan(),
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
      const referenceId = await this.documents.create(file.reference, 'topology', db);
      const planId = await this.documents.create(file.plan, 'plan', db);
      const { title, brief, tasks, spec, policy, starter, handout, stages } = file;
      await db.insert(Lab, {
        id,
        courseId,
        title,
        revision: 0,
        brief,
        tasks: tasks as never,
        spec: spec as never,
        policy,
        starter: (starter ?? null) as never,
        handout: handout ?? null,
        stages: (stages ?? null) as never,
        referenceId,
        planId,
        dueAt,
        createdAt: new Date(),
      });
      for (const one of file.files ?? []) await this.files.store(id, one, db);
      return id;
    };
    return manager ? inside(manager) : this.db.transaction(inside);
  }

  /** The lab with its reference as a file that another Sobrin reads. */
  async export(lab: Lab): Promise<LabFile> {
    const reference = await this.documents.readDrawing(lab.referenceId);
    const plan = await this.documents.readPlan(lab.planId);
    const files = await this.files.all(lab.id);
    const { title, brief, tasks, spec, policy, starter, handout, stages } = lab;
    return {
      format: 'sobrin-lab',
      version: LAB_VERSION,
      title,
      brief,
      tasks,
      plan: plan.document,
      reference: reference.document,
      ...(starter && { starter }),
      spec,
      ...(handout && { handout }),
      policy,
      ...(stages && { stages }),
      ...(files.length && { files }),
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
          ...shapeProblems(LabSchema.properties[part], change[part]).map((problem) => ({
            ...problem,
            place: `${part} › ${problem.place}`,
          })),
        );
        Object.assign(set, { [part]: change[part] });
      }
      if (!problems.length && set.brief)
        problems.push(
          ...briefProblems(set.brief).map((problem) => ({ ...problem, place: `brief › ${problem.place}` })),
        );
      if (problems.length) throw refuse.problems('The change cannot be taken. Nothing was stored.', problems);
      if (change.spec !== undefined) {
        const reference = await this.documents.readDrawing(lab.referenceId, manager);
        const spec = change.spec as Spec;
        const wrong = specProblems({ spec, reference: reference.document, brief: set.brief ?? lab.brief });
        if (wrong.length)
          throw refuse.problems(
            'The spec points at something that is not there. Nothing was stored.',
            wrong.map((problem) => ({ ...problem, place: `spec › ${problem.place}` })),
          );
      }
      await manager.update(Lab, { id }, set as never);
    });
  }

  async view(lab: Lab): Promise<LabView> {
    const course = await this.courseOf(lab);
    const reference = (await this.documents.readDrawing(lab.referenceId)).document;
    const plan = (await this.documents.readPlan(lab.planId)).document;
    const blocks = Object.values(plan.blocks);
    const submissions = await this.db.manager.find(Submission, {
      where: { labId: lab.id },
      select: { id: true, studentId: true, attempt: true },
    });
    const newest = new Map<string, Submission>();
    for (const submission of submissions)
      if (submission.attempt > (newest.get(submission.studentId)?.attempt ?? 0))
        newest.set(submission.studentId, submission);
    const checks = await newestChecks(
      this.db.manager,
      [...newest.values()].map((submission) => submission.id),
    );
    const { id, courseId, title, revision, brief, tasks, planId, spec, policy, referenceId } = lab;
    return {
      id,
      courseId,
      courseTitle: course,
      title,
      revision,
      dueAt: lab.dueAt?.toISOString() ?? null,
      brief,
      tasks,
      planId,
      plan: {
        blocks: blocks.length,
        proposed: blocks.filter((block) => (block.standing ?? 'proposed') === 'proposed').length,
        problems: planProblems(plan, brief).length,
      },
      spec,
      policy,
      referenceId,
      files: await this.files.list(id),
      specProblems: specProblems({ spec, reference, brief }),
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
