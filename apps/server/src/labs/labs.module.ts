import { Module } from '@nestjs/common';
import { CoursesModule } from '../courses/courses.module';
import { DocumentsModule } from '../documents/documents.module';
import { DrillsService } from './drills.service';
import { LabFilesController } from './lab-files.controller';
import { LabFilesService } from './lab-files.service';
import { LabsController } from './labs.controller';
import { LabsService } from './labs.service';
import { LibraryService } from './library.service';
import { LabVersionsService } from './versions.service';

@Module({
  imports: [CoursesModule, DocumentsModule],
  controllers: [LabsController, LabFilesController],
  providers: [DrillsService, LabsService, LabFilesService, LabVersionsService, LibraryService],
  exports: [LabsService, LabFilesService, LabVersionsService],
})
export class LabsModule {}
