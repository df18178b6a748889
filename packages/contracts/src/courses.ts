import { Type } from 'class-transformer';
import { ArrayMaxSize, IsArray, IsOptional, IsString, Length, Matches, ValidateNested } from 'class-validator';

export class CreateCourseRequest {
  @IsString()
  @Length(1, 120)
  title!: string;

  @IsOptional()
  @IsString()
  @Length(0, 80)
  term?: string;
}

export class RosterEntry {
  @IsString()
  @Length(1, 80)
  name!: string;

  @IsString()
  @Matches(/^[a-z0-9][a-z0-9._-]{1,39}$/, {
    message: 'A sign-in name has 2 to 40 small letters, digits, dots, dashes or underscores: "$value" does not fit.',
  })
  login!: string;
}

export class AddToRosterRequest {
  @IsArray()
  @ArrayMaxSize(500)
  @ValidateNested({ each: true })
  @Type(() => RosterEntry)
  students!: RosterEntry[];
}

/** A path of Sobrin with which somebody chooses a password, once and within a week. */
export interface OneTimeLink {
  link: string;
}

/** Somebody added to a roster; for an account that is new with the path to choose a password, which is told once. */
export interface AddedStudent {
  id: string;
  name: string;
  login: string;
  link: string | null;
}

export interface CourseSummary {
  id: string;
  title: string;
  term: string;
  students: number;
  labs: LabSummary[];
}
export interface LabSummary {
  id: string;
  title: string;
  /** Whether students see it. */
  isReleased: boolean;
  dueAt: string | null;
  /** How many students have handed in (instructor), or the student's own state. */
  handedIn: number;
  checked: number;
  mine: { attempts: number; points: number | null; of: number | null } | null;
}
export interface RosterStudent {
  id: string;
  name: string;
  login: string;
}
