import { type CheckResult } from '@sobrin/core/spec';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** A check that was made. All are kept; the newest of a submission counts. */
@Entity('check_result')
export class CheckRecord {
  @PrimaryColumn('uuid')
  id!: string;

  @Column('uuid', { name: 'submission_id' })
  submissionId!: string;

  @Column('timestamptz', { name: 'made_at' })
  madeAt!: Date;

  @Column('text', { name: 'core_version' })
  coreVersion!: string;

  @Column('text', { name: 'spec_hash' })
  specHash!: string;

  @Column('text', { name: 'submission_hash' })
  submissionHash!: string;

  @Column('double precision')
  points!: number;

  @Column('double precision', { name: 'out_of' })
  outOf!: number;

  @Column('jsonb')
  result!: CheckResult;
}
