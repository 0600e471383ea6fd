import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Hand-offs of which a receiver has nothing any more: a drive was lost, or wiped. */
export class LostDrives1766400000000 implements MigrationInterface {
  async up(db: QueryRunner): Promise<void> {
    await db.query('ALTER TABLE handoff ADD COLUMN lost_at timestamptz');
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query('ALTER TABLE handoff DROP COLUMN lost_at');
  }
}
