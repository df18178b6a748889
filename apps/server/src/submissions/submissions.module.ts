import { Module } from '@nestjs/common';
import { CoursesModule } from '../courses/courses.module';
import { DocumentsModule } from '../documents/documents.module';
import { LabsModule } from '../labs/labs.module';
import { DocumentsController } from './documents.controller';
import { WorksController } from './works.controller';
import { WorksService } from './works.service';

@Module({
  imports: [CoursesModule, DocumentsModule, LabsModule],
  controllers: [WorksController, DocumentsController],
  providers: [WorksService],
  exports: [WorksService],
})
export class SubmissionsModule {}
