import { Body, Controller, Header, HttpCode, type MessageEvent, Param, ParseIntPipe, Sse } from '@nestjs/common';
import {
  ChangeLabRequest,
  CreateLabRequest,
  DrillRequest,
  type DrillView,
  HandOutRequest,
  ImportLabRequest,
  JudgeByRequest,
  type LabEditors,
  type LabVersionView,
  type LabView,
  type LibraryLab,
  type Me,
  NameEditorsRequest,
  RemovalRequest,
} from '@sobrin/contracts';
import { type LabFile, type SpecDifference } from '@sobrin/core/spec';
import { type Observable, ignoreElements, map, merge } from 'rxjs';
import { Needs, StillMay, TheObject } from '../access/access.guard';
import { AccessService } from '../access/access.service';
import { CurrentUser } from '../accounts/session.guard';
import { Assignment } from '../assignments/assignment.entity';
import { type Course } from '../courses/course.entity';
import { RemovalService } from '../courses/removal.service';
import { DocumentsService } from '../documents/documents.service';
import { liveEvents } from '../documents/live';
import { PresenceService, presentEvents } from '../documents/presence.service';
import { JobsService } from '../jobs/jobs.service';
import { refuse } from '../platform/refusal';
import { Answers } from '../platform/route';
import { DrillsService } from './drills.service';
import { type Lab, documentsOf } from './lab.entity';
import { LabsService } from './labs.service';
import { LibraryService } from './library.service';
import { LabVersionsService } from './versions.service';

@Controller()
export class LabsController {
  constructor(
    private readonly labs: LabsService,
    private readonly library: LibraryService,
    private readonly documents: DocumentsService,
    private readonly presence: PresenceService,
    private readonly jobs: JobsService,
    private readonly access: AccessService,
    private readonly labVersions: LabVersionsService,
    private readonly removal: RemovalService,
    private readonly drills: DrillsService,
  ) {}

  @Needs('teach', 'course')
  @Answers('POST courses/:id/labs')
  async create(
    @CurrentUser() me: Me,
    @TheObject() course: Course,
    @Body() { title }: CreateLabRequest,
  ): Promise<{ id: string }> {
    return { id: await this.labs.create(me, course.id, title) };
  }

  @Needs('teach', 'course')
  @Answers('POST courses/:id/labs/import')
  async import(
    @CurrentUser() me: Me,
    @TheObject() course: Course,
    @Body() { text }: ImportLabRequest,
  ): Promise<{ id: string }> {
    return { id: await this.labs.import(me, course.id, text) };
  }

  @Answers('GET library')
  list(@CurrentUser() me: Me): Promise<LibraryLab[]> {
    return this.library.list(me);
  }

  /** Removes a lab of one's own that no course has. */
  @Needs('own', 'libraryLab')
  @Answers('DELETE library/:id')
  @HttpCode(204)
  async discard(@TheObject() lab: Lab): Promise<void> {
    await this.library.remove(lab);
  }

  @Needs('teach', 'course')
  @Answers('POST courses/:id/assignments')
  async handOut(
    @CurrentUser() me: Me,
    @TheObject() course: Course,
    @Body() { lab, copy = false }: HandOutRequest,
  ): Promise<{ id: string }> {
    return { id: await this.library.handTo(me, course.id, lab, copy) };
  }

  @Needs('see', 'lab')
  @Answers('GET labs/:id/editors')
  editors(@TheObject() assignment: Assignment): Promise<LabEditors> {
    return this.library.editors(assignment);
  }

  @Needs('own', 'lab')
  @Answers('PUT labs/:id/editors')
  @HttpCode(200)
  async nameEditors(
    @TheObject() assignment: Assignment,
    @Body() { accounts }: NameEditorsRequest,
  ): Promise<LabEditors> {
    await this.library.nameEditors(assignment, accounts);
    return this.library.editors(assignment);
  }

  @Needs('see', 'lab')
  @Answers('GET labs/:id')
  view(@CurrentUser() me: Me, @TheObject() assignment: Assignment): Promise<LabView> {
    return this.labs.view(me, assignment);
  }

  /** The due date is for who teaches the course, the rest for who may change the lab. */
  @Needs('teach', 'lab')
  @Answers('PATCH labs/:id')
  async change(
    @CurrentUser() me: Me,
    @TheObject() assignment: Assignment,
    @Body() change: ChangeLabRequest,
  ): Promise<LabView> {
    await this.labs.change(me, assignment, change);
    return this.labs.viewAgain(me, assignment);
  }

  /** Takes the lab out of the course, with all that was done for it there. */
  @Needs('teach', 'lab')
  @Answers('POST labs/:id/removal')
  @HttpCode(204)
  async remove(@TheObject() assignment: Assignment, @Body() { attempts }: RemovalRequest): Promise<void> {
    await this.removal.lab(assignment, attempts);
  }

  @Needs('teach', 'lab')
  @Answers('POST labs/:id/release')
  @HttpCode(200)
  async release(@CurrentUser() me: Me, @TheObject() assignment: Assignment): Promise<LabView> {
    await this.labs.release(me, assignment);
    return this.labs.viewAgain(me, assignment);
  }

  @Needs('see', 'lab')
  @Answers('GET labs/:id/versions')
  versions(@TheObject() assignment: Assignment): Promise<LabVersionView[]> {
    return this.labVersions.list(assignment);
  }

  /** In what the lab as it is now judges otherwise than a version of it. */
  @Needs('see', 'lab')
  @Answers('GET labs/:id/versions/:number/differences')
  differences(
    @TheObject() assignment: Assignment,
    @Param('number', ParseIntPipe) number: number,
  ): Promise<SpecDifference[]> {
    return this.labs.differences(assignment, number);
  }

  /** What came of the drills of the lab, so far. */
  @Needs('see', 'lab')
  @Answers('GET labs/:id/drills')
  drilled(@TheObject() assignment: Assignment): Promise<DrillView[]> {
    return this.drills.list(assignment);
  }

  @Needs('teach', 'lab')
  @Answers('POST labs/:id/drills')
  @HttpCode(200)
  async keepDrill(@TheObject() assignment: Assignment, @Body() request: DrillRequest): Promise<DrillView[]> {
    await this.drills.keep(assignment, request);
    return this.drills.list(assignment);
  }

  /** Makes the lab as it is now final: it judges from now on. */
  @Needs('teach', 'lab')
  @Answers('POST labs/:id/versions')
  @HttpCode(200)
  async makeFinal(@CurrentUser() me: Me, @TheObject() assignment: Assignment): Promise<LabView> {
    if (!assignment.releasedAt)
      throw refuse.state('The lab is not released yet: releasing it makes its first version.');
    await this.labs.makeFinal(me, assignment);
    return this.labs.viewAgain(me, assignment);
  }

  @Needs('teach', 'lab')
  @Answers('PUT labs/:id/version')
  @HttpCode(200)
  async judgeBy(
    @CurrentUser() me: Me,
    @TheObject() assignment: Assignment,
    @Body() { number }: JudgeByRequest,
  ): Promise<LabView> {
    await this.labs.judgeBy(assignment, number);
    return this.labs.viewAgain(me, assignment);
  }

  /** Tells of every save of a document of the lab: its id and its revision; when its checks go on; and editors who else is there. */
  @Needs('see', 'lab')
  @Sse('labs/:id/live')
  async live(
    @CurrentUser() me: Me,
    @TheObject() { id, lab }: Assignment,
    @StillMay() stillMay: () => Promise<boolean>,
  ): Promise<Observable<MessageEvent>> {
    const checks = this.jobs.changes(id).pipe(map((): MessageEvent => ({ type: 'checks', data: '' })));
    const present = presentEvents(this.presence.at(me, lab.id));
    const isEditor = await this.access.mayEdit(me, lab);
    return liveEvents(
      me,
      this.documents,
      documentsOf(lab),
      (document, revision) => `${document} ${revision}`,
      stillMay,
      merge(checks, isEditor ? present : present.pipe(ignoreElements())),
    );
  }

  @Needs('see', 'lab')
  @Answers('GET labs/:id/file')
  @Header('Content-Disposition', 'attachment; filename="lab.json"')
  export(@TheObject() { lab }: Assignment): Promise<LabFile> {
    return this.labs.export(lab);
  }
}
