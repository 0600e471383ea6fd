import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Productions, what was read, recipes, and runs with their legs and outputs. */
export class FirstLeg1763900000000 implements MigrationInterface {
  async up(db: QueryRunner): Promise<void> {
    await db.query(`
      CREATE TABLE production (
        id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
        name text NOT NULL,
        created_at timestamptz NOT NULL DEFAULT now()
      );
      CREATE UNIQUE INDEX production_name ON production (lower(name));

      CREATE TABLE reading (
        id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
        production_id uuid NOT NULL REFERENCES production ON DELETE CASCADE,
        store_id text NOT NULL,
        folder text NOT NULL,
        state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'running', 'done', 'failed')),
        total int NOT NULL DEFAULT 0,
        done int NOT NULL DEFAULT 0,
        problem jsonb,
        created_at timestamptz NOT NULL DEFAULT now(),
        beat_at timestamptz
      );
      CREATE INDEX reading_of_production ON reading (production_id, created_at DESC);

      CREATE TABLE clip (
        id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
        production_id uuid NOT NULL REFERENCES production ON DELETE CASCADE,
        store_id text NOT NULL,
        root text NOT NULL,
        path text NOT NULL,
        stem text NOT NULL,
        roll text NOT NULL,
        description jsonb,
        refusal jsonb,
        size_bytes bigint NOT NULL DEFAULT 0,
        modified_at timestamptz,
        poster boolean NOT NULL DEFAULT false,
        created_at timestamptz NOT NULL DEFAULT now(),
        CHECK ((description IS NULL) <> (refusal IS NULL)),
        UNIQUE (production_id, store_id, root, path)
      );

      CREATE TABLE recipe (
        id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
        definition jsonb NOT NULL,
        created_at timestamptz NOT NULL DEFAULT now()
      );

      CREATE TABLE run (
        id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
        production_id uuid NOT NULL REFERENCES production ON DELETE CASCADE,
        name text NOT NULL,
        recipe jsonb NOT NULL,
        store_id text NOT NULL,
        folder text NOT NULL,
        created_at timestamptz NOT NULL DEFAULT now()
      );
      CREATE INDEX run_of_production ON run (production_id, created_at DESC);

      CREATE TABLE leg (
        id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
        run_id uuid NOT NULL REFERENCES run ON DELETE CASCADE,
        clip_id uuid NOT NULL REFERENCES clip ON DELETE CASCADE,
        ordinal int NOT NULL,
        state text NOT NULL DEFAULT 'waiting'
          CHECK (state IN ('waiting', 'held', 'running', 'proving', 'proved', 'needs eyes', 'failed', 'stopped')),
        plan jsonb,
        problem jsonb,
        frames_done int NOT NULL DEFAULT 0,
        frames_total int NOT NULL DEFAULT 0,
        speed real,
        attempts int NOT NULL DEFAULT 0,
        worker text,
        stop_wanted boolean NOT NULL DEFAULT false,
        lease_until timestamptz,
        queued_at timestamptz NOT NULL DEFAULT now(),
        started_at timestamptz,
        ended_at timestamptz
      );
      CREATE INDEX leg_of_run ON leg (run_id, ordinal);
      CREATE INDEX leg_of_clip ON leg (clip_id);
      CREATE INDEX leg_open ON leg (state) WHERE state IN ('waiting', 'running', 'proving');

      CREATE TABLE output (
        id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
        leg_id uuid NOT NULL REFERENCES leg ON DELETE CASCADE,
        deliverable text NOT NULL,
        role text NOT NULL,
        path text NOT NULL,
        state text NOT NULL,
        already_there boolean NOT NULL DEFAULT false,
        size_bytes bigint NOT NULL DEFAULT 0,
        xxh3 text,
        proof jsonb,
        problem jsonb,
        relink jsonb,
        created_at timestamptz NOT NULL DEFAULT now(),
        UNIQUE (leg_id, path)
      );
    `);
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query('DROP TABLE output, leg, run, recipe, clip, reading, production');
  }
}
