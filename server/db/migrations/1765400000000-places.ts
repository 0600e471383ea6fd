import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * Each output says where it lies, and each leg which stores it needs and how much will lie on each: deliverables of one
 * run go to places of their own.
 */
export class Places1765400000000 implements MigrationInterface {
  async up(db: QueryRunner): Promise<void> {
    await db.query(`
      ALTER TABLE output ADD COLUMN store_id text, ADD COLUMN folder text;
      UPDATE output
      SET store_id = run.store_id, folder = run.folder
      FROM leg
      JOIN run ON run.id = leg.run_id
      WHERE leg.id = output.leg_id;
      ALTER TABLE output ALTER COLUMN store_id SET NOT NULL, ALTER COLUMN folder SET NOT NULL;
      CREATE INDEX output_of_place ON output (store_id, folder, path);

      ALTER TABLE leg
        ADD COLUMN stores text[] NOT NULL DEFAULT '{}',
        ADD COLUMN bytes_by_store jsonb NOT NULL DEFAULT '{}';
      UPDATE leg
      SET stores = ARRAY[run.store_id], bytes_by_store = jsonb_build_object(run.store_id, leg.bytes_likely)
      FROM run
      WHERE run.id = leg.run_id;
      ALTER TABLE leg DROP COLUMN bytes_likely;
    `);
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query(`
      ALTER TABLE leg ADD COLUMN bytes_likely bigint NOT NULL DEFAULT 0;
      UPDATE leg
      SET bytes_likely = (SELECT coalesce(sum(value::numeric), 0)::bigint FROM jsonb_each_text(leg.bytes_by_store));
      ALTER TABLE leg DROP COLUMN stores, DROP COLUMN bytes_by_store;
      DROP INDEX output_of_place;
      ALTER TABLE output DROP COLUMN store_id, DROP COLUMN folder;
    `);
  }
}
