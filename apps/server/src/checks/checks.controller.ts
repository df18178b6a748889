import { Controller, Header, HttpCode, Param, ParseUUIDPipe } from '@nestjs/common';
import { type ClassRow, type Me, type ResultsView, type SubmissionView } from '@sobrin/contracts';
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
    return { checked: await this.checks.checkAll(await this.labs.taughtBy(me, id)) };
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
    await this.checks.check(assignment, submission);
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
