import { Module } from '@nestjs/common';
import { CoursesModule } from '../courses/courses.module';
import { LabsModule } from '../labs/labs.module';
import { SubmissionsModule } from '../submissions/submissions.module';
import { ChecksController } from './checks.controller';
import { ChecksService } from './checks.service';
import { CommentsService } from './comments.service';
import { ResultsService } from './results.service';
import { DiagnosesService } from './diagnoses.service';
import { DecisionsService } from './decisions.service';
import { SignOffsService } from './sign-offs.service';
import { JobsController } from './jobs.controller';

@Module({
  imports: [CoursesModule, LabsModule, SubmissionsModule],
  controllers: [ChecksController, JobsController],
  providers: [ChecksService, CommentsService, DecisionsService, DiagnosesService, ResultsService, SignOffsService],
  exports: [ChecksService],
})
export class ChecksModule {}
