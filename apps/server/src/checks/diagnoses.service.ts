import { Injectable, type OnModuleInit } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type CausesView, type Me } from '@sobrin/contracts';
import { type Diagnosis, type DiagnosisProgress } from '@sobrin/core/spec';
import { MessageChannel } from 'node:worker_threads';
import { DataSource, In } from 'typeorm';
import { Assignment } from '../assignments/assignment.entity';
import { MembersService } from '../courses/members.service';
import { type CheckJob, JobsService } from '../jobs/jobs.service';
import { WorkerService } from '../jobs/worker.service';
import { LabsService } from '../labs/labs.service';
import { ThreadsService } from '../platform/threads.service';
import { Submission } from '../submissions/submission.entity';
import { type CheckRecord } from './check.entity';
import { ChecksService } from './checks.service';
import { countingAttempts } from './counting-attempts';
import { DiagnosisRecord } from './diagnosis.entity';
import { newestChecks, newestResults } from './newest-checks';

/** Mistakes that are looked for. */
interface Looking {
  progress: DiagnosisProgress | null;
  made: Promise<Diagnosis | null>;
}
type Judged = Pick<CheckRecord, 'id' | 'submissionId' | 'versionHash'>;

/** The mistakes behind results: looked for once for each result, when somebody asks or the lab counts a mistake once. */
@Injectable()
export class DiagnosesService implements OnModuleInit {
  /** What is looked for at this moment, by the result: whoever asks as well waits for the same. */
  private readonly looking = new Map<string, Looking>();

  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly checks: ChecksService,
    private readonly threads: ThreadsService,
    private readonly jobs: JobsService,
    private readonly worker: WorkerService,
    private readonly members: MembersService,
    private readonly labs: LabsService,
  ) {}

  onModuleInit(): void {
    this.worker.handle('diagnose', (job) => this.keep(job));
  }

  /** The mistakes behind the newest result of a submission; null where it has none, or one that cannot be made again. */
  async of(me: Me, { id }: Pick<Submission, 'id'>): Promise<Diagnosis | null> {
    const check = (await newestResults(this.db.manager, [id])).get(id);
    if (!check) return null;
    if (check.result.diagnosis) return check.result.diagnosis;
    const known = await this.db.manager.findOneBy(DiagnosisRecord, { checkId: check.id });
    return known ? known.found : this.make(check, me.id);
  }

  /** @param person for whom it is looked for now, after whatever else this person waits for; absent where a worker does */
  private make(check: Judged, person?: string): Promise<Diagnosis | null> {
    const begun = this.looking.get(check.id);
    if (begun) return begun.made;
    const looking: Looking = { progress: null, made: Promise.resolve(null) };
    looking.made = this.find(check, looking, person).finally(() => this.looking.delete(check.id));
    this.looking.set(check.id, looking);
    return looking.made;
  }

  /** How far it is to look for those of the newest result; null where nobody does on this server. */
  async progress({ id }: Pick<Submission, 'id'>): Promise<DiagnosisProgress | null> {
    const check = (await newestChecks(this.db.manager, [id])).get(id);
    return (check && this.looking.get(check.id)?.progress) ?? null;
  }

  private async find(check: Judged, looking: Looking, person?: string): Promise<Diagnosis | null> {
    if (check.versionHash === null) return null;
    const wish = await this.checks.wish(check.submissionId, check.versionHash);
    if (!wish) return null;
    const { port1: here, port2: port } = new MessageChannel();
    here.on('message', (progress: DiagnosisProgress) => (looking.progress = progress));
    const input = { ...wish, port };
    const found = await (
      person === undefined
        ? this.threads.run('diagnosis', input, [port])
        : this.threads.runFor(person, 'diagnosis', input, [port])
    ).finally(() => here.close());
    // Two who ask at once find the same; one that is gone meanwhile is kept for nobody.
    await this.db.query(
      `INSERT INTO diagnosis (check_id, found) SELECT id, $2 FROM check_result WHERE id = $1
        ON CONFLICT DO NOTHING`,
      [check.id, found],
    );
    return JSON.parse(found) as Diagnosis;
  }

  /** What a worker does of the queue `diagnose`. */
  private async keep({ submission }: CheckJob): Promise<void> {
    const check = (await newestChecks(this.db.manager, [submission])).get(submission);
    if (!check || (await this.db.manager.existsBy(DiagnosisRecord, { checkId: check.id }))) return;
    await this.make(check);
  }

  /** Asks for those of a class that nobody has asked for yet. */
  async askAll(me: Me, assignment: Assignment): Promise<void> {
    const { open } = await this.found(assignment);
    const version = assignment.versionHash;
    if (version === null) return;
    await this.jobs.ask(
      'diagnose',
      open.map(({ id, submissionId }) => ({
        key: id,
        data: { assignment: assignment.id, submission: submissionId, version, by: me.id },
      })),
    );
  }

  /** By whom what was found, of the newest results of the attempts that count; and the results of which nothing is known. */
  private async found(assignment: Assignment) {
    const { manager } = this.db;
    const { policy } = await this.labs.parts(assignment.lab);
    const counting = await countingAttempts(manager, assignment, policy);
    const checks = await newestChecks(
      manager,
      [...counting.values()].map(({ id }) => id),
    );
    const ids = [...checks.values()].map(({ id }) => id);
    // Of the results themselves only what was found with them is read.
    const rows = await this.db.query<{ id: string; found: Diagnosis }[]>(
      `SELECT id, COALESCE(result -> 'diagnosis', (SELECT found FROM diagnosis WHERE check_id = check_result.id)) AS found
        FROM check_result WHERE id = ANY($1)`,
      [ids],
    );
    const known = new Map(rows.flatMap(({ id, found }) => (found ? [[id, found] as const] : [])));
    const can = [...checks.values()].filter(({ versionHash }) => versionHash !== null);
    return { checks, known, open: can.filter(({ id }) => !known.has(id)) };
  }

  /** Which mistakes a class has in common, those of most first: two students share one if the same is wrong in the same way at the same role. */
  async inCommon(assignment: Assignment): Promise<CausesView> {
    const { checks, known, open } = await this.found(assignment);
    const submissions = await this.db.manager.find(Submission, {
      where: { id: In([...checks.keys()]) },
      select: { id: true, studentId: true },
    });
    const names = await this.members.namesIn(
      assignment.courseId,
      submissions.map(({ studentId }) => studentId),
    );
    const nameOf = new Map(submissions.map(({ id, studentId }) => [id, names.get(studentId) ?? '']));
    const shared = new Map<string, CausesView['causes'][number]>();
    for (const { id, submissionId } of checks.values())
      for (const { sort, text, where, took, letter } of known.get(id)?.causes ?? []) {
        const cause = shared.get(sort) ?? { sort, text, where, took: 0, students: [] };
        const whose = { submissionId, name: nameOf.get(submissionId) ?? '', letter, took };
        // One student may have it twice.
        if (!cause.students.some((each) => each.submissionId === submissionId)) cause.students.push(whose);
        shared.set(sort, { ...cause, took: Math.round((cause.took + took) * 100) / 100 });
      }
    const isOpen = new Set(open.map(({ submissionId }) => submissionId));
    const { failed, ...progress } = await this.checks.progress(assignment, 'diagnose');
    return {
      causes: [...shared.values()]
        .map((cause) => ({ ...cause, students: [...cause.students].sort((a, b) => (a.name < b.name ? -1 : 1)) }))
        .sort((a, b) => b.students.length - a.students.length || b.took - a.took || (a.sort < b.sort ? -1 : 1)),
      looked: known.size,
      open: open.length,
      ...progress,
      // Whoever asked for one of them may have got it since.
      failed: failed.filter(({ submissionId }) => isOpen.has(submissionId)),
    };
  }
}
