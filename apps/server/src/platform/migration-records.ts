import { type MigrationInterface, type QueryRunner } from 'typeorm';

/** A record of sign-ins and of what was refused. */
export class Records1764478800000 implements MigrationInterface {
  name = 'Records1764478800000';

  async up(db: QueryRunner): Promise<void> {
    await db.query(`CREATE TABLE record (
      what text NOT NULL, login text NOT NULL, address text NOT NULL, detail text NOT NULL, hour timestamptz NOT NULL,
      last timestamptz NOT NULL, count integer NOT NULL, agent text NOT NULL, PRIMARY KEY (what, login, address, detail, hour))`);
    await db.query('CREATE INDEX record_hour ON record (hour)');
  }

  /** What was written down is lost. */
  async down(db: QueryRunner): Promise<void> {
    await db.query('DROP TABLE record');
  }
}
