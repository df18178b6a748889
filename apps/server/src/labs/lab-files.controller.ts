import { Body, Controller, HttpCode, Param, ParseUUIDPipe, Res } from '@nestjs/common';
import { AttachRequest, type FileView, type Me } from '@sobrin/contracts';
import { type Response } from 'express';
import { CurrentUser, OnlyFor } from '../accounts/session.guard';
import { LabFilesService } from './lab-files.service';
import { LabsService } from './labs.service';
import { Answers } from '../platform/route';

/** Pictures that a browser shows and that cannot carry a script. */
const SHOWN = new Set(['image/png', 'image/jpeg', 'image/gif', 'image/webp']);

@Controller()
export class LabFilesController {
  constructor(
    private readonly labs: LabsService,
    private readonly files: LabFilesService,
  ) {}

  @Answers('POST labs/:id/files')
  @OnlyFor('instructor')
  async add(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() file: AttachRequest,
  ): Promise<FileView> {
    return this.files.add((await this.labs.editedBy(me, id)).labId, file);
  }

  @Answers('DELETE labs/:id/files/:file')
  @OnlyFor('instructor')
  @HttpCode(204)
  async remove(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @Param('file') file: string,
  ): Promise<void> {
    await this.files.remove((await this.labs.editedBy(me, id)).labId, file);
  }

  @Answers('GET labs/:id/files/:file')
  async read(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @Param('file') file: string,
    @Res() response: Response,
  ): Promise<void> {
    const { labId } = await (me.role === 'student' ? this.labs.openTo(me, id) : this.labs.taughtBy(me, id));
    const found = await this.files.read(labId, file);
    const isPicture = SHOWN.has(found.type);
    response.setHeader('Content-Type', isPicture ? found.type : 'application/octet-stream');
    response.setHeader(
      'Content-Disposition',
      `${isPicture ? 'inline' : 'attachment'}; filename*=UTF-8''${encodeURIComponent(found.name)}`,
    );
    response.setHeader('Cache-Control', 'private, max-age=3600');
    response.send(found.bytes);
  }
}
