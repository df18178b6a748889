import { documentHash } from '@sobrin/core/topology';
import { type MigrationInterface, type QueryRunner } from 'typeorm';

interface JudgingRow {
  lab: string;
  owner: string;
  at: Date;
  content: object;
}

/**
 * Labs lie in the library of their owner, courses get them by assignments, and a version that never changes judges what is
 * handed in. Each lab becomes version 1 of itself and one assignment that keeps the lab's id, so that addresses hold.
 */
export class Assignments1764475200000 implements MigrationInterface {
  name = 'Assignments1764475200000';

  async up(db: QueryRunner): Promise<void> {
    for (const statement of [
      `CREATE TABLE lab_version (hash text PRIMARY KEY, content jsonb NOT NULL)`,
      `CREATE FUNCTION refuse_change() RETURNS trigger LANGUAGE plpgsql AS
        $$ BEGIN RAISE EXCEPTION '% is never changed', TG_TABLE_NAME; END $$`,
      `CREATE TRIGGER lab_version_stays BEFORE UPDATE ON lab_version FOR EACH ROW EXECUTE FUNCTION refuse_change()`,
      `CREATE TABLE lab_final (
        lab_id uuid NOT NULL REFERENCES lab ON DELETE CASCADE, number integer NOT NULL, version_hash text NOT NULL REFERENCES lab_version,
        author_id uuid NOT NULL REFERENCES account, made_at timestamptz NOT NULL, PRIMARY KEY (lab_id, number), UNIQUE (lab_id, version_hash))`,
      `CREATE TABLE assignment (
        id uuid PRIMARY KEY, course_id uuid NOT NULL REFERENCES course ON DELETE CASCADE, lab_id uuid NOT NULL REFERENCES lab,
        version_hash text REFERENCES lab_version, released_at timestamptz, due_at timestamptz, created_at timestamptz NOT NULL)`,
      `ALTER TABLE lab ADD COLUMN owner_id uuid REFERENCES account`,
      `UPDATE lab SET owner_id = course.instructor_id FROM course WHERE course.id = lab.course_id`,
      `ALTER TABLE lab ALTER COLUMN owner_id SET NOT NULL`,
    ])
      await db.query(statement);
    const judging = (await db.query(
      `SELECT lab.id AS lab, lab.owner_id AS owner, lab.created_at AS at, jsonb_build_object(
          'spec', spec.content, 'reference', reference.content, 'policy', policy.content, 'brief', brief.content) AS content
        FROM lab
        JOIN document spec ON spec.id = lab.spec_id JOIN document reference ON reference.id = lab.reference_id
        JOIN document policy ON policy.id = lab.policy_id JOIN document brief ON brief.id = lab.brief_id`,
    )) as JudgingRow[];
    for (const { lab, owner, at, content } of judging) {
      const hash = documentHash(content);
      await db.query(`INSERT INTO lab_version VALUES ($1, $2) ON CONFLICT DO NOTHING`, [hash, JSON.stringify(content)]);
      await db.query(`INSERT INTO lab_final VALUES ($1, 1, $2, $3, $4)`, [lab, hash, owner, at]);
    }
    for (const statement of [
      `INSERT INTO assignment SELECT lab.id, course_id, lab.id, version_hash, created_at, due_at, created_at FROM lab JOIN lab_final ON lab_id = lab.id`,
      `ALTER TABLE lab DROP COLUMN course_id, DROP COLUMN due_at`,
      ...['work', 'submission'].flatMap((table) => [
        `ALTER TABLE ${table} DROP CONSTRAINT ${table}_lab_id_fkey`,
        `ALTER TABLE ${table} RENAME COLUMN lab_id TO assignment_id`,
        `ALTER TABLE ${table} ADD CONSTRAINT ${table}_assignment_id_fkey FOREIGN KEY (assignment_id) REFERENCES assignment ON DELETE CASCADE`,
      ]),
      `ALTER TABLE check_result ADD COLUMN version_hash text REFERENCES lab_version, ADD COLUMN inputs text,
        ADD COLUMN confirmed_by text, ADD COLUMN differs jsonb NOT NULL DEFAULT '[]', ADD COLUMN cells jsonb, ADD COLUMN unjudged integer,
        DROP COLUMN spec_hash, DROP COLUMN submission_hash`,
      `UPDATE check_result SET cells = (
          SELECT coalesce(jsonb_agg(jsonb_build_object('id', made -> 'id', 'points', made -> 'points', 'of', made -> 'of', 'verdict', made -> 'verdict')), '[]')
          FROM jsonb_array_elements(result -> 'requirements') made)`,
      `UPDATE check_result SET unjudged = jsonb_array_length(jsonb_path_query_array(cells, '$[*] ? (@.verdict == "unjudged")'))`,
      `ALTER TABLE check_result ALTER COLUMN cells SET NOT NULL, ALTER COLUMN unjudged SET NOT NULL`,
      `CREATE TABLE job_taken (job_id uuid PRIMARY KEY, queue text NOT NULL, worker integer NOT NULL)`,
      ...Object.entries(INDEXED).flatMap(([table, columns]) =>
        columns.map((column) => `CREATE INDEX ${table}_${column} ON ${table} (${column})`),
      ),
    ])
      await db.query(statement);
  }

  /** Each lab goes back into the course that got it first. Lost: what other courses got of it, labs that no course got, and all versions. */
  async down(db: QueryRunner): Promise<void> {
    for (const statement of [
      `ALTER TABLE check_result ADD COLUMN spec_hash text, ADD COLUMN submission_hash text`,
      `UPDATE check_result SET spec_hash = result ->> 'specHash', submission_hash = result ->> 'submissionHash'`,
      `ALTER TABLE check_result ALTER COLUMN spec_hash SET NOT NULL, ALTER COLUMN submission_hash SET NOT NULL,
        DROP COLUMN version_hash, DROP COLUMN inputs, DROP COLUMN confirmed_by, DROP COLUMN differs, DROP COLUMN cells, DROP COLUMN unjudged`,
      `DELETE FROM assignment later USING assignment first
        WHERE later.lab_id = first.lab_id AND (first.created_at, first.id) < (later.created_at, later.id)`,
      ...['work', 'submission'].flatMap((table) => [
        `ALTER TABLE ${table} DROP CONSTRAINT ${table}_assignment_id_fkey`,
        `UPDATE ${table} SET assignment_id = assignment.lab_id FROM assignment WHERE assignment.id = assignment_id`,
        `ALTER TABLE ${table} RENAME COLUMN assignment_id TO lab_id`,
        `ALTER TABLE ${table} ADD CONSTRAINT ${table}_lab_id_fkey FOREIGN KEY (lab_id) REFERENCES lab ON DELETE CASCADE`,
      ]),
      `ALTER TABLE lab ADD COLUMN course_id uuid REFERENCES course ON DELETE CASCADE, ADD COLUMN due_at timestamptz`,
      `UPDATE lab SET course_id = assignment.course_id, due_at = assignment.due_at FROM assignment WHERE assignment.lab_id = lab.id`,
      `DROP TABLE assignment`,
      `DELETE FROM lab WHERE course_id IS NULL`,
      `ALTER TABLE lab ALTER COLUMN course_id SET NOT NULL, DROP COLUMN owner_id`,
      `CREATE INDEX lab_course_id ON lab (course_id)`,
      `DROP TABLE job_taken`,
      `DROP TABLE lab_final`,
      `DROP TABLE lab_version`,
      `DROP FUNCTION refuse_change`,
    ])
      await db.query(statement);
  }
}

/** What refers to other rows. */
const INDEXED: Readonly<Record<string, readonly string[]>> = {
  lab: ['owner_id'],
  lab_final: ['version_hash', 'author_id'],
  assignment: ['course_id', 'lab_id', 'version_hash'],
  check_result: ['version_hash'],
};
