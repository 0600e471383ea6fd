import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * Legs are blamed for what happens while they run alone; workers say whether they read strangers' files in a place of
 * their own.
 */
export class Blame1764900000000 implements MigrationInterface {
  async up(db: QueryRunner): Promise<void> {
    await db.query(`
      ALTER TABLE leg
        ADD COLUMN lapses int NOT NULL DEFAULT 0,
        ADD COLUMN blames int NOT NULL DEFAULT 0,
        ADD COLUMN alone boolean NOT NULL DEFAULT false;
      ALTER TABLE worker ADD COLUMN isolation text;
    `);
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query(
      'ALTER TABLE worker DROP COLUMN isolation; ALTER TABLE leg DROP COLUMN alone, DROP COLUMN blames, DROP COLUMN lapses',
    );
  }
}
