import {
  Body,
  Controller,
  Header,
  HttpCode,
  type MessageEvent,
  Param,
  ParseIntPipe,
  Query,
  Res,
  Sse,
} from '@nestjs/common';
import {
  type AnyDocument,
  AsideRequest,
  type DocumentView,
  type Me,
  NameVersionRequest,
  PictureQuery,
  SaveRequest,
  type Saved,
  type SetAside,
  type Showing,
  type ShownDrawing,
  type VersionView,
} from '@sobrin/contracts';
import { type Response } from 'express';
import { type EntityManager } from 'typeorm';
import { type Observable, ignoreElements } from 'rxjs';
import { beyondSpeaking } from '@sobrin/core/editing';
import { type Topology } from '@sobrin/core/topology';
import { Needs, StillMay, TheObject } from '../access/access.guard';
import { type Granted } from '../access/access.service';
import { CurrentUser, Public } from '../accounts/session.guard';
import { AsideService } from '../documents/aside.service';
import { DOCUMENT_KINDS } from '../documents/document-kinds';
import { DocumentsService } from '../documents/documents.service';
import { liveEvents } from '../documents/live';
import { type PictureWish } from '../platform/thread';
import { PICTURE_TYPES, PicturesService } from '../documents/pictures.service';
import { PresenceService, presentEvents } from '../documents/presence.service';
import { ShowingService } from '../documents/showing.service';
import { VersionsService } from '../documents/versions.service';
import { LabsService } from '../labs/labs.service';
import { refuse } from '../platform/refusal';
import { Attachment } from './submission.entity';
import { WorksService } from './works.service';
import { Answers } from '../platform/route';

/** What a change may be of whoever may comment on the work of another. */
const mayOnlySpeak =
  (by: string) =>
  (before: AnyDocument, after: AnyDocument): void => {
    const isDrawing = (document: AnyDocument): document is Topology => 'links' in document;
    const beyond =
      isDrawing(before) && isDrawing(after) ? beyondSpeaking(before, after, by) : 'the plan is its student’s to change';
    if (beyond !== null) throw refuse.forbidden(`Nothing was stored: ${beyond}.`);
  };

const isPicture = (format: string): format is PictureWish['format'] => Object.hasOwn(PICTURE_TYPES, format);
/** Reading and saving documents: a lab's by its instructor, a work's by its student. */
@Controller()
export class DocumentsController {
  constructor(
    private readonly documents: DocumentsService,
    private readonly versions: VersionsService,
    private readonly aside: AsideService,
    private readonly pictures: PicturesService,
    private readonly shown: ShowingService,
    private readonly presence: PresenceService,
    private readonly labs: LabsService,
    private readonly works: WorksService,
  ) {}

  @Needs('look', 'document')
  @Answers('GET documents/:id')
  async read(@TheObject() { id }: Granted['document']): Promise<DocumentView<AnyDocument>> {
    return this.documents.read(id);
  }

  @Needs('comment', 'document')
  @Answers('POST documents/:id/changes')
  @HttpCode(200)
  async save(
    @CurrentUser() me: Me,
    @TheObject() { id, lab, speaksAs }: Granted['document'],
    @Body() request: SaveRequest,
  ): Promise<Saved<AnyDocument>> {
    return this.documents.save(id, request, me, {
      ...(lab && { first: (manager: EntityManager) => this.labs.countChange(lab, manager) }),
      ...(speaksAs !== null && { judge: mayOnlySpeak(speaksAs) }),
    });
  }

  @Needs('edit', 'document')
  @Answers('POST documents/:id/aside')
  @HttpCode(200)
  async setAside(
    @CurrentUser() me: Me,
    @TheObject() { id }: Granted['document'],
    @Body() request: AsideRequest,
  ): Promise<SetAside> {
    return this.aside.set(id, request, me);
  }

  /** Tells of every save as long as the connection lasts, first the revision as it is; and who else has it open. */
  @Needs('look', 'document')
  @Sse('documents/:id/live')
  live(
    @CurrentUser() me: Me,
    @TheObject() { id, mayEdit, speaksAs }: Granted['document'],
    @StillMay() stillMay: () => Promise<boolean>,
  ): Observable<MessageEvent> {
    const present = presentEvents(this.presence.at(me, id));
    const told = mayEdit || speaksAs !== null ? present : present.pipe(ignoreElements());
    return liveEvents(me, this.documents, [id], (_id, revision) => String(revision), stillMay, told);
  }

  @Needs('read', 'document')
  @Answers('GET documents/:id/versions')
  async listVersions(@TheObject() { id }: Granted['document']): Promise<VersionView[]> {
    return this.versions.list(id);
  }

  @Needs('edit', 'document')
  @Answers('POST documents/:id/versions')
  @HttpCode(204)
  async nameVersion(
    @CurrentUser() me: Me,
    @TheObject() { id }: Granted['document'],
    @Body() request: NameVersionRequest,
  ): Promise<void> {
    await this.versions.name(id, request, me);
  }

  @Needs('read', 'document')
  @Answers('GET documents/:id/versions/:revision')
  async readVersion(
    @TheObject() { id }: Granted['document'],
    @Param('revision', ParseIntPipe) revision: number,
  ): Promise<DocumentView<AnyDocument>> {
    return this.versions.read(id, revision);
  }

  /** A drawing, or a version of it, as a picture or a paper that no browser is needed for. */
  @Needs('read', 'document')
  @Answers('GET documents/:id/picture.:format')
  async picture(
    @CurrentUser() me: Me,
    @TheObject() { id }: Granted['document'],
    @Param('format') format: string,
    @Query() { revision, width, scheme }: PictureQuery,
    @Res() response: Response,
  ): Promise<void> {
    if (!isPicture(format))
      throw refuse.input(`A picture is one of ${Object.keys(PICTURE_TYPES).join(', ')}, not “${format}”.`);
    const newest = await this.documents.about(id);
    if (newest.kind !== 'topology' && newest.kind !== 'starter')
      throw refuse.input(`Only drawings have a picture: the ${DOCUMENT_KINDS[newest.kind].word} has none.`);
    const date = new Date().toISOString().slice(0, 10);
    const wish = { format, width: width ?? 1600, scheme: scheme ?? 'light', date };
    const picture = await this.pictures.paint(me, id, revision ?? newest.revision, wish);
    response.setHeader('Content-Type', PICTURE_TYPES[format]);
    // A version never changes: its picture need not be made again.
    response.setHeader('Cache-Control', revision === undefined ? 'no-store' : 'private, max-age=31536000, immutable');
    response.send(Buffer.from(picture));
  }

  /** Whether the drawing of a lab can be looked at without signing in. What students draw is not shown: it is judged. */
  @Needs('read', 'document')
  @Answers('GET documents/:id/showing')
  async showing(@TheObject() { id }: Granted['document']): Promise<Showing> {
    return this.shown.of(id);
  }

  @Needs('show', 'document')
  @Answers('POST documents/:id/showing')
  @HttpCode(200)
  async show(@CurrentUser() me: Me, @TheObject() { id }: Granted['document']): Promise<Showing> {
    return this.shown.begin(id, me);
  }

  @Needs('show', 'document')
  @Answers('DELETE documents/:id/showing')
  @HttpCode(204)
  async hide(@TheObject() { id }: Granted['document']): Promise<void> {
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

  @Needs('read', 'attachment')
  @Answers('GET attachments/:id')
  async attachment(@TheObject() attachment: Attachment, @Res() response: Response): Promise<void> {
    // Always as a download and never as a page: what students attach must not run in an instructor's browser.
    response.setHeader('Content-Type', 'application/octet-stream');
    response.setHeader('Content-Disposition', `attachment; filename*=UTF-8''${encodeURIComponent(attachment.name)}`);
    response.send(await this.works.bytesOf(attachment));
  }
}
