import { Body, Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe, Post, Put } from '@nestjs/common';
import {
  AttachRequest,
  type FileView,
  type Me,
  SaveAnswersRequest,
  type StudentLabView,
  UploadRequest,
  type Uploaded,
} from '@sobrin/contracts';
import { CurrentUser, For } from '../accounts/session.guard';
import { LabsService } from '../labs/labs.service';
import { WorksService } from './works.service';

/** A student's own work. The answers hold nothing of spec or reference. */
@For('student')
@Controller('my/labs/:id')
export class WorksController {
  constructor(
    private readonly works: WorksService,
    private readonly labs: LabsService,
  ) {}

  @Get()
  async view(@CurrentUser() me: Me, @Param('id', ParseUUIDPipe) id: string): Promise<StudentLabView> {
    return this.works.view(me, await this.labs.openTo(me, id));
  }

  @Post('upload')
  @HttpCode(200)
  async upload(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { text }: UploadRequest,
  ): Promise<Uploaded> {
    return this.works.upload(me, await this.labs.openTo(me, id), text);
  }

  @Put('answers')
  @HttpCode(204)
  async answers(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { answers }: SaveAnswersRequest,
  ): Promise<void> {
    await this.works.saveAnswers(me, await this.labs.openTo(me, id), answers);
  }

  @Post('attachments')
  async attach(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() file: AttachRequest,
  ): Promise<FileView> {
    return this.works.attach(me, await this.labs.openTo(me, id), file);
  }

  @Delete('attachments/:attachment')
  @HttpCode(204)
  async detach(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @Param('attachment', ParseUUIDPipe) attachment: string,
  ): Promise<void> {
    await this.works.detach(me, await this.labs.openTo(me, id), attachment);
  }

  @Post('hand-in')
  async handIn(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
  ): Promise<{ id: string; attempt: number; late: boolean }> {
    return this.works.handIn(me, await this.labs.openTo(me, id), new Date());
  }
}
