import { Body, Controller, Header, HttpCode, type MessageEvent, Param, ParseUUIDPipe, Sse } from '@nestjs/common';
import {
  ChangeLabRequest,
  CreateLabRequest,
  ImportLabRequest,
  JudgeByRequest,
  type LabVersionView,
  type LabView,
  type Me,
} from '@sobrin/contracts';
import { type LabFile } from '@sobrin/core/spec';
import { type Observable } from 'rxjs';
import { CurrentUser, OnlyFor, type SignedRequest, StillSignedIn } from '../accounts/session.guard';
import { CoursesService } from '../courses/courses.service';
import { DocumentsService } from '../documents/documents.service';
import { liveEvents } from '../documents/live';
import { refuse } from '../platform/refusal';
import { LabsService, documentsOf } from './labs.service';
import { LabVersionsService } from './versions.service';
import { Answers } from '../platform/route';

@OnlyFor('instructor')
@Controller()
export class LabsController {
  constructor(
    private readonly labs: LabsService,
    private readonly courses: CoursesService,
    private readonly documents: DocumentsService,
    private readonly labVersions: LabVersionsService,
  ) {}

  @Answers('POST courses/:id/labs')
  async create(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) courseId: string,
    @Body() { title }: CreateLabRequest,
  ): Promise<{ id: string }> {
    await this.courses.taughtBy(me, courseId);
    return { id: await this.labs.create(me, courseId, title) };
  }

  @Answers('POST courses/:id/labs/import')
  async import(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) courseId: string,
    @Body() { text }: ImportLabRequest,
  ): Promise<{ id: string }> {
    await this.courses.taughtBy(me, courseId);
    return { id: await this.labs.import(me, courseId, text) };
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
    await this.labs.change(me, await this.labs.editedBy(me, id), change);
    return this.labs.view(await this.labs.taughtBy(me, id));
  }

  @Answers('POST labs/:id/release')
  @HttpCode(200)
  async release(@CurrentUser() me: Me, @Param('id', ParseUUIDPipe) id: string): Promise<LabView> {
    await this.labs.release(me, await this.labs.editedBy(me, id));
    return this.labs.view(await this.labs.taughtBy(me, id));
  }

  @Answers('GET labs/:id/versions')
  async versions(@CurrentUser() me: Me, @Param('id', ParseUUIDPipe) id: string): Promise<LabVersionView[]> {
    return this.labVersions.list(await this.labs.taughtBy(me, id));
  }

  /** Makes the lab as it is now final: it judges from now on. */
  @Answers('POST labs/:id/versions')
  @HttpCode(200)
  async makeFinal(@CurrentUser() me: Me, @Param('id', ParseUUIDPipe) id: string): Promise<LabView> {
    const assignment = await this.labs.editedBy(me, id);
    if (!assignment.releasedAt)
      throw refuse.state('The lab is not released yet: releasing it makes its first version.');
    await this.labs.makeFinal(me, assignment);
    return this.labs.view(await this.labs.taughtBy(me, id));
  }

  @Answers('PUT labs/:id/version')
  @HttpCode(200)
  async judgeBy(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { number }: JudgeByRequest,
  ): Promise<LabView> {
    await this.labs.judgeBy(await this.labs.taughtBy(me, id), number);
    return this.labs.view(await this.labs.taughtBy(me, id));
  }

  /** Tells of every save of a document of the lab: its id and its revision. */
  @Sse('labs/:id/live')
  async live(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @StillSignedIn() isSignedIn: SignedRequest['isSignedIn'],
  ): Promise<Observable<MessageEvent>> {
    const { lab } = await this.labs.taughtBy(me, id);
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
    return this.labs.export((await this.labs.taughtBy(me, id)).lab);
  }
}
