import { Body, Controller, HttpCode, Param, ParseUUIDPipe } from '@nestjs/common';
import {
  AttachRequest,
  CountRequest,
  type FileView,
  HandInRequest,
  HintRequest,
  type HintsView,
  type LookInView,
  type Me,
  SaveAnswersRequest,
  SelfCheckRequest,
  type SelfChecksView,
  type StudentLabView,
  type TriesView,
  TryRequest,
  UploadRequest,
  type Uploaded,
} from '@sobrin/contracts';
import { Needs, TheObject } from '../access/access.guard';
import { CurrentUser } from '../accounts/session.guard';
import { Assignment } from '../assignments/assignment.entity';
import { AskingService } from './asking.service';
import { SelfChecksService } from './self-checks.service';
import { WorksService } from './works.service';
import { Answers } from '../platform/route';

/** A student's own work. The answers hold nothing of spec or reference. */
@Controller()
export class WorksController {
  constructor(
    private readonly works: WorksService,
    private readonly selfChecks: SelfChecksService,
    private readonly asking: AskingService,
  ) {}

  @Needs('do', 'lab')
  @Answers('GET my/labs/:id')
  async view(@CurrentUser() me: Me, @TheObject() assignment: Assignment): Promise<StudentLabView> {
    return this.works.view(me, assignment, new Date());
  }

  @Needs('see', 'lab')
  @Answers('GET labs/:id/drawings/:student')
  async lookIn(
    @CurrentUser() me: Me,
    @TheObject() assignment: Assignment,
    @Param('student', ParseUUIDPipe) student: string,
  ): Promise<LookInView> {
    return this.works.lookIn(me, assignment, student);
  }

  @Needs('do', 'lab')
  @Answers('POST my/labs/:id/upload')
  @HttpCode(200)
  async upload(
    @CurrentUser() me: Me,
    @TheObject() assignment: Assignment,
    @Body() { text }: UploadRequest,
  ): Promise<Uploaded> {
    return this.works.upload(me, assignment, text);
  }

  @Needs('do', 'lab')
  @Answers('PUT my/labs/:id/answers')
  @HttpCode(204)
  async answers(
    @CurrentUser() me: Me,
    @TheObject() assignment: Assignment,
    @Body() { answers, drawing }: SaveAnswersRequest,
  ): Promise<void> {
    await this.works.saveAnswers(me, assignment, answers, drawing);
  }

  @Needs('do', 'lab')
  @Answers('POST my/labs/:id/attachments')
  async attach(
    @CurrentUser() me: Me,
    @TheObject() assignment: Assignment,
    @Body() file: AttachRequest,
  ): Promise<FileView> {
    return this.works.attach(me, assignment, file);
  }

  @Needs('do', 'lab')
  @Answers('DELETE my/labs/:id/attachments/:attachment')
  @HttpCode(204)
  async detach(
    @CurrentUser() me: Me,
    @TheObject() assignment: Assignment,
    @Param('attachment', ParseUUIDPipe) attachment: string,
  ): Promise<void> {
    await this.works.detach(me, assignment, attachment);
  }

  @Needs('do', 'lab')
  @Answers('POST my/labs/:id/self-checks')
  @HttpCode(200)
  async checkOneself(
    @CurrentUser() me: Me,
    @TheObject() assignment: Assignment,
    @Body() request: SelfCheckRequest,
  ): Promise<SelfChecksView> {
    return this.selfChecks.ask(me, assignment, new Date(), request);
  }

  @Needs('do', 'lab')
  @Answers('POST my/labs/:id/tries')
  @HttpCode(200)
  async try(
    @CurrentUser() me: Me,
    @TheObject() assignment: Assignment,
    @Body() request: TryRequest,
  ): Promise<TriesView> {
    return this.asking.try(me, assignment, new Date(), request);
  }

  @Needs('do', 'lab')
  @Answers('POST my/labs/:id/hints')
  @HttpCode(200)
  async hint(
    @CurrentUser() me: Me,
    @TheObject() assignment: Assignment,
    @Body() request: HintRequest,
  ): Promise<HintsView> {
    return this.asking.hint(me, assignment, new Date(), request);
  }

  @Needs('do', 'lab')
  @Answers('PUT my/labs/:id/counting')
  @HttpCode(204)
  async choose(
    @CurrentUser() me: Me,
    @TheObject() assignment: Assignment,
    @Body() request: CountRequest,
  ): Promise<void> {
    await this.works.choose(me, assignment, new Date(), request);
  }

  @Needs('do', 'lab')
  @Answers('POST my/labs/:id/hand-in')
  async handIn(
    @CurrentUser() me: Me,
    @TheObject() assignment: Assignment,
    @Body() { handIn, drawing }: HandInRequest,
  ): Promise<{ id: string; attempt: number; late: boolean }> {
    return this.works.handIn(me, assignment, new Date(), { id: handIn, drawing });
  }
}
