import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * Runs of thousands of legs: what a leg makes is written down once, and each run's foremost leg is found by its index.
 */
export class ManyLegs1764700000000 implements MigrationInterface {
  async up(db: QueryRunner): Promise<void> {
    await db.query(`
      ALTER TABLE leg ADD COLUMN makes text NOT NULL DEFAULT '', ALTER COLUMN plan SET COMPRESSION lz4;
      UPDATE leg SET makes = (SELECT coalesce(string_agg(DISTINCT o.value->>'deliverable', ', '), '') FROM jsonb_array_elements(leg.plan->'outputs') o) WHERE plan IS NOT NULL;
      DROP INDEX leg_foremost;
      CREATE INDEX leg_foremost ON leg (run_id, hand DESC, wave, ordinal) WHERE state = 'waiting';
    `);
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query(
      `DROP INDEX leg_foremost; CREATE INDEX leg_foremost ON leg (hand DESC, wave, ordinal) WHERE state = 'waiting'; ALTER TABLE leg DROP COLUMN makes;`,
    );
  }
}
