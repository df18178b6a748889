import { type MigrationInterface, type QueryRunner } from 'typeorm';

/** The mistakes behind results, as they were found; and what came of drills. */
export class Diagnoses1764590400000 implements MigrationInterface {
  name = 'Diagnoses1764590400000';

  async up(db: QueryRunner): Promise<void> {
    await db.query(`CREATE TABLE diagnosis (
      check_id uuid PRIMARY KEY REFERENCES check_result ON DELETE CASCADE, found jsonb NOT NULL)`);
    await db.query(`CREATE TABLE drill (
      lab_id uuid NOT NULL REFERENCES lab ON DELETE CASCADE, spec_hash text NOT NULL, at timestamptz NOT NULL,
      noticed integer NOT NULL, missed integer NOT NULL, score double precision NOT NULL, PRIMARY KEY (lab_id, spec_hash))`);
  }

  /** They are looked for again when somebody asks; what came of earlier drills is forgotten. */
  async down(db: QueryRunner): Promise<void> {
    await db.query('DROP TABLE drill');
    await db.query('DROP TABLE diagnosis');
  }
}
