import { type MigrationInterface, type QueryRunner } from 'typeorm';

/** The first schema. Documents are JSON; everything that is searched or joined by is a column. */
export class First1732406400000 implements MigrationInterface {
  name = 'First1732406400000';

  async up(db: QueryRunner): Promise<void> {
    for (const statement of [
      `CREATE TABLE account (
        id uuid PRIMARY KEY, login text NOT NULL UNIQUE, name text NOT NULL,
        role text NOT NULL CHECK (role IN ('instructor', 'student')), password_hash text NOT NULL, demo boolean NOT NULL DEFAULT false)`,
      `CREATE TABLE session (
        token_hash text PRIMARY KEY, account_id uuid NOT NULL REFERENCES account ON DELETE CASCADE, expires_at timestamptz NOT NULL)`,
      `CREATE TABLE course (
        id uuid PRIMARY KEY, title text NOT NULL, term text NOT NULL, instructor_id uuid NOT NULL REFERENCES account, created_at timestamptz NOT NULL)`,
      `CREATE TABLE enrolment (
        course_id uuid NOT NULL REFERENCES course ON DELETE CASCADE, account_id uuid NOT NULL REFERENCES account ON DELETE CASCADE, PRIMARY KEY (course_id, account_id))`,
      `CREATE TABLE document (id uuid PRIMARY KEY, revision integer NOT NULL, topology jsonb NOT NULL)`,
      `CREATE TABLE document_change (
        document_id uuid NOT NULL REFERENCES document ON DELETE CASCADE, revision integer NOT NULL, save_id uuid NOT NULL, author_id uuid NOT NULL REFERENCES account,
        made_at timestamptz NOT NULL, commands jsonb NOT NULL, inverse jsonb NOT NULL, footprint jsonb NOT NULL, PRIMARY KEY (document_id, revision), UNIQUE (document_id, save_id))`,
      `CREATE TABLE lab (
        id uuid PRIMARY KEY, course_id uuid NOT NULL REFERENCES course ON DELETE CASCADE, title text NOT NULL, revision integer NOT NULL,
        brief jsonb NOT NULL, tasks jsonb NOT NULL, plan jsonb NOT NULL, spec jsonb NOT NULL, policy jsonb NOT NULL,
        starter jsonb, handout jsonb, stages jsonb,
        reference_id uuid NOT NULL REFERENCES document, due_at timestamptz, created_at timestamptz NOT NULL)`,
      `CREATE TABLE work (
        id uuid PRIMARY KEY, lab_id uuid NOT NULL REFERENCES lab ON DELETE CASCADE, student_id uuid NOT NULL REFERENCES account ON DELETE CASCADE,
        document_id uuid NOT NULL REFERENCES document, answers jsonb NOT NULL, UNIQUE (lab_id, student_id))`,
      `CREATE TABLE attachment (
        id uuid PRIMARY KEY, work_id uuid NOT NULL REFERENCES work ON DELETE CASCADE, name text NOT NULL, type text NOT NULL, size integer NOT NULL,
        bytes bytea NOT NULL, removed boolean NOT NULL DEFAULT false)`,
      `CREATE TABLE submission (
        id uuid PRIMARY KEY, lab_id uuid NOT NULL REFERENCES lab ON DELETE CASCADE, student_id uuid NOT NULL REFERENCES account ON DELETE CASCADE,
        attempt integer NOT NULL, topology jsonb NOT NULL, answers jsonb NOT NULL, attachment_ids jsonb NOT NULL,
        handed_in_at timestamptz NOT NULL, late boolean NOT NULL, UNIQUE (lab_id, student_id, attempt))`,
      `CREATE TABLE check_result (
        id uuid PRIMARY KEY, submission_id uuid NOT NULL REFERENCES submission ON DELETE CASCADE, made_at timestamptz NOT NULL,
        core_version text NOT NULL, spec_hash text NOT NULL, submission_hash text NOT NULL,
        points double precision NOT NULL, out_of double precision NOT NULL, result jsonb NOT NULL)`,
      `CREATE INDEX check_result_by_submission ON check_result (submission_id, made_at DESC)`,
      `CREATE INDEX submission_by_lab ON submission (lab_id)`,
      `CREATE INDEX enrolment_by_account ON enrolment (account_id)`,
    ])
      await db.query(statement);
  }

  async down(db: QueryRunner): Promise<void> {
    for (const table of [
      'check_result',
      'submission',
      'attachment',
      'work',
      'lab',
      'document_change',
      'document',
      'enrolment',
      'course',
      'session',
      'account',
    ])
      await db.query(`DROP TABLE ${table}`);
  }
}

export const MIGRATIONS = [First1732406400000];
