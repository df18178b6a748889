import { Controller } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { CORE_VERSION } from '@sobrin/core/version';
import { DataSource } from 'typeorm';
import { Public } from '../accounts/session.guard';
import { Answers } from './route';

@Controller()
export class HealthController {
  constructor(@InjectDataSource() private readonly db: DataSource) {}

  @Public()
  @Answers('GET health')
  async health(): Promise<{ ok: true; version: string }> {
    await this.db.query('SELECT 1');
    return { ok: true, version: CORE_VERSION };
  }
}
