import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * Runs that can be put before others, begin later and be wanted by a time; legs in waves, ordered by hand, with a log.
 */
export class Runs1764500000000 implements MigrationInterface {
  async up(db: QueryRunner): Promise<void> {
    await db.query(`
      ALTER TABLE run ADD COLUMN priority int NOT NULL DEFAULT 0, ADD COLUMN not_before timestamptz, ADD COLUMN wanted_by timestamptz;
      ALTER TABLE leg ADD COLUMN wave int NOT NULL DEFAULT 1, ADD COLUMN hand int NOT NULL DEFAULT 0, ADD COLUMN log text NOT NULL DEFAULT '';
      CREATE INDEX leg_foremost ON leg (hand DESC, wave, ordinal) WHERE state = 'waiting';
    `);
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query(`
      DROP INDEX leg_foremost;
      ALTER TABLE leg DROP COLUMN wave, DROP COLUMN hand, DROP COLUMN log;
      ALTER TABLE run DROP COLUMN priority, DROP COLUMN not_before, DROP COLUMN wanted_by;
    `);
  }
}
