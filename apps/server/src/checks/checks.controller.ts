import { Controller, Header, HttpCode, Param, ParseUUIDPipe } from '@nestjs/common';
import { type CheckProgress, type ClassRow, type Me, type ResultsView, type SubmissionView } from '@sobrin/contracts';
import { CurrentUser, OnlyFor } from '../accounts/session.guard';
import { LabsService } from '../labs/labs.service';
import { ChecksService } from './checks.service';
import { Answers } from '../platform/route';

@OnlyFor('instructor')
@Controller()
export class ChecksController {
  constructor(
    private readonly checks: ChecksService,
    private readonly labs: LabsService,
  ) {}

  @Answers('GET labs/:id/submissions')
  async list(@CurrentUser() me: Me, @Param('id', ParseUUIDPipe) id: string): Promise<ClassRow[]> {
    return this.checks.classRows(await this.labs.taughtBy(me, id));
  }

  @Answers('POST labs/:id/check')
  @HttpCode(200)
  async checkAll(@CurrentUser() me: Me, @Param('id', ParseUUIDPipe) id: string): Promise<{ checked: number }> {
    return { checked: await this.checks.checkAll(me, await this.labs.taughtBy(me, id)) };
  }

  /** Asks for all that is to be checked and answers at once: it is done also when nobody looks. */
  @Answers('POST labs/:id/checks')
  @HttpCode(202)
  async ask(@CurrentUser() me: Me, @Param('id', ParseUUIDPipe) id: string): Promise<CheckProgress> {
    const assignment = await this.labs.taughtBy(me, id);
    await this.checks.askAll(me, assignment);
    return this.checks.progress(assignment);
  }

  @Answers('GET labs/:id/checks')
  async progress(@CurrentUser() me: Me, @Param('id', ParseUUIDPipe) id: string): Promise<CheckProgress> {
    return this.checks.progress(await this.labs.taughtBy(me, id));
  }

  /** Takes back what waits. What is being checked at this moment is finished. */
  @Answers('DELETE labs/:id/checks')
  @HttpCode(204)
  async cancel(@CurrentUser() me: Me, @Param('id', ParseUUIDPipe) id: string): Promise<void> {
    await this.checks.cancel(await this.labs.taughtBy(me, id));
  }

  @Answers('GET submissions/:id')
  async view(@CurrentUser() me: Me, @Param('id', ParseUUIDPipe) id: string): Promise<SubmissionView> {
    const { submission, assignment } = await this.checks.submissionOf(me, id);
    return this.checks.view(submission, assignment);
  }

  @Answers('POST submissions/:id/check')
  @HttpCode(200)
  async check(@CurrentUser() me: Me, @Param('id', ParseUUIDPipe) id: string): Promise<SubmissionView> {
    const { submission, assignment } = await this.checks.submissionOf(me, id);
    await this.checks.check(me, assignment, submission);
    return this.checks.view(submission, assignment);
  }

  @Answers('GET labs/:id/results')
  async results(@CurrentUser() me: Me, @Param('id', ParseUUIDPipe) id: string): Promise<ResultsView> {
    return this.checks.results(await this.labs.taughtBy(me, id));
  }

  @Answers('GET labs/:id/results.csv')
  @Header('Content-Type', 'text/csv; charset=utf-8')
  @Header('Content-Disposition', 'attachment; filename="results.csv"')
  async csv(@CurrentUser() me: Me, @Param('id', ParseUUIDPipe) id: string): Promise<string> {
    return this.checks.csv(await this.labs.taughtBy(me, id));
  }
}
