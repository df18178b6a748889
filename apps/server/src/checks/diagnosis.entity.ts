import { type Diagnosis } from '@sobrin/core/spec';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** The mistakes behind a result, found once for it. */
@Entity('diagnosis')
export class DiagnosisRecord {
  @PrimaryColumn('uuid', { name: 'check_id' })
  checkId!: string;

  @Column('jsonb')
  found!: Diagnosis;
}
