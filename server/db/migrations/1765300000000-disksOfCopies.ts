import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Two copies on one disk are lost together: each copy says which disk it lies on. */
export class DisksOfCopies1765300000000 implements MigrationInterface {
  async up(db: QueryRunner): Promise<void> {
    await db.query('ALTER TABLE roll_copy ADD disk text');
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query('ALTER TABLE roll_copy DROP disk');
    await db.query("UPDATE production SET copy_rule = copy_rule - 'oneDisk'");
  }
}
