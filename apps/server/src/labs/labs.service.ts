import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type ChangeLabRequest, type LabView, type Me } from '@sobrin/contracts';
import { type Brief, briefProblems, emptyPlan, planProblems } from '@sobrin/core/plan';
import {
  type LabFile,
  type LabParts,
  LAB_VERSION,
  LabFile as LabSchema,
  type Spec,
  specProblems,
} from '@sobrin/core/spec';
import { type Problem, type Topology, emptyTopology, shapeProblems } from '@sobrin/core/topology';
import { randomUUID } from 'node:crypto';
import { DataSource, type EntityManager, In } from 'typeorm';
import { newestChecks } from '../checks/newest-checks';
import { CoursesService } from '../courses/courses.service';
import { type Document, type DocumentKindName } from '../documents/document-kinds';
import { StoredDocument } from '../documents/document.entity';
import { DocumentsService } from '../documents/documents.service';
import { refuse } from '../platform/refusal';
import { ThreadsService } from '../platform/threads.service';
import { Submission } from '../submissions/submission.entity';
import { LabFilesService } from './lab-files.service';
import { Lab } from './lab.entity';

/** Where a lab names its documents. */
const DOCUMENT_COLUMNS = [
  'referenceId',
  'planId',
  'briefId',
  'tasksId',
  'specId',
  'policyId',
  'handoutId',
  'stagesId',
  'starterId',
] as const;

/** The ids of all documents of a lab. */
export const documentsOf = (lab: Lab): string[] => DOCUMENT_COLUMNS.flatMap((column) => lab[column] ?? []);

/** The parts of a lab that may be changed as a whole, each with the schema that a lab file has for it. */
const PARTS = ['brief', 'tasks', 'spec', 'policy'] as const;

@Injectable()
export class LabsService {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly courses: CoursesService,
    private readonly documents: DocumentsService,
    private readonly files: LabFilesService,
    private readonly threads: ThreadsService,
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

  /** The lab that a document belongs to. */
  async byDocument(documentId: string): Promise<Lab | null> {
    return this.db.manager.findOneBy(
      Lab,
      DOCUMENT_COLUMNS.map((column) => ({ [column]: documentId })),
    );
  }

  /** What a lab is made of beside its plan and its reference. */
  async parts(lab: Lab, manager: EntityManager = this.db.manager): Promise<LabParts & { starter: Topology | null }> {
    const { briefId, tasksId, specId, policyId, handoutId, stagesId, starterId } = lab;
    const ids = [briefId, tasksId, specId, policyId, handoutId, stagesId, ...(starterId ? [starterId] : [])];
    const found = await manager.findBy(StoredDocument, { id: In(ids) });
    const contents = Object.fromEntries(found.map(({ kind, content }) => [kind, content]));
    return { starter: null, ...contents } as LabParts & { starter: Topology | null };
  }

  /** A part of a lab is changed: whoever changes the lab as a whole, knowing it as it was, is refused. */
  async countChange({ id }: Lab, manager: EntityManager): Promise<void> {
    await manager.increment(Lab, { id }, 'revision', 1);
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
    const read = await this.threads.run('readLab', text);
    if (!read.ok) throw refuse.problems('The lab file cannot be taken. Nothing was stored.', read.error);
    return this.store(courseId, read.value);
  }

  async store(courseId: string, file: LabFile, dueAt: Date | null = null, manager?: EntityManager): Promise<string> {
    const inside = async (db: EntityManager): Promise<string> => {
      const id = randomUUID();
      const create = (content: Document, kind: DocumentKindName): Promise<string> =>
        this.documents.create(content, kind, db);
      const { starter } = file;
      await db.insert(Lab, {
        id,
        courseId,
        title: file.title,
        revision: 0,
        briefId: await create(file.brief, 'brief'),
        tasksId: await create({ tasks: file.tasks }, 'tasks'),
        planId: await create(file.plan, 'plan'),
        specId: await create(file.spec, 'spec'),
        policyId: await create(file.policy, 'policy'),
        handoutId: await create(file.handout ?? {}, 'handout'),
        stagesId: await create({ stages: file.stages ?? [] }, 'stages'),
        starterId: starter ? await create(starter, 'starter') : null,
        referenceId: await create(file.reference, 'topology'),
        dueAt,
        createdAt: new Date(),
      });
      for (const labFile of file.files ?? []) await this.files.store(id, labFile, db);
      return id;
    };
    return manager ? inside(manager) : this.db.transaction(inside);
  }

  /** The lab with its reference as a file that another Sobrin reads. */
  async export(lab: Lab): Promise<LabFile> {
    const files = await this.files.all(lab.id);
    return { ...(await this.judging(lab)), ...(files.length && { files }) };
  }

  /** The lab without the files that come with it, by which nothing is judged. */
  async judging(lab: Lab): Promise<LabFile> {
    const reference = await this.documents.readDrawing(lab.referenceId);
    const plan = await this.documents.readPlan(lab.planId);
    const { brief, tasks, spec, policy, starter, handout, stages } = await this.parts(lab);
    return {
      format: 'sobrin-lab',
      version: LAB_VERSION,
      title: lab.title,
      brief,
      tasks: tasks.tasks,
      plan: plan.document,
      reference: reference.document,
      ...(starter && { starter }),
      spec,
      ...(Object.keys(handout).length && { handout }),
      policy,
      ...(stages.stages.length && { stages: stages.stages }),
    };
  }

  /** Changes parts of a lab. A stale change is refused: the newer version is shown instead of being overwritten. */
  async change(me: Me, id: string, change: ChangeLabRequest): Promise<void> {
    const changed = await this.db.transaction(async (manager) => {
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
      }
      const now = await this.parts(lab, manager);
      const brief: Brief = change.brief ?? now.brief;
      if (!problems.length)
        problems.push(...briefProblems(brief).map((problem) => ({ ...problem, place: `brief › ${problem.place}` })));
      if (problems.length) throw refuse.problems('The change cannot be taken. Nothing was stored.', problems);
      if (change.spec !== undefined) {
        const reference = await this.documents.readDrawing(lab.referenceId, manager);
        const spec = change.spec as Spec;
        const wrong = specProblems({ spec, reference: reference.document, brief });
        if (wrong.length)
          throw refuse.problems(
            'The spec points at something that is not there. Nothing was stored.',
            wrong.map((problem) => ({ ...problem, place: `spec › ${problem.place}` })),
          );
      }
      await manager.update(Lab, { id }, set);
      const documents: [string, unknown][] = [
        [lab.briefId, change.brief],
        [lab.tasksId, change.tasks && { tasks: change.tasks }],
        [lab.specId, change.spec],
        [lab.policyId, change.policy],
      ];
      const given = documents.filter(([, content]) => content !== undefined);
      for (const [document, content] of given)
        await this.documents.replaceWithin(manager, document, content as Document, me);
      return given.map(([document]) => document);
    });
    await this.documents.tell(changed);
  }

  async view(lab: Lab): Promise<LabView> {
    const course = await this.courseOf(lab);
    const { brief, tasks, spec, policy } = await this.parts(lab);
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
    const { id, courseId, title, revision, planId, referenceId } = lab;
    return {
      id,
      courseId,
      courseTitle: course,
      title,
      revision,
      dueAt: lab.dueAt?.toISOString() ?? null,
      brief,
      tasks: tasks.tasks,
      documents: { brief: lab.briefId, tasks: lab.tasksId, spec: lab.specId, policy: lab.policyId },
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
