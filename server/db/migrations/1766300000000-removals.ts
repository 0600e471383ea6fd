import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * What was deleted to get space back, file by file, with all that it takes to make it again. Workers may delete no
 * output's record: that of a file which stands in such a list goes by itself, once they say that the file is gone.
 */
export class Removals1766300000000 implements MigrationInterface {
  async up(db: QueryRunner): Promise<void> {
    await db.query(`
      CREATE TABLE removal (
        id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
        production_id uuid NOT NULL REFERENCES production ON DELETE CASCADE,
        says text NOT NULL,
        runs jsonb NOT NULL DEFAULT '{}',
        state text NOT NULL DEFAULT 'waiting',
        stop_wanted boolean NOT NULL DEFAULT false,
        files int NOT NULL DEFAULT 0,
        files_done int NOT NULL DEFAULT 0,
        bytes bigint NOT NULL DEFAULT 0,
        bytes_done bigint NOT NULL DEFAULT 0,
        problem jsonb,
        worker text,
        beat_at timestamptz,
        who text NOT NULL,
        created_at timestamptz NOT NULL DEFAULT now(),
        ended_at timestamptz
      );
      CREATE INDEX removal_production ON removal (production_id, created_at DESC);
      CREATE TABLE removal_item (
        removal_id uuid NOT NULL REFERENCES removal ON DELETE CASCADE,
        place int NOT NULL,
        kind text NOT NULL,
        store_id text NOT NULL,
        folder text NOT NULL,
        path text NOT NULL,
        size_bytes bigint NOT NULL,
        xxh3 text NOT NULL,
        run_id uuid NOT NULL,
        leg_id uuid NOT NULL,
        clip_id uuid REFERENCES clip ON DELETE SET NULL,
        plan json,
        state text NOT NULL DEFAULT 'waiting',
        why text NOT NULL DEFAULT '',
        again_run uuid,
        PRIMARY KEY (removal_id, place)
      );
      CREATE INDEX removal_item_clip ON removal_item (clip_id);
      CREATE INDEX removal_item_leg ON removal_item (leg_id);
      CREATE FUNCTION output_gone() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = public AS $$
        BEGIN
          IF NEW.state = 'gone' AND OLD.state <> 'gone' AND NEW.kind <> 'superseded' THEN
            DELETE FROM output
            WHERE store_id = NEW.store_id AND folder = NEW.folder AND path = NEW.path AND xxh3 = NEW.xxh3;
          END IF;
          RETURN NEW;
        END
      $$;
      CREATE TRIGGER removal_item_gone AFTER UPDATE ON removal_item FOR EACH ROW EXECUTE FUNCTION output_gone();
    `);
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query('DROP TABLE removal_item; DROP FUNCTION output_gone; DROP TABLE removal');
  }
}
