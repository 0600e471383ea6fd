import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * Rolls and their custody; what people say and decide about clips; what the sheet is sorted by, derived from
 * descriptions.
 */
export class Arrivals1764000000000 implements MigrationInterface {
  async up(db: QueryRunner): Promise<void> {
    await db.query(`
      ALTER TABLE production
        ADD rate jsonb,
        ADD copy_rule jsonb NOT NULL DEFAULT '{"copies": 2, "stores": 2}';

      CREATE TABLE roll (
        id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
        production_id uuid NOT NULL REFERENCES production ON DELETE CASCADE,
        name text NOT NULL,
        day text NOT NULL,
        card_store text NOT NULL,
        card_folder text NOT NULL,
        hash text NOT NULL,
        also_md5 boolean NOT NULL DEFAULT false,
        state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'copying', 'paused', 'stopped', 'failed', 'proved')),
        wanted text NOT NULL DEFAULT 'go' CHECK (wanted IN ('go', 'pause', 'stop')),
        files int NOT NULL DEFAULT 0,
        files_done int NOT NULL DEFAULT 0,
        bytes bigint NOT NULL DEFAULT 0,
        bytes_done bigint NOT NULL DEFAULT 0,
        result jsonb,
        card_files jsonb NOT NULL DEFAULT '[]',
        worker text,
        beat_at timestamptz,
        created_at timestamptz NOT NULL DEFAULT now(),
        started_at timestamptz,
        ended_at timestamptz
      );
      CREATE UNIQUE INDEX roll_name ON roll (production_id, lower(name));

      CREATE TABLE roll_copy (
        id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
        roll_id uuid NOT NULL REFERENCES roll ON DELETE CASCADE,
        ordinal int NOT NULL,
        store_id text NOT NULL,
        folder text NOT NULL,
        files_proved int NOT NULL DEFAULT 0,
        read_from_disk boolean NOT NULL DEFAULT false,
        manifest text,
        problem jsonb,
        verification jsonb,
        verified_at timestamptz,
        verify_wanted timestamptz,
        UNIQUE (store_id, folder)
      );
      CREATE INDEX roll_copy_of_roll ON roll_copy (roll_id);

      CREATE TABLE custody_event (
        id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
        roll_id uuid NOT NULL REFERENCES roll ON DELETE CASCADE,
        at timestamptz NOT NULL DEFAULT now(),
        who text NOT NULL,
        what text NOT NULL
      );
      CREATE INDEX custody_event_of_roll ON custody_event (roll_id, at);

      ALTER TABLE reading ADD roll_id uuid REFERENCES roll ON DELETE CASCADE, ADD says text;

      UPDATE clip SET description = jsonb_set(description, '{chapters}', '[]') WHERE description IS NOT NULL AND NOT description ? 'chapters';
      UPDATE leg SET plan = jsonb_set(plan, '{original,chapters}', '[]') WHERE plan IS NOT NULL AND NOT plan->'original' ? 'chapters';

      ALTER TABLE clip
        ADD roll_id uuid REFERENCES roll ON DELETE SET NULL,
        -- A file's own description where the clip spans several files.
        ADD own jsonb,
        ADD said jsonb NOT NULL DEFAULT '{}',
        ADD sidecar_said jsonb NOT NULL DEFAULT '{}',
        ADD sidecars jsonb NOT NULL DEFAULT '[]',
        ADD version int NOT NULL DEFAULT 1,
        ADD measured jsonb,
        ADD looked_at timestamptz,
        ADD look_problem text,
        ADD findings jsonb NOT NULL DEFAULT '[]',
        -- Of the gravest finding nobody has decided on: 0 stop, 1 decide, 2 note, 3 none.
        ADD gravest smallint NOT NULL DEFAULT 3,
        ADD search text NOT NULL DEFAULT '',
        ADD starts text GENERATED ALWAYS AS (description->'timecode'->>'start') STORED,
        ADD seconds double precision GENERATED ALWAYS AS (
          (description->'video'->'duration'->>'num')::double precision / (description->'video'->'duration'->>'den')::double precision) STORED,
        ADD rate double precision GENERATED ALWAYS AS (
          (description->'video'->'rate'->>'num')::double precision / (description->'video'->'rate'->>'den')::double precision) STORED,
        ADD samples double precision GENERATED ALWAYS AS (
          (description->'video'->'raster'->>'width')::double precision * (description->'video'->'raster'->>'height')::double precision) STORED,
        -- As core/clip/group.ts: what clips must share to be corrected alike.
        ADD grp text GENERATED ALWAYS AS (CASE WHEN description IS NULL THEN NULL WHEN jsonb_typeof(description->'video') <> 'object' THEN 'sound' ELSE
          (description->'video'->'raster'->>'width') || 'x' || (description->'video'->'raster'->>'height') || '|' ||
          CASE WHEN (description->'video'->>'rateConstant')::boolean THEN (description->'video'->'rate'->>'num') || '/' || (description->'video'->'rate'->>'den') ELSE 'varies' END || '|' ||
          (description->'video'->>'scan') || '|' ||
          (description->'video'->'pixelAspect'->>'num') || '/' || (description->'video'->'pixelAspect'->>'den') || '|' ||
          (description->'video'->>'codecId') || '|' || coalesce(description->'video'->'colour'->>'transfer', '') END) STORED;
      CREATE INDEX clip_of_production ON clip (production_id, grp, roll, path) WHERE description IS NOT NULL;
      CREATE INDEX clip_to_look_at ON clip (created_at) WHERE looked_at IS NULL AND description IS NOT NULL;

      CREATE TABLE decision (
        clip_id uuid NOT NULL REFERENCES clip ON DELETE CASCADE,
        rule text NOT NULL,
        answer text NOT NULL CHECK (answer IN ('as it is', 'leave out')),
        note text NOT NULL DEFAULT '',
        who text NOT NULL,
        at timestamptz NOT NULL DEFAULT now(),
        PRIMARY KEY (clip_id, rule)
      );

      CREATE TABLE identity_change (
        id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
        production_id uuid NOT NULL REFERENCES production ON DELETE CASCADE,
        what text NOT NULL,
        who text NOT NULL,
        at timestamptz NOT NULL DEFAULT now(),
        -- For each clip: what was said before, and the version that the change made.
        before jsonb NOT NULL,
        undone_at timestamptz
      );
      CREATE INDEX identity_change_of_production ON identity_change (production_id, at DESC);

      CREATE TABLE saved_filter (
        id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
        production_id uuid NOT NULL REFERENCES production ON DELETE CASCADE,
        name text NOT NULL,
        words text NOT NULL,
        UNIQUE (production_id, name)
      );
    `);
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query(`
      DROP TABLE saved_filter, identity_change, decision, custody_event, roll_copy;
      DROP INDEX clip_of_production, clip_to_look_at;
      ALTER TABLE clip DROP grp, DROP samples, DROP rate, DROP seconds, DROP starts, DROP search, DROP gravest, DROP findings, DROP look_problem, DROP looked_at, DROP measured,
        DROP version, DROP sidecars, DROP sidecar_said, DROP said, DROP own, DROP roll_id;
      ALTER TABLE reading DROP says, DROP roll_id;
      DROP TABLE roll;
      ALTER TABLE production DROP copy_rule, DROP rate;
    `);
  }
}
