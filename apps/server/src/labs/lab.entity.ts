import { type JudgingLab } from '@sobrin/core/spec';
import { Column, Entity, type EntityManager, PrimaryColumn } from 'typeorm';

/** A lab: what it is made of are documents, each with its own revisions. */
@Entity('lab')
export class Lab {
  @PrimaryColumn('uuid')
  id!: string;

  /** In whose library it lies. */
  @Column('uuid', { name: 'owner_id' })
  ownerId!: string;

  @Column('text')
  title!: string;

  /** Counts every change of the lab and of its parts. */
  @Column('integer')
  revision!: number;

  @Column('uuid', { name: 'brief_id' })
  briefId!: string;

  @Column('uuid', { name: 'tasks_id' })
  tasksId!: string;

  @Column('uuid', { name: 'plan_id' })
  planId!: string;

  @Column('uuid', { name: 'spec_id' })
  specId!: string;

  @Column('uuid', { name: 'policy_id' })
  policyId!: string;

  @Column('uuid', { name: 'handout_id' })
  handoutId!: string;

  @Column('uuid', { name: 'stages_id' })
  stagesId!: string;

  /** The drawing that students begin with; null for an empty sheet. */
  @Column('uuid', { name: 'starter_id', nullable: true })
  starterId!: string | null;

  @Column('uuid', { name: 'reference_id' })
  referenceId!: string;

  @Column('timestamptz', { name: 'created_at' })
  createdAt!: Date;
}

/** Where a lab names its documents. */
const DOCUMENT_COLUMNS = [
  'referenceId',
  'planId',
  'briefId',
  'tasksId',
  'specId',
  'policyId',
  'handoutId',
  'stagesId',
  'starterId',
] as const;

/** The ids of all documents of a lab. */
export const documentsOf = (lab: Lab): string[] => DOCUMENT_COLUMNS.flatMap((column) => lab[column] ?? []);

/** The lab that a document belongs to. */
export const labOfDocument = (manager: EntityManager, documentId: string): Promise<Lab | null> =>
  manager.findOneBy(
    Lab,
    DOCUMENT_COLUMNS.map((column) => ({ [column]: documentId })),
  );

/** Somebody whom the owner of a lab lets change it. */
@Entity('lab_editor')
export class LabEditor {
  @PrimaryColumn('uuid', { name: 'lab_id' })
  labId!: string;

  @PrimaryColumn('uuid', { name: 'account_id' })
  accountId!: string;
}

/** What judges, by its hash. Never changed: the database refuses it. */
@Entity('lab_version')
export class LabVersion {
  @PrimaryColumn('text')
  hash!: string;

  /** The version of the format of a lab in which it was made. */
  @Column('integer')
  format!: number;

  @Column('jsonb')
  content!: JudgingLab;
}

/** That a lab was made final: its versions, counted from 1. */
@Entity('lab_final')
export class LabFinal {
  @PrimaryColumn('uuid', { name: 'lab_id' })
  labId!: string;

  @PrimaryColumn('integer')
  number!: number;

  @Column('text', { name: 'version_hash' })
  versionHash!: string;

  @Column('uuid', { name: 'author_id' })
  authorId!: string;

  @Column('timestamptz', { name: 'made_at' })
  madeAt!: Date;
}

/** A file that comes with a lab: a picture of the scenario, or whatever else students get. Its id is the lab's own. */
@Entity('lab_file')
export class LabFileRecord {
  @PrimaryColumn('uuid', { name: 'lab_id' })
  labId!: string;

  @PrimaryColumn('text')
  id!: string;

  @Column('text')
  name!: string;

  @Column('text')
  type!: string;

  @Column('integer')
  size!: number;

  @Column('bytea', { select: false })
  bytes!: Buffer;
}
