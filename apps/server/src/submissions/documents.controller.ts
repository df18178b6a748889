import {
  Body,
  Controller,
  Header,
  HttpCode,
  type MessageEvent,
  Param,
  ParseIntPipe,
  ParseUUIDPipe,
  Query,
  Res,
  Sse,
} from '@nestjs/common';
import {
  type AnyDocument,
  type DocumentView,
  type Me,
  NameVersionRequest,
  PictureQuery,
  SaveRequest,
  type Saved,
  type Showing,
  type ShownDrawing,
  type VersionView,
} from '@sobrin/contracts';
import { type Response } from 'express';
import { type Observable } from 'rxjs';
import { CurrentUser, OnlyFor, Public, type SignedRequest, StillSignedIn } from '../accounts/session.guard';
import { DOCUMENT_KINDS } from '../documents/document-kinds';
import { DocumentsService } from '../documents/documents.service';
import { liveEvents } from '../documents/live';
import { type PictureWish } from '../platform/thread';
import { PICTURE_TYPES, PicturesService } from '../documents/pictures.service';
import { ShowingService } from '../documents/showing.service';
import { VersionsService } from '../documents/versions.service';
import { type Lab } from '../labs/lab.entity';
import { LabsService } from '../labs/labs.service';
import { refuse } from '../platform/refusal';
import { WorksService } from './works.service';
import { Answers } from '../platform/route';

const isPicture = (format: string): format is PictureWish['format'] => Object.hasOwn(PICTURE_TYPES, format);
/** Reading and saving documents: a lab's by its instructor, a work's by its student. */
@Controller()
export class DocumentsController {
  constructor(
    private readonly documents: DocumentsService,
    private readonly versions: VersionsService,
    private readonly pictures: PicturesService,
    private readonly shown: ShowingService,
    private readonly labs: LabsService,
    private readonly works: WorksService,
  ) {}

  @Answers('GET documents/:id')
  async read(@CurrentUser() me: Me, @Param('id', ParseUUIDPipe) id: string): Promise<DocumentView<AnyDocument>> {
    await this.mayChange(me, id);
    return this.documents.read(id);
  }

  @Answers('POST documents/:id/changes')
  @HttpCode(200)
  async save(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: SaveRequest,
  ): Promise<Saved<AnyDocument>> {
    const lab = await this.mayChange(me, id);
    return this.documents.save(id, request, me, lab ? (manager) => this.labs.countChange(lab, manager) : undefined);
  }

  /** Tells of every save as long as the connection lasts; first the revision as it is. */
  @Sse('documents/:id/live')
  async live(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @StillSignedIn() isSignedIn: SignedRequest['isSignedIn'],
  ): Promise<Observable<MessageEvent>> {
    await this.mayChange(me, id);
    const isAllowed = async (): Promise<boolean> =>
      (await isSignedIn()) &&
      this.mayChange(me, id).then(
        () => true,
        () => false,
      );
    return liveEvents(me, this.documents, [id], (_id, revision) => String(revision), isAllowed);
  }

  @Answers('GET documents/:id/versions')
  async listVersions(@CurrentUser() me: Me, @Param('id', ParseUUIDPipe) id: string): Promise<VersionView[]> {
    await this.mayChange(me, id);
    return this.versions.list(id);
  }

  @Answers('POST documents/:id/versions')
  @HttpCode(204)
  async nameVersion(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: NameVersionRequest,
  ): Promise<void> {
    await this.mayChange(me, id);
    await this.versions.name(id, request, me);
  }

  @Answers('GET documents/:id/versions/:revision')
  async readVersion(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @Param('revision', ParseIntPipe) revision: number,
  ): Promise<DocumentView<AnyDocument>> {
    await this.mayChange(me, id);
    return this.versions.read(id, revision);
  }

  /** A drawing, or a version of it, as a picture or a paper that no browser is needed for. */
  @Answers('GET documents/:id/picture.:format')
  async picture(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @Param('format') format: string,
    @Query() { revision, width, scheme }: PictureQuery,
    @Res() response: Response,
  ): Promise<void> {
    await this.mayChange(me, id);
    if (!isPicture(format))
      throw refuse.input(`A picture is one of ${Object.keys(PICTURE_TYPES).join(', ')}, not “${format}”.`);
    const newest = await this.documents.about(id);
    if (newest.kind !== 'topology' && newest.kind !== 'starter')
      throw refuse.input(`Only drawings have a picture: the ${DOCUMENT_KINDS[newest.kind].word} has none.`);
    const date = new Date().toISOString().slice(0, 10);
    const wish = { format, width: width ?? 1600, scheme: scheme ?? 'light', date };
    const picture = await this.pictures.paint(id, revision ?? newest.revision, wish);
    response.setHeader('Content-Type', PICTURE_TYPES[format]);
    // A version never changes: its picture need not be made again.
    response.setHeader('Cache-Control', revision === undefined ? 'no-store' : 'private, max-age=31536000, immutable');
    response.send(Buffer.from(picture));
  }

  /** Whether the drawing of a lab can be looked at without signing in. What students draw is not shown: it is judged. */
  @OnlyFor('instructor')
  @Answers('GET documents/:id/showing')
  async showing(@CurrentUser() me: Me, @Param('id', ParseUUIDPipe) id: string): Promise<Showing> {
    await this.mayChange(me, id);
    return this.shown.of(id);
  }

  @OnlyFor('instructor')
  @Answers('POST documents/:id/showing')
  @HttpCode(200)
  async show(@CurrentUser() me: Me, @Param('id', ParseUUIDPipe) id: string): Promise<Showing> {
    await this.mayChange(me, id);
    return this.shown.begin(id, me);
  }

  @OnlyFor('instructor')
  @Answers('DELETE documents/:id/showing')
  @HttpCode(204)
  async hide(@CurrentUser() me: Me, @Param('id', ParseUUIDPipe) id: string): Promise<void> {
    await this.mayChange(me, id);
    await this.shown.end(id);
  }

  @Public()
  @Answers('GET shown/:key')
  @Header('Cache-Control', 'no-store')
  @Header('X-Robots-Tag', 'noindex')
  async look(@Param('key') key: string): Promise<ShownDrawing> {
    const found = await this.shown.shown(key);
    const lab = found && (await this.labs.byDocument(found.id));
    if (!found || !lab) throw refuse.missing('drawing');
    return { title: lab.title, document: found.document };
  }

  @Answers('GET attachments/:id')
  async attachment(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @Res() response: Response,
  ): Promise<void> {
    const found = await this.works.attachment(id);
    if (!found) throw refuse.missing('file');
    if (found.work.studentId === me.id) await this.labs.openTo(me, found.work.assignmentId);
    else await this.labs.taughtBy(me, found.work.assignmentId);
    // Always as a download and never as a page: what students attach must not run in an instructor's browser.
    response.setHeader('Content-Type', 'application/octet-stream');
    response.setHeader(
      'Content-Disposition',
      `attachment; filename*=UTF-8''${encodeURIComponent(found.attachment.name)}`,
    );
    response.send(found.attachment.bytes);
  }

  /** The lab whose document it is; null where it is one of the person's own work. */
  private async mayChange(me: Me, id: string): Promise<Lab | null> {
    const work = me.role === 'student' ? await this.works.byDocument(id) : null;
    const lab = me.role === 'instructor' ? await this.labs.byDocument(id) : null;
    if (lab?.ownerId === me.id) return lab;
    if (work?.studentId !== me.id) throw refuse.missing('document');
    await this.labs.openTo(me, work.assignmentId); // who is off the roster keeps it, and sees it again when back
    return null;
  }
}
