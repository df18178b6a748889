import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import {
  type CountRequest,
  type FileView,
  type LookInView,
  type Me,
  type StudentLabView,
  type Uploaded,
} from '@sobrin/contracts';
import { plural } from '@sobrin/core';
import { equipmentOf } from '@sobrin/core/engine';
import { type Plan, emptyPlan } from '@sobrin/core/plan';
import { type Policy, choicesOf, shownBy, shownNow } from '@sobrin/core/spec';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { randomUUID } from 'node:crypto';
import { DataSource, type EntityManager, In } from 'typeorm';
import { Assignment } from '../assignments/assignment.entity';
import { countingOf, markingOf, penaltyOf } from '../checks/counting-attempts';
import { newestChecks } from '../checks/newest-checks';
import { CoursesService } from '../courses/courses.service';
import { MembersService } from '../courses/members.service';
import { StoredDocument } from '../documents/document.entity';
import { DocumentsService } from '../documents/documents.service';
import { FORMATS } from '../documents/formats';
import { VersionsService } from '../documents/versions.service';
import { LabFilesService } from '../labs/lab-files.service';
import { LabsService } from '../labs/labs.service';
import { AccessService } from '../access/access.service';
import { LabVersionsService } from '../labs/versions.service';
import { bytesOf } from '../platform/base64';
import { jsonb } from '../platform/jsonb';
import { refuse } from '../platform/refusal';
import { ThreadsService } from '../platform/threads.service';
import { checkTheirs, isBlank } from './own-work';
import { hintsView } from './hints';
import { selfChecksOf } from './self-checks';
import { Attachment, Submission, Work } from './submission.entity';
import { settledIn, triesOf } from './tries';

const MAX_ATTACHMENTS = 16;
const MAX_CONFIG_TEXTS = 500;
const MAX_ATTACHMENT_BYTES = 10_000_000;
/** All files of one student for one lab, with those of earlier attempts. */
const MAX_ALL_BYTES = 200_000_000;
const MAX_ANSWER = 20_000;

/** A student's side of a lab: the work in progress and handing it in. */
@Injectable()
export class WorksService {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly labs: LabsService,
    private readonly documents: DocumentsService,
    private readonly files: LabFilesService,
    private readonly threads: ThreadsService,
    private readonly versions: LabVersionsService,
    private readonly revisions: VersionsService,
    private readonly courses: CoursesService,
    private readonly members: MembersService,
    private readonly access: AccessService,
  ) {}

  /** The student's work for a lab, begun on first sight with the lab's starter or an empty sheet. */
  async workOf(me: Me, assignment: Assignment): Promise<Work> {
    const found = await this.db.manager.findOneBy(Work, { assignmentId: assignment.id, studentId: me.id });
    if (found) return found;
    const author = (await this.members.namesIn(assignment.courseId, [me.id])).get(me.id)!;
    await this.db.transaction(async (manager) => {
      const { starter } = await this.labs.parts(assignment.lab, manager);
      const documentId = await this.documents.create(
        { ...(starter ?? emptyTopology()), title: assignment.lab.title, author },
        'topology',
        manager,
      );
      const planId = await this.documents.create(emptyPlan(), 'plan', manager);
      // Two tabs may begin at once: the second insert does nothing, and its documents go again.
      const done = await manager
        .createQueryBuilder()
        .insert()
        .into(Work)
        .values({ id: randomUUID(), assignmentId: assignment.id, studentId: me.id, documentId, planId, answers: {} })
        .orIgnore()
        .returning('id')
        .execute();
      if (!(done.raw as unknown[]).length) await manager.delete(StoredDocument, { id: In([documentId, planId]) });
    });
    return this.db.manager.findOneByOrFail(Work, { assignmentId: assignment.id, studentId: me.id });
  }

  /** Where what a student draws can be looked at before it is handed in; refused where the lab does not allow it. */
  async lookIn(me: Me, assignment: Assignment, studentId: string): Promise<LookInView> {
    const names = await this.members.namesIn(assignment.courseId, [studentId, me.id]);
    if (!(await this.members.students(assignment.courseId)).some(({ id }) => id === studentId))
      throw refuse.missing('student');
    if (!(await this.access.maySeeDrawings(assignment.lab)))
      throw refuse.forbidden(
        'In this lab drawings are seen when they are handed in. The brief says so under its rules.',
      );
    const work = await this.db.manager.findOneBy(Work, { assignmentId: assignment.id, studentId });
    const student = names.get(studentId)!;
    if (!work) throw refuse.state(`${student} has not begun yet: there is no drawing to look at.`);
    return { student, documentId: work.documentId, planId: work.planId, speaksAs: names.get(me.id)! };
  }

  /** The clock is passed in, so that what is shown after the due date can be tested. */
  async view(me: Me, assignment: Assignment, now: Date): Promise<StudentLabView> {
    const work = await this.workOf(me, assignment);
    const course = await this.courses.byId(assignment.courseId);
    const { brief, tasks, policy } = await this.labs.parts(assignment.lab);
    // How equipment behaves is what it will be judged by, also while the lab is being changed.
    const { policy: judging, spec } = await this.versions.read(assignment.versionHash!);
    const submissions = await this.db.manager.find(Submission, {
      where: { assignmentId: assignment.id, studentId: me.id },
      order: { attempt: 'ASC' },
      select: { id: true, studentId: true, attempt: true, handedInAt: true, late: true },
    });
    const checks = await newestChecks(
      this.db.manager,
      submissions.map((submission) => submission.id),
    );
    const marking = await markingOf(this.db.manager, assignment, policy, me.id);
    const isShown = shownNow(policy, assignment.dueAt, now) !== 'nothing';
    // Which is the best is a mark, too.
    const counting = isShown || policy.counts !== 'best' ? countingOf(submissions, checks, marking) : undefined;
    return {
      id: assignment.id,
      courseTitle: course.title,
      timeZone: course.timeZone,
      title: assignment.lab.title,
      dueAt: assignment.dueAt?.toISOString() ?? null,
      brief,
      tasks: tasks.tasks,
      choices: choicesOf(spec),
      bench: policy.bench ?? 'coach',
      ...equipmentOf(judging),
      ...(policy.kit !== undefined && { kit: policy.kit }),
      ...(policy.modules !== undefined && { modules: policy.modules }),
      ...(policy.autoCabling !== undefined && { autoCabling: policy.autoCabling }),
      attempts: { used: submissions.length, allowed: policy.attempts ?? null },
      counts: policy.counts ?? 'last',
      selfChecks: await selfChecksOf(this.db.manager, work, policy),
      tries: await triesOf(this.db.manager, work, policy, spec),
      hints: await hintsView(this.db.manager, work, policy, spec),
      names: judging.names ?? 'any',
      shown: shownBy(policy),
      lookIn: policy.lookIn ?? false,
      documentId: work.documentId,
      planId: work.planId,
      files: await this.files.list(assignment.labId),
      answers: work.answers,
      attachments: await this.attachments(work.id),
      submissions: submissions.map(({ id, attempt, handedInAt, late }) => {
        const check = isShown ? checks.get(id) : undefined;
        return {
          id,
          attempt,
          counts: id === counting?.id,
          handedInAt: handedInAt.toISOString(),
          late,
          points: check?.points ?? null,
          of: check?.outOf ?? null,
          penalty: penaltyOf(marking, { studentId: me.id, handedInAt, late }, check),
        };
      }),
    };
  }

  /**
   * Puts what an uploaded file holds in place of the present drawing and plan, each as a save that can be undone; takes its
   * answers, and its files and configuration texts beside those that are there. What cannot be taken is told.
   */
  async upload(me: Me, assignment: Assignment, text: string): Promise<Uploaded> {
    const read = await this.threads.runFor(me.id, 'readSubmission', text);
    if (!read.ok) throw refuse.problems('The file was not taken. Your drawing is as it was.', read.error);
    const work = await this.workOf(me, assignment);
    const { topology, plan, answers = {}, configTexts = [], attachments = [], stage, student, origin } = read.value;
    const { tasks, policy } = await this.labs.parts(assignment.lab);
    const settled = await settledIn(this.db.manager, work, policy);
    const [known, unknown, held] = [new Map<string, string>(), [] as string[], [] as string[]];
    for (const [task, answer] of Object.entries(answers))
      if (!tasks.tasks.some(({ id }) => id === task)) unknown.push(task);
      else if (Object.hasOwn(settled, task) && settled[task] !== answer) held.push(task);
      else known.set(task, answer);
    const long = [...known].find(([, answer]) => answer.length > MAX_ANSWER);
    if (long)
      throw refuse.input(
        `The answer to task "${long[0]}" has more than ${MAX_ANSWER} characters. The file was not taken: your work is as it was.`,
      );
    await this.attachAll(work, [
      ...attachments.map((file) => ({ ...file, device: null, bytes: bytesOf(file, MAX_ATTACHMENT_BYTES) })),
      ...configTexts.map(({ device, text }) => ({
        name: `${device}.txt`,
        type: 'text/plain; charset=utf-8',
        device,
        bytes: Buffer.from(text),
      })),
    ]);
    if (known.size) await this.putAnswers(work, Object.fromEntries(known));
    if (topology) await this.replace(work.documentId, { kind: 'replace', topology }, me);
    if (plan) await this.replace(work.planId, { kind: 'replace', plan }, me);
    return {
      taken: [
        ...(topology ? ['drawing'] : []),
        ...(plan ? ['plan'] : []),
        ...(known.size ? [plural(known.size, 'answer')] : []),
        ...(attachments.length ? [plural(attachments.length, 'file')] : []),
        ...(configTexts.length ? [plural(configTexts.length, 'configuration text')] : []),
      ],
      left: [
        ...unknown.map((task) => `The lab has no task "${task}": its answer was not taken.`),
        ...held.map((task) => `All tries of task "${task}" are used: its answer stays as it is.`),
        ...(stage === undefined ? [] : [`Stages are not in force yet: "${stage}" was not taken.`]),
        ...(student === undefined ? [] : [`It names "${student}": what you upload is yours.`]),
        ...(origin === undefined ? [] : [`Where it comes from, "${origin}", was not taken.`]),
      ],
    };
  }

  private async replace(documentId: string, command: object, me: Me): Promise<void> {
    const { revision } = await this.documents.read(documentId);
    await this.documents.save(documentId, { save: randomUUID(), base: revision, commands: [command] }, me);
  }

  /** Takes the answers that are given; the others stay as they are, whatever else saves at the same moment. */
  async saveAnswers(me: Me, assignment: Assignment, answers: Record<string, unknown>, drawing?: string): Promise<void> {
    const { tasks, policy } = await this.labs.parts(assignment.lab);
    const known = new Set(tasks.tasks.map((task) => task.id));
    for (const [task, text] of Object.entries(answers)) {
      if (!known.has(task)) throw refuse.input(`The lab has no task "${task}".`);
      if (typeof text !== 'string' || text.length > MAX_ANSWER)
        throw refuse.input(`The answer to task "${task}" is no text of at most ${MAX_ANSWER} characters.`);
    }
    const begun = await this.workOf(me, assignment);
    checkTheirs(begun, drawing);
    await this.db.transaction(async (manager) => {
      const work = await this.lock(begun, manager);
      const settled = await settledIn(manager, work, policy);
      const other = Object.keys(answers).find(
        (task) => Object.hasOwn(settled, task) && answers[task] !== settled[task],
      );
      if (other !== undefined)
        throw refuse.state(
          `All tries of task "${other}" are used: its answer stays ${JSON.stringify(settled[other]!.slice(0, 200))}.`,
        );
      await this.putAnswers(work, answers, manager);
    });
  }

  async putAnswers(
    { id }: Work,
    answers: Record<string, unknown>,
    manager: EntityManager = this.db.manager,
  ): Promise<void> {
    await manager
      .createQueryBuilder()
      .update(Work)
      .set({ answers: () => 'answers || CAST(:given AS jsonb)' })
      .where({ id })
      .setParameters({ given: JSON.stringify(answers) })
      .execute();
  }

  async attachments(workId: string, manager: EntityManager = this.db.manager): Promise<FileView[]> {
    const found = await manager.find(Attachment, { where: { workId, removed: false }, order: { name: 'ASC' } });
    return found.map(({ id, name, type, size }) => ({ id, name, type, size }));
  }

  async attach(
    me: Me,
    assignment: Assignment,
    file: { name: string; type: string; base64: string },
  ): Promise<FileView> {
    const bytes = bytesOf(file, MAX_ATTACHMENT_BYTES);
    const [added] = await this.attachAll(await this.workOf(me, assignment), [{ ...file, device: null, bytes }]);
    return added!;
  }

  /** Puts files beside a work, all or none. A configuration text takes the place of the one that its device had. */
  private async attachAll(
    begun: Work,
    files: readonly { name: string; type: string; device: string | null; bytes: Buffer }[],
  ): Promise<FileView[]> {
    if (!files.length) return [];
    return this.db.transaction(async (manager) => {
      const work = await this.lock(begun, manager);
      const { id: workId } = work;
      const replaced = files.flatMap(({ device }) => device ?? []);
      if (replaced.length)
        for (const { id } of await manager.findBy(Attachment, { workId, removed: false, device: In(replaced) }))
          await this.takeAway(work, id, manager);
      const there = await manager.findBy(Attachment, { workId, removed: false });
      const after = [...there, ...files];
      if (after.filter(({ device }) => device === null).length > MAX_ATTACHMENTS)
        throw refuse.input(`At most ${MAX_ATTACHMENTS} files can be attached: remove one first.`);
      if (after.filter(({ device }) => device !== null).length > MAX_CONFIG_TEXTS)
        throw refuse.input(`At most ${MAX_CONFIG_TEXTS} configuration texts are taken: remove some first.`);
      const used = (await manager.sum(Attachment, 'size', { workId })) ?? 0;
      const size = files.reduce((sum, { bytes }) => sum + bytes.length, 0);
      if (used + size > MAX_ALL_BYTES)
        throw refuse.input(
          `Your files for this lab, with those of earlier attempts, have at most ${MAX_ALL_BYTES / 1e6} MB; with "${files
            .map(({ name }) => name)
            .join('", "')
            .slice(0, 200)}" they would have ${((used + size) / 1e6).toFixed(1)} MB.`,
        );
      const rows = files.map((file) => ({
        ...file,
        id: randomUUID(),
        workId,
        size: file.bytes.length,
        removed: false,
      }));
      for (const row of rows) await manager.insert(Attachment, row);
      return rows.map(({ id, name, type, size }) => ({ id, name, type, size }));
    });
  }

  /** Takes a file away. One that was handed in stays with its attempt; any other is gone. */
  async detach(me: Me, assignment: Assignment, id: string): Promise<void> {
    const begun = await this.workOf(me, assignment);
    await this.db.transaction(async (manager) => this.takeAway(await this.lock(begun, manager), id, manager));
  }

  private async takeAway(
    { id: workId, assignmentId, studentId }: Work,
    id: string,
    manager: EntityManager,
  ): Promise<void> {
    const isHandedIn = await manager
      .createQueryBuilder(Submission, 'submission')
      .where({ assignmentId, studentId })
      .andWhere('submission.attachmentIds @> :ids', { ids: JSON.stringify([id]) })
      .getExists();
    if (isHandedIn) await manager.update(Attachment, { id, workId }, { removed: true });
    else await manager.delete(Attachment, { id, workId });
  }

  /**
   * Whatever changes a work or hands it in waits for its turn: first for the lab in its course, then for the work, in the
   * order in which a removal takes them. The other way round each would wait for the other.
   */
  async lock({ id, assignmentId }: Work, manager: EntityManager): Promise<Work> {
    await manager
      .createQueryBuilder(Assignment, 'assignment')
      .setLock('for_key_share')
      .where({ id: assignmentId })
      .getOne();
    return manager.findOneOrFail(Work, { where: { id }, lock: { mode: 'pessimistic_write' } });
  }

  /**
   * Hands in what is there now. The clock is passed in, so that deadlines can be tested. `id` is the sender's: a hand-in
   * that is sent again is answered as it was the first time.
   */
  async handIn(
    me: Me,
    assignment: Assignment,
    now: Date,
    { id = randomUUID(), drawing: shown }: { id?: string | undefined; drawing?: string | undefined } = {},
  ): Promise<{ id: string; attempt: number; late: boolean }> {
    const begun = await this.workOf(me, assignment);
    checkTheirs(begun, shown);
    return this.db.transaction(async (manager) => {
      const work = await this.lock(begun, manager);
      const done = await manager.findOneBy(Submission, { id });
      if (done && (done.assignmentId !== assignment.id || done.studentId !== me.id))
        throw refuse.input('This hand-in belongs to something else. Nothing was handed in: load the page again.');
      if (done) return { id, attempt: done.attempt, late: done.late };
      const { used, late, policy } = await this.mayHandIn(me, assignment, now, manager);
      const drawing = await this.documents.readDrawing(work.documentId, manager);
      const plan = await this.documents.readPlan(work.planId, manager);
      await this.insert(manager, {
        id,
        assignment,
        studentId: me.id,
        attempt: used + 1,
        topology: drawing.document,
        plan: isBlank(plan.document) ? null : plan.document,
        answers: { ...work.answers, ...(await settledIn(manager, work, policy)) },
        attachmentIds: (await this.attachments(work.id, manager)).map((attachment) => attachment.id),
        handedInAt: now,
        late,
      });
      for (const { id: document, revision } of isBlank(plan.document) ? [drawing] : [drawing, plan])
        await this.revisions.nameWithin(manager, document, revision, `Attempt ${used + 1}`, me);
      return { id, attempt: used + 1, late };
    });
  }

  /** Lets an attempt count in place of the last one, as long as the lab takes attempts. */
  async choose(me: Me, assignment: Assignment, now: Date, { attempt, drawing }: CountRequest): Promise<void> {
    const begun = await this.workOf(me, assignment);
    checkTheirs(begun, drawing);
    await this.db.transaction(async (manager) => {
      const work = await this.lock(begun, manager);
      const { policy } = await this.labs.parts(assignment.lab, manager);
      if (policy.counts !== 'chosen') throw refuse.state('In this lab nobody chooses which attempt counts.');
      if (assignment.dueAt !== null && now > assignment.dueAt && policy.late !== 'accepted')
        throw refuse.state('The lab was due: which attempt counts stays as it is. Talk to your instructor.');
      const own = { id: attempt, assignmentId: assignment.id, studentId: me.id };
      if (!(await manager.existsBy(Submission, own))) throw refuse.missing('attempt');
      await manager.update(Work, { id: work.id }, { chosenId: attempt });
    });
  }

  /** How many attempts a student has used, and whether one would be late now; refused where none is taken any more. */
  async mayHandIn(
    me: Me,
    assignment: Assignment,
    now: Date,
    manager: EntityManager,
  ): Promise<{ used: number; late: boolean; policy: Policy }> {
    const used = await manager.countBy(Submission, { assignmentId: assignment.id, studentId: me.id });
    const { timeZone } = await this.courses.byId(assignment.courseId, manager);
    const { policy } = await this.labs.parts(assignment.lab, manager);
    const late = assignment.dueAt !== null && now > assignment.dueAt;
    if (late && policy.late !== 'accepted') {
      const kept = used
        ? ` Attempt ${used}, which you handed in before, stays as it is.`
        : ' Nothing of yours was handed in; your drawing stays here. Talk to your instructor.';
      throw refuse.state(`The lab was due on ${written(assignment.dueAt!, timeZone)}: nothing more is taken.${kept}`);
    }
    const allowed = policy.attempts;
    if (allowed !== undefined && used >= allowed)
      throw refuse.state(`You have used all ${plural(allowed, 'attempt')}. Attempt ${used} stays as it is.`);
    return { used, late, policy };
  }

  async insert(
    manager: EntityManager,
    attempt: {
      id?: string;
      assignment: Assignment;
      studentId: string;
      attempt: number;
      topology: Topology;
      plan: Plan | null;
      answers: Record<string, string>;
      attachmentIds: string[];
      handedInAt: Date;
      late: boolean;
    },
  ): Promise<string> {
    const { assignment, id = randomUUID(), ...rest } = attempt;
    await manager.insert(Submission, {
      id,
      assignmentId: assignment.id,
      ...rest,
      formats: { topology: FORMATS.topology.version, plan: FORMATS.plan.version },
      topology: jsonb(rest.topology),
      plan: rest.plan && jsonb(rest.plan),
    });
    return id;
  }

  async attachmentsOf(submission: Submission): Promise<FileView[]> {
    const found = await this.db.manager.findBy(Attachment, { id: In(submission.attachmentIds) });
    return found.map(({ id, name, type, size }) => ({ id, name, type, size }));
  }

  async bytesOf({ id }: Attachment): Promise<Buffer> {
    const found = await this.db.manager.findOne(Attachment, { where: { id }, select: { id: true, bytes: true } });
    if (!found) throw refuse.missing('file');
    return found.bytes;
  }
}

/** A moment as a sentence has it: on the clocks of the course. */
const written = (date: Date, timeZone: string): string =>
  new Intl.DateTimeFormat('en-GB', { dateStyle: 'long', timeStyle: 'long', timeZone }).format(date);
