import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type CommentRequest, type CommentView, type Me, type StudentComment } from '@sobrin/contracts';
import { type CheckResult } from '@sobrin/core/spec';
import { entryOf } from '@sobrin/core/topology';
import { DataSource, type EntityManager, In } from 'typeorm';
import { Account } from '../accounts/account.entity';
import { refuse } from '../platform/refusal';
import { type Submission } from '../submissions/submission.entity';
import { SubmissionComment } from './comment.entity';
import { newestResults } from './newest-checks';

/** So many things may be said of one submission. */
export const MOST_COMMENTS = 500;

/** What those who teach say of submissions; it goes back with the mark. */
@Injectable()
export class CommentsService {
  constructor(@InjectDataSource() private readonly db: DataSource) {}

  async list(me: Me, submissionId: string): Promise<CommentView[]> {
    const { rows, names } = await this.of(submissionId);
    return rows.map(({ id, kind, target, text, byId, at }) => ({
      id,
      kind,
      target,
      text,
      by: names.get(byId) ?? '',
      isOwn: byId === me.id,
      at: at.toISOString(),
    }));
  }

  /** As its student reads them: requirements by their place among the findings, where these are shown. */
  async forStudent(submissionId: string, result: CheckResult, isFound: boolean): Promise<StudentComment[]> {
    const { rows, names } = await this.of(submissionId);
    return rows.map(({ id, kind, target, text, byId, at }) => {
      const place = result.requirements.findIndex((requirement) => requirement.id === target);
      const about =
        kind !== 'requirement'
          ? { kind, target }
          : isFound && place >= 0
            ? { kind, target: String(place) }
            : { kind: 'work' as const, target: '' };
      return { id, ...about, text, by: names.get(byId) ?? '', at: at.toISOString() };
    });
  }

  private async of(submissionId: string) {
    const rows = await this.db.manager.find(SubmissionComment, {
      where: { submissionId },
      order: { at: 'ASC', id: 'ASC' },
    });
    const accounts = await this.db.manager.findBy(Account, { id: In([...new Set(rows.map(({ byId }) => byId))]) });
    return { rows, names: new Map(accounts.map(({ id, name }) => [id, name])) };
  }

  /** Says something; the same again says it once. */
  async say(me: Me, submission: Submission, { id, kind, target, text }: CommentRequest): Promise<void> {
    const said = writtenIn(text);
    await this.db.transaction(async (manager) => {
      await manager.query('SELECT 1 FROM submission WHERE id = $1 FOR UPDATE', [submission.id]);
      const known = await manager.findOneBy(SubmissionComment, { id });
      if (known?.submissionId === submission.id && known.byId === me.id) return;
      if (known) throw refuse.state('Something else was said with this id already: say it again.');
      await this.mustBeThere(manager, submission, kind, target);
      if ((await manager.countBy(SubmissionComment, { submissionId: submission.id })) >= MOST_COMMENTS)
        throw refuse.state(`More than ${MOST_COMMENTS} comments on one submission are not kept: remove some.`);
      await manager.insert(SubmissionComment, {
        id,
        submissionId: submission.id,
        kind,
        target,
        text: said,
        byId: me.id,
        at: new Date(),
      });
    });
  }

  private async mustBeThere(
    manager: EntityManager,
    { id, topology }: Submission,
    kind: CommentRequest['kind'],
    target: string,
  ): Promise<void> {
    if (kind === 'work' && target !== '') throw refuse.input('What is said of the whole work names nothing in it.');
    if (kind === 'device' && !entryOf(topology.devices, target))
      throw refuse.input('The submission has no such device.');
    if (kind === 'link' && !entryOf(topology.links, target)) throw refuse.input('The submission has no such link.');
    if (kind !== 'requirement') return;
    const check = (await newestResults(manager, [id])).get(id);
    if (!check?.result.requirements.some((requirement) => requirement.id === target))
      throw refuse.input(`The spec that judged has no requirement "${target}".`);
  }

  /** Says it otherwise. */
  async change(me: Me, submission: Submission, id: string, text: string): Promise<void> {
    const { affected } = await this.db.manager.update(
      SubmissionComment,
      { id, submissionId: submission.id, byId: me.id },
      { text: writtenIn(text) },
    );
    if (!affected) throw refuse.missing('comment');
  }

  async remove(submission: Submission, id: string): Promise<void> {
    const { affected } = await this.db.manager.delete(SubmissionComment, { id, submissionId: submission.id });
    if (!affected) throw refuse.missing('comment');
  }
}

function writtenIn(text: string): string {
  const said = text.trim();
  if (!said) throw refuse.input('Say something: a comment has at least one letter.');
  return said;
}
