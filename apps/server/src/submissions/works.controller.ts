import { Body, Controller, HttpCode, Param, ParseUUIDPipe } from '@nestjs/common';
import {
  AttachRequest,
  type FileView,
  HandInRequest,
  type Me,
  SaveAnswersRequest,
  type StudentLabView,
  UploadRequest,
  type Uploaded,
} from '@sobrin/contracts';
import { CurrentUser, OnlyFor } from '../accounts/session.guard';
import { LabsService } from '../labs/labs.service';
import { WorksService } from './works.service';
import { Answers } from '../platform/route';

/** A student's own work. The answers hold nothing of spec or reference. */
@OnlyFor('student')
@Controller()
export class WorksController {
  constructor(
    private readonly works: WorksService,
    private readonly labs: LabsService,
  ) {}

  @Answers('GET my/labs/:id')
  async view(@CurrentUser() me: Me, @Param('id', ParseUUIDPipe) id: string): Promise<StudentLabView> {
    return this.works.view(me, await this.labs.openTo(me, id));
  }

  @Answers('POST my/labs/:id/upload')
  @HttpCode(200)
  async upload(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { text }: UploadRequest,
  ): Promise<Uploaded> {
    return this.works.upload(me, await this.labs.openTo(me, id), text);
  }

  @Answers('PUT my/labs/:id/answers')
  @HttpCode(204)
  async answers(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { answers }: SaveAnswersRequest,
  ): Promise<void> {
    await this.works.saveAnswers(me, await this.labs.openTo(me, id), answers);
  }

  @Answers('POST my/labs/:id/attachments')
  async attach(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() file: AttachRequest,
  ): Promise<FileView> {
    return this.works.attach(me, await this.labs.openTo(me, id), file);
  }

  @Answers('DELETE my/labs/:id/attachments/:attachment')
  @HttpCode(204)
  async detach(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @Param('attachment', ParseUUIDPipe) attachment: string,
  ): Promise<void> {
    await this.works.detach(me, await this.labs.openTo(me, id), attachment);
  }

  @Answers('POST my/labs/:id/hand-in')
  async handIn(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { handIn }: HandInRequest,
  ): Promise<{ id: string; attempt: number; late: boolean }> {
    return this.works.handIn(me, await this.labs.openTo(me, id), new Date(), handIn);
  }
}
