import { Body, Controller, Header, HttpCode, Param, ParseUUIDPipe } from '@nestjs/common';
import {
  AcceptRequest,
  ChangeCommentRequest,
  CommentRequest,
  type CausesView,
  type CheckProgress,
  type ClassRow,
  DecideRequest,
  type FoundDiagnosis,
  type LookingView,
  type Me,
  PinRequest,
  type ResultsView,
  type SignOffsView,
  type StudentAttempt,
  type SubmissionView,
} from '@sobrin/contracts';
import { Needs, TheObject } from '../access/access.guard';
import { type Granted } from '../access/access.service';
import { CurrentUser } from '../accounts/session.guard';
import { Assignment } from '../assignments/assignment.entity';
import { ChecksService } from './checks.service';
import { CommentsService } from './comments.service';
import { DecisionsService } from './decisions.service';
import { DiagnosesService } from './diagnoses.service';
import { ResultsService } from './results.service';
import { SignOffsService } from './sign-offs.service';
import { Answers } from '../platform/route';

@Controller()
export class ChecksController {
  constructor(
    private readonly checks: ChecksService,
    private readonly made: ResultsService,
    private readonly decisions: DecisionsService,
    private readonly comments: CommentsService,
    private readonly seen: SignOffsService,
    private readonly diagnoses: DiagnosesService,
  ) {}

  @Needs('see', 'lab')
  @Answers('GET labs/:id/submissions')
  async list(@TheObject() assignment: Assignment): Promise<ClassRow[]> {
    return this.made.classRows(assignment);
  }

  @Needs('teach', 'lab')
  @Answers('POST labs/:id/check')
  @HttpCode(200)
  async checkAll(@CurrentUser() me: Me, @TheObject() assignment: Assignment): Promise<{ checked: number }> {
    return { checked: await this.checks.checkAll(me, assignment) };
  }

  /** Asks for all that is to be checked and answers at once: it is done also when nobody looks. */
  @Needs('teach', 'lab')
  @Answers('POST labs/:id/checks')
  @HttpCode(202)
  async ask(@CurrentUser() me: Me, @TheObject() assignment: Assignment): Promise<CheckProgress> {
    await this.checks.askAll(me, assignment);
    return this.checks.progress(assignment);
  }

  @Needs('see', 'lab')
  @Answers('GET labs/:id/checks')
  async progress(@TheObject() assignment: Assignment): Promise<CheckProgress> {
    return this.checks.progress(assignment);
  }

  /** Takes back what waits. What is being checked at this moment is finished. */
  @Needs('teach', 'lab')
  @Answers('DELETE labs/:id/checks')
  @HttpCode(204)
  async cancel(@TheObject() assignment: Assignment): Promise<void> {
    await this.checks.cancel(assignment);
  }

  @Needs('see', 'submission')
  @Answers('GET submissions/:id')
  async view(
    @CurrentUser() me: Me,
    @TheObject() { submission, assignment }: Granted['submission'],
  ): Promise<SubmissionView> {
    return this.made.view(me, submission, assignment);
  }

  @Needs('teach', 'submission')
  @Answers('POST submissions/:id/check')
  @HttpCode(200)
  async check(
    @CurrentUser() me: Me,
    @TheObject() { submission, assignment }: Granted['submission'],
  ): Promise<SubmissionView> {
    await this.checks.check(me, assignment, submission);
    return this.made.view(me, submission, assignment);
  }

  @Needs('teach', 'submission')
  @Answers('POST submissions/:id/decisions')
  @HttpCode(200)
  async decide(
    @CurrentUser() me: Me,
    @TheObject() { submission, assignment }: Granted['submission'],
    @Body() request: DecideRequest,
  ): Promise<SubmissionView> {
    await this.decisions.decide(me, submission, request);
    return this.made.view(me, submission, assignment);
  }

  @Needs('teach', 'submission')
  @Answers('DELETE submissions/:id/decisions/:decision')
  async takeBack(
    @CurrentUser() me: Me,
    @TheObject() { submission, assignment }: Granted['submission'],
    @Param('decision', ParseUUIDPipe) decision: string,
  ): Promise<SubmissionView> {
    await this.decisions.takeBack(me, submission, decision);
    return this.made.view(me, submission, assignment);
  }

  /** Decides as it is proposed what is alike in the whole class. */
  @Needs('teach', 'lab')
  @Answers('POST labs/:id/proposals')
  @HttpCode(200)
  async acceptProposed(
    @CurrentUser() me: Me,
    @TheObject() assignment: Assignment,
    @Body() { requirement, code }: AcceptRequest,
  ): Promise<{ decided: number }> {
    return { decided: await this.decisions.acceptProposed(me, assignment, requirement, code) };
  }

  /** Says who plays a role, and judges the submission by it. */
  @Needs('teach', 'submission')
  @Answers('PUT submissions/:id/pins')
  async pin(
    @CurrentUser() me: Me,
    @TheObject() { submission, assignment }: Granted['submission'],
    @Body() request: PinRequest,
  ): Promise<SubmissionView> {
    await this.decisions.pin(me, submission, assignment, request);
    await this.checks.check(me, assignment, submission);
    return this.made.view(me, submission, assignment);
  }

  @Needs('teach', 'submission')
  @Answers('POST submissions/:id/comments')
  @HttpCode(200)
  async say(
    @CurrentUser() me: Me,
    @TheObject() { submission, assignment }: Granted['submission'],
    @Body() request: CommentRequest,
  ): Promise<SubmissionView> {
    await this.comments.say(me, submission, request);
    return this.made.view(me, submission, assignment);
  }

  @Needs('teach', 'submission')
  @Answers('PUT submissions/:id/comments/:comment')
  async sayOtherwise(
    @CurrentUser() me: Me,
    @TheObject() { submission, assignment }: Granted['submission'],
    @Param('comment', ParseUUIDPipe) comment: string,
    @Body() { text }: ChangeCommentRequest,
  ): Promise<SubmissionView> {
    await this.comments.change(me, submission, comment, text);
    return this.made.view(me, submission, assignment);
  }

  @Needs('teach', 'submission')
  @Answers('DELETE submissions/:id/comments/:comment')
  async removeComment(
    @CurrentUser() me: Me,
    @TheObject() { submission, assignment }: Granted['submission'],
    @Param('comment', ParseUUIDPipe) comment: string,
  ): Promise<SubmissionView> {
    await this.comments.remove(submission, comment);
    return this.made.view(me, submission, assignment);
  }

  @Needs('do', 'lab')
  @Answers('GET my/labs/:id/attempts/:attempt')
  async attempt(
    @CurrentUser() me: Me,
    @TheObject() assignment: Assignment,
    @Param('attempt', ParseUUIDPipe) attempt: string,
  ): Promise<StudentAttempt> {
    return this.made.attempt(me, assignment, attempt, new Date());
  }

  /** The mistakes behind the newest result. */
  @Needs('see', 'submission')
  @Answers('GET submissions/:id/diagnosis')
  async diagnosis(@CurrentUser() me: Me, @TheObject() { submission }: Granted['submission']): Promise<FoundDiagnosis> {
    return { diagnosis: await this.diagnoses.of(me, submission) };
  }

  /** How far it is to look for them, and the best that was found so far. */
  @Needs('see', 'submission')
  @Answers('GET submissions/:id/diagnosis/progress')
  async looking(@TheObject() { submission }: Granted['submission']): Promise<LookingView> {
    return { progress: await this.diagnoses.progress(submission) };
  }

  /** Which mistakes a class has in common, as far as they were looked for. */
  @Needs('see', 'lab')
  @Answers('GET labs/:id/causes')
  async causes(@TheObject() assignment: Assignment): Promise<CausesView> {
    return this.diagnoses.inCommon(assignment);
  }

  /** Asks for the mistakes behind all that was checked, and answers at once. */
  @Needs('teach', 'lab')
  @Answers('POST labs/:id/causes')
  @HttpCode(202)
  async askForCauses(@CurrentUser() me: Me, @TheObject() assignment: Assignment): Promise<CausesView> {
    await this.diagnoses.askAll(me, assignment);
    return this.diagnoses.inCommon(assignment);
  }

  @Needs('see', 'lab')
  @Answers('GET labs/:id/sign-offs')
  async signOffs(@TheObject() assignment: Assignment): Promise<SignOffsView> {
    return this.seen.view(assignment);
  }

  @Needs('see', 'lab')
  @Answers('GET labs/:id/results')
  async results(@TheObject() assignment: Assignment): Promise<ResultsView> {
    return this.made.results(assignment);
  }

  @Needs('see', 'lab')
  @Answers('GET labs/:id/results.csv')
  @Header('Content-Type', 'text/csv; charset=utf-8')
  @Header('Content-Disposition', 'attachment; filename="results.csv"')
  async csv(@TheObject() assignment: Assignment): Promise<string> {
    return this.made.csv(assignment);
  }
}
