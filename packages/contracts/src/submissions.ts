import { type Plan } from '@sobrin/core/plan';
import {
  type CheckResult,
  type CountedOnce,
  type Diagnosis,
  type DiagnosisProgress,
  type Finding,
  type Penalty,
  type Shown,
} from '@sobrin/core/spec';
import { type Topology } from '@sobrin/core/topology';
import {
  IsBoolean,
  IsIn,
  IsNumber,
  IsObject,
  IsOptional,
  IsString,
  IsUUID,
  Length,
  MaxLength,
  ValidateIf,
} from 'class-validator';
import { type FileView } from './labs';

/** Whether a value is there that may be null, but not left out. */
function isSaid(_request: object, value: unknown): boolean {
  return value !== null;
}

/** A topology, plan or submission file as text, so that broken JSON gets its line and column. */
export class UploadRequest {
  @IsString()
  @MaxLength(10_000_000, { message: 'The file is larger than 10 MB: at most 10 MB are taken.' })
  text!: string;
}

export class SaveAnswersRequest {
  @IsObject()
  answers!: Record<string, string>;

  /** The drawing beside which they were typed: another person may have signed in since in this browser. */
  @IsOptional()
  @IsUUID()
  drawing?: string;
}

export class HandInRequest {
  /** Made by the sender, one for each attempt: pressing again after a lost answer hands nothing in a second time. */
  @IsOptional()
  @IsUUID()
  handIn?: string;

  /** The drawing that whoever pressed it looked at. */
  @IsOptional()
  @IsUUID()
  drawing?: string;
}

/** Asks what the work as it is now would earn. */
export class SelfCheckRequest {
  /** Chosen by who asks, so that what is sent again is told again and counted once. */
  @IsUUID()
  id!: string;

  /** The drawing that whoever pressed it looked at. */
  @IsUUID()
  drawing!: string;
}

/** Chooses which attempt counts. */
export class CountRequest {
  @IsUUID()
  attempt!: string;

  /** The drawing that whoever pressed it looked at. */
  @IsUUID()
  drawing!: string;
}

/** Asks whether an answer is right. */
export class TryRequest {
  /** Chosen by who asks, so that what is sent again is told again and counted once. */
  @IsUUID()
  id!: string;

  @IsUUID()
  drawing!: string;

  @IsString()
  @Length(1, 80)
  task!: string;

  @IsString()
  @Length(1, 2000, { message: 'What is tried has 1 to 2,000 characters.' })
  answer!: string;
}

/** Asks for a hint. */
export class HintRequest {
  /** Chosen by who asks, so that what is sent again is told again and costs once. */
  @IsUUID()
  id!: string;

  @IsUUID()
  drawing!: string;

  @IsString()
  @Length(1, 80)
  key!: string;

  /** What they were told that it costs, in points. */
  @IsNumber()
  cost!: number;
}

export class AttachRequest {
  @IsString()
  @Length(1, 200)
  name!: string;

  @IsString()
  @Length(0, 200)
  type!: string;

  @IsString()
  @MaxLength(14_000_000, { message: 'The file is larger than 10 MB: at most 10 MB are taken.' })
  base64!: string;
}

/** What a person decides of a requirement of the newest result, or of one of its facts. */
export class DecideRequest {
  @IsString()
  @Length(1, 64)
  requirement!: string;

  /** The key of a fact; null for the whole requirement. */
  @ValidateIf(isSaid)
  @IsString()
  @MaxLength(4000)
  item!: string | null;

  /** Of a fact; null for a whole requirement. */
  @ValidateIf(isSaid)
  @IsBoolean()
  isMet!: boolean | null;

  /** Of a whole requirement; null for a fact. */
  @ValidateIf(isSaid)
  @IsNumber()
  points!: number | null;

  /** Needed wherever something is decided otherwise than it was judged. */
  @IsString()
  @MaxLength(1000, { message: 'The reason is longer than 1,000 letters: say it shorter.' })
  reason!: string;
}

/** Decides as it is proposed whatever is alike in the attempts of a class that count. */
export class AcceptRequest {
  @IsString()
  @Length(1, 64)
  requirement!: string;

  /** The code of the facts. */
  @IsString()
  @Length(1, 64)
  code!: string;
}

/** Says which device of the drawing plays a role of the reference; null leaves it to the matching again. */
export class PinRequest {
  @IsString()
  @Length(1, 200)
  role!: string;

  @ValidateIf(isSaid)
  @IsString()
  @Length(1, 200)
  device!: string | null;
}

export const COMMENT_KINDS = ['work', 'requirement', 'device', 'link'] as const;
export type CommentKind = (typeof COMMENT_KINDS)[number];
const IsSaid = () => MaxLength(4000, { message: 'The comment is longer than 4,000 letters: say it shorter.' });

/** Something said of a submission. */
export class CommentRequest {
  /** Chosen by who says it, so that what is sent again is one. */
  @IsUUID()
  id!: string;

  @IsIn(COMMENT_KINDS, {
    message: `A comment is about one of ${COMMENT_KINDS.join(', ')}, not "$value".`,
  })
  kind!: CommentKind;

  /** The id of the requirement, or of the device or link of the submission; empty for the whole work. */
  @IsString()
  @MaxLength(200)
  target!: string;

  @IsString()
  @IsSaid()
  text!: string;
}

/** The same, said otherwise. */
export class ChangeCommentRequest {
  @IsString()
  @IsSaid()
  text!: string;
}

/** What was said of a submission; `target` is empty for the whole of it. */
export interface CommentView {
  id: string;
  kind: CommentKind;
  target: string;
  text: string;
  by: string;
  /** Whether whoever asks has said it. */
  isOwn: boolean;
  at: string;
}
/** As its student reads it: a requirement is named by its place among the findings, where these are shown. */
export type StudentComment = Omit<CommentView, 'isOwn'>;

/** What was decided, by whom and when; what holds no longer stays on record. */
export interface DecisionView {
  id: string;
  requirement: string;
  item: string | null;
  isMet: boolean | null;
  points: number | null;
  reason: string;
  by: string;
  at: string;
  /** The number of the version of the lab whose result it was made of; null where that is none of the lab any more. */
  version: number | null;
  /** Whether it counts: it was not taken back, and the same is asked for the same points. */
  holds: boolean;
  /** What was asked when it was made, as a hash: by it one sees whether it would hold under another spec. */
  asked: string;
  /** Who took it back, or decided otherwise after it. */
  ended: { by: string; at: string } | null;
}

export interface PinView {
  role: string;
  device: string;
  by: string;
  at: string;
}

/** What of a file was taken, in words; and what it holds that was not, in sentences. */
export interface Uploaded {
  taken: string[];
  left: string[];
}

/** What was handed in with an attempt. */
interface HandedInView {
  id: string;
  attempt: number;
  handedInAt: string;
  late: boolean;
  topology: Topology;
  /** Null where no plan was handed in. */
  plan: Plan | null;
  answers: Record<string, string>;
  attachments: FileView[];
}

/** An attempt as its student sees it: what was handed in, and of its result what the lab shows now. */
export interface StudentAttempt extends HandedInView {
  isChecked: boolean;
  shown: Shown;
  /** Null where it is not checked, or nothing of it is shown now. */
  result: {
    points: number;
    of: number;
    penalty: Penalty | null;
    /** Whether all that is needed to pass was reached; absent where the lab needs nothing besides points. */
    isPassed?: boolean;
    sections?: { title: string; points: number; of: number }[];
    findings?: Finding[];
    /** Where the lab counts a mistake once: what that gave back. */
    once?: CountedOnce;
  } | null;
  /** What was said of it; none before its result is shown. */
  comments: StudentComment[];
}

/** One line of the class page: a student with the attempt that counts. */
export interface ClassRow {
  studentId: string;
  /** As the course writes it. */
  name: string;
  /** Empty for none. */
  group: string;
  /** Whether they have not accepted to be in the course yet. */
  isInvited: boolean;
  /** Whether they have opened the lab, so that there is a drawing. */
  hasBegun: boolean;
  attempts: number;
  /** Which of them counts, and is told of here; null where there is none. */
  counts: number | null;
  /** How many of them must be judged for what counts to be known, and are not. */
  toCheck: number;
  submissionId: string | null;
  handedInAt: string | null;
  late: boolean;
  points: number | null;
  of: number | null;
  penalty: Penalty | null;
  unjudged: number;
  /** The check was made by another version of the lab, or a newer core judges otherwise. */
  stale: boolean;
  /** It was made by another core, and is not made again yet to see whether it holds. */
  unconfirmed: boolean;
}

/** What a student draws, to be looked at before it is handed in. */
export interface LookInView {
  /** As the course writes it. */
  student: string;
  documentId: string;
  planId: string;
  /** The name in which one comments. */
  speaksAs: string;
}

/** How far the checks of a class are. */
/** How far it is, to check all or to look for the mistakes of all. */
export interface CheckProgress {
  waiting: number;
  running: number;
  /** What could not be done with the version that judges now, and why. */
  failed: { submissionId: string; name: string; sentence: string }[];
}

export type JobState = 'waits' | 'runs' | 'done' | 'given up' | 'taken back';

/** Something that is done by itself: a check, or one that is made again to see whether it holds. */
export interface JobView {
  id: string;
  what: 'check' | 'diagnose' | 'confirm';
  state: JobState;
  course: string;
  lab: { id: string; title: string };
  /** Whose submission it is, as the course writes the name. */
  student: string;
  submissionId: string;
  /** Who asked; null for what Sobrin asks for by itself. */
  by: string | null;
  askedAt: string;
  startedAt: string | null;
  endedAt: string | null;
  /** Tries that came to nothing before. */
  retries: number;
  /** Why it was given up. */
  sentence: string | null;
}

export interface SubmissionView extends HandedInView {
  labId: string;
  student: { id: string; name: string };
  /** All attempts of the student, this one among them. */
  attempts: { id: string; attempt: number; late: boolean }[];
  /** With what persons decided. */
  result: CheckResult | null;
  penalty: Penalty | null;
  checkedAt: string | null;
  stale: boolean;
  /** The requirements that a newer core judges otherwise. */
  differs: string[];
  /** In the order in which they were made. */
  decisions: DecisionView[];
  pins: PinView[];
  /** In the order in which they were said. */
  comments: CommentView[];
  asked: AskedView;
}

/** What a student asked before an attempt was handed in, in that order. */
export interface AskedView {
  tried: { task: string; answer: string; right: boolean }[];
  hints: { requirement: string; text: string; cost: number }[];
}

/** The mistakes behind a result; null where there is none, or one that cannot be made again. */
export interface FoundDiagnosis {
  diagnosis: Diagnosis | null;
}

/** How far it is to look for the mistakes behind a result; null where nobody looks for them here and now. */
export interface LookingView {
  progress: DiagnosisProgress | null;
}

/** Which mistakes a class has in common. */
export interface CausesView extends CheckProgress {
  /** Those of most students first. */
  causes: {
    /** What sort of thing is wrong in which way, at whom. */
    sort: string;
    /** As it is told of the first of them. */
    text: string;
    where: string;
    /** The points that it took, of all of them together. */
    took: number;
    students: { submissionId: string; name: string; letter: string; took: number }[];
  }[];
  /** Results whose mistakes were looked for, and those whose were not yet. */
  looked: number;
  open: number;
}

/** Students × what persons confirm having seen. */
export interface SignOffsView {
  signOffs: { id: string; sentence: string; of: number }[];
  rows: {
    studentId: string;
    name: string;
    group: string;
    /** The attempt that counts; null where nothing is handed in. */
    submissionId: string | null;
    /** Whether the version that judges now has judged it: else it is checked first. */
    isChecked: boolean;
    cells: {
      id: string;
      /** `otherwise`: decided, but not as seen for all its points. */
      state: 'open' | 'seen' | 'otherwise';
      decision: string | null;
      by: string | null;
      at: string | null;
    }[];
  }[];
}

export interface ResultsView {
  requirements: { id: string; section: string; sectionTitle: string; sentence: string; of: number }[];
  of: number;
  rows: ResultRow[];
}
export interface ResultRow {
  studentId: string;
  submissionId: string | null;
  name: string;
  group: string;
  points: number | null;
  of: number | null;
  penalty: Penalty | null;
  /** The version of the lab that judged; null where nothing was judged, or before there were versions. */
  version: number | null;
  stale: boolean;
  /** Empty for what another version judged. */
  cells: { id: string; points: number; of: number; verdict: CheckResult['requirements'][number]['verdict'] }[];
}
