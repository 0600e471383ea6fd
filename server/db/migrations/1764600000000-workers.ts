import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * Workers that say what they can do, what is set for the whole site, reels, and what a leg needs of a worker and of its
 * store.
 */
export class Workers1764600000000 implements MigrationInterface {
  async up(db: QueryRunner): Promise<void> {
    await db.query(`
      CREATE TABLE worker (
        name text PRIMARY KEY, title text NOT NULL, host text NOT NULL, slots int NOT NULL, codecs text[], stores text[] NOT NULL DEFAULT '{}',
        started_at timestamptz NOT NULL DEFAULT now(), beat_at timestamptz NOT NULL DEFAULT now()
      );
      CREATE TABLE setting (key text PRIMARY KEY, value jsonb NOT NULL);
      CREATE TABLE reel (
        id uuid PRIMARY KEY DEFAULT gen_random_uuid(), run_id uuid NOT NULL REFERENCES run(id) ON DELETE CASCADE, deliverable text NOT NULL, path text NOT NULL, plan jsonb NOT NULL, xxh3s text[] NOT NULL,
        state text NOT NULL DEFAULT 'waiting', problem jsonb, size_bytes bigint NOT NULL DEFAULT 0, xxh3 text, beat_at timestamptz, created_at timestamptz NOT NULL DEFAULT now(), UNIQUE (run_id, path)
      );
      ALTER TABLE leg ADD COLUMN codecs text[] NOT NULL DEFAULT '{}', ADD COLUMN bytes_likely bigint NOT NULL DEFAULT 0;
    `);
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query(
      'DROP TABLE reel; DROP TABLE worker; DROP TABLE setting; ALTER TABLE leg DROP COLUMN codecs, DROP COLUMN bytes_likely;',
    );
  }
}
