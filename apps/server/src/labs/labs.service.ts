import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type ChangeLabRequest, type LabView, type Me } from '@sobrin/contracts';
import { type Brief, briefProblems, emptyPlan, planProblems } from '@sobrin/core/plan';
import {
  type LabFile,
  type LabParts,
  LAB_VERSION,
  notInForce,
  untoldNames,
  LabFile as LabSchema,
  type Spec,
  type SpecDifference,
  specDifferences,
  specHash,
  specProblems,
} from '@sobrin/core/spec';
import { type Problem, type Topology, emptyTopology, shapeProblems } from '@sobrin/core/topology';
import { randomUUID } from 'node:crypto';
import { DataSource, type EntityManager, In, IsNull } from 'typeorm';
import { AccessService } from '../access/access.service';
import { Assignment } from '../assignments/assignment.entity';
import { countingAttempts } from '../checks/counting-attempts';
import { newestChecks } from '../checks/newest-checks';
import { CoursesService } from '../courses/courses.service';
import { MembersService } from '../courses/members.service';
import { type Document, type DocumentKindName } from '../documents/document-kinds';
import { StoredDocument } from '../documents/document.entity';
import { DocumentsService } from '../documents/documents.service';
import { refuse } from '../platform/refusal';
import { ThreadsService } from '../platform/threads.service';
import { LabFilesService } from './lab-files.service';
import { Lab, LabFinal, labOfDocument } from './lab.entity';
import { LabVersionsService } from './versions.service';

/** The parts of a lab that may be changed as a whole, each with the schema that a lab file has for it. */
const PARTS = ['brief', 'tasks', 'spec', 'policy'] as const;

@Injectable()
export class LabsService {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly access: AccessService,
    private readonly courses: CoursesService,
    private readonly members: MembersService,
    private readonly documents: DocumentsService,
    private readonly files: LabFilesService,
    private readonly threads: ThreadsService,
    private readonly versions: LabVersionsService,
  ) {}

  /** The lab that a document belongs to. */
  byDocument(documentId: string): Promise<Lab | null> {
    return labOfDocument(this.db.manager, documentId);
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

  /** A lab that is new, in the library of its author, for a course that does not see it yet. */
  async create(me: Me, courseId: string, title: string): Promise<string> {
    return this.store(me, courseId, {
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
  async import(me: Me, courseId: string, text: string): Promise<string> {
    const read = await this.threads.runFor(me.id, 'readLab', text);
    if (!read.ok) throw refuse.problems('The lab file cannot be taken. Nothing was stored.', read.error);
    return this.store(me, courseId, read.value);
  }

  /** Stores a lab and hands it to a course; the id of the assignment. */
  async store(me: Me, courseId: string, file: LabFile, manager?: EntityManager): Promise<string> {
    const inside = async (db: EntityManager): Promise<string> => {
      const [id, assignmentId] = [randomUUID(), randomUUID()];
      const create = (content: Document, kind: DocumentKindName): Promise<string> =>
        this.documents.create(content, kind, db);
      const { starter } = file;
      await db.insert(Lab, {
        id,
        ownerId: me.id,
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
        createdAt: new Date(),
      });
      for (const labFile of file.files ?? []) await this.files.store(id, labFile, db);
      await db.insert(Assignment, {
        id: assignmentId,
        courseId,
        labId: id,
        versionHash: null,
        releasedAt: null,
        dueAt: null,
        createdAt: new Date(),
      });
      return assignmentId;
    };
    return manager ? inside(manager) : this.db.transaction(inside);
  }

  /** The lab with its reference as a file that another Sobrin reads. */
  async export(lab: Lab): Promise<LabFile> {
    const files = await this.files.all(lab.id);
    return { ...(await this.judging(lab)), ...(files.length && { files }) };
  }

  /** The lab as it is now, without the files that come with it, by which nothing is judged. */
  async judging(lab: Lab, manager?: EntityManager): Promise<LabFile> {
    const reference = await this.documents.readDrawing(lab.referenceId, manager);
    const plan = await this.documents.readPlan(lab.planId, manager);
    const { brief, tasks, spec, policy, starter, handout, stages } = await this.parts(lab, manager);
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
  async change(me: Me, assignment: Assignment, change: ChangeLabRequest): Promise<void> {
    const { base: _base, dueAt: _dueAt, ...ofLab } = change;
    if (Object.keys(ofLab).length) await this.access.mustEdit(me, assignment.lab);
    await this.db.transaction(async (manager) => {
      const lab = await this.lock(assignment.labId, manager);
      if (lab.revision !== change.base)
        throw refuse.state(
          'Somebody changed this lab in between. Your change was not stored: load the lab again, then repeat it.',
        );
      const set: Partial<Lab> = { revision: lab.revision + 1 };
      if (change.title !== undefined) set.title = change.title;
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
      await manager.update(Lab, { id: lab.id }, set);
      if (change.dueAt !== undefined) {
        const dueAt = change.dueAt === null ? null : new Date(change.dueAt);
        await manager.update(Assignment, { id: assignment.id }, { dueAt });
      }
      const documents: [string, unknown][] = [
        [lab.briefId, change.brief],
        [lab.tasksId, change.tasks && { tasks: change.tasks }],
        [lab.specId, change.spec],
        [lab.policyId, change.policy],
      ];
      for (const [document, content] of documents)
        if (content !== undefined) await this.documents.replaceWithin(manager, document, content as Document, me);
    });
  }

  /** Whoever changes a lab as a whole, or makes it final, waits for the others. */
  private lock(id: string, manager: EntityManager): Promise<Lab> {
    return manager.findOneOrFail(Lab, { where: { id }, lock: { mode: 'pessimistic_write' } });
  }

  /** Makes the lab as it is now a version that stays, and lets it judge what the course hands in. */
  async makeFinal(me: Me, assignment: Assignment): Promise<void> {
    await this.db.transaction((manager) => this.finalWithin(manager, me, assignment));
  }

  /** The same, and lets the course see it from now on. */
  async release(me: Me, assignment: Assignment, within?: EntityManager): Promise<void> {
    const inside = async (manager: EntityManager): Promise<void> => {
      await this.finalWithin(manager, me, assignment);
      await manager.update(Assignment, { id: assignment.id, releasedAt: IsNull() }, { releasedAt: new Date() });
    };
    await (within ? inside(within) : this.db.transaction(inside));
  }

  private async finalWithin(manager: EntityManager, me: Me, { id, labId }: Assignment): Promise<void> {
    const lab = await this.lock(labId, manager);
    const { versionHash } = await this.versions.makeFinal(manager, lab, await this.judging(lab, manager), me);
    await manager.update(Assignment, { id }, { versionHash });
  }

  /** Lets another version of the lab judge what the course hands in. */
  async judgeBy({ id, labId }: Assignment, number: number): Promise<void> {
    const final = await this.db.manager.findOneBy(LabFinal, { labId, number });
    if (!final) throw refuse.missing('version');
    await this.db.manager.update(Assignment, { id }, { versionHash: final.versionHash });
  }

  /** In what a lab as it is now judges otherwise than a version of it. */
  async differences({ lab }: Assignment, number: number): Promise<SpecDifference[]> {
    const final = await this.db.manager.findOneBy(LabFinal, { labId: lab.id, number });
    if (!final) throw refuse.missing('version');
    return specDifferences(await this.versions.read(final.versionHash), await this.judging(lab));
  }

  /** The same after a change of it. */
  async viewAgain(me: Me, { id }: Assignment): Promise<LabView> {
    return this.view(me, await this.db.manager.findOneByOrFail(Assignment, { id }));
  }

  async view(me: Me, assignment: Assignment): Promise<LabView> {
    const { lab, courseId } = assignment;
    const course = await this.courses.byId(courseId);
    const file = await this.judging(lab);
    const { brief, tasks, spec, policy, reference, plan } = file;
    const versions = await this.versions.list(assignment);
    const blocks = Object.values(plan.blocks);
    const counting = await countingAttempts(this.db.manager, assignment, policy);
    const checks = await newestChecks(
      this.db.manager,
      [...counting.values()].map(({ id }) => id),
    );
    const { title, revision, planId, referenceId, starterId } = lab;
    return {
      id: assignment.id,
      courseId,
      courseTitle: course.title,
      timeZone: course.timeZone,
      teaches: (await this.access.roleIn(me, courseId)) === 'instructor',
      mayEdit: await this.access.mayEdit(me, lab),
      isOwner: lab.ownerId === me.id,
      owner: (await this.members.namesIn(courseId, [lab.ownerId])).get(lab.ownerId)!,
      title,
      revision,
      releasedAt: assignment.releasedAt?.toISOString() ?? null,
      dueAt: assignment.dueAt?.toISOString() ?? null,
      version: versions.find((version) => version.judges) ?? null,
      versions: versions.length,
      isChanged:
        assignment.versionHash !== null && specHash(file) !== (await this.versions.judges(assignment.versionHash)),
      brief,
      tasks,
      documents: { brief: lab.briefId, tasks: lab.tasksId, spec: lab.specId, policy: lab.policyId },
      planId,
      plan: {
        blocks: blocks.length,
        proposed: blocks.filter((block) => (block.standing ?? 'proposed') === 'proposed').length,
        problems: planProblems(plan, brief).length,
      },
      drawn: Object.keys(reference.devices).length,
      spec,
      policy,
      referenceId,
      starterId,
      files: await this.files.list(lab.id),
      notInForce: notInForce(file),
      untoldNames: untoldNames(file),
      specProblems: specProblems({ spec, reference, brief, tasks }),
      handedIn: counting.size,
      checked: checks.size,
      students: (await this.members.students(courseId)).length,
    };
  }
}
