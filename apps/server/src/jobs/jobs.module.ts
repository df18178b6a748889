import { Global, Module } from '@nestjs/common';
import { JobsService } from './jobs.service';
import { WorkerService } from './worker.service';

@Global()
@Module({ providers: [JobsService, WorkerService], exports: [JobsService, WorkerService] })
export class JobsModule {}
