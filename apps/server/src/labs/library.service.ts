import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type LabEditors, type LibraryLab, type Me } from '@sobrin/contracts';
import { plural } from '@sobrin/core';
import { randomUUID } from 'node:crypto';
import { DataSource, In, IsNull, Not } from 'typeorm';
import { Account } from '../accounts/account.entity';
import { Assignment } from '../assignments/assignment.entity';
import { Course, Membership } from '../courses/course.entity';
import { MembersService } from '../courses/members.service';
import { StoredDocument } from '../documents/document.entity';
import { refuse } from '../platform/refusal';
import { Lab, LabEditor, documentsOf } from './lab.entity';
import { LabsService } from './labs.service';

const TEACHES = { role: 'instructor', acceptedAt: Not(IsNull()) } as const;

/** The labs that an instructor may hand out: their own, those they edit, and those that courses they teach got. */
@Injectable()
export class LibraryService {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly labs: LabsService,
    private readonly members: MembersService,
  ) {}

  async list(me: Me): Promise<LibraryLab[]> {
    const { manager } = this.db;
    const taught = await manager.findBy(Membership, { accountId: me.id, ...TEACHES });
    const courses = await manager.findBy(Course, { id: In(taught.map(({ courseId }) => courseId)) });
    const got = await manager.findBy(Assignment, { courseId: In(courses.map(({ id }) => id)) });
    const edited = await manager.findBy(LabEditor, { accountId: me.id });
    const labs = await manager.find(Lab, {
      where: [{ ownerId: me.id }, { id: In([...edited, ...got].map(({ labId }) => labId)) }],
      order: { title: 'ASC', createdAt: 'ASC' },
    });
    const owners = await manager.findBy(Account, { id: In(labs.map(({ ownerId }) => ownerId)) });
    return labs.map(({ id, title, ownerId }) => ({
      id,
      title,
      owner: owners.find((owner) => owner.id === ownerId)!.name,
      isOwner: ownerId === me.id,
      mayEdit: ownerId === me.id || edited.some(({ labId }) => labId === id),
      courses: courses
        .filter((course) => got.some(({ labId, courseId }) => labId === id && courseId === course.id))
        .map((course) => course.title)
        .sort(),
    }));
  }

  /** Hands a lab of the library to a course that does not see it yet, or a copy that is the person's own; the id of the assignment. */
  async handTo(me: Me, courseId: string, labId: string, copy: boolean): Promise<string> {
    if (!(await this.list(me)).some(({ id }) => id === labId)) throw refuse.missing('lab');
    const lab = await this.db.manager.findOneByOrFail(Lab, { id: labId });
    if (copy) return this.labs.store(me, courseId, await this.labs.export(lab));
    const id = randomUUID();
    await this.db.transaction(async (manager) => {
      await manager.findOneOrFail(Course, { where: { id: courseId }, lock: { mode: 'pessimistic_write' } });
      if (await manager.existsBy(Assignment, { courseId, labId }))
        throw refuse.state('The course has this lab already. Take a copy if it is to be done twice.');
      await manager.insert(Assignment, {
        id,
        courseId,
        labId,
        versionHash: null,
        releasedAt: null,
        dueAt: null,
        createdAt: new Date(),
      });
    });
    return id;
  }

  /** Removes a lab of the person's own for good, with its versions; refused while a course has it. */
  async remove({ id }: Lab): Promise<void> {
    await this.db.transaction(async (manager) => {
      const lab = await manager.findOne(Lab, { where: { id }, lock: { mode: 'pessimistic_write' } });
      if (!lab) throw refuse.missing('lab');
      const held = await manager.countBy(Assignment, { labId: id });
      if (held)
        throw refuse.state(
          `${plural(held, 'course has', 'courses have')} "${lab.title}": take it out there first. Nothing was removed.`,
        );
      await manager.delete(Lab, { id });
      await manager.delete(StoredDocument, { id: In(documentsOf(lab)) });
    });
  }

  /** Who may change a lab beside its owner, and who else teaches the course. */
  async editors({ lab, courseId }: Assignment): Promise<LabEditors> {
    const editors = await this.db.manager.findBy(LabEditor, { labId: lab.id });
    const taught = await this.db.manager.findBy(Membership, { courseId, ...TEACHES });
    const ids = [lab.ownerId, ...editors.map(({ accountId }) => accountId)];
    const names = await this.members.namesIn(courseId, [...ids, ...taught.map(({ accountId }) => accountId)]);
    const person = (id: string): { id: string; name: string } => ({ id, name: names.get(id)! });
    const byName = (a: { name: string }, b: { name: string }): number => a.name.localeCompare(b.name, 'en');
    return {
      owner: person(lab.ownerId),
      editors: ids.slice(1).map(person).sort(byName),
      others: taught.flatMap(({ accountId }) => (ids.includes(accountId) ? [] : person(accountId))).sort(byName),
    };
  }

  /** Names those who may change a lab: of the instructors of the course, or who did before. */
  async nameEditors(assignment: Assignment, accounts: readonly string[]): Promise<void> {
    await this.db.transaction(async (manager) => {
      await manager.findOneOrFail(Lab, { where: { id: assignment.labId }, lock: { mode: 'pessimistic_write' } });
      const taught = await manager.findBy(Membership, { courseId: assignment.courseId, ...TEACHES });
      const before = await manager.findBy(LabEditor, { labId: assignment.labId });
      const known = new Set([...taught, ...before].map(({ accountId }) => accountId));
      if (accounts.some((id) => !known.has(id)))
        throw refuse.input('Only instructors of the course can be named to change its labs. Nobody was named.');
      await manager.delete(LabEditor, { labId: assignment.labId });
      const next = [...new Set(accounts)].filter((id) => id !== assignment.lab.ownerId);
      await manager.insert(
        LabEditor,
        next.map((accountId) => ({ labId: assignment.labId, accountId })),
      );
    });
  }
}
