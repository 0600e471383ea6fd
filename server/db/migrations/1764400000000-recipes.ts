import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * Recipes in groups, with a note, an owner and every version they ever had; runs know which one they were made with.
 */
export class Recipes1764400000000 implements MigrationInterface {
  async up(db: QueryRunner): Promise<void> {
    await db.query(`
      ALTER TABLE recipe ADD COLUMN grp text NOT NULL DEFAULT 'Ours', ADD COLUMN note text NOT NULL DEFAULT '', ADD COLUMN owner text NOT NULL DEFAULT 'assistant',
        ADD COLUMN version int NOT NULL DEFAULT 1, ADD COLUMN changed_at timestamptz NOT NULL DEFAULT now();
      CREATE TABLE recipe_version (
        recipe_id uuid NOT NULL REFERENCES recipe (id) ON DELETE CASCADE, version int NOT NULL, definition jsonb NOT NULL, who text NOT NULL, at timestamptz NOT NULL, PRIMARY KEY (recipe_id, version)
      );
      ALTER TABLE run ADD COLUMN recipe_id uuid, ADD COLUMN recipe_version int;
    `);
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query(`
      ALTER TABLE run DROP COLUMN recipe_id, DROP COLUMN recipe_version;
      DROP TABLE recipe_version;
      ALTER TABLE recipe DROP COLUMN grp, DROP COLUMN note, DROP COLUMN owner, DROP COLUMN version, DROP COLUMN changed_at;
    `);
  }
}
