import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Originals that moved: what tells a file again, and each time that some were looked for and taken over. */
export class OriginalSearches1766200000000 implements MigrationInterface {
  async up(db: QueryRunner): Promise<void> {
    await db.query(`
      ALTER TABLE clip ADD COLUMN sampled text, ADD COLUMN read_as text;
      CREATE TABLE original_search (
        id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
        production_id uuid NOT NULL REFERENCES production ON DELETE CASCADE,
        looked_for jsonb NOT NULL,
        store_id text NOT NULL,
        folder text NOT NULL,
        state text NOT NULL DEFAULT 'waiting',
        total int NOT NULL DEFAULT 0,
        done int NOT NULL DEFAULT 0,
        problem jsonb,
        found json,
        before json,
        who text NOT NULL,
        beat_at timestamptz,
        created_at timestamptz NOT NULL DEFAULT now(),
        taken_at timestamptz,
        undone_at timestamptz
      );
      CREATE INDEX original_search_production ON original_search (production_id, created_at DESC);
    `);
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query('DROP TABLE original_search; ALTER TABLE clip DROP COLUMN sampled, DROP COLUMN read_as');
  }
}
