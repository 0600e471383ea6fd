import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Path patterns are kept by name, for other deliverables to take. */
export class Patterns1765500000000 implements MigrationInterface {
  async up(db: QueryRunner): Promise<void> {
    await db.query(`
      CREATE TABLE path_pattern (
        id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
        name text NOT NULL UNIQUE,
        pattern jsonb NOT NULL,
        created_at timestamptz NOT NULL DEFAULT now()
      );
    `);
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query('DROP TABLE path_pattern');
  }
}
