import { Module } from '@nestjs/common';
import { AccountsModule } from '../accounts/accounts.module';
import { CoursesController } from './courses.controller';
import { CoursesService } from './courses.service';
import { MembersService } from './members.service';
import { RemovalService } from './removal.service';

@Module({
  imports: [AccountsModule],
  controllers: [CoursesController],
  providers: [CoursesService, MembersService, RemovalService],
  exports: [CoursesService, MembersService, RemovalService],
})
export class CoursesModule {}
