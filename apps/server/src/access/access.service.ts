import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type CourseRole, type Me } from '@sobrin/contracts';
import { type Policy } from '@sobrin/core/spec';
import { DataSource, In, IsNull, Not } from 'typeorm';
import { Account, Session } from '../accounts/account.entity';
import { Assignment } from '../assignments/assignment.entity';
import { Course, Membership } from '../courses/course.entity';
import { JobsService } from '../jobs/jobs.service';
import { StoredDocument } from '../documents/document.entity';
import { Lab, LabEditor, labOfDocument } from '../labs/lab.entity';
import { refuse } from '../platform/refusal';
import { Attachment, Submission, Work } from '../submissions/submission.entity';

/** What one may want of the objects that routes name. */
export interface Rights {
  /** `answer` an invitation to it; `see` its people as staff; `teach` it. */
  course: 'create' | 'answer' | 'see' | 'teach';
  /** What a course got. `do` it as its student, `look` at what comes with it, `see` all of it as staff, decide on it (`teach`). */
  lab: 'do' | 'look' | 'see' | 'teach' | 'edit' | 'own';
  submission: 'see' | 'teach';
  /** A lab itself, whichever courses have it. */
  libraryLab: 'own';
  /** `look` at it as it is, `comment` on it, `read` also what it was, `edit` it, `show` it to everybody. */
  document: 'look' | 'comment' | 'read' | 'edit' | 'show';
  attachment: 'read';
  session: 'end';
  /** Something that waits in the queue. */
  job: 'cancel';
}
export type ObjectKind = keyof Rights;

/** What a route gets once it is granted. */
export interface Granted {
  course: Course;
  lab: Assignment;
  submission: { submission: Submission; assignment: Assignment };
  libraryLab: Lab;
  /**
   * The lab that a document belongs to; null where it is one of a student's work. `speaksAs` is the name of whoever may
   * comment on the work of another, and no more.
   */
  document: { id: string; lab: Lab | null; mayEdit: boolean; speaksAs: string | null };
  attachment: Attachment;
  session: string;
  job: string;
}

const STAFF: readonly CourseRole[] = ['instructor', 'assistant'];
const FOR_INSTRUCTORS = 'This is for the instructors of the course.';
const FOR_STAFF = 'This is for instructors and assistants of the course.';

/**
 * Who may do what: asked once a request by the guard, with the object that the route names. What a person may not know of
 * is missing (404); what they see and may not do is refused with a sentence (403).
 */
@Injectable()
export class AccessService {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly jobs: JobsService,
  ) {}

  /** The object of an id, or the refusal. */
  async grant<Kind extends ObjectKind>(me: Me, right: Rights[Kind], kind: Kind, id: string): Promise<Granted[Kind]> {
    const ways: { [Each in ObjectKind]: (right: never) => Promise<Granted[Each]> } = {
      course: (wanted: Rights['course']) => this.course(me, wanted, id),
      lab: (wanted: Rights['lab']) => this.lab(me, wanted, id),
      submission: (wanted: Rights['submission']) => this.submission(me, wanted, id),
      libraryLab: () => this.libraryLab(me, id),
      document: (wanted: Rights['document']) => this.document(me, wanted, id),
      attachment: () => this.attachment(me, id),
      session: () => this.session(me, id),
      job: () => this.job(me, id),
    };
    return (ways[kind] as (wanted: Rights[Kind]) => Promise<Granted[Kind]>)(right);
  }

  /** Whether the person may change a lab itself, wherever it was handed out: its owner, and whom the owner named. */
  async mayEdit(me: Me, lab: Lab): Promise<boolean> {
    return lab.ownerId === me.id || this.db.manager.existsBy(LabEditor, { labId: lab.id, accountId: me.id });
  }

  /** The same as a refusal that says whose it is. */
  async mustEdit(me: Me, lab: Lab): Promise<void> {
    if (await this.mayEdit(me, lab)) return;
    const owner = await this.db.manager.findOneByOrFail(Account, { id: lab.ownerId });
    throw refuse.forbidden(
      `This lab lies in the library of ${owner.name}: you may read it, and copy it to change the copy. Nothing was stored.`,
    );
  }

  /** What the person is in a course; null where they are not in it, or have not accepted. */
  async roleIn(me: Me, courseId: string): Promise<CourseRole | null> {
    const found = await this.db.manager.findOneBy(Membership, {
      courseId,
      accountId: me.id,
      acceptedAt: Not(IsNull()),
    });
    return found?.role ?? null;
  }

  /** Whether somebody who asks for a new course may begin one. */
  mayCreateCourse(me: Me): void {
    if (!me.mayCreateCourses)
      throw refuse.forbidden('You may not begin courses here. Whoever runs Sobrin can allow it to you.');
  }

  private async course(me: Me, right: Rights['course'], id: string): Promise<Course> {
    const course = await this.db.manager.findOneBy(Course, { id });
    if (right === 'answer') {
      if (!course || !(await this.db.manager.existsBy(Membership, { courseId: id, accountId: me.id })))
        throw refuse.missing('invitation');
      return course;
    }
    const role = course && (await this.roleIn(me, id));
    if (!course || !role) throw refuse.missing('course');
    if (right === 'teach' && role !== 'instructor') throw refuse.forbidden(FOR_INSTRUCTORS);
    if (!STAFF.includes(role)) throw refuse.forbidden(FOR_STAFF);
    return course;
  }

  private async lab(me: Me, right: Rights['lab'], id: string): Promise<Assignment> {
    const assignment = await this.db.manager.findOneBy(Assignment, { id });
    const role = assignment && (await this.roleIn(me, assignment.courseId));
    if (!assignment || !role || (role === 'student' && !assignment.releasedAt)) throw refuse.missing('lab');
    if (right === 'look') return assignment;
    if (right === 'do') {
      if (role !== 'student') throw refuse.forbidden('This is for students of the course.');
    } else if (right === 'see') {
      if (!STAFF.includes(role)) throw refuse.forbidden(FOR_STAFF);
    } else if (role !== 'instructor') throw refuse.forbidden(FOR_INSTRUCTORS);
    if (right === 'edit') await this.mustEdit(me, assignment.lab);
    if (right === 'own' && assignment.lab.ownerId !== me.id)
      throw refuse.forbidden('Who else may change a lab is for its owner to say. Nothing was changed.');
    return assignment;
  }

  private async submission(me: Me, right: Rights['submission'], id: string): Promise<Granted['submission']> {
    const submission = await this.db.manager.findOneBy(Submission, { id });
    if (!submission) throw refuse.missing('submission');
    return { submission, assignment: await this.lab(me, right, submission.assignmentId) };
  }

  private async libraryLab(me: Me, id: string): Promise<Lab> {
    const lab = await this.db.manager.findOneBy(Lab, { id, ownerId: me.id });
    if (!lab) throw refuse.missing('lab');
    return lab;
  }

  private async document(me: Me, right: Rights['document'], id: string): Promise<Granted['document']> {
    const work = await this.db.manager.findOneBy(Work, [{ documentId: id }, { planId: id }]);
    if (work) {
      if (work.studentId !== me.id) return this.lookedInto(me, right, id, work);
      // Who is off the roster keeps it, and sees it again when back.
      await this.lab(me, 'do', work.assignmentId);
      if (right === 'show') throw refuse.forbidden('What students draw is not shown to everybody: it is judged.');
      return { id, lab: null, mayEdit: true, speaksAs: null };
    }
    const lab = await labOfDocument(this.db.manager, id);
    const isEditor = lab !== null && (await this.mayEdit(me, lab));
    if (!lab || !(isEditor || (await this.seesAsStaff(me, lab)))) throw refuse.missing('document');
    if (right !== 'read' && right !== 'look' && !isEditor) await this.mustEdit(me, lab);
    return { id, lab, mayEdit: isEditor, speaksAs: null };
  }

  /** What a student draws, before it is handed in: to be looked at and spoken in by the course's staff, where its lab says so. */
  private async lookedInto(me: Me, right: Rights['document'], id: string, work: Work): Promise<Granted['document']> {
    const assignment = await this.db.manager.findOneByOrFail(Assignment, { id: work.assignmentId });
    const { courseId } = assignment;
    const role = await this.roleIn(me, courseId);
    if (!role || !STAFF.includes(role) || !(await this.maySeeDrawings(assignment.lab)))
      throw refuse.missing('document');
    if (right !== 'look' && right !== 'comment')
      throw refuse.forbidden('This is the student’s own: you may look at it and comment on it. Nothing was changed.');
    return { id, lab: null, mayEdit: false, speaksAs: await this.nameIn(me, courseId) };
  }

  /** Whether staff may look at what students draw for a lab before it is handed in. */
  async maySeeDrawings({ policyId }: Lab): Promise<boolean> {
    const found = await this.db.manager.findOneBy(StoredDocument, { id: policyId });
    const policy: Policy | undefined = found?.content;
    return policy?.lookIn === true;
  }

  /** How a course writes the name of a person. */
  async nameIn(me: Me, courseId: string): Promise<string> {
    const found = await this.db.manager.findOneBy(Membership, { courseId, accountId: me.id });
    return found?.name ?? me.name;
  }

  /** Whether one of the person's courses got the lab, and they are on its staff. */
  private async seesAsStaff(me: Me, lab: Lab): Promise<boolean> {
    const got = await this.db.manager.findBy(Assignment, { labId: lab.id });
    return this.db.manager.existsBy(Membership, {
      courseId: In(got.map(({ courseId }) => courseId)),
      accountId: me.id,
      role: In(STAFF),
      acceptedAt: Not(IsNull()),
    });
  }

  private async attachment(me: Me, id: string): Promise<Attachment> {
    const attachment = await this.db.manager.findOneBy(Attachment, { id });
    const work = attachment && (await this.db.manager.findOneBy(Work, { id: attachment.workId }));
    if (!attachment || !work) throw refuse.missing('file');
    const role = await this.roleIn(me, (await this.lab(me, 'look', work.assignmentId)).courseId);
    if (work.studentId !== me.id && !STAFF.includes(role!)) throw refuse.missing('file');
    return attachment;
  }

  private async job(me: Me, id: string): Promise<string> {
    const job = await this.jobs.about(id);
    if (!job) throw refuse.missing('job');
    await this.lab(me, 'teach', job.assignment);
    return id;
  }

  private async session(me: Me, id: string): Promise<string> {
    if (!(await this.db.manager.existsBy(Session, { id, accountId: me.id }))) throw refuse.missing('session');
    return id;
  }
}
