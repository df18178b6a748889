import { Module } from '@nestjs/common';
import { AccountsModule } from '../accounts/accounts.module';
import { CoursesController } from './courses.controller';
import { CoursesService } from './courses.service';
import { MembersService } from './members.service';

@Module({
  imports: [AccountsModule],
  controllers: [CoursesController],
  providers: [CoursesService, MembersService],
  exports: [CoursesService, MembersService],
})
export class CoursesModule {}
