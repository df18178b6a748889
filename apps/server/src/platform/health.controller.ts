import { Controller, Get } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { CORE_VERSION } from '@sobrin/core';
import { DataSource } from 'typeorm';
import { Public } from '../accounts/session.guard';

@Controller('health')
export class HealthController {
  constructor(@InjectDataSource() private readonly db: DataSource) {}

  @Public()
  @Get()
  async health(): Promise<{ ok: true; version: string }> {
    await this.db.query('SELECT 1');
    return { ok: true, version: CORE_VERSION };
  }
}
