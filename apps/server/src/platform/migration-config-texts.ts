import { type MigrationInterface, type QueryRunner } from 'typeorm';

/** Configuration texts that came with a drawing are files beside it that know their device. */
export class ConfigTexts1764496800000 implements MigrationInterface {
  name = 'ConfigTexts1764496800000';

  async up(db: QueryRunner): Promise<void> {
    await db.query('ALTER TABLE attachment ADD COLUMN device text');
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query('ALTER TABLE attachment DROP COLUMN device');
  }
}
