import { type MigrationInterface, type QueryRunner } from 'typeorm';

/** Who has what open. It is of this moment: a database that ended badly forgets it. */
export class Presence1764489600000 implements MigrationInterface {
  name = 'Presence1764489600000';

  async up(db: QueryRunner): Promise<void> {
    await db.query(`CREATE UNLOGGED TABLE document_open (
      line uuid PRIMARY KEY, place uuid NOT NULL, account_id uuid NOT NULL REFERENCES account ON DELETE CASCADE, seen_at timestamptz NOT NULL)`);
    await db.query('CREATE INDEX document_open_place ON document_open (place)');
    await db.query('CREATE INDEX document_open_account_id ON document_open (account_id)');
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query('DROP TABLE document_open');
  }
}
