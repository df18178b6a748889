import { type MigrationInterface, type QueryRunner } from 'typeorm';

/** What persons decide of results, and who they say plays which role: rows of their own, which outlast a new check. */
export class Decisions1764504000000 implements MigrationInterface {
  name = 'Decisions1764504000000';

  async up(db: QueryRunner): Promise<void> {
    await db.query(`CREATE TABLE decision (
      id uuid PRIMARY KEY, submission_id uuid NOT NULL REFERENCES submission ON DELETE CASCADE,
      requirement text NOT NULL, item text, is_met boolean, points double precision, reason text NOT NULL,
      asked text NOT NULL, version_hash text NOT NULL REFERENCES lab_version,
      by_id uuid NOT NULL REFERENCES account, at timestamptz NOT NULL,
      ended_by_id uuid REFERENCES account, ended_at timestamptz,
      CHECK ((item IS NULL) = (is_met IS NULL) AND (item IS NULL) = (points IS NOT NULL)),
      CHECK ((ended_by_id IS NULL) = (ended_at IS NULL)))`);
    await db.query(
      `CREATE UNIQUE INDEX decision_that_holds ON decision (submission_id, requirement, coalesce(item, '')) WHERE ended_at IS NULL`,
    );
    for (const column of ['submission_id', 'version_hash', 'by_id', 'ended_by_id'])
      await db.query(`CREATE INDEX decision_${column} ON decision (${column})`);
    await db.query(`CREATE TABLE pin (
      submission_id uuid NOT NULL REFERENCES submission ON DELETE CASCADE, role text NOT NULL, device text NOT NULL,
      by_id uuid NOT NULL REFERENCES account, at timestamptz NOT NULL,
      PRIMARY KEY (submission_id, role), UNIQUE (submission_id, device))`);
    await db.query('CREATE INDEX pin_by_id ON pin (by_id)');
  }

  /** What was decided is lost; results stay as they were made, with the marks that tables show of them. */
  async down(db: QueryRunner): Promise<void> {
    await db.query('DROP TABLE pin');
    await db.query('DROP TABLE decision');
  }
}
