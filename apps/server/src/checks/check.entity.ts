import { type CheckResult } from '@sobrin/core/spec';
import { Column, Entity, PrimaryColumn } from 'typeorm';

export type Cell = Pick<CheckResult['requirements'][number], 'id' | 'points' | 'of' | 'verdict'>;

/** What tables of a class show of a result. */
export const cellsOf = ({ requirements }: Pick<CheckResult, 'requirements'>): Cell[] =>
  requirements.map(({ id, points, of, verdict }) => ({ id, points, of, verdict }));

/** How many requirements a person has to decide. */
export const openIn = (cells: readonly Cell[]): number => cells.filter(({ verdict }) => verdict === 'unjudged').length;

/** A result as it comes from the thread that made it: its text as it is stored, and what is stored beside it. */
export interface MadeResult extends Pick<CheckResult, 'coreVersion' | 'submissionHash' | 'points' | 'of'> {
  readonly text: string;
  readonly cells: Cell[];
}

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

  /** The version of the lab that judged; null for what was made before there were any: it cannot be made again. */
  @Column('text', { name: 'version_hash', nullable: true })
  versionHash!: string | null;

  /** One hash over all that it was made from: see inputs.ts. */
  @Column('text', { nullable: true })
  inputs!: string | null;

  /** The newest core that made it again, and which of its requirements came out otherwise; null where none did yet. */
  @Column('text', { name: 'confirmed_by', nullable: true })
  confirmedBy!: string | null;

  @Column('jsonb')
  differs!: string[];

  /** With what persons decided: of `result` it is as it was judged. */
  @Column('double precision')
  points!: number;

  @Column('double precision', { name: 'out_of' })
  outOf!: number;

  /** What tables of a class show of it. */
  @Column('jsonb')
  cells!: Cell[];

  /** How many requirements a person has to decide. */
  @Column('integer')
  unjudged!: number;

  @Column('jsonb')
  result!: CheckResult;
}
