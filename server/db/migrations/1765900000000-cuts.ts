import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Cuts that came back: their lists as they came and as they were read, and what people said of their events. */
export class Cuts1765900000000 implements MigrationInterface {
  async up(db: QueryRunner): Promise<void> {
    await db.query(`
      CREATE TABLE cut (
        id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
        production_id uuid NOT NULL REFERENCES production ON DELETE CASCADE,
        name text NOT NULL,
        created_at timestamptz NOT NULL DEFAULT now()
      );
      CREATE INDEX cut_production ON cut (production_id);
      CREATE TABLE cut_version (
        id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
        cut_id uuid NOT NULL REFERENCES cut ON DELETE CASCADE,
        number int NOT NULL,
        file_name text NOT NULL,
        form text NOT NULL,
        bytes bytea NOT NULL,
        events int NOT NULL,
        read json NOT NULL,
        who text NOT NULL,
        created_at timestamptz NOT NULL DEFAULT now(),
        UNIQUE (cut_id, number)
      );
      CREATE TABLE cut_answer (
        cut_id uuid NOT NULL REFERENCES cut ON DELETE CASCADE,
        source text NOT NULL,
        first_frame bigint NOT NULL,
        last_frame bigint NOT NULL,
        clip_id uuid NOT NULL REFERENCES clip ON DELETE CASCADE,
        at_frame bigint NOT NULL,
        who text NOT NULL,
        at timestamptz NOT NULL DEFAULT now(),
        PRIMARY KEY (cut_id, source, first_frame)
      );
      CREATE INDEX cut_answer_clip ON cut_answer (clip_id);
    `);
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query('DROP TABLE cut_answer; DROP TABLE cut_version; DROP TABLE cut');
  }
}
