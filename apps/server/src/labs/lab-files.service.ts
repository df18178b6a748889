import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type FileView } from '@sobrin/contracts';
import { type LabAttachment } from '@sobrin/core/spec';
import { randomUUID } from 'node:crypto';
import { DataSource, type EntityManager } from 'typeorm';
import { bytesOf } from '../platform/base64';
import { refuse } from '../platform/refusal';
import { Lab, LabFileRecord } from './lab.entity';

const MAX_FILES = 64;
const MAX_FILE_BYTES = 5_000_000;
/** All files of a lab together, so that the lab with them still is a file that can be read. */
const MAX_ALL_BYTES = 6_000_000;

/** Pictures and files that come with a lab. */
@Injectable()
export class LabFilesService {
  constructor(@InjectDataSource() private readonly db: DataSource) {}

  async list(labId: string): Promise<FileView[]> {
    const found = await this.db.manager.find(LabFileRecord, { where: { labId }, order: { name: 'ASC', id: 'ASC' } });
    return found.map(({ id, name, type, size }) => ({ id, name, type, size }));
  }

  async read(labId: string, id: string): Promise<LabFileRecord> {
    const found = await this.db.manager.findOne(LabFileRecord, {
      where: { labId, id },
      select: { labId: true, id: true, name: true, type: true, size: true, bytes: true },
    });
    if (!found) throw refuse.missing('file');
    return found;
  }

  /** The files as a lab file holds them. */
  async all(labId: string): Promise<LabAttachment[]> {
    const list = await this.list(labId);
    return Promise.all(
      list.map(async ({ id, name, type }) => ({
        id,
        name,
        type,
        base64: (await this.read(labId, id)).bytes.toString('base64'),
      })),
    );
  }

  async add(labId: string, file: { name: string; type: string; base64: string }): Promise<FileView> {
    const size = bytesOf(file, MAX_FILE_BYTES).length;
    return this.db.transaction(async (manager) => {
      await manager.findOneOrFail(Lab, { where: { id: labId }, lock: { mode: 'pessimistic_write' } });
      const files = await manager.findBy(LabFileRecord, { labId });
      if (files.length >= MAX_FILES) throw refuse.input(`A lab has at most ${MAX_FILES} files: remove one first.`);
      const used = files.reduce((sum, file) => sum + file.size, 0);
      if (used + size > MAX_ALL_BYTES)
        throw refuse.input(
          `The files of a lab have at most ${MAX_ALL_BYTES / 1e6} MB together; with "${file.name}" they would have ${((used + size) / 1e6).toFixed(1)} MB.`,
        );
      return this.store(labId, { id: randomUUID().slice(0, 8), ...file }, manager);
    });
  }

  async store(labId: string, file: LabAttachment, manager: EntityManager = this.db.manager): Promise<FileView> {
    const bytes = bytesOf(file, MAX_ALL_BYTES);
    const { id, name, type } = file;
    await manager.insert(LabFileRecord, { labId, id, name, type, size: bytes.length, bytes });
    return { id, name, type, size: bytes.length };
  }

  async remove(labId: string, id: string): Promise<void> {
    await this.db.manager.delete(LabFileRecord, { labId, id });
  }
}
