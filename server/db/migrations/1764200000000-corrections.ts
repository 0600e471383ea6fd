import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Rules for corrections of every kind, field by field; chains were the first. */
export class Corrections1764200000000 implements MigrationInterface {
  async up(db: QueryRunner): Promise<void> {
    await db.query(`
      ALTER TABLE colour_rule RENAME TO correction_rule;
      ALTER TABLE correction_rule RENAME COLUMN chain TO value;
      ALTER TABLE correction_rule ADD COLUMN field text NOT NULL DEFAULT 'colour';
      ALTER TABLE correction_rule ALTER COLUMN field DROP DEFAULT;
      ALTER TABLE correction_rule DROP CONSTRAINT colour_rule_pkey;
      ALTER TABLE correction_rule ADD CONSTRAINT correction_rule_pkey PRIMARY KEY (production_id, field, scope, key);
      ALTER TABLE colour_change RENAME TO correction_change;
      ALTER INDEX colour_change_of_production RENAME TO correction_change_of_production;
      UPDATE correction_change SET
        before = (SELECT coalesce(jsonb_agg((r - 'chain') || jsonb_build_object('field', 'colour') || CASE WHEN r ? 'chain' THEN jsonb_build_object('value', r->'chain') ELSE '{}' END), '[]') FROM jsonb_array_elements(before) r),
        after = (SELECT coalesce(jsonb_agg((r - 'chain') || jsonb_build_object('field', 'colour') || CASE WHEN r ? 'chain' THEN jsonb_build_object('value', r->'chain') ELSE '{}' END), '[]') FROM jsonb_array_elements(after) r);
    `);
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query(`
      DELETE FROM correction_rule WHERE field <> 'colour';
      -- What was changed beyond colour has no place in the older table.
      DELETE FROM correction_change WHERE EXISTS (SELECT 1 FROM jsonb_array_elements(after) r WHERE r->>'field' <> 'colour');
      UPDATE correction_change SET
        before = (SELECT coalesce(jsonb_agg((r - 'value' - 'field') || CASE WHEN r ? 'value' THEN jsonb_build_object('chain', r->'value') ELSE '{}' END), '[]') FROM jsonb_array_elements(before) r),
        after = (SELECT coalesce(jsonb_agg((r - 'value' - 'field') || CASE WHEN r ? 'value' THEN jsonb_build_object('chain', r->'value') ELSE '{}' END), '[]') FROM jsonb_array_elements(after) r);
      ALTER INDEX correction_change_of_production RENAME TO colour_change_of_production;
      ALTER TABLE correction_change RENAME TO colour_change;
      ALTER TABLE correction_rule DROP CONSTRAINT correction_rule_pkey;
      ALTER TABLE correction_rule DROP COLUMN field;
      ALTER TABLE correction_rule RENAME COLUMN value TO chain;
      ALTER TABLE correction_rule RENAME TO colour_rule;
      ALTER TABLE colour_rule ADD CONSTRAINT colour_rule_pkey PRIMARY KEY (production_id, scope, key);
    `);
  }
}
