import { Body, Controller, HttpCode, Param, Res } from '@nestjs/common';
import { AttachRequest, type FileView } from '@sobrin/contracts';
import { type Response } from 'express';
import { Needs, TheObject } from '../access/access.guard';
import { Assignment } from '../assignments/assignment.entity';
import { LabFilesService } from './lab-files.service';
import { Answers } from '../platform/route';

/** Pictures that a browser shows and that cannot carry a script. */
const SHOWN = new Set(['image/png', 'image/jpeg', 'image/gif', 'image/webp']);

@Controller()
export class LabFilesController {
  constructor(private readonly files: LabFilesService) {}

  @Needs('edit', 'lab')
  @Answers('POST labs/:id/files')
  add(@TheObject() { labId }: Assignment, @Body() file: AttachRequest): Promise<FileView> {
    return this.files.add(labId, file);
  }

  @Needs('edit', 'lab')
  @Answers('DELETE labs/:id/files/:file')
  @HttpCode(204)
  remove(@TheObject() { labId }: Assignment, @Param('file') file: string): Promise<void> {
    return this.files.remove(labId, file);
  }

  @Needs('look', 'lab')
  @Answers('GET labs/:id/files/:file')
  async read(
    @TheObject() { labId }: Assignment,
    @Param('file') file: string,
    @Res() response: Response,
  ): Promise<void> {
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
