import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Runs that were begun for a cut keep which version of it, and with what handles. */
export class Pulls1766000000000 implements MigrationInterface {
  async up(db: QueryRunner): Promise<void> {
    await db.query(`
      ALTER TABLE run ADD COLUMN pull jsonb;
      CREATE INDEX run_pull ON run ((pull->>'version')) WHERE pull IS NOT NULL;
    `);
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query('ALTER TABLE run DROP COLUMN pull');
  }
}
