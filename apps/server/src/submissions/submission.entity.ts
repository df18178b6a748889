import { type Plan } from '@sobrin/core/plan';
import { type SelfCheck } from '@sobrin/core/spec';
import { type Topology } from '@sobrin/core/topology';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** What a student is working on for a lab: one drawing, one plan, answers and attachments; each hand-in takes a copy. */
@Entity('work')
export class Work {
  @PrimaryColumn('uuid')
  id!: string;

  @Column('uuid', { name: 'assignment_id' })
  assignmentId!: string;

  @Column('uuid', { name: 'student_id' })
  studentId!: string;

  @Column('uuid', { name: 'document_id' })
  documentId!: string;

  @Column('uuid', { name: 'plan_id' })
  planId!: string;

  @Column('jsonb')
  answers!: Record<string, string>;

  /** The attempt that the student chose to count; null where they did not. */
  @Column('uuid', { name: 'chosen_id', nullable: true })
  chosenId!: string | null;
}

/** What a student was told of a work that was not handed in. */
@Entity('self_check')
export class SelfCheckRecord {
  /** Chosen by who asks, so that what is sent again is one. */
  @PrimaryColumn('uuid')
  id!: string;

  @Column('uuid', { name: 'work_id' })
  workId!: string;

  @Column('timestamptz')
  at!: Date;

  @Column('jsonb')
  told!: SelfCheck;
}

/** An answer of which a student asked whether it is right. */
@Entity('tried_answer')
export class TriedAnswer {
  /** Chosen by who asks, so that what is sent again is one. */
  @PrimaryColumn('uuid')
  id!: string;

  @Column('uuid', { name: 'work_id' })
  workId!: string;

  @Column('text')
  task!: string;

  @Column('text')
  answer!: string;

  @Column('boolean')
  right!: boolean;

  @Column('timestamptz')
  at!: Date;
}

/** A hint that a student asked for. */
@Entity('asked_hint')
export class AskedHintRecord {
  /** Chosen by who asks, so that what is sent again is one. */
  @PrimaryColumn('uuid')
  id!: string;

  @Column('uuid', { name: 'work_id' })
  workId!: string;

  @Column('text')
  requirement!: string;

  /** As it was told; what the spec says later is no part of it. */
  @Column('text')
  text!: string;

  /** In points, as it was told. */
  @Column('double precision')
  cost!: number;

  @Column('timestamptz')
  at!: Date;
}

/** A file beside the drawing. What was handed in with an attempt stays, also when it is removed from the work. */
@Entity('attachment')
export class Attachment {
  @PrimaryColumn('uuid')
  id!: string;

  @Column('uuid', { name: 'work_id' })
  workId!: string;

  @Column('text')
  name!: string;

  @Column('text')
  type!: string;

  @Column('integer')
  size!: number;

  @Column('bytea', { select: false })
  bytes!: Buffer;

  @Column('boolean')
  removed!: boolean;

  /** The device whose configuration it is; null for any other file. */
  @Column('text', { nullable: true })
  device!: string | null;
}

@Entity('submission')
export class Submission {
  @PrimaryColumn('uuid')
  id!: string;

  @Column('uuid', { name: 'assignment_id' })
  assignmentId!: string;

  @Column('uuid', { name: 'student_id' })
  studentId!: string;

  @Column('integer')
  attempt!: number;

  @Column('jsonb')
  topology!: Topology;

  /** The versions of the formats in which drawing and plan are kept as they were handed in. */
  @Column('jsonb')
  formats!: { topology: number; plan: number };

  /** Null where none was made. */
  @Column('jsonb', { nullable: true })
  plan!: Plan | null;

  @Column('jsonb')
  answers!: Record<string, string>;

  @Column('jsonb', { name: 'attachment_ids' })
  attachmentIds!: string[];

  @Column('timestamptz', { name: 'handed_in_at' })
  handedInAt!: Date;

  @Column('boolean')
  late!: boolean;
}
