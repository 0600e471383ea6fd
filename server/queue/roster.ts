import type { WorkerLine } from '@relay/contract/site';
import type { DataSource } from 'typeorm';
import { worker } from '../db/entities/site.ts';

/** Workers as they last said of themselves. All SQL about them stands here. */

/** A worker that was not heard of for so long is taken for gone. */
export const workerHeardSeconds = 20;

export interface WorkerSaid {
  /** Its name in leases. */
  name: string;
  /** What people call it. */
  title: string;
  host: string;
  slots: number;
  /** Codecs that it takes legs of; null for all. */
  codecs: readonly string[] | null;
  /** Stores that are there on its machine. */
  stores: readonly string[];
  /**
   * Why strangers' files are read there with all that the worker may see; null where they have a place of their own.
   */
  isolation: string | null;
}

/** Writes down that a worker is there, and what it can do; forgets those that have been gone for a day. */
export async function beatWorker(
  db: DataSource,
  { name, title, host, slots, codecs, stores, isolation }: WorkerSaid,
): Promise<void> {
  await db.query(
    `INSERT INTO worker (name, title, host, slots, codecs, stores, isolation) VALUES ($1, $2, $3, $4, $5, $6, $7)
     ON CONFLICT (name) DO UPDATE SET stores = excluded.stores, beat_at = now()`,
    [name, title, host, slots, codecs, stores, isolation],
  );
  await db.query(`DELETE FROM worker WHERE beat_at < now() - interval '1 day'`);
}

export async function leaveWorker(db: DataSource, name: string): Promise<void> {
  await db.manager.delete(worker, { name });
}

/** Every worker that is there, with what it has under way or helps with. */
export async function liveWorkers(db: DataSource): Promise<WorkerLine[]> {
  return await db.query<WorkerLine[]>(
    `SELECT name, title, host, slots, codecs, stores, isolation, started_at AS "startedAt",
       (
         SELECT coalesce(
           json_agg(
             json_build_object(
               'leg', leg.id, 'run', leg.run_id, 'stem', clip.stem, 'production', run.production_id, 'state',
               leg.state
             ) ORDER BY leg.started_at
           ),
           '[]'
         )
         FROM leg
         JOIN clip ON clip.id = leg.clip_id
         JOIN run ON run.id = leg.run_id
         WHERE leg.state IN ('running', 'proving')
           AND (
             leg.worker = worker.name OR EXISTS (
               SELECT 1
               FROM segment
               WHERE segment.leg_id = leg.id AND segment.worker = worker.name AND segment.state = 'running'
             )
           )
       ) AS legs
     FROM worker
     WHERE beat_at > now() - make_interval(secs => $1)
     ORDER BY started_at`,
    [workerHeardSeconds],
  );
}
