import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type HintRequest, type HintsView, type Me, type TriesView, type TryRequest } from '@sobrin/contracts';
import { plural } from '@sobrin/core';
import { type Policy, type Spec, isRightUnder, settledAnswer, triedBefore } from '@sobrin/core/spec';
import { DataSource, type EntityManager, type EntityTarget } from 'typeorm';
import { type Assignment } from '../assignments/assignment.entity';
import { LabsService } from '../labs/labs.service';
import { LabVersionsService } from '../labs/versions.service';
import { refuse } from '../platform/refusal';
import { ThreadsService } from '../platform/threads.service';
import { hintedBy, hintsView } from './hints';
import { checkTheirs } from './own-work';
import { AskedHintRecord, TriedAnswer, type Work } from './submission.entity';
import { triedIn, triesOf } from './tries';
import { WorksService } from './works.service';

/** What students ask while they work, as far as the lab lets them: whether an answer is right, and for hints. */
@Injectable()
export class AskingService {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly works: WorksService,
    private readonly labs: LabsService,
    private readonly versions: LabVersionsService,
    private readonly threads: ThreadsService,
  ) {}

  /**
   * Whether an answer is right. It becomes the answer that is handed in; once all tries are used, none other does. The clock
   * is passed in, so that deadlines can be tested. What is sent again is told again.
   */
  async try(me: Me, assignment: Assignment, now: Date, { id, drawing, task, answer }: TryRequest): Promise<TriesView> {
    return this.once(TriedAnswer, me, assignment, now, { id, drawing }, async (manager, work, policy, spec) => {
      const { tries: most } = policy;
      if (most === undefined) throw refuse.state('In this lab nobody is told whether an answer is right.');
      const right = isRightUnder(spec, task, answer);
      if (right === null)
        throw refuse.input('The answer to this task is not tried: it is looked at when it is handed in.');
      const tried = (await triedIn(manager, work)).get(task) ?? [];
      if (settledAnswer(tried, most) !== undefined)
        throw refuse.state(
          `You have used ${most === 1 ? 'the one try' : `all ${plural(most, 'try', 'tries')}`} of this task. The answer stays as it is.`,
        );
      const before = triedBefore(tried, answer);
      if (before)
        throw refuse.state(
          `You tried this answer before: it is ${before.right ? 'right' : 'not right'}. That used no further try.`,
        );
      await manager.insert(TriedAnswer, { id, workId: work.id, task, answer, right, at: now });
      // In the order in which everybody reads them: of two that came at once the clock of the later may be the earlier one.
      const settled = settledAnswer((await triedIn(manager, work)).get(task)!, most) ?? answer;
      await this.works.putAnswers(work, { [task]: settled }, manager);
    }).then(({ work, policy, spec }) => this.told(triesOf(this.db.manager, work, policy, spec)));
  }

  /** The next hint of a requirement, at what it costs now. */
  async hint(me: Me, assignment: Assignment, now: Date, { id, drawing, key, cost }: HintRequest): Promise<HintsView> {
    const texts = async (requirement: string): Promise<string[]> => {
      const version = assignment.versionHash!;
      return this.threads.runFor(me.id, 'hints', { version, lab: await this.versions.text(version), requirement });
    };
    // Worked out before anything is locked.
    const known = hintedBy(
      (await this.versions.read(assignment.versionHash!)).spec,
      await this.works.workOf(me, assignment),
      key,
    );
    const all = known ? await texts(known.requirement) : [];
    return this.once(AskedHintRecord, me, assignment, now, { id, drawing }, async (manager, work, policy) => {
      if (policy.hintCost === undefined) throw refuse.state('In this lab no hints are given before it is handed in.');
      if (policy.hintCost !== cost)
        throw refuse.state(
          `A hint costs ${plural(policy.hintCost, 'point')} now, not ${plural(cost, 'point')}. Nothing was taken: ask again if you want it.`,
        );
      if (!known) throw refuse.state('The lab has changed, and there is no such hint any more. Load the page again.');
      const { requirement } = known;
      const used = await manager.countBy(AskedHintRecord, { workId: work.id, requirement });
      const text = all[used];
      if (text === undefined) throw refuse.state('You have all hints that there are for this.');
      await manager.insert(AskedHintRecord, { id, workId: work.id, requirement, text, cost, at: now });
    }).then(({ work, policy, spec }) => this.told(hintsView(this.db.manager, work, policy, spec)));
  }

  /** Does what is asked once, while nothing else changes the work; refused where nothing can be handed in any more. */
  private async once(
    records: EntityTarget<TriedAnswer | AskedHintRecord>,
    me: Me,
    assignment: Assignment,
    now: Date,
    { id, drawing }: { id: string; drawing: string },
    action: (manager: EntityManager, work: Work, policy: Policy, spec: Spec) => Promise<void>,
  ): Promise<{ work: Work; policy: Policy; spec: Spec }> {
    const begun = await this.works.workOf(me, assignment);
    checkTheirs(begun, drawing);
    const { spec } = await this.versions.read(assignment.versionHash!);
    return this.db.transaction(async (manager) => {
      const work = await this.works.lock(begun, manager);
      const { policy } = await this.labs.parts(assignment.lab, manager);
      const known = await manager.findOneBy(records, { id });
      if (known && known.workId !== work.id)
        throw refuse.input('This question belongs to something else. Nothing was taken: load the page again.');
      if (!known) {
        await this.works.mayHandIn(me, assignment, now, manager);
        await action(manager, work, policy, spec);
      }
      return { work, policy, spec };
    });
  }

  /** Also where the lab stopped telling it at this very moment. */
  private async told<V>(view: Promise<V | null>): Promise<V> {
    const told = await view;
    if (told === null) throw refuse.state('The lab tells nothing of this any more. Load the page again.');
    return told;
  }
}
