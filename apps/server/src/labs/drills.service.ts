import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type DrillRequest, type DrillView } from '@sobrin/contracts';
import { DataSource } from 'typeorm';
import { type Assignment } from '../assignments/assignment.entity';
import { LabVersionsService } from './versions.service';

/** More are not told of: the newest are. */
const MOST = 40;

/** What came of the drills of a lab, one for each state of what judges: how its spec grew. */
@Injectable()
export class DrillsService {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly versions: LabVersionsService,
  ) {}

  /** The newest drills, the oldest of them first. */
  async list({ labId }: Pick<Assignment, 'labId'>): Promise<DrillView[]> {
    const rows = await this.db.query<{ specHash: string; at: Date; noticed: number; missed: number; score: number }[]>(
      `SELECT spec_hash AS "specHash", at, noticed, missed, score FROM drill WHERE lab_id = $1 ORDER BY at DESC LIMIT ${MOST}`,
      [labId],
    );
    const numbers = await this.versions.numbersOf(labId);
    return rows.reverse().map(({ specHash, at, ...came }) => ({
      ...came,
      at: at.toISOString(),
      version: numbers.get(specHash) ?? null,
    }));
  }

  /** The same spec drilled again is the same drill: the newest is kept. */
  async keep({ labId }: Pick<Assignment, 'labId'>, { specHash, noticed, missed, score }: DrillRequest): Promise<void> {
    await this.db.query(
      `INSERT INTO drill (lab_id, spec_hash, at, noticed, missed, score) VALUES ($1, $2, $3, $4, $5, $6)
        ON CONFLICT (lab_id, spec_hash) DO UPDATE SET at = EXCLUDED.at, noticed = EXCLUDED.noticed,
          missed = EXCLUDED.missed, score = EXCLUDED.score`,
      [labId, specHash, new Date(), noticed, missed, score],
    );
    // A lab that is shaped for a year keeps no more than are shown.
    await this.db.query(
      `DELETE FROM drill WHERE lab_id = $1 AND spec_hash NOT IN (
        SELECT spec_hash FROM drill WHERE lab_id = $1 ORDER BY at DESC LIMIT ${MOST})`,
      [labId],
    );
  }
}
