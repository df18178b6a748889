import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type SignOffsView } from '@sobrin/contracts';
import { askedBy, namesOf, requirementWords, sentenceOf } from '@sobrin/core/spec';
import { DataSource, In, IsNull } from 'typeorm';
import { Account } from '../accounts/account.entity';
import { type Assignment } from '../assignments/assignment.entity';
import { MembersService } from '../courses/members.service';
import { LabsService } from '../labs/labs.service';
import { LabVersionsService } from '../labs/versions.service';
import { DecisionRecord } from './decision.entity';
import { countingAttempts } from './counting-attempts';
import { newestChecks } from './newest-checks';

/** What persons confirm having seen, for a whole class. */
@Injectable()
export class SignOffsService {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly members: MembersService,
    private readonly versions: LabVersionsService,
    private readonly labs: LabsService,
  ) {}

  /** Students × what is to be signed off in the version that judges now, by the attempts that count. */
  async view(assignment: Assignment): Promise<SignOffsView> {
    const file = assignment.versionHash === null ? null : await this.versions.read(assignment.versionHash);
    const names = file && namesOf(file);
    const asked = (file?.spec.sections ?? [])
      .flatMap(({ requirements }) => requirements)
      .filter(({ rule, deduction }) => rule.kind === 'signedOff' && !deduction);
    const { policy } = await this.labs.parts(assignment.lab);
    const counting = await countingAttempts(this.db.manager, assignment, policy);
    const ids = [...counting.values()].map(({ id }) => id);
    const checks = await newestChecks(this.db.manager, ids);
    const decisions = await this.db.manager.find(DecisionRecord, {
      where: {
        submissionId: In(ids),
        requirement: In(asked.map(({ id }) => id)),
        endedAt: IsNull(),
      },
    });
    const people = await this.db.manager.findBy(Account, { id: In([...new Set(decisions.map(({ byId }) => byId))]) });
    const nameOf = new Map(people.map(({ id, name }) => [id, name]));
    return {
      signOffs: asked.map((requirement) => ({
        id: requirement.id,
        sentence: sentenceOf(requirementWords(requirement, names!)),
        of: requirement.points,
      })),
      rows: (await this.members.students(assignment.courseId)).map(({ id, name, group }) => {
        const submissionId = counting.get(id)?.id ?? null;
        const check = submissionId === null ? undefined : checks.get(submissionId);
        return {
          studentId: id,
          name,
          group,
          submissionId,
          isChecked: check?.versionHash === assignment.versionHash && check !== undefined,
          cells: asked.map((requirement) => {
            const made = decisions.find(
              (each) =>
                each.submissionId === submissionId &&
                each.requirement === requirement.id &&
                each.asked === askedBy(requirement),
            );
            const isSeen = made && (made.isMet ?? made.points === requirement.points);
            return {
              id: requirement.id,
              state: !made ? 'open' : isSeen ? 'seen' : 'otherwise',
              decision: made?.id ?? null,
              by: made ? (nameOf.get(made.byId) ?? '') : null,
              at: made?.at.toISOString() ?? null,
            };
          }),
        };
      }),
    };
  }
}
