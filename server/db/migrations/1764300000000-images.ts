import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Pictures that burn-ins lay over, kept by the hash of their bytes. */
export class Images1764300000000 implements MigrationInterface {
  async up(db: QueryRunner): Promise<void> {
    await db.query(`
      CREATE TABLE overlay_image (
        hash text PRIMARY KEY, name text NOT NULL, bytes bytea NOT NULL, width int NOT NULL, height int NOT NULL, created_at timestamptz NOT NULL DEFAULT now()
      )`);
  }

  async down(db: QueryRunner): Promise<void> {
    // A burn-in without its picture would fail a run: it is taken out of recipes with it.
    await db.query(
      `UPDATE recipe SET definition = jsonb_set(definition, '{deliverables}', (SELECT coalesce(jsonb_agg(d #- '{burn,image}'), '[]') FROM jsonb_array_elements(definition->'deliverables') d))`,
    );
    await db.query('DROP TABLE overlay_image');
  }
}
