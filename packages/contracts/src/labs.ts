import { type Brief } from '@sobrin/core/plan';
import { type Penalty, type Policy, type SelfCheck, type Shown, type Spec, type Task } from '@sobrin/core/spec';
import { type Problem } from '@sobrin/core/topology';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsInt,
  IsNumber,
  IsISO8601,
  IsObject,
  IsOptional,
  IsString,
  IsUUID,
  Length,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateIf,
} from 'class-validator';

export class CreateLabRequest {
  @IsString()
  @Length(1, 200)
  title!: string;
}

/** A lab file as text, so that broken JSON gets its line and column. */
export class ImportLabRequest {
  @IsString()
  @MaxLength(10_000_000, { message: 'The file is larger than 10 MB: at most 10 MB are taken.' })
  text!: string;
}

const NO_DATE =
  'The due date is no date and time of this century with its offset from UTC: write for instance 2026-12-01T18:00+01:00.';

/** Parts of a lab with new contents. The documents in it are checked by core's schemas. */
export class ChangeLabRequest {
  @IsInt()
  @Min(0)
  @Max(2_000_000_000)
  base!: number;

  @IsOptional()
  @IsString()
  @Length(1, 200)
  title?: string;

  @IsOptional()
  @ValidateIf((request: ChangeLabRequest) => request.dueAt !== null)
  @IsISO8601({ strict: true }, { message: NO_DATE })
  @Matches(/^20\d\d-\d\d-\d\dT\d\d:\d\d(:\d\d(\.\d{1,6})?)?(Z|[+-]\d\d:\d\d)$/, { message: NO_DATE })
  dueAt?: string | null;

  @IsOptional()
  @IsObject()
  brief?: object;

  @IsOptional()
  @IsArray()
  @IsObject({ each: true })
  tasks?: object[];

  @IsOptional()
  @IsObject()
  spec?: object;

  @IsOptional()
  @IsObject()
  policy?: object;
}

/** A lab of the library for a course: itself, or a copy that is the person's own. */
export class HandOutRequest {
  @IsUUID()
  lab!: string;

  @IsOptional()
  @IsBoolean()
  copy?: boolean;
}

export class NameEditorsRequest {
  @IsArray()
  @ArrayMaxSize(50)
  @IsUUID(undefined, { each: true })
  accounts!: string[];
}

/** A lab that one may hand out. */
export interface LibraryLab {
  id: string;
  title: string;
  owner: string;
  mayEdit: boolean;
  /** Whether it lies in the person's own library. */
  isOwner: boolean;
  /** Titles of one's courses that got it. */
  courses: string[];
}

/** Who may change a lab, and who else could be named. */
export interface LabEditors {
  owner: { id: string; name: string };
  editors: { id: string; name: string }[];
  others: { id: string; name: string }[];
}

/** What came of a drill, to be compared with that of other versions. */
export class DrillRequest {
  /** The hash of what judges, of the lab that was drilled. */
  @IsString()
  @Matches(/^[0-9a-f]{64}$/, { message: 'The hash of what judges is 64 hexadecimal digits.' })
  specHash!: string;

  @IsInt()
  @Min(0)
  @Max(100_000)
  noticed!: number;

  @IsInt()
  @Min(0)
  @Max(100_000)
  missed!: number;

  /** The share that is noticed, each kind of mistake counting once, from 0 to 1. */
  @IsNumber()
  @Min(0)
  @Max(1)
  score!: number;
}
/** A drill that was made; the number of the version that was drilled, null for one that is none. */
export interface DrillView extends Omit<DrillRequest, 'specHash'> {
  at: string;
  version: number | null;
}

export class JudgeByRequest {
  @IsInt()
  @Min(1)
  @Max(2_000_000_000)
  number!: number;
}

/** A version of a lab: what judged when somebody made it final. */
export interface LabVersionView {
  number: number;
  madeAt: string;
  by: string;
  /** Whether it judges what the course hands in. */
  judges: boolean;
}

/** A lab as the staff of a course that got it see it. The reference is a document of its own. */
export interface LabView {
  id: string;
  courseId: string;
  courseTitle: string;
  /** In which due dates are entered and shown: a name of the IANA database. */
  timeZone: string;
  /** Whether the person decides on it in this course: assistants see it. */
  teaches: boolean;
  /** Whether the person may change the lab itself. */
  mayEdit: boolean;
  /** Whether it lies in the person's own library. */
  isOwner: boolean;
  owner: string;
  title: string;
  revision: number;
  /** From when students see it; null until it is released. */
  releasedAt: string | null;
  dueAt: string | null;
  /** The version that judges what is handed in; null until the lab is released. */
  version: LabVersionView | null;
  versions: number;
  /** Whether the lab judges otherwise than that version by now. */
  isChanged: boolean;
  brief: Brief;
  tasks: Task[];
  /** The documents in which its parts are kept and changed. */
  documents: { brief: string; tasks: string; spec: string; policy: string };
  planId: string;
  /** How far the plan is: blocks, those of them still proposed, and what is wrong in it. */
  plan: { blocks: number; proposed: number; problems: number };
  /** How many devices the reference has. */
  drawn: number;
  spec: Spec;
  policy: Policy;
  referenceId: string;
  /** The drawing that students begin with; null for an empty sheet. */
  starterId: string | null;
  files: FileView[];
  /** What the lab holds that is kept and not acted upon yet, as a sentence. */
  notInForce: string | null;
  /** The names of the reference that stand in nothing that students read. */
  untoldNames: string[];
  /** What a station of the rail shows: nothing there, begun, problems, ready. */
  specProblems: Problem[];
  handedIn: number;
  checked: number;
  students: number;
}

/** What students may ask of their work before they hand it in, and what they were told last. */
export interface SelfChecksView {
  most: number;
  used: number;
  last: (SelfCheck & { at: string }) | null;
}

/** What may be asked of each choice and number that a student answers: whether it is right. */
export interface TriesView {
  most: number;
  /** By task; those whose answer may be tried. */
  tasks: Record<
    string,
    {
      used: number;
      last: { answer: string; right: boolean } | null;
      /** The answer that holds, since all tries are used; null as long as another may be written. */
      settled: string | null;
    }
  >;
}

/** The hints that a student may ask for while working, in the order of the spec. */
export interface HintsView {
  /** What the next one costs, in points. */
  cost: number;
  of: {
    /** Which it is, for asking: nothing of what is asked. */
    key: string;
    /** The task that it belongs to; null where it belongs to none. */
    task: string | null;
    left: number;
    /** Those that were asked for, in their order. */
    told: { text: string; cost: number; at: string }[];
  }[];
}

/** A lab as a student sees it: neither spec nor reference, nor anything made from them. */
export interface StudentLabView {
  id: string;
  courseTitle: string;
  timeZone: string;
  title: string;
  dueAt: string | null;
  brief: Brief;
  tasks: Task[];
  /** What may be chosen under tasks that are answered so, by their ids. */
  choices: Record<string, string[]>;
  /** How much the bench and the plan tell. */
  bench: 'coach' | 'plain' | 'examination';
  /** Whether ports of the lab's equipment find their pairing by themselves; absent where they do as built. */
  autoPairing?: boolean;
  /** Whether a VLAN must be created on each switch; absent where it exists where it is used. */
  vlanDatabase?: 'implicit' | 'created';
  filterOut?: 'before-translation' | 'after-translation';
  /** What routers do where standards leave a choice; absent for what is usual. */
  borderRouters?: Policy['borderRouters'];
  distances?: Policy['distances'];
  /** The models that the lab allows, with how many of each; absent for all. */
  kit?: Policy['kit'];
  /** When modules may be changed; absent for at any time. */
  modules?: Policy['modules'];
  /** Whether the bench may choose ports and media; absent where only a coach does. */
  autoCabling?: boolean;
  attempts: { used: number; allowed: number | null };
  /** Which of several attempts counts. */
  counts: 'last' | 'best' | 'chosen';
  /** What may be asked before handing in; null where nothing may. */
  selfChecks: SelfChecksView | null;
  /** Of which answers it may be asked whether they are right; null where it may be of none. */
  tries: TriesView | null;
  /** Null where none can be asked for. */
  hints: HintsView | null;
  /** Whether devices are known by the names that the lab gives them. */
  names: 'any' | 'exact';
  /** What of results is shown, and when. */
  shown: Shown;
  /** Whether the course's staff may look at the drawing before it is handed in, and comment on it. */
  lookIn: boolean;
  documentId: string;
  planId: string;
  files: FileView[];
  answers: Record<string, string>;
  attachments: FileView[];
  submissions: StudentSubmission[];
}
/** A file that came with a lab, or that a student attached. */
export interface FileView {
  id: string;
  name: string;
  type: string;
  size: number;
}
export interface StudentSubmission {
  id: string;
  attempt: number;
  /** Whether it is the one that counts, as far as marks are to be seen. */
  counts: boolean;
  handedInAt: string;
  late: boolean;
  /** Null where it is not checked, or not to be seen. */
  points: number | null;
  of: number | null;
  penalty: Penalty | null;
}
