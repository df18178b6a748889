import { Body, Controller, Get, HttpCode, Param, ParseIntPipe, ParseUUIDPipe, Post, Res } from '@nestjs/common';
import {
  type DocumentView,
  type Me,
  NameVersionRequest,
  SaveRequest,
  type Saved,
  type VersionView,
} from '@sobrin/contracts';
import { type Plan, type Topology } from '@sobrin/core';
import { type Response } from 'express';
import { CurrentUser } from '../accounts/session.guard';
import { DocumentsService } from '../documents/documents.service';
import { VersionsService } from '../documents/versions.service';
import { LabsService } from '../labs/labs.service';
import { refuse } from '../platform/refusal';
import { WorksService } from './works.service';

/** Reading and saving a drawing or a plan: a lab's by its instructor, a work's by its student. */
@Controller()
export class DocumentsController {
  constructor(
    private readonly documents: DocumentsService,
    private readonly versions: VersionsService,
    private readonly labs: LabsService,
    private readonly works: WorksService,
  ) {}

  @Get('documents/:id')
  async read(@CurrentUser() me: Me, @Param('id', ParseUUIDPipe) id: string): Promise<DocumentView<Topology | Plan>> {
    await this.mayChange(me, id);
    return this.documents.read(id);
  }

  @Post('documents/:id/changes')
  @HttpCode(200)
  async save(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: SaveRequest,
  ): Promise<Saved<Topology | Plan>> {
    await this.mayChange(me, id);
    return this.documents.save(id, request, me);
  }

  @Get('documents/:id/versions')
  async listVersions(@CurrentUser() me: Me, @Param('id', ParseUUIDPipe) id: string): Promise<VersionView[]> {
    await this.mayChange(me, id);
    return this.versions.list(id);
  }

  @Post('documents/:id/versions')
  @HttpCode(204)
  async nameVersion(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: NameVersionRequest,
  ): Promise<void> {
    await this.mayChange(me, id);
    await this.versions.name(id, request, me);
  }

  @Get('documents/:id/versions/:revision')
  async readVersion(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @Param('revision', ParseIntPipe) revision: number,
  ): Promise<DocumentView<Topology | Plan>> {
    await this.mayChange(me, id);
    return this.versions.read(id, revision);
  }

  @Get('attachments/:id')
  async attachment(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @Res() response: Response,
  ): Promise<void> {
    const found = await this.works.attachment(id);
    if (!found) throw refuse.missing('file');
    if (found.work.studentId !== me.id) await this.labs.taughtBy(me, found.work.labId);
    // Always as a download and never as a page: what students attach must not run in an instructor's browser.
    response.setHeader('Content-Type', 'application/octet-stream');
    response.setHeader(
      'Content-Disposition',
      `attachment; filename*=UTF-8''${encodeURIComponent(found.attachment.name)}`,
    );
    response.send(found.attachment.bytes);
  }

  private async mayChange(me: Me, id: string): Promise<void> {
    const work = me.role === 'student' ? await this.works.byDocument(id) : null;
    const lab = me.role === 'instructor' ? await this.labs.byDocument(id) : null;
    if (lab) await this.labs.taughtBy(me, lab.id);
    else if (work?.studentId !== me.id) throw refuse.missing('document');
  }
}
