import { Column, Entity, PrimaryColumn } from 'typeorm';

/** What a person decided of a requirement of a submission, or of one of its facts. None is changed or removed: another ends it. */
@Entity('decision')
export class DecisionRecord {
  @PrimaryColumn('uuid')
  id!: string;

  @Column('uuid', { name: 'submission_id' })
  submissionId!: string;

  @Column('text')
  requirement!: string;

  /** The key of a fact; null for the whole requirement. */
  @Column('text', { nullable: true })
  item!: string | null;

  @Column('boolean', { name: 'is_met', nullable: true })
  isMet!: boolean | null;

  @Column('double precision', { nullable: true })
  points!: number | null;

  @Column('text')
  reason!: string;

  /** What was asked and what for, as a hash: it holds as long as that is the same. */
  @Column('text')
  asked!: string;

  /** The version of the lab whose result it was made of. */
  @Column('text', { name: 'version_hash' })
  versionHash!: string;

  @Column('uuid', { name: 'by_id' })
  byId!: string;

  @Column('timestamptz')
  at!: Date;

  @Column('uuid', { name: 'ended_by_id', nullable: true })
  endedById!: string | null;

  @Column('timestamptz', { name: 'ended_at', nullable: true })
  endedAt!: Date | null;
}

/** Who plays a role of the reference in a submission, since a person said so. */
@Entity('pin')
export class Pin {
  @PrimaryColumn('uuid', { name: 'submission_id' })
  submissionId!: string;

  @PrimaryColumn('text')
  role!: string;

  @Column('text')
  device!: string;

  @Column('uuid', { name: 'by_id' })
  byId!: string;

  @Column('timestamptz')
  at!: Date;
}
