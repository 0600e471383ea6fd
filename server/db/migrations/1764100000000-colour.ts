import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The cabinet of LUTs, and chains kept as rules. */
export class Colour1764100000000 implements MigrationInterface {
  async up(db: QueryRunner): Promise<void> {
    await db.query(`
      CREATE TABLE lut (
        -- SHA-256 of the bytes: the same file is kept once, and an old chain always means the same.
        hash text PRIMARY KEY CHECK (hash ~ '^[0-9a-f]{64}$'),
        name text NOT NULL,
        file_name text NOT NULL,
        bytes bytea NOT NULL,
        format text NOT NULL CHECK (format IN ('cube', 'clf', 'cdl')),
        says text NOT NULL,
        examined jsonb NOT NULL,
        tags text[] NOT NULL DEFAULT '{}',
        takes text,
        gives text,
        range_in text NOT NULL DEFAULT 'full' CHECK (range_in IN ('full', 'legal')),
        range_out text NOT NULL DEFAULT 'full' CHECK (range_out IN ('full', 'legal')),
        created_at timestamptz NOT NULL DEFAULT now(),
        -- Out of the cabinet's sight, though chains and old runs still find it.
        put_away_at timestamptz
      );
      CREATE INDEX lut_by_name ON lut (lower(name), created_at DESC);

      CREATE TABLE colour_rule (
        production_id uuid NOT NULL REFERENCES production ON DELETE CASCADE,
        scope text NOT NULL CHECK (scope IN ('production', 'group', 'roll', 'clip')),
        -- The group's text, the roll's name, the clip's id; empty for the production.
        key text NOT NULL,
        -- JSON null: somebody said that there is none.
        chain jsonb NOT NULL,
        who text NOT NULL,
        at timestamptz NOT NULL DEFAULT now(),
        PRIMARY KEY (production_id, scope, key)
      );

      CREATE TABLE colour_change (
        id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
        production_id uuid NOT NULL REFERENCES production ON DELETE CASCADE,
        what text NOT NULL,
        who text NOT NULL,
        at timestamptz NOT NULL DEFAULT now(),
        -- For each rule touched: what it was, null for one that was not there.
        before jsonb NOT NULL,
        after jsonb NOT NULL,
        undone_at timestamptz
      );
      CREATE INDEX colour_change_of_production ON colour_change (production_id, at DESC);

      UPDATE recipe SET definition = jsonb_set(definition, '{deliverables}', (
        SELECT jsonb_agg(CASE
          WHEN d ? 'colour' THEN d
          WHEN d->>'role' = 'intermediate' THEN d || '{"colour": {"kind": "beside"}}'
          ELSE d || '{"colour": {"kind": "baked"}}' END ORDER BY n)
        FROM jsonb_array_elements(definition->'deliverables') WITH ORDINALITY AS e(d, n)));
    `);
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query(`
      DROP TABLE colour_change, colour_rule, lut;
      UPDATE recipe SET definition = jsonb_set(definition, '{deliverables}', (SELECT jsonb_agg(d - 'colour' ORDER BY n) FROM jsonb_array_elements(definition->'deliverables') WITH ORDINALITY AS e(d, n)));
    `);
  }
}
