import { type MigrationInterface, type QueryRunner } from 'typeorm';

/** What those who teach say of submissions. */
export class Comments1764507600000 implements MigrationInterface {
  name = 'Comments1764507600000';

  async up(db: QueryRunner): Promise<void> {
    await db.query(`CREATE TABLE submission_comment (
      id uuid PRIMARY KEY, submission_id uuid NOT NULL REFERENCES submission ON DELETE CASCADE,
      kind text NOT NULL CHECK (kind IN ('work', 'requirement', 'device', 'link')), target text NOT NULL,
      text text NOT NULL, by_id uuid NOT NULL REFERENCES account, at timestamptz NOT NULL,
      CHECK ((kind = 'work') = (target = '')))`);
    for (const column of ['submission_id', 'by_id'])
      await db.query(`CREATE INDEX submission_comment_${column} ON submission_comment (${column})`);
  }

  /** What was said is lost. */
  async down(db: QueryRunner): Promise<void> {
    await db.query('DROP TABLE submission_comment');
  }
}
