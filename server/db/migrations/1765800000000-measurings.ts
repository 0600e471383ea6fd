import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What was measured along outputs, or is to be: one of each, the newest; and what of a run is to be looked at. */
export class Measurings1765800000000 implements MigrationInterface {
  async up(db: QueryRunner): Promise<void> {
    await db.query(`
      CREATE TABLE measuring (
        id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
        output_id uuid NOT NULL UNIQUE REFERENCES output ON DELETE CASCADE,
        xxh3 text,
        every int NOT NULL,
        state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'running', 'measured', 'failed')),
        frames_done int NOT NULL DEFAULT 0,
        problem jsonb,
        worst_frame int,
        worst_psnr double precision,
        worst_ssim double precision,
        mean_psnr double precision,
        along json,
        who text NOT NULL,
        beat_at timestamptz,
        created_at timestamptz NOT NULL DEFAULT now()
      );
      ALTER TABLE run ADD COLUMN check_rule jsonb;
      CREATE INDEX measuring_open ON measuring (state) WHERE state IN ('waiting', 'running');
    `);
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query('DROP TABLE measuring; ALTER TABLE run DROP COLUMN check_rule');
  }
}
