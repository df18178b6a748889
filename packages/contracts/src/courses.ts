import { type Penalty } from '@sobrin/core/spec';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  IsUUID,
  Length,
  Matches,
  Max,
  Min,
  ValidateBy,
  ValidateNested,
} from 'class-validator';

/** What somebody is in a course: one may teach here and attend there. */
const COURSE_ROLES = ['instructor', 'assistant', 'student'] as const;
export type CourseRole = (typeof COURSE_ROLES)[number];

/** Whether a text names a time zone of the IANA database, by what the platform knows. */
function isTimeZone(name: string): boolean {
  try {
    // An offset is no zone: clocks are set twice a year.
    return /^[A-Z]/i.test(new Intl.DateTimeFormat('en', { timeZone: name }).resolvedOptions().timeZone);
  } catch {
    return false;
  }
}
const IsTimeZone = () =>
  ValidateBy({
    name: 'isTimeZone',
    validator: {
      validate: (value) => typeof value === 'string' && isTimeZone(value),
      defaultMessage: () =>
        '"$value" is no time zone: write its name in the IANA database, for instance Europe/Vienna.',
    },
  });
const IsRole = () =>
  IsIn(COURSE_ROLES, { message: 'Somebody in a course is one of instructor, assistant, student, not "$value".' });
/** A name of blanks is none. */
const IsWritten = () => Matches(/\S/, { message: 'A name or a title has at least one letter.' });
const IsLogin = () =>
  Matches(/^[a-z0-9][a-z0-9._-]{1,39}$/, {
    message: 'A sign-in name has 2 to 40 small letters, digits, dots, dashes or underscores: "$value" does not fit.',
  });

/** What may be told of a course beside its title. */
class CourseTerms {
  @IsOptional()
  @IsString()
  @Length(0, 80)
  term?: string;

  /** In which due dates are entered and shown; UTC for a course that begins without. */
  @IsOptional()
  @IsString()
  @Length(1, 60)
  @IsTimeZone()
  timeZone?: string;
}

export class CreateCourseRequest extends CourseTerms {
  @IsString()
  @Length(1, 120)
  @IsWritten()
  title!: string;
}

export class ChangeCourseRequest extends CourseTerms {
  @IsOptional()
  @IsString()
  @Length(1, 120)
  @IsWritten()
  title?: string;
}

/** What is removed for good with all that hangs on it: whoever asks says how much they were told that is. */
export class RemovalRequest {
  /** How many attempts were handed in, as it was shown; where there are more by now, nothing is removed. */
  @IsInt()
  @Min(0)
  @Max(2_000_000_000)
  attempts!: number;
}

/** Courses, or labs of a course, in the order in which they are to be listed. */
export class OrderRequest {
  @IsArray()
  @ArrayMaxSize(1000)
  @IsUUID(undefined, { each: true })
  ids!: string[];
}

export class RosterEntry {
  /** As this course writes it. */
  @IsString()
  @Length(1, 80)
  @IsWritten()
  name!: string;

  @IsString()
  @IsLogin()
  login!: string;

  @IsOptional()
  @IsString()
  @Length(0, 40)
  group?: string;

  /** A student where it is not told. */
  @IsOptional()
  @IsRole()
  role?: CourseRole;
}

export class AddToRosterRequest {
  @IsArray()
  @ArrayMaxSize(500)
  @ValidateNested({ each: true })
  @Type(() => RosterEntry)
  students!: RosterEntry[];
}

/** What a course says of one of its people, and the sign-in name where it is the course's to change. */
export class ChangeMemberRequest {
  @IsOptional()
  @IsString()
  @Length(1, 80)
  @IsWritten()
  name?: string;

  @IsOptional()
  @IsString()
  @Length(0, 40)
  group?: string;

  @IsOptional()
  @IsRole()
  role?: CourseRole;

  @IsOptional()
  @IsString()
  @IsLogin()
  login?: string;
}

/** A path of Sobrin with which somebody chooses a password, once and within a week. */
export interface OneTimeLink {
  link: string;
}

/** Somebody in a course, by the name that the course has for them. */
export interface Member {
  id: string;
  name: string;
  login: string;
  role: CourseRole;
  /** Empty where they are in none. */
  group: string;
  /** Whether they have not accepted yet. */
  isInvited: boolean;
}

/** Somebody added to a roster; for an account that is new with the path to choose a password, which is told once. */
export interface AddedMember extends Member {
  link: string | null;
  /** Whether they were in the course before: they stay as they were. */
  wasThere: boolean;
}

/** A course that somebody was added to and has not answered yet. */
export interface Invitation {
  courseId: string;
  title: string;
  term: string;
  role: CourseRole;
  /** How the course writes the name of who is invited. */
  name: string;
  instructors: string[];
}

export interface CourseSummary {
  id: string;
  title: string;
  term: string;
  /** What the person who asks is in it. */
  role: CourseRole;
  timeZone: string;
  students: number;
  labs: LabSummary[];
}
export interface LabSummary {
  id: string;
  title: string;
  /** What is drawn for it, to be shown small: the reference, of a student the own drawing; null where there is nothing yet. */
  picture: { document: string; revision: number } | null;
  /** Whether students see it. */
  isReleased: boolean;
  dueAt: string | null;
  /** How many students have handed in (instructor), or the student's own state. */
  handedIn: number;
  checked: number;
  /** All attempts that were handed in; of a student the own ones. */
  attempts: number;
  /** Points only where they are to be seen. */
  mine: { attempts: number; points: number | null; of: number | null; penalty: Penalty | null } | null;
}
