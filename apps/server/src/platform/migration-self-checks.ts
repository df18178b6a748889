import { type MigrationInterface, type QueryRunner } from 'typeorm';

/** What students were told of work that they had not handed in. */
export class SelfChecks1764511200000 implements MigrationInterface {
  name = 'SelfChecks1764511200000';

  async up(db: QueryRunner): Promise<void> {
    await db.query(`CREATE TABLE self_check (
      id uuid PRIMARY KEY, work_id uuid NOT NULL REFERENCES work ON DELETE CASCADE,
      at timestamptz NOT NULL, told jsonb NOT NULL)`);
    await db.query('CREATE INDEX self_check_work_id ON self_check (work_id, at)');
  }

  /** How often each student asked is forgotten. */
  async down(db: QueryRunner): Promise<void> {
    await db.query('DROP TABLE self_check');
  }
}
