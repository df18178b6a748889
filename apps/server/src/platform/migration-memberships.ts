import { type MigrationInterface, type QueryRunner } from 'typeorm';

/** What one is, one is in a course: several may teach it, one may teach here and attend there, and labs have editors. */
export class Memberships1764482400000 implements MigrationInterface {
  name = 'Memberships1764482400000';

  async up(db: QueryRunner): Promise<void> {
    await db.query(`CREATE TABLE membership (
      course_id uuid NOT NULL REFERENCES course ON DELETE CASCADE, account_id uuid NOT NULL REFERENCES account ON DELETE CASCADE,
      role text NOT NULL CHECK (role IN ('instructor', 'assistant', 'student')), name text NOT NULL, group_name text NOT NULL,
      accepted_at timestamptz, PRIMARY KEY (course_id, account_id))`);
    // Until now due dates were entered in the zone of a browser, which nobody wrote down.
    const zone = new Intl.DateTimeFormat().resolvedOptions().timeZone;
    await db.query('ALTER TABLE course ADD COLUMN time_zone text');
    await db.query('UPDATE course SET time_zone = $1', [zone]);
    for (const statement of [
      `INSERT INTO membership SELECT course.id, account.id, 'instructor', account.name, '', course.created_at
        FROM course JOIN account ON account.id = course.instructor_id`,
      `INSERT INTO membership SELECT course_id, account.id, 'student', account.name, '', now()
        FROM enrolment JOIN account ON account.id = account_id ON CONFLICT DO NOTHING`,
      `CREATE INDEX membership_account_id ON membership (account_id)`,
      `DROP TABLE enrolment`,
      `ALTER TABLE course ALTER COLUMN time_zone SET NOT NULL, DROP COLUMN instructor_id`,
      `ALTER TABLE account ADD COLUMN may_create_courses boolean NOT NULL DEFAULT false`,
      `UPDATE account SET may_create_courses = role = 'instructor'`,
      `ALTER TABLE account ALTER COLUMN may_create_courses DROP DEFAULT, DROP COLUMN role`,
      `CREATE TABLE lab_editor (
        lab_id uuid NOT NULL REFERENCES lab ON DELETE CASCADE, account_id uuid NOT NULL REFERENCES account ON DELETE CASCADE,
        PRIMARY KEY (lab_id, account_id))`,
      `CREATE INDEX lab_editor_account_id ON lab_editor (account_id)`,
    ])
      await db.query(statement);
  }

  /**
   * Who may begin courses or teaches one is an instructor again. Lost: assistants, all instructors of a course but its
   * first, invitations, the names and groups of a course, its time zone, editors of labs, and where instructors attend.
   */
  async down(db: QueryRunner): Promise<void> {
    for (const statement of [
      `DROP TABLE lab_editor`,
      `ALTER TABLE account ADD COLUMN role text CHECK (role IN ('instructor', 'student'))`,
      `UPDATE account SET role = CASE WHEN may_create_courses OR EXISTS (
          SELECT FROM membership WHERE account_id = id AND membership.role = 'instructor') THEN 'instructor' ELSE 'student' END`,
      `ALTER TABLE account ALTER COLUMN role SET NOT NULL, DROP COLUMN may_create_courses`,
      `ALTER TABLE course ADD COLUMN instructor_id uuid REFERENCES account`,
      `UPDATE course SET instructor_id = (
          SELECT account_id FROM membership WHERE course_id = id AND role = 'instructor' AND accepted_at IS NOT NULL
          ORDER BY accepted_at, account_id LIMIT 1)`,
      `ALTER TABLE course ALTER COLUMN instructor_id SET NOT NULL, DROP COLUMN time_zone`,
      `CREATE INDEX course_instructor_id ON course (instructor_id)`,
      `CREATE TABLE enrolment (
        course_id uuid NOT NULL REFERENCES course ON DELETE CASCADE, account_id uuid NOT NULL REFERENCES account ON DELETE CASCADE, PRIMARY KEY (course_id, account_id))`,
      `INSERT INTO enrolment SELECT course_id, account_id FROM membership JOIN account ON account.id = account_id
        WHERE membership.role = 'student' AND accepted_at IS NOT NULL AND account.role = 'student'`,
      `CREATE INDEX enrolment_by_account ON enrolment (account_id)`,
      `DROP TABLE membership`,
    ])
      await db.query(statement);
  }
}
