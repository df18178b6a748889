import { Module } from '@nestjs/common';
import { CoursesModule } from '../courses/courses.module';
import { DocumentsModule } from '../documents/documents.module';
import { LabsModule } from '../labs/labs.module';
import { DocumentsController } from './documents.controller';
import { AskingService } from './asking.service';
import { SelfChecksService } from './self-checks.service';
import { WorksController } from './works.controller';
import { WorksService } from './works.service';

@Module({
  imports: [CoursesModule, DocumentsModule, LabsModule],
  controllers: [WorksController, DocumentsController],
  providers: [WorksService, SelfChecksService, AskingService],
  exports: [WorksService],
})
export class SubmissionsModule {}
