import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import {
  type AddedMember,
  type ChangeMemberRequest,
  type CourseRole,
  type Invitation,
  type Me,
  type Member,
  type OneTimeLink,
  type RosterEntry,
} from '@sobrin/contracts';
import { DataSource, type EntityManager, In, IsNull, Not } from 'typeorm';
import { Account, SecondFactor } from '../accounts/account.entity';
import { AccountsService } from '../accounts/accounts.service';
import { LinksService } from '../accounts/links.service';
import { Lab } from '../labs/lab.entity';
import { refuse } from '../platform/refusal';
import { Course, Membership } from './course.entity';

/** What PostgreSQL says where a value is there already that may be there once. */
const TAKEN = '23505';
const ACCEPTED = Not(IsNull());
/** Instructors first, then assistants. */
const ORDER: readonly CourseRole[] = ['instructor', 'assistant', 'student'];

/** The people of courses. */
@Injectable()
export class MembersService {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly accounts: AccountsService,
    private readonly links: LinksService,
  ) {}

  /** Everybody in a course: by what they are in it, then by name. */
  async list(courseId: string): Promise<Member[]> {
    return this.membersOf(await this.db.manager.findBy(Membership, { courseId }));
  }

  private async membersOf(
    memberships: readonly Membership[],
    manager: EntityManager = this.db.manager,
  ): Promise<Member[]> {
    const accounts = await manager.findBy(Account, { id: In(memberships.map(({ accountId }) => accountId)) });
    const logins = new Map(accounts.map(({ id, login }) => [id, login]));
    return memberships
      .map(({ accountId, name, role, group, acceptedAt }) => ({
        id: accountId,
        name,
        login: logins.get(accountId)!,
        role,
        group,
        isInvited: acceptedAt === null,
      }))
      .sort((a, b) => ORDER.indexOf(a.role) - ORDER.indexOf(b.role) || a.name.localeCompare(b.name, 'en'));
  }

  /** The students of a course by name, those who have not accepted among them. */
  async students(courseId: string): Promise<Member[]> {
    return (await this.list(courseId)).filter(({ role }) => role === 'student');
  }

  /** How a course writes the names of people, by their id; those who left it are there by the name of their account. */
  async namesIn(courseId: string, accounts: readonly string[]): Promise<ReadonlyMap<string, string>> {
    const ids = In([...accounts]);
    const people = await this.db.manager.findBy(Account, { id: ids });
    const memberships = await this.db.manager.findBy(Membership, { courseId, accountId: ids });
    return new Map([
      ...people.map(({ id, name }) => [id, name] as const),
      ...memberships.map(({ accountId, name }) => [accountId, name] as const),
    ]);
  }

  /**
   * Adds people to a course, all of them or none. Whoever has an account is invited and accepts; accounts that do not exist
   * yet are made, each with an address to choose a password.
   */
  async add(courseId: string, entries: readonly RosterEntry[]): Promise<AddedMember[]> {
    const once = [...new Map(entries.map((entry) => [entry.login, entry])).values()];
    return this.db.transaction(async (manager) => {
      const found = await this.accounts.makeMissing(once, manager);
      const rows = found.map(({ account, isNew }, at): Membership => ({
        courseId,
        accountId: account.id,
        role: once[at]!.role ?? 'student',
        name: once[at]!.name,
        group: once[at]!.group ?? '',
        acceptedAt: isNew ? new Date() : null,
        position: null,
      }));
      const ids = rows.map(({ accountId }) => accountId);
      // Two rosters at once: always in the same order, or each waits for the other.
      const made = await manager
        .createQueryBuilder()
        .insert()
        .into(Membership)
        .values([...rows].sort((a, b) => (a.accountId < b.accountId ? -1 : 1)))
        .orIgnore()
        .returning('account_id')
        .execute();
      const isMade = new Set((made.raw as { account_id: string }[]).map(({ account_id: id }) => id));
      const links = await this.links.makeWithin(
        manager,
        found.flatMap(({ account, isNew }) => (isNew ? account.id : [])),
      );
      const memberships = await manager.findBy(Membership, { courseId, accountId: In(ids) });
      const members = await this.membersOf(memberships, manager);
      return ids.map((id) => ({
        ...members.find((member) => member.id === id)!,
        link: links.get(id) ?? null,
        wasThere: !isMade.has(id),
      }));
    });
  }

  /** Whoever changes who teaches a course waits for the others, so that somebody always does. */
  private async locked(
    manager: EntityManager,
    courseId: string,
    accountId: string,
  ): Promise<{ membership: Membership; isLast: boolean }> {
    await manager.findOneOrFail(Course, { where: { id: courseId }, lock: { mode: 'pessimistic_write' } });
    const membership = await manager.findOneBy(Membership, { courseId, accountId });
    if (!membership) throw refuse.missing('person in this course');
    const teachers = await manager.findBy(Membership, { courseId, role: 'instructor', acceptedAt: ACCEPTED });
    return { membership, isLast: teachers.length === 1 && teachers[0]!.accountId === accountId };
  }

  /** Changes what the course says of somebody, and their sign-in name where nobody else has a say in it. */
  async change(me: Me, courseId: string, accountId: string, change: ChangeMemberRequest): Promise<Member> {
    const { login, ...of } = change;
    const changing = this.db.transaction(async (manager) => {
      const { membership, isLast } = await this.locked(manager, courseId, accountId);
      if (isLast && of.role !== undefined && of.role !== 'instructor') throw refuse.state(LAST);
      const next = { ...membership, ...of };
      const { role, name, group } = next;
      await manager.update(Membership, { courseId, accountId }, { role, name, group });
      if (login !== undefined) {
        const account = await this.ownAccount(manager, me, membership);
        if (login !== account.login) await manager.update(Account, { id: accountId }, { login });
      }
      return (await this.membersOf([next], manager))[0]!;
    });
    return changing.catch((error: unknown) => {
      if ((error as { code?: string }).code === TAKEN)
        throw refuse.state(`"${login}" is taken: somebody else signs in with it. Nothing was changed.`);
      throw error;
    });
  }

  /** A new address to choose a password. */
  async linkFor(me: Me, courseId: string, accountId: string): Promise<OneTimeLink> {
    return this.db.transaction(async (manager) => {
      const membership = await manager.findOneBy(Membership, { courseId, accountId });
      if (!membership) throw refuse.missing('person in this course');
      const account = await this.ownAccount(manager, me, membership);
      const links = await this.links.makeWithin(manager, [account.id]);
      return { link: links.get(account.id)! };
    });
  }

  /**
   * The account of somebody whom nobody but the person who asks answers for: accepted here, in no course of others, and
   * without courses or labs of their own. Whoever runs Sobrin answers for the rest.
   */
  private async ownAccount(manager: EntityManager, me: Me, membership: Membership): Promise<Account> {
    const account = await manager.findOneByOrFail(Account, { id: membership.accountId });
    if (account.demo) throw refuse.forbidden('People of the demo sign in with a click: there is no password to lose.');
    const operator = `Whoever runs Sobrin can: npm run account -- reset ${account.login}`;
    if (membership.acceptedAt === null)
      throw refuse.forbidden(
        `${membership.name} has an account of before and has not accepted yet: it is not yours to change. ${operator}`,
      );
    if (await manager.existsBy(SecondFactor, { accountId: account.id, isOn: true }))
      throw refuse.forbidden(`${membership.name} signs in with a second factor. ${operator}`);
    if (account.mayCreateCourses || (await manager.existsBy(Lab, { ownerId: account.id })))
      throw refuse.forbidden(`${membership.name} has courses or labs of their own. ${operator}`);
    const everywhere = await manager.findBy(Membership, { accountId: account.id });
    const taught = await manager.countBy(Membership, {
      courseId: In(everywhere.map(({ courseId }) => courseId)),
      accountId: me.id,
      role: 'instructor',
      acceptedAt: ACCEPTED,
    });
    if (taught < everywhere.length)
      throw refuse.forbidden(`${membership.name} also is in courses of others. ${operator}`);
    return account;
  }

  async remove(courseId: string, accountId: string): Promise<void> {
    await this.db.transaction(async (manager) => {
      const { isLast } = await this.locked(manager, courseId, accountId);
      if (isLast) throw refuse.state(LAST);
      await manager.delete(Membership, { courseId, accountId });
    });
  }

  /** The courses that somebody was added to and has not answered. */
  async invitations(me: Me): Promise<Invitation[]> {
    const open = await this.db.manager.findBy(Membership, { accountId: me.id, acceptedAt: IsNull() });
    const ids = In(open.map(({ courseId }) => courseId));
    const courses = await this.db.manager.find(Course, { where: { id: ids }, order: { createdAt: 'DESC' } });
    const teachers = await this.db.manager.findBy(Membership, {
      courseId: ids,
      role: 'instructor',
      acceptedAt: ACCEPTED,
    });
    return courses.map(({ id, title, term }) => {
      const { role, name } = open.find(({ courseId }) => courseId === id)!;
      const instructors = teachers.filter(({ courseId }) => courseId === id).map((teacher) => teacher.name);
      return { courseId: id, title, term, role, name, instructors: instructors.sort() };
    });
  }

  /** Accepts an invitation; one that is accepted stays so. */
  async accept(me: Me, courseId: string): Promise<void> {
    const invitation = { courseId, accountId: me.id, acceptedAt: IsNull() };
    await this.db.manager.update(Membership, invitation, { acceptedAt: new Date() });
  }

  /** Declines an invitation. Who has accepted is taken off the roster by an instructor. */
  async decline(me: Me, courseId: string): Promise<void> {
    const { affected } = await this.db.manager.delete(Membership, {
      courseId,
      accountId: me.id,
      acceptedAt: IsNull(),
    });
    // Declined twice at once, it is gone, and that is what was wanted.
    if (!affected && (await this.db.manager.existsBy(Membership, { courseId, accountId: me.id })))
      throw refuse.state('You are in this course already. Ask its instructor if you want to be off the roster.');
  }
}

const LAST = 'Somebody has to teach the course: make another person its instructor first. Nothing was changed.';
