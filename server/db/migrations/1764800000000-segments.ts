import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Segments of long legs, which idle workers help with. */
export class Segments1764800000000 implements MigrationInterface {
  async up(db: QueryRunner): Promise<void> {
    await db.query(`
      CREATE TABLE segment (
        leg_id uuid NOT NULL REFERENCES leg(id) ON DELETE CASCADE, place int NOT NULL, first_frame int NOT NULL, frames int NOT NULL, tunings jsonb NOT NULL,
        state text NOT NULL DEFAULT 'waiting', worker text, beat_at timestamptz, frames_done int NOT NULL DEFAULT 0, parts text[] NOT NULL DEFAULT '{}', seen text, problem text, PRIMARY KEY (leg_id, place)
      );
    `);
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query('DROP TABLE segment');
  }
}
