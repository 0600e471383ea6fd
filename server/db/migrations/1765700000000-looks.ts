import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What people said of outputs that they looked at: each time a row, the last one holds. */
export class Looks1765700000000 implements MigrationInterface {
  async up(db: QueryRunner): Promise<void> {
    await db.query(`
      CREATE TABLE output_look (
        id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
        output_id uuid NOT NULL REFERENCES output ON DELETE CASCADE,
        xxh3 text,
        verdict text NOT NULL CHECK (verdict IN ('accepted', 'sent back', 'taken back')),
        note text NOT NULL DEFAULT '',
        frame int,
        who text NOT NULL,
        at timestamptz NOT NULL DEFAULT now()
      );
      CREATE INDEX output_look_last ON output_look (output_id, at DESC);
    `);
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query('DROP TABLE output_look');
  }
}
