import { type MigrationInterface, type QueryRunner } from 'typeorm';

/** Codes that change every half minute, beside the password. */
export class SecondFactor1764493200000 implements MigrationInterface {
  name = 'SecondFactor1764493200000';

  async up(db: QueryRunner): Promise<void> {
    await db.query(`CREATE TABLE second_factor (
      account_id uuid PRIMARY KEY REFERENCES account ON DELETE CASCADE, secret text NOT NULL, is_on boolean NOT NULL,
      last_step bigint NOT NULL, spare_codes text[] NOT NULL)`);
  }

  /** Whoever had one signs in with the password alone. */
  async down(db: QueryRunner): Promise<void> {
    await db.query('DROP TABLE second_factor');
  }
}
