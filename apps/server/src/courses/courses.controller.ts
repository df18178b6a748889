import { Body, Controller, HttpCode, Param, ParseUUIDPipe } from '@nestjs/common';
import {
  AddToRosterRequest,
  type AddedStudent,
  type CourseSummary,
  CreateCourseRequest,
  type Me,
  type OneTimeLink,
  type RosterStudent,
} from '@sobrin/contracts';
import { CurrentUser, OnlyFor } from '../accounts/session.guard';
import { CoursesService } from './courses.service';
import { Answers } from '../platform/route';

@Controller()
export class CoursesController {
  constructor(private readonly courses: CoursesService) {}

  @Answers('GET courses')
  list(@CurrentUser() me: Me): Promise<CourseSummary[]> {
    return this.courses.list(me);
  }

  @OnlyFor('instructor')
  @Answers('POST courses')
  create(@CurrentUser() me: Me, @Body() { title, term }: CreateCourseRequest): Promise<CourseSummary> {
    return this.courses.create(me, title, term ?? '');
  }

  @OnlyFor('instructor')
  @Answers('GET courses/:id/roster')
  async roster(@CurrentUser() me: Me, @Param('id', ParseUUIDPipe) id: string): Promise<RosterStudent[]> {
    await this.courses.taughtBy(me, id);
    return this.courses.roster(id);
  }

  @OnlyFor('instructor')
  @Answers('POST courses/:id/roster')
  async add(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { students }: AddToRosterRequest,
  ): Promise<AddedStudent[]> {
    await this.courses.taughtBy(me, id);
    return this.courses.addToRoster(id, students);
  }

  @OnlyFor('instructor')
  @Answers('POST courses/:id/roster/:student/link')
  async link(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @Param('student', ParseUUIDPipe) student: string,
  ): Promise<OneTimeLink> {
    await this.courses.taughtBy(me, id);
    return this.courses.linkFor(me, id, student);
  }

  @OnlyFor('instructor')
  @Answers('DELETE courses/:id/roster/:student')
  @HttpCode(204)
  async remove(
    @CurrentUser() me: Me,
    @Param('id', ParseUUIDPipe) id: string,
    @Param('student', ParseUUIDPipe) student: string,
  ): Promise<void> {
    await this.courses.taughtBy(me, id);
    await this.courses.removeFromRoster(id, student);
  }
}
