import { Module } from '@nestjs/common';
import { CoursesModule } from '../courses/courses.module';
import { DocumentsModule } from '../documents/documents.module';
import { LabsController } from './labs.controller';
import { LabsService } from './labs.service';

@Module({
  imports: [CoursesModule, DocumentsModule],
  controllers: [LabsController],
  providers: [LabsService],
  exports: [LabsService],
})
export class LabsModule {}
