import { type MigrationInterface, type QueryRunner } from 'typeorm';

/** The answers that students tried, the hints that they asked for, and the attempt that they chose. */
export class Asked1764676800000 implements MigrationInterface {
  name = 'Asked1764676800000';

  async up(db: QueryRunner): Promise<void> {
    await db.query(`CREATE TABLE tried_answer (
      id uuid PRIMARY KEY, work_id uuid NOT NULL REFERENCES work ON DELETE CASCADE,
      task text NOT NULL, answer text NOT NULL, "right" boolean NOT NULL, at timestamptz NOT NULL)`);
    await db.query(`CREATE TABLE asked_hint (
      id uuid PRIMARY KEY, work_id uuid NOT NULL REFERENCES work ON DELETE CASCADE,
      requirement text NOT NULL, text text NOT NULL, cost double precision NOT NULL CHECK (cost >= 0), at timestamptz NOT NULL)`);
    for (const table of ['tried_answer', 'asked_hint'])
      await db.query(`CREATE INDEX ${table}_work_id ON ${table} (work_id, at)`);
    await db.query('ALTER TABLE work ADD chosen_id uuid REFERENCES submission ON DELETE SET NULL');
    await db.query('CREATE INDEX work_chosen_id ON work (chosen_id)');
  }

  /** What was tried may be tried again, no hint costs anything any more, and nobody has chosen. */
  async down(db: QueryRunner): Promise<void> {
    await db.query('ALTER TABLE work DROP chosen_id');
    await db.query('DROP TABLE asked_hint');
    await db.query('DROP TABLE tried_answer');
  }
}
