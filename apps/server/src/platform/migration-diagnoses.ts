import { type MigrationInterface, type QueryRunner } from 'typeorm';

/** The mistakes behind results, as they were found. */
export class Diagnoses1764590400000 implements MigrationInterface {
  name = 'Diagnoses1764590400000';

  async up(db: QueryRunner): Promise<void> {
    await db.query(`CREATE TABLE diagnosis (
      check_id uuid PRIMARY KEY REFERENCES check_result ON DELETE CASCADE, found jsonb NOT NULL)`);
  }

  /** They are looked for again when somebody asks. */
  async down(db: QueryRunner): Promise<void> {
    await db.query('DROP TABLE diagnosis');
  }
}
