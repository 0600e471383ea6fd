import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Inlets, what they took up, and by what it is known again. */
export class Inlets1765600000000 implements MigrationInterface {
  async up(db: QueryRunner): Promise<void> {
    await db.query(`
      CREATE TABLE inlet (
        id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
        production_id uuid NOT NULL REFERENCES production ON DELETE CASCADE,
        definition jsonb NOT NULL,
        paused boolean NOT NULL DEFAULT false,
        owner text NOT NULL DEFAULT 'assistant',
        version int NOT NULL DEFAULT 1,
        stirs int NOT NULL DEFAULT 0,
        now jsonb NOT NULL DEFAULT '{"problem": null, "waiting": 0, "first": [], "passed": []}',
        looked_at timestamptz,
        created_at timestamptz NOT NULL DEFAULT now()
      );
      ALTER TABLE run ADD COLUMN inlet_id uuid REFERENCES inlet ON DELETE SET NULL;
      CREATE UNIQUE INDEX inlet_name ON inlet (production_id, lower(definition->>'name'));
      CREATE TABLE inlet_thing (
        id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
        inlet_id uuid NOT NULL REFERENCES inlet ON DELETE CASCADE,
        place text NOT NULL,
        key text NOT NULL,
        kind text NOT NULL,
        files int NOT NULL,
        size_bytes bigint NOT NULL DEFAULT 0,
        known int NOT NULL DEFAULT 0,
        clips uuid[] NOT NULL DEFAULT '{}',
        waits jsonb NOT NULL DEFAULT '[]',
        runs uuid[] NOT NULL DEFAULT '{}',
        problems jsonb NOT NULL DEFAULT '[]',
        ended text,
        ended_at timestamptz,
        lies text NOT NULL DEFAULT '',
        names text[] NOT NULL DEFAULT '{}',
        moving jsonb,
        trouble text,
        taken_at timestamptz NOT NULL DEFAULT now()
      );
      CREATE INDEX inlet_thing_taken ON inlet_thing (inlet_id, taken_at DESC);
      CREATE INDEX inlet_thing_open ON inlet_thing (inlet_id, taken_at) WHERE ended_at IS NULL;
      CREATE INDEX output_by_size ON output (size_bytes);
      CREATE TABLE inlet_file (
        inlet_id uuid NOT NULL REFERENCES inlet ON DELETE CASCADE,
        place text NOT NULL,
        path text NOT NULL,
        size_bytes bigint NOT NULL,
        modified_at text NOT NULL,
        sampled text,
        whole text,
        thing_id uuid REFERENCES inlet_thing ON DELETE SET NULL,
        PRIMARY KEY (inlet_id, place, path)
      );
    `);
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query(
      'ALTER TABLE run DROP COLUMN inlet_id; DROP INDEX output_by_size; DROP TABLE inlet_file; DROP TABLE inlet_thing; DROP TABLE inlet',
    );
  }
}
