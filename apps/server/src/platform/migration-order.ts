import { type MigrationInterface, type QueryRunner } from 'typeorm';

/** The order of labs in their course, and of courses as each person has them. */
export class Order1764500400000 implements MigrationInterface {
  name = 'Order1764500400000';

  async up(db: QueryRunner): Promise<void> {
    for (const table of ['assignment', 'membership'])
      await db.query(`ALTER TABLE ${table} ADD COLUMN position integer`);
  }

  async down(db: QueryRunner): Promise<void> {
    for (const table of ['assignment', 'membership']) await db.query(`ALTER TABLE ${table} DROP COLUMN position`);
  }
}
