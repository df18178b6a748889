import { Body, Controller, Header, type MessageEvent, Param, ParseUUIDPipe, Sse } from '@nestjs/common';
import { ChangeLabRequest, CreateLabRequest, ImportLabRequest, type LabView, type Me } from '@sobrin/contracts';
import { type LabFile } from '@sobrin/core/spec';
import { type Observable } from 'rxjs';
import { CurrentUser, OnlyFor, type SignedRequest, StillSignedIn } from '../accounts/session.guard';
import { CoursesService } from '../courses/courses.service';
import { DocumentsService } from '../documents/documents.service';
import { liveEvents } from '../documents/live';
import { LabsService, documentsOf } from './labs.service';
import { Answers } from '../platform/route';

@OnlyFor('instructor')
@Controller()
export class LabsController {
  constructor(
    private readonly labs: LabsService,
    private readonly courses: CoursesService,
    private readonly documents: DocumentsService,
  ) {}

  @Answers('POST courses/:id/labs')
  async create(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) courseId: string,
    @Body() { title }: CreateLabRequest,
  ): Promise<{ id: string }> {
    await this.courses.taughtBy(me, courseId);
    return { id: await this.labs.create(courseId, title) };
  }

  @Answers('POST courses/:id/labs/import')
  async import(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) courseId: string,
    @Body() { text }: ImportLabRequest,
  ): Promise<{ id: string }> {
    await this.courses.taughtBy(me, courseId);
    return { id: await this.labs.import(courseId, text) };
  }

  @Answers('GET labs/:id')
  async view(@CurrentUser() me: Me, @Param('id', ParseUUIDPipe) id: string): Promise<LabView> {
    return this.labs.view(await this.labs.taughtBy(me, id));
  }

  @Answers('PATCH labs/:id')
  async change(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() change: ChangeLabRequest,
  ): Promise<LabView> {
    await this.labs.taughtBy(me, id);
    await this.labs.change(me, id, change);
    return this.labs.view(await this.labs.taughtBy(me, id));
  }

  /** Tells of every save of a document of the lab: its id and its revision. */
  @Sse('labs/:id/live')
  async live(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @StillSignedIn() isSignedIn: SignedRequest['isSignedIn'],
  ): Promise<Observable<MessageEvent>> {
    const lab = await this.labs.taughtBy(me, id);
    const isAllowed = async (): Promise<boolean> =>
      (await isSignedIn()) &&
      this.labs.taughtBy(me, id).then(
        () => true,
        () => false,
      );
    return liveEvents(
      me,
      this.documents,
      documentsOf(lab),
      (document, revision) => `${document} ${revision}`,
      isAllowed,
    );
  }

  @Answers('GET labs/:id/file')
  @Header('Content-Disposition', 'attachment; filename="lab.json"')
  async export(@CurrentUser() me: Me, @Param('id', ParseUUIDPipe) id: string): Promise<LabFile> {
    return this.labs.export(await this.labs.taughtBy(me, id));
  }
}
