import { type MiddlewareConsumer, Module, type NestModule } from '@nestjs/common';
import { APP_FILTER, APP_GUARD } from '@nestjs/core';
import { ThrottlerGuard, ThrottlerModule } from '@nestjs/throttler';
import { TypeOrmModule } from '@nestjs/typeorm';
import { LoggerModule } from 'nestjs-pino';
import { AccessGuard } from './access/access.guard';
import { AccessModule } from './access/access.module';
import { AccountsModule } from './accounts/accounts.module';
import { SessionGuard, type SignedRequest } from './accounts/session.guard';
import { ChecksModule } from './checks/checks.module';
import { CoursesModule } from './courses/courses.module';
import { DocumentsModule } from './documents/documents.module';
import { JobsModule } from './jobs/jobs.module';
import { LabsModule } from './labs/labs.module';
import { databaseOptions } from './platform/database';
import { CountRequests, MetricsController, MetricsService } from './platform/metrics.controller';
import { HealthController } from './platform/health.controller';
import { RefusalFilter } from './platform/refusal.filter';
import { SignalsModule } from './platform/signals.service';
import { ThreadsModule } from './platform/threads.service';
import { SubmissionsModule } from './submissions/submissions.module';

@Module({
  imports: [
    LoggerModule.forRootAsync({
      useFactory: () => ({
        forRoutes: ['{*path}'],
        pinoHttp: {
          level: process.env.LOG_LEVEL ?? 'warn',
          redact: ['req.headers.cookie', 'req.headers.authorization', 'res.headers["set-cookie"]'],
        },
      }),
    }),
    TypeOrmModule.forRootAsync({ useFactory: databaseOptions }),
    // By person, as a whole class may sit behind one address; who is not signed in counts by address.
    ThrottlerModule.forRoot({
      throttlers: [{ limit: 1200, ttl: 60_000 }],
      getTracker: (request) => (request as unknown as SignedRequest).me?.id ?? String(request.ip),
    }),
    SignalsModule,
    JobsModule,
    ThreadsModule,
    AccessModule,
    AccountsModule,
    CoursesModule,
    DocumentsModule,
    LabsModule,
    SubmissionsModule,
    ChecksModule,
  ],
  controllers: [HealthController, MetricsController],
  providers: [
    MetricsService,
    { provide: APP_GUARD, useClass: ThrottlerGuard },
    { provide: APP_GUARD, useClass: SessionGuard },
    { provide: APP_GUARD, useClass: AccessGuard },
    { provide: APP_FILTER, useClass: RefusalFilter },
  ],
})
export class AppModule implements NestModule {
  configure(consumer: MiddlewareConsumer): void {
    consumer.apply(CountRequests).forRoutes('{*path}');
  }
}
