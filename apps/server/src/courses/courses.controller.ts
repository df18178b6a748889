import { Body, Controller, HttpCode, Param, ParseUUIDPipe } from '@nestjs/common';
import {
  AddToRosterRequest,
  type AddedMember,
  ChangeCourseRequest,
  ChangeMemberRequest,
  type CourseSummary,
  CreateCourseRequest,
  type Invitation,
  type Me,
  type Member,
  type OneTimeLink,
  OrderRequest,
  RemovalRequest,
} from '@sobrin/contracts';
import { Needs, TheObject } from '../access/access.guard';
import { CurrentUser } from '../accounts/session.guard';
import { Answers } from '../platform/route';
import { type Course } from './course.entity';
import { CoursesService } from './courses.service';
import { MembersService } from './members.service';
import { RemovalService } from './removal.service';

@Controller()
export class CoursesController {
  constructor(
    private readonly courses: CoursesService,
    private readonly members: MembersService,
    private readonly removal: RemovalService,
  ) {}

  @Answers('GET courses')
  list(@CurrentUser() me: Me): Promise<CourseSummary[]> {
    return this.courses.list(me);
  }

  @Needs('create', 'course')
  @Answers('POST courses')
  create(@CurrentUser() me: Me, @Body() request: CreateCourseRequest): Promise<CourseSummary> {
    return this.courses.create(me, request);
  }

  @Needs('teach', 'course')
  @Answers('PATCH courses/:id')
  @HttpCode(204)
  change(@TheObject() course: Course, @Body() request: ChangeCourseRequest): Promise<void> {
    return this.courses.change(course, request);
  }

  /** The order in which the person's own courses are listed. */
  @Answers('PUT courses')
  @HttpCode(204)
  order(@CurrentUser() me: Me, @Body() { ids }: OrderRequest): Promise<void> {
    return this.courses.order(me, ids);
  }

  @Needs('teach', 'course')
  @Answers('PUT courses/:id/labs')
  @HttpCode(204)
  orderLabs(@TheObject() course: Course, @Body() { ids }: OrderRequest): Promise<void> {
    return this.courses.orderLabs(course, ids);
  }

  @Needs('teach', 'course')
  @Answers('POST courses/:id/removal')
  @HttpCode(204)
  removeCourse(@TheObject() course: Course, @Body() { attempts }: RemovalRequest): Promise<void> {
    return this.removal.course(course, attempts);
  }

  @Answers('GET invitations')
  invitations(@CurrentUser() me: Me): Promise<Invitation[]> {
    return this.members.invitations(me);
  }

  @Needs('answer', 'course')
  @Answers('POST courses/:id/membership')
  @HttpCode(204)
  accept(@CurrentUser() me: Me, @TheObject() course: Course): Promise<void> {
    return this.members.accept(me, course.id);
  }

  @Needs('answer', 'course')
  @Answers('DELETE courses/:id/membership')
  @HttpCode(204)
  decline(@CurrentUser() me: Me, @TheObject() course: Course): Promise<void> {
    return this.members.decline(me, course.id);
  }

  @Needs('see', 'course')
  @Answers('GET courses/:id/roster')
  roster(@TheObject() course: Course): Promise<Member[]> {
    return this.members.list(course.id);
  }

  @Needs('teach', 'course')
  @Answers('POST courses/:id/roster')
  add(@TheObject() course: Course, @Body() { students }: AddToRosterRequest): Promise<AddedMember[]> {
    return this.members.add(course.id, students);
  }

  @Needs('teach', 'course')
  @Answers('PATCH courses/:id/roster/:student')
  changeMember(
    @CurrentUser() me: Me,
    @TheObject() course: Course,
    @Param('student', ParseUUIDPipe) student: string,
    @Body() change: ChangeMemberRequest,
  ): Promise<Member> {
    return this.members.change(me, course.id, student, change);
  }

  @Needs('teach', 'course')
  @Answers('POST courses/:id/roster/:student/link')
  link(
    @CurrentUser() me: Me,
    @TheObject() course: Course,
    @Param('student', ParseUUIDPipe) student: string,
  ): Promise<OneTimeLink> {
    return this.members.linkFor(me, course.id, student);
  }

  @Needs('teach', 'course')
  @Answers('DELETE courses/:id/roster/:student')
  @HttpCode(204)
  remove(@TheObject() course: Course, @Param('student', ParseUUIDPipe) student: string): Promise<void> {
    return this.members.remove(course.id, student);
  }
}
