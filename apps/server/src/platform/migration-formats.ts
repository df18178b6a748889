import { type MigrationInterface, type QueryRunner } from 'typeorm';

/** The versions of formats when this came. */
const THEN = { drawing: 1, plan: 1, part: 2 };

/** Documents, what was handed in and what judges say in which version of their format they are stored. */
export class Formats1764486000000 implements MigrationInterface {
  name = 'Formats1764486000000';

  async up(db: QueryRunner): Promise<void> {
    for (const statement of [
      `ALTER TABLE document ADD COLUMN format integer NOT NULL DEFAULT ${THEN.part}`,
      `UPDATE document SET format = CASE kind WHEN 'plan' THEN ${THEN.plan} ELSE ${THEN.drawing} END
        WHERE kind IN ('topology', 'starter', 'plan')`,
      `ALTER TABLE document ALTER COLUMN format DROP DEFAULT`,
      `CREATE TABLE document_barrier (
        document_id uuid NOT NULL REFERENCES document ON DELETE CASCADE, revision integer NOT NULL, format integer NOT NULL,
        content jsonb NOT NULL, PRIMARY KEY (document_id, revision))`,
      `ALTER TABLE submission ADD COLUMN formats jsonb NOT NULL DEFAULT '{"topology": ${THEN.drawing}, "plan": ${THEN.plan}}'`,
      `ALTER TABLE submission ALTER COLUMN formats DROP DEFAULT`,
      `ALTER TABLE lab_version ADD COLUMN format integer NOT NULL DEFAULT ${THEN.part}`,
      `ALTER TABLE lab_version ALTER COLUMN format DROP DEFAULT`,
    ])
      await db.query(statement);
  }

  /** Refused where a format has changed since: what was stored before is in no shape that this one knows. */
  async down(db: QueryRunner): Promise<void> {
    const [changed] = (await db.query('SELECT 1 AS found FROM document_barrier LIMIT 1')) as object[];
    if (changed) throw new Error('Formats have changed since: restore the copy from before.');
    await db.query('DROP TABLE document_barrier');
    await db.query('ALTER TABLE document DROP COLUMN format');
    await db.query('ALTER TABLE submission DROP COLUMN formats');
    await db.query('ALTER TABLE lab_version DROP COLUMN format');
  }
}
