import { type INestApplication } from '@nestjs/common';
import { readLabText, readSubmissionText } from '@sobrin/core/formats';
import { type Plan, emptyPlan } from '@sobrin/core/plan';
import { type LabFile } from '@sobrin/core/spec';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { randomUUID } from 'node:crypto';
import { readFile, readdir } from 'node:fs/promises';
import path from 'node:path';
import { DataSource, type EntityManager } from 'typeorm';
import { Account } from '../accounts/account.entity';
import { hashPassword } from '../accounts/accounts.service';
import { Course, Membership } from '../courses/course.entity';
import { Assignment } from '../assignments/assignment.entity';
import { LabsService } from '../labs/labs.service';
import { WorksService } from '../submissions/works.service';
import { Work } from '../submissions/submission.entity';
import { DocumentsService } from '../documents/documents.service';
import { config } from './config';

export const DEMO_PASSWORD = 'kestrel-ridge';
/** Has handed in nothing yet. */
export const DEMO_STUDENT = 'zofia.wrona';
export const DEMO_INSTRUCTOR = { login: 'maren', name: 'Maren Osterkamp' };
/** Students of the course who have handed in nothing yet: one of them is shown on the sign-in page. */
const WITHOUT_SUBMISSIONS = ['Zofia Wrona', 'Tobias Ferreira'];
const LABS = ['valley-lan', 'three-stations', 'season-opening', 'winch-isolation', 'summit-dual-stack'];
const DAY = 86_400_000;
/** What servers of this database agree upon to lock while it is filled. */
const FILLING = 84_842;

/** Fills an empty database with the demo of Kestrel Ridge from the files in demo/. True where it did. */
export async function seedDemo(app: INestApplication, now: Date): Promise<boolean> {
  const db = app.get(DataSource);
  if (await db.manager.existsBy(Account, {})) return false;
  const labs = await Promise.all(LABS.map(readDemoLab));
  const names = [
    ...new Set([
      ...WITHOUT_SUBMISSIONS,
      ...labs.flatMap((lab) => lab.submissions.map((submission) => submission.student)),
    ]),
  ].sort((a, b) => a.localeCompare(b, 'en'));
  // One password for all on purpose: the demo's accounts protect nothing, and 25 slow hashes would delay the first start.
  const passwordHash = await hashPassword(DEMO_PASSWORD);
  return db.transaction(async (manager) => {
    // Of two servers that start at once one fills it, and the other waits as long as that takes.
    await manager.query('SET LOCAL lock_timeout = 0');
    await manager.query('SET LOCAL statement_timeout = 0');
    await manager.query('SELECT pg_advisory_xact_lock($1)', [FILLING]);
    if (await manager.existsBy(Account, {})) return false;
    const person = (login: string, name: string, mayCreateCourses: boolean): Account => ({
      id: randomUUID(),
      login,
      name,
      mayCreateCourses,
      passwordHash,
      demo: true,
    });
    const instructor = person(DEMO_INSTRUCTOR.login, DEMO_INSTRUCTOR.name, true);
    const students = names.map((name) => person(loginOf(name), name, false));
    await manager.insert(Account, [instructor, ...students]);
    const course = {
      id: randomUUID(),
      title: 'Networks 1',
      term: 'Autumn, Alder Vocational College',
      timeZone: 'Europe/Vienna',
      createdAt: now,
    };
    await manager.insert(Course, course);
    await manager.insert(
      Membership,
      [instructor, ...students].map(({ id, name }) => ({
        courseId: course.id,
        accountId: id,
        role: id === instructor.id ? ('instructor' as const) : ('student' as const),
        name,
        group: '',
        acceptedAt: now,
      })),
    );
    for (const [at, lab] of labs.entries())
      await seedLab(app, manager, instructor, course.id, lab, students, dueIn(14 + 14 * at, now), now);
    return true;
  });
}

/** In so many days, at six in the evening on the clocks of the demo's course in winter. */
const dueIn = (days: number, now: Date): Date =>
  new Date(new Date(now.getTime() + days * DAY).setUTCHours(17, 0, 0, 0));

interface DemoLab {
  file: LabFile;
  submissions: { student: string; topology: Topology; plan: Plan | null }[];
}

async function readDemoLab(slug: string): Promise<DemoLab> {
  const folder = path.join(config.demoFolder, slug);
  const lab = readLabText(await readFile(path.join(folder, 'lab.json'), 'utf8'));
  if (!lab.ok)
    throw new Error(
      `demo/${slug}/lab.json: ${lab.error.map((problem) => `${problem.place}: ${problem.text}`).join(' ')}`,
    );
  const names = (await readdir(path.join(folder, 'submissions'))).sort();
  const submissions = await Promise.all(
    names.map(async (name) => {
      const read = readSubmissionText(await readFile(path.join(folder, 'submissions', name), 'utf8'));
      if (!read.ok) throw new Error(`demo/${slug}/submissions/${name}: ${read.error[0]?.text}`);
      return {
        student: read.value.student ?? name,
        topology: read.value.topology ?? emptyTopology(),
        plan: read.value.plan ?? null,
      };
    }),
  );
  return { file: lab.value, submissions };
}

async function seedLab(
  app: INestApplication,
  manager: EntityManager,
  instructor: Account,
  courseId: string,
  lab: DemoLab,
  students: readonly Account[],
  dueAt: Date,
  now: Date,
): Promise<void> {
  const labs = app.get(LabsService);
  const id = await labs.store(instructor, courseId, lab.file, manager);
  await labs.release(instructor, await manager.findOneByOrFail(Assignment, { id }), manager);
  await manager.update(Assignment, { id }, { dueAt });
  const assignment = await manager.findOneByOrFail(Assignment, { id });
  for (const [at, submission] of lab.submissions.entries()) {
    const student = students.find((each) => each.name === submission.student)!;
    const documents = app.get(DocumentsService);
    const documentId = await documents.create(submission.topology, 'topology', manager);
    const planId = await documents.create(submission.plan ?? emptyPlan(), 'plan', manager);
    await manager.insert(Work, {
      id: randomUUID(),
      assignmentId: id,
      studentId: student.id,
      documentId,
      planId,
      answers: {},
    });
    await app.get(WorksService).insert(manager, {
      assignment,
      studentId: student.id,
      attempt: 1,
      topology: submission.topology,
      plan: submission.plan,
      answers: {},
      attachmentIds: [],
      handedInAt: new Date(now.getTime() - (20 - at) * 3_600_000),
      late: false,
    });
  }
}

const loginOf = (name: string): string =>
  name
    .toLowerCase()
    .normalize('NFD')
    .replace(/[^a-z ]/g, '')
    .replaceAll(' ', '.');
