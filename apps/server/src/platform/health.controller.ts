import { Controller, Res } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type Health } from '@sobrin/contracts';
import { CORE_VERSION } from '@sobrin/core/version';
import { type Response } from 'express';
import { statfs } from 'node:fs/promises';
import { DataSource } from 'typeorm';
import { Public } from '../accounts/session.guard';
import { JobsService } from '../jobs/jobs.service';
import { Answers } from './route';

/** Longer than a database takes that can be worked with. */
const PATIENCE_MS = 3_000;

/** For whoever watches over Sobrin: 200 while people can work, 503 with what is missing. */
@Controller()
export class HealthController {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly jobs: JobsService,
  ) {}

  @Public()
  @Answers('GET health')
  async health(@Res({ passthrough: true }) response: Response): Promise<Health> {
    const [database, queue, { bavail, bsize }] = await Promise.all([
      this.answers(this.db.query<object[]>('SELECT 1')),
      this.answers(this.jobs.load()),
      statfs('.'),
    ]);
    const health: Health = {
      ok: database !== null && queue !== null,
      version: CORE_VERSION,
      database: database === null ? 'does not answer' : 'answers',
      queue,
      freeMegabytes: Math.floor((bavail * bsize) / 1e6),
    };
    response.status(health.ok ? 200 : 503);
    return health;
  }

  /** What comes in time; null where nothing does. */
  private answers<Answer>(asked: Promise<Answer>): Promise<Answer | null> {
    const late = new Promise<null>((resolve) => setTimeout(() => resolve(null), PATIENCE_MS).unref());
    return Promise.race([asked.catch(() => null), late]);
  }
}
