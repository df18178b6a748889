import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type DecideRequest, type DecisionView, type Me, type PinRequest, type PinView } from '@sobrin/contracts';
import { splitInstanceId } from '@sobrin/core/engine';
import { type CheckResult, type Pins, askedBy, decided, decisionProblem } from '@sobrin/core/spec';
import { type Topology, entryOf } from '@sobrin/core/topology';
import { randomUUID } from 'node:crypto';
import { DataSource, type EntityManager, In, IsNull } from 'typeorm';
import { Account } from '../accounts/account.entity';
import { type Assignment } from '../assignments/assignment.entity';
import { LabsService } from '../labs/labs.service';
import { LabVersionsService } from '../labs/versions.service';
import { refuse } from '../platform/refusal';
import { type Submission } from '../submissions/submission.entity';
import { CheckRecord, cellsOf, openIn } from './check.entity';
import { DecisionRecord, Pin } from './decision.entity';
import { countingAttempts } from './counting-attempts';
import { newestResults } from './newest-checks';

/** Of a requirement or a fact of one submission: so many times may somebody think better of it. */
const MOST_DECISIONS = 2000;

/** What persons decide of results, and who they say plays which role. Decisions start no check; pins do. */
@Injectable()
export class DecisionsService {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly versions: LabVersionsService,
    private readonly labs: LabsService,
  ) {}

  /** The decisions about a submission that hold, or that did once. */
  async list(submission: Submission, assignment: Assignment, result: CheckRecord | undefined): Promise<DecisionView[]> {
    const rows = await this.db.manager.find(DecisionRecord, {
      where: { submissionId: submission.id },
      order: { at: 'ASC', id: 'ASC' },
    });
    if (!rows.length) return [];
    const numbers = await this.versions.numbersOf(assignment.labId);
    const names = await this.namesOf(rows.flatMap(({ byId, endedById }) => [byId, ...(endedById ? [endedById] : [])]));
    const asked = await this.askedIn(result?.versionHash ?? null);
    return rows.map((row) => ({
      id: row.id,
      requirement: row.requirement,
      item: row.item,
      isMet: row.isMet,
      points: row.points,
      reason: row.reason,
      by: names.get(row.byId) ?? '',
      at: row.at.toISOString(),
      version: numbers.get(row.versionHash) ?? null,
      holds: row.endedAt === null && asked.get(row.requirement) === row.asked,
      asked: row.asked,
      ended:
        row.endedAt && row.endedById ? { by: names.get(row.endedById) ?? '', at: row.endedAt.toISOString() } : null,
    }));
  }

  private async namesOf(ids: readonly string[]): Promise<ReadonlyMap<string, string>> {
    const accounts = await this.db.manager.findBy(Account, { id: In([...new Set(ids)]) });
    return new Map(accounts.map(({ id, name }) => [id, name]));
  }

  /** What the requirements of a version ask, as hashes, by their ids. */
  private async askedIn(
    version: string | null,
    manager: EntityManager = this.db.manager,
  ): Promise<ReadonlyMap<string, string>> {
    if (version === null) return new Map();
    const { spec } = await this.versions.read(version, manager);
    return new Map(spec.sections.flatMap((section) => section.requirements.map((each) => [each.id, askedBy(each)])));
  }

  /** A result with all that was decided of its submission. */
  async applied(
    { submissionId, versionHash, result }: Pick<CheckRecord, 'submissionId' | 'versionHash' | 'result'>,
    manager: EntityManager = this.db.manager,
  ): Promise<CheckResult> {
    const rows = await this.holding(manager, submissionId);
    if (!rows.length || versionHash === null) return result;
    return decided(await this.versions.read(versionHash, manager), result, rows);
  }

  holding(manager: EntityManager, submissionId: string): Promise<DecisionRecord[]> {
    return manager.find(DecisionRecord, {
      where: { submissionId, endedAt: IsNull() },
      order: { at: 'ASC', id: 'ASC' },
    });
  }

  /** Decides a requirement or a fact of the newest result; what was decided of it before ends. */
  async decide(me: Me, submission: Submission, request: DecideRequest): Promise<void> {
    await this.db.transaction(async (manager) => {
      const check = await this.locked(manager, submission.id);
      await this.put(manager, me, check, request);
      await this.show(manager, check);
    });
  }

  private async put(manager: EntityManager, me: Me, check: CheckRecord, request: DecideRequest): Promise<void> {
    const { requirement: id, item, isMet, points } = request;
    const reason = request.reason.trim();
    if (check.versionHash === null)
      throw refuse.state('This result was made before labs had versions. Check the submission again first.');
    const problem = decisionProblem(check.result, { requirement: id, item, isMet, points });
    if (problem !== null) throw refuse.input(problem);
    const isOpen = check.result.requirements
      .find((each) => each.id === id)!
      .items.some(({ key, met }) => key === item && met === null);
    if (!reason && !isOpen) throw refuse.input('Say why: what was judged is decided otherwise only with a reason.');
    const asked = (await this.askedIn(check.versionHash, manager)).get(id);
    if (asked === undefined) throw refuse.input(`The spec that judged has no requirement "${id}".`);
    if ((await manager.countBy(DecisionRecord, { submissionId: check.submissionId })) >= MOST_DECISIONS)
      throw refuse.state(`More than ${MOST_DECISIONS} decisions about one submission are not kept.`);
    await manager.update(
      DecisionRecord,
      { submissionId: check.submissionId, requirement: id, item: item ?? IsNull(), endedAt: IsNull() },
      { endedById: me.id, endedAt: new Date() },
    );
    await manager.insert(DecisionRecord, {
      id: randomUUID(),
      submissionId: check.submissionId,
      requirement: id,
      item,
      isMet,
      points,
      reason,
      asked,
      versionHash: check.versionHash,
      byId: me.id,
      at: new Date(),
    });
  }

  /** Takes a decision back; it stays on record. */
  async takeBack(me: Me, submission: Submission, id: string): Promise<void> {
    await this.db.transaction(async (manager) => {
      const check = await this.locked(manager, submission.id);
      const { affected } = await manager.update(
        DecisionRecord,
        { id, submissionId: submission.id, endedAt: IsNull() },
        { endedById: me.id, endedAt: new Date() },
      );
      if (!affected) throw refuse.missing('decision');
      await this.show(manager, check);
    });
  }

  /** Decides as proposed what is alike for a whole class; how many submissions that were. */
  async acceptProposed(me: Me, assignment: Assignment, requirement: string, code: string): Promise<number> {
    const { policy } = await this.labs.parts(assignment.lab);
    let count = 0;
    for (const { id } of (await countingAttempts(this.db.manager, assignment, policy)).values())
      count += await this.db.transaction(async (manager) => {
        const check = await this.locked(manager, id).catch(() => null);
        if (!check || check.versionHash === null) return 0;
        const shown = await this.applied(check, manager);
        const open = shown.requirements
          .filter((each) => each.id === requirement)
          .flatMap(({ items }) => items)
          .filter((item) => item.met === null && item.proposed !== undefined && item.code === code);
        for (const { key } of open)
          if (key !== undefined)
            await this.put(manager, me, check, { requirement, item: key, isMet: false, points: null, reason: '' });
        if (open.length) await this.show(manager, check);
        return open.length ? 1 : 0;
      });
    return count;
  }

  /** The newest result of a submission, while nobody else writes about it. */
  private async locked(manager: EntityManager, submissionId: string): Promise<CheckRecord> {
    await manager.query('SELECT 1 FROM submission WHERE id = $1 FOR UPDATE', [submissionId]);
    const check = (await newestResults(manager, [submissionId])).get(submissionId);
    if (!check) throw refuse.state('It is not checked yet: there is nothing to decide.');
    return check;
  }

  /** Writes beside a result what tables show of it. */
  private async show(manager: EntityManager, check: CheckRecord): Promise<void> {
    const shown = await this.applied(check, manager);
    const cells = cellsOf(shown);
    await manager.query('UPDATE check_result SET points = $2, out_of = $3, cells = $4, unjudged = $5 WHERE id = $1', [
      check.id,
      shown.points,
      shown.of,
      JSON.stringify(cells),
      openIn(cells),
    ]);
  }

  async pinsOf(submissionId: string, manager: EntityManager = this.db.manager): Promise<Pins> {
    const rows = await manager.find(Pin, { where: { submissionId }, order: { role: 'ASC' } });
    return Object.fromEntries(rows.map(({ role, device }) => [role, device]));
  }

  async pinViews(submissionId: string): Promise<PinView[]> {
    const rows = await this.db.manager.find(Pin, { where: { submissionId }, order: { role: 'ASC' } });
    const names = await this.namesOf(rows.map(({ byId }) => byId));
    return rows.map(({ role, device, byId, at }) => ({
      role,
      device,
      by: names.get(byId) ?? '',
      at: at.toISOString(),
    }));
  }

  /** Says who plays a role, or leaves it to the matching again. The caller checks the submission after it. */
  async pin(me: Me, submission: Submission, assignment: Assignment, { role, device }: PinRequest): Promise<void> {
    if (assignment.versionHash === null) throw refuse.state('The lab is not released yet: there is nothing to check.');
    if (device !== null) {
      const { reference } = await this.versions.read(assignment.versionHash);
      if (!isIn(reference, role)) throw refuse.input('The reference has no such device.');
      if (!isIn(submission.topology, device)) throw refuse.input('The drawing has no such device.');
    }
    await this.db.transaction(async (manager) => {
      await manager.query('SELECT 1 FROM submission WHERE id = $1 FOR UPDATE', [submission.id]);
      await manager.delete(Pin, { submissionId: submission.id, role });
      if (device === null) return;
      // One device plays one role by a person's word.
      await manager.delete(Pin, { submissionId: submission.id, device });
      await manager.insert(Pin, { submissionId: submission.id, role, device, byId: me.id, at: new Date() });
    });
  }
}

/** Whether a drawing has a device, or a member of a tile of several. */
function isIn({ devices }: Topology, id: string): boolean {
  const { device, member } = splitInstanceId(id);
  const drawn = entryOf(devices, device);
  if (!drawn) return false;
  return member === undefined ? !drawn.members : entryOf(drawn.members ?? {}, member) !== undefined;
}
